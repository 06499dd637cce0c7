# The verb `start`: five questions, each with what the folder proposes, and a first plan.

cli_start <- function(files, options) {
  folder <- files[1]
  path <- file.path(folder, "study.yml")
  if (file.exists(path)) abort_input("there is a plan already", path, "edit it, or name another folder")
  found <- propose_study(folder)
  if (!is.null(found$seen)) tell_user(paste(fold(code_text(found$seen)), collapse = "\n"))
  tell_user("Five questions, and there is a first plan in ", path, ". Enter takes what stands in brackets.")
  said <- list(setting = ask_with("1. What do you change? (memory speed, driver, ...)", found$setting))
  said$arms <- unique(split_list(ask_with(
    "2. Its values, the present one first", paste(found$arms, collapse = ", "),
    function(t) length(unique(split_list(t))) > 1, "two values at least, with commas between"
  )))
  said <- c(said, ask_workload(found))
  said$metric <- ask_with("4. Which number tells? (score, fps_avg, load time, ...)", found$metric)
  said <- c(said, ask_worth(said$metric, if (identical(said$metric, found$metric)) found$unit))
  known <- found$logs[found$logs$arm %in% said$arms, , drop = FALSE]
  left <- setdiff(found$logs$arm, said$arms)
  if (length(left)) tell_user("not taken in, since they are none of the values: the logs of ", some_of(left))
  proposed <- if (!NROW(known)) propose_blocks(said)
  said$blocks <- proposed$blocks
  write_first_plan(folder, said, if (NROW(known)) known)
  if (isTRUE(proposed$power$detectable > 0)) tell_user(paste(fold(proposed_words(proposed)), collapse = "\n"))
  tell_user(
    "written: ", path, "\n  -> look at it, then: ",
    if (NROW(known)) {
      paste("honestmargin weigh", folder)
    } else {
      paste0("honestmargin plan ", folder, " and honestmargin run ", folder)
    },
    if (!is.null(found$table)) {
      paste0(
        "\n  -> what there is, as it is: honestmargin weigh ", found$table, " --baseline '", said$arms[1], "' --worth ",
        said$worth
      )
    }
  )
}

# why so many blocks, and what as many passes would buy otherwise
proposed_words <- function(proposed) {
  percent <- function(x) paste(show_exact(signif(x, 3)), "%")
  power <- proposed$power
  assumed <- power$noise_from == "assumed"
  noise <- paste0(
    "a pass varies by ", percent(power$noise), if (assumed) ", which is assumed", if (!assumed) ", as measured in ",
    if (!assumed) power$noise_from
  )
  finds <- paste0(
    proposed$blocks, " blocks find a change of ", percent(power$detectable), " four times in five, if ", noise, "."
  )
  enough <- is.finite(proposed$first$blocks_for_worth) && proposed$first$blocks_for_worth <= proposed$blocks
  other <- proposed$alternatives[-1, , drop = FALSE]
  other <- other[other$finds < power$detectable, , drop = FALSE]
  c(finds, if (!enough) {
    needed <- proposed$first$blocks_for_worth
    paste0("For your ", percent(power$worth), " it takes ", if (is.finite(needed)) needed else "no end of", " blocks.")
  }, if (NROW(other)) {
    paste0(
      "Spent otherwise, as many passes find ", percent(other$finds[1]), ": ", other$what[1],
      " (honestmargin plan tells more)."
    )
  })
}

ask_workload <- function(found) {
  if (!is.null(found$logs)) {
    return(list(command = "", workload = ask_with("3. What ran? (a name)", found$workload)))
  }
  proposal <- if (nzchar(found$command)) found$command else "-"
  command <- ask_with("3. The command that runs it; {arm} stands for the value (- : by hand)", proposal)
  if (command != "-") {
    program <- basename(sub("^'([^']+)'.*$|^(\\S+).*$", "\\1\\2", command))
    return(list(command = command, workload = sub("[.][^.]*$", "", program)))
  }
  list(command = "", workload = found$workload)
}

# its sign is the direction: from the metric itself, its unit or its name, else the person must say
ask_worth <- function(metric, unit = NULL) {
  told <- direction_told(metric, empty_to(unit, NA_character_))
  sign <- c(higher = "+", lower = "-")[told]
  answer <- ask_with(
    "5. Which change is worth having, in percent? +2: more is better, -2: less is", if (!is.na(sign)) paste0(sign, 2),
    function(t) grepl("^[-+] ?[0-9]+([.,][0-9]+)? ?%?$", t) || (!is.na(told) && grepl("^[0-9]+([.,][0-9]+)?$", t)),
    "a number with + or - before it"
  )
  better <- if (grepl("^[-+]", answer)) c(`+` = "higher", `-` = "lower")[[substr(answer, 1, 1)]] else told
  tell_user("   (a ", better, " ", metric, " is better; the plan says so)")
  list(worth = gsub("[-+ %]", "", sub(",", ".", answer)), better = better)
}

# until it is good; Enter takes the proposal
ask_with <- function(prompt, proposal = NULL, good = nzchar, wanted = "please answer") {
  repeat {
    answer <- read_answer(paste0(prompt, if (length(proposal)) paste0(" [", proposal, "]"), " "))
    if (!nzchar(answer)) answer <- empty_to(proposal, "")
    if (good(answer)) {
      return(answer)
    }
    tell_user("  ", wanted)
  }
}

register("verb", "start",
  takes = "FOLDER", files = c(1, 1), run = cli_start,
  examples = c(
    "start my-study",
    "start bench/lid"
  ),
  about = "Look into a folder, ask five questions, and write a first plan.", rank = 2
)
