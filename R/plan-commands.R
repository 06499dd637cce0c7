# Commands of a plan. A list of words is started as it is, without a shell. A line
# is for the shell: a value made of plain characters is written into it as it is,
# since it means the same everywhere; any other is a variable, which the shell
# expands and never runs.

command_names <- c("arm", "workload", "context", "pass", "seconds", "folder", "log")
plain_value <- "^[A-Za-z0-9._:/@%,+-]*$"

variable_name <- function(name) paste0("HONESTMARGIN_", gsub("[^A-Z0-9]", "_", toupper(name)))

#' A command with its values in place
#' @param command A shell line, or words. @param values Named list of values.
#' @return A list: `program`, `args`, `env` (named character).
#' @noRd
fill_command <- function(command, values = list()) {
  text <- vapply(values, as.character, "")
  env <- if (length(text)) stats::setNames(text, variable_name(names(text))) else character()
  if (length(command) > 1) {
    for (name in names(text)) command <- gsub(paste0("{", name, "}"), text[[name]], command, fixed = TRUE)
    return(list(program = command[1], args = command[-1], env = env))
  }
  for (name in names(text)) {
    plain <- grepl(plain_value, text[[name]]) && nzchar(text[[name]])
    here <- if (plain) text[[name]] else paste0("${", variable_name(name), "}")
    command <- gsub(paste0("{", name, "}"), here, command, fixed = TRUE)
  }
  list(program = "sh", args = c("-c", command), env = env)
}

#' Every command that a plan runs, with its place
#' @return Data frame `place`, `command` (text); lists of words are joined by spaces.
#' @noRd
plan_commands <- function(plan) {
  each <- function(items, key, place) {
    lapply(seq_along(items), function(i) {
      if (!is.null(items[[i]][[key]])) list(paste0(place, "/", i), items[[i]][[key]])
    })
  }
  named <- function(items, place) {
    Map(
      function(name, command) list(paste0(place, "/", name), as.character(command)), names(items), items
    )
  }
  all <- c(
    list(
      list("setting", plan$setting$command), list("setting/read_back", plan$setting$read_back$command),
      list("context", plan$context$command)
    ),
    each(plan$workloads, "command", "workloads"), each(plan$gates, "command", "gates"),
    named(plan$versions, "versions"), named(plan$sensors$commands, "sensors/commands")
  )
  all <- Filter(function(one) !is.null(one[[2]]), all)
  list2DF(list(
    place = vapply(all, `[[`, "", 1), words = lapply(all, `[[`, 2),
    command = vapply(all, function(one) paste(one[[2]], collapse = " "), "")
  ))
}

# A value that the shell would take apart, or that a quote would hide from it, is
# refused before anything runs: every arm would otherwise run the same.
assert_plan_commands <- function(plan, where) {
  values <- list(arm = plan_arms(plan), workload = plan_workloads(plan), context = stats::na.omit(plan_contexts(plan)))
  commands <- plan_commands(plan)
  for (i in which(lengths(commands$words) == 1)) {
    for (name in names(values)) {
      odd <- values[[name]][!grepl(plain_value, values[[name]])]
      if (length(odd)) assert_odd_value(commands$command[i], name, odd[1], where(commands$place[i]))
    }
  }
}

assert_odd_value <- function(line, name, value, where) {
  mark <- paste0("{", name, "}")
  if (!grepl(mark, line, fixed = TRUE)) {
    return(invisible())
  }
  todo <- paste0("write the command as a list of words, [program, word, ...], or ", mark, " inside double quotes")
  mark <- paste0("\\{", name, "\\}")
  if (grepl(paste0("'[^'\n]*", mark, "[^'\n]*'"), line)) {
    abort_input(paste0("'", value, "' cannot stand inside single quotes, where the shell puts in nothing"), where, todo)
  }
  bare <- gsub(paste0("\"[^\"\n]*", mark, "[^\"\n]*\""), "", line)
  if (grepl("[[:space:]*?[]", value) && grepl(mark, bare) && !grepl("<<", line, fixed = TRUE)) {
    abort_input(paste0("the shell would take '", value, "' apart"), where, todo)
  }
  if (grepl("((", line, fixed = TRUE) && grepl("[^A-Za-z0-9_.]", value)) {
    abort_input(paste0("'", value, "' is no number to reckon with"), where, "reckon with numbers only")
  }
  invisible()
}

#' Names in braces that no value stands for
#'
#' One that is nearly a known name is a slip, and every arm would run the same; another may be a word of a language of
#' its own (`awk '{print}'`), which is told and left as it is.
#' @return Data frame `place`, `name`, `near` (the known name it is nearly, or `NA`).
#' @noRd
unknown_placeholders <- function(plan) {
  known <- unique(c(command_names, unlist(lapply(plan_arms(plan), function(arm) names(arm_settings(plan, arm))))))
  commands <- plan_commands(plan)
  stack_rows(lapply(seq_along(commands$place), function(i) {
    # ${NAME} is a variable of the shell
    found <- regmatches(commands$command[i], gregexpr("(?<![$])[{][A-Za-z][A-Za-z0-9_]*[}]", commands$command[i],
      perl = TRUE))
    name <- setdiff(gsub("[{}]", "", found[[1]]), known)
    if (length(name)) {
      near <- vapply(name, function(n) empty_to(nearest_slip(n, known), NA_character_), "", USE.NAMES = FALSE)
      data.frame(place = commands$place[i], name = name, near = near)
    }
  }))
}

# two letters off at most, of names that are longer than that
nearest_slip <- function(word, known) {
  near <- nearest(word, known)
  if (length(near) && utils::adist(word, near, ignore.case = TRUE)[1] <= min(2, nchar(word) - 2)) near
}

assert_placeholders <- function(plan, where) {
  slips <- unknown_placeholders(plan)
  slips <- slips[!is.na(slips$near), , drop = FALSE]
  if (NROW(slips)) {
    abort_input(
      paste0("no value is called {", slips$name[1], "}"), where(slips$place[1]),
      paste0("did you mean {", slips$near[1], "}?")
    )
  }
}
