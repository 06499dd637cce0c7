# A plan and what it can show, as a person reads them in a terminal.

#' @export
print.honestmargin_forecast <- function(x, ...) {
  plan <- x$plan
  if (is_search(plan)) {
    writeLines(climb_lines(x))
    return(invisible(x))
  }
  schedule <- x$schedule
  writeLines(c(
    fold(plan_title(plan), rest = ""), "",
    fold(paste0(
      plan$setting$name, ": ", with_unit(some_of(plan_arms(plan), 12), plan$setting$unit), "; baseline ",
      plan$setting$baseline, ". ",
      count_of(nrow(schedule), "pass", "passes"), " (", sum(schedule$role == "warm_up"), " warm-up), ",
      duration_words(x$seconds), "."
    ), rest = ""),
    "", if (is_blind(plan)) fold(pairs_plan_words(plan), rest = "") else schedule_lines(plan, schedule), "",
    "What this plan can show",
    if (!is.null(x$ways)) c(way_lines(plan, x$ways), ""),
    if (is.null(x$power)) {
      NULL
    } else if (length(plan_arms(plan)) < 2) {
      fold(precision_words(x$power), rest = "")
    } else {
      c(power_lines(x$power), "", fold(power_words(x$power), rest = ""), alternative_lines(x$alternatives))
    },
    finding_lines(findings(x)), command_lines(x$commands)
  ))
  invisible(x)
}

plan_title <- function(plan) if (nzchar(plan$question)) plan$question else plan$setting$name

# whoever runs a plan of somebody else's sees before what it would start
command_lines <- function(commands) {
  if (!nrow(commands)) {
    return(NULL)
  }
  # every word of them: what is cut off could be what matters
  line <- gsub("\n\\s*", "; ", trimws(commands$command))
  c("", "What a run would start", fold(paste0(commands$place, ": ", line), first = "  ", rest = "    "))
}

#' @export
print.honestmargin_plan <- function(x, ...) {
  writeLines(c(
    fold(plan_title(x), rest = ""),
    fold(paste0("arms ", some_of(plan_arms(x), 12), "; baseline ", x$setting$baseline), rest = ""),
    fold(paste0("workloads ", some_of(plan_workloads(x), 12), "; ", count_of(x$blocks, "block")), rest = "")
  ))
  invisible(x)
}

# one line per block: the arms in the order in which they will run
schedule_lines <- function(plan, schedule) {
  counted <- schedule[schedule$role == "counted", , drop = FALSE]
  visit <- counted[!duplicated(counted[c("start")]), , drop = FALSE]
  toggled <- toggled_workloads(plan)
  flips <- !visit$start %in% counted$start[!counted$workload %in% toggled]
  visit$arm[flips] <- "flipped inside the pass"
  block <- ifelse(is.na(visit$block), "-", visit$block)
  context <- empty_na(visit$context)
  key <- paste(block, context, sep = "\r")
  parts <- split(visit$arm, factor(key, unique(key)))
  table <- data.frame(
    block = sub("\r.*", "", names(parts)), context = sub(".*\r", "", names(parts)),
    `arms in this order` = vapply(parts, paste, "", collapse = "  "), check.names = FALSE
  )
  if (!any(nzchar(table$context))) table$context <- NULL
  c(
    table_lines(table), "",
    fold(paste0(
      "At each arm: ", paste(plan_workloads(plan), collapse = ", "),
      if (plan$passes_per_block > 1) paste0(", ", plan$passes_per_block, " times each"), "."
    )),
    if (length(toggled)) fold(flip_words(plan, toggled))
  )
}

flip_words <- function(plan, toggled) {
  paste0(
    "In ", some_of(toggled), " ", plan$setting$name, " is flipped in turn (", some_of(plan_arms(plan)),
    ", and again): each flip is a pass, each round of flips a block. The program tells them (docs/beacon.md), or ",
    "you do: honestmargin mark STUDY arm VALUE."
  )
}

