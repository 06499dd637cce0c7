# The verb `start`: a few questions and a first plan.

cli_start <- function(files, options) {
  folder <- files[1]
  path <- file.path(folder, "study.yml")
  if (file.exists(path)) abort_input("there is a plan already", path, "edit it, or name another folder")
  tell_user("A few questions and there is a first plan in ", path, ".")
  setting <- ask_until("1. What do you change? (memory speed, driver, ...) ", nzchar)
  arms <- ask_until(
    "2. Its values, the present one first, with commas between: ", function(t) length(unique(split_list(t))) > 1
  )
  workload <- ask_until("3. What do you run? (a name) ", nzchar)
  command <- read_answer("   The command that runs it; {arm} stands for the value (empty: by hand) ")
  metric <- ask_until("4. Which number does it give? (score, fps_avg, load time, ...) ", nzchar)
  better <- ask_direction(metric)
  worth <- ask_until(
    "5. Which change of it, in percent, would be worth having? ", function(t) grepl("^[0-9]+([.,][0-9]+)?$", t)
  )
  if (!dir.exists(folder)) dir.create(folder, recursive = TRUE)
  write_whole(
    path,
    function(to) {
      writeLines(
        first_plan(setting, split_list(arms), workload, command, metric, sub(",", ".", worth), better), to
      )
    }
  )
  tell_user("written: ", path, "\n  -> look at it, then: honestmargin plan ", folder, " and honestmargin run ", folder)
}

# from the metric itself, else its name; asked where neither tells, and said in any case
ask_direction <- function(metric) {
  told <- empty_to(known_metrics()[[metric]]$better, better_from_unit(metric))
  if (is.na(told)) told <- better_from_name(metric)
  if (is.na(told)) {
    answer <- ask_until(
      paste0("   Is a higher or a lower ", metric, " better? (h or l) "), function(t) grepl("^(h|l)", tolower(t))
    )
    return(if (grepl("^h", tolower(answer))) "higher" else "lower")
  }
  tell_user("   (a ", told, " ", metric, " is taken as better; the plan says so, mend it there)")
  told
}

ask_until <- function(prompt, good) {
  repeat {
    answer <- read_answer(prompt)
    if (good(answer)) {
      return(answer)
    }
    tell_user("  please answer")
  }
}

first_plan <- function(setting, arms, workload, command, metric, worth, better) {
  quoted <- function(text) paste0("\"", gsub("([\"\\\\])", "\\\\\\1", text), "\"")
  described <- known_metrics()[[metric]]
  c(
    paste0("question: ", quoted(paste0("Does ", setting, " make a difference?"))),
    "setting:", paste0("  name: ", quoted(setting)), paste0("  baseline: ", quoted(arms[1])),
    "  # unit: Hz        ordered: true        restart: machine",
    if (!nzchar(command)) "  by_hand: set it as you always do",
    "arms:", paste0("  - value: ", quoted(unique(arms))),
    "workloads:", paste0("  - id: ", quoted(workload)), if (nzchar(command)) paste0("    command: ", quoted(command)),
    if (nzchar(command) && is.null(described)) {
      paste0(
        "    scores: [{metric: ", quoted(metric), ", pattern: \"([0-9.]+)\"}]"
      )
    },
    if (nzchar(command) && identical(described$id, "score")) "    scores: [{metric: score, pattern: \"([0-9.]+)\"}]",
    "metrics:", paste0("  - id: ", quoted(metric)), paste0("    worth: ", worth), "    primary: true",
    if (is.null(described)) paste0("    better: ", better),
    "blocks: 5", "warm_up: 1", "order: shuffled"
  )
}

register("verb", "start",
  takes = "FOLDER", files = c(1, 1), run = cli_start,
  examples = c(
    "start my-study",
    "start bench/lid"
  ),
  about = "Ask a few questions and write a first plan.", rank = 2
)