power_lines <- function(power) {
  number <- function(v) {
    unit <- ifelse(power$scale == "percent", " %", ifelse(power$metric == "failed", " points", ""))
    ifelse(is.na(v), "", paste0(show_exact(signif(v, 3)), unit))
  }
  blocks_text <- function(v) ifelse(is.na(v), "", ifelse(is.finite(v), paste(v, "blocks"), "no end"))
  said <- power$noise_from %in% c("given", "plan", "none failing")
  table <- data.frame(
    metric = power$metric, worth = number(power$worth), noise = number(power$noise),
    from = ifelse(said, "", power$noise_from),
    finds = ifelse(power$metric == "failed" & is.na(power$detectable), "none", number(power$detectable)),
    `for worth` = blocks_text(power$blocks_for_worth),
    `for negligible` = blocks_text(power$blocks_for_negligible), check.names = FALSE
  )
  if (all(said)) table$from <- NULL
  table_lines(table, c("worth", "noise", "finds", "for worth", "for negligible"), whole = "metric")
}

# what the time would buy, spent otherwise
alternative_lines <- function(rows) {
  if (NROW(rows) < 2) {
    return(NULL)
  }
  timed <- !anyNA(rows$seconds)
  table <- data.frame(
    plan = rows$what, blocks = rows$blocks, passes = rows$passes,
    time = if (timed) vapply(rows$seconds, long_words, "") else "",
    finds = paste0(show_exact(signif(rows$finds, 3)), if (rows$scale[1] == "percent") " %"), check.names = FALSE
  )
  if (!timed) table$time <- NULL
  c(
    "", fold(paste0(
      "What ", if (timed) "the time" else "as many passes", " would buy, spent otherwise (finds: of ", rows$metric[1],
      ", the smallest change found four times in five)"
    ), rest = ""), table_lines(table, c("blocks", "passes", "time", "finds"), whole = "plan")
  )
}

power_words <- function(power) {
  paste0(
    "Unit: ", power$unit[1], ". Family of ", power$family_size[1],
    ". finds: the smallest change found with the planned blocks (80 % power). for worth, for negligible: blocks to ",
    "find a change as large as the worth, or to show that it is smaller.",
    if ("failed" %in% power$metric) failed_power_words(power[power$metric == "failed", ]),
    if (any(power$noise_from == "assumed")) {
      " The noise is assumed (1 %); give what you measured with --noise-level METRIC=PERCENT."
    }
  )
}

# what few passes can tell of failures
failed_power_words <- function(row) {
  if (is.na(row$detectable)) {
    return(" failed: not even an arm that always fails would be separated from one that never does; plan more blocks.")
  }
  paste0(
    " failed: an arm that fails in ", show_number(row$detectable, 2), " % of its passes would be separated from one ",
    "that never does; rarer failures need more blocks or longer passes."
  )
}

# one arm alone: how well its mean will be known
precision_words <- function(power) {
  power <- power[!is.na(power$precision), , drop = FALSE]
  paste0(
    "One arm: it is described, nothing is compared. ",
    paste0(
      "The mean of ", power$metric, " will be known to about +-", show_number(power$precision, 2),
      ifelse(power$scale == "percent", " %", ""), " if one pass varies by ", show_number(power$noise, 2),
      ifelse(power$scale == "percent", " %", ""), ifelse(power$noise_from == "assumed", " (assumed)", ""), ".",
      collapse = " "
    )
  )
}

# both ways side by side, whichever is planned
way_lines <- function(plan, ways) {
  aliases <- if (is_together(plan)) screen_aliases(screen_levels(plan))
  c(
    table_lines(ways_shown(ways, ways$scale[1]), c("passes of each workload", "would find")), "",
    fold(paste0(
      "Planned: ", plan$screen$way, if (isTRUE(plan$screen$fold_over)) ", folded over", ", ",
      count_of(plan$blocks, "block"),
      ". would find: the smallest effect found four times in five, if one pass varies by ",
      show_number(ways$noise[1], 2),
      if (ways$scale[1] == "percent") " %", ".", if (NROW(aliases)) alias_words(aliases)
    ), rest = "")
  )
}
