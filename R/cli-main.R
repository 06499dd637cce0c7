# The command line: words in, exit status out. Verbs only ask and show.

verbs <- function() {
  weighing <- c(
    "baseline", "worth", "better", "primary", "confidence", "steady", "noise", "with-excluded", "no-limiter",
    "layout", "batch"
  )
  verb <- function(name, takes, files, options, run, about) {
    list(name = name, takes = takes, files = files, options = options, run = run, about = about)
  }
  record <- c("reason", "format", "wide")
  all <- list(
    verb(
      "demo", "[FOLDER]", c(0, 1), "live", cli_demo,
      "Weigh the study that comes with the tool; --live runs one here."
    ),
    verb("start", "FOLDER", c(1, 1), character(), cli_start, "Ask five questions and write a first plan."),
    verb(
      "plan", "PLAN", c(1, 1), c("card", "noise-level", "format"), cli_plan,
      "Check a plan: what will run, and what it can show."
    ),
    verb("run", "STUDY", c(1, 1), "most", cli_run, "Run a study, or go on with it where it stopped."),
    verb(
      "login", "STUDY", c(1, 1), c("yes", "off"), cli_login,
      "Let the run go on by itself after a login, or no longer."
    ),
    verb("add", "STUDY [METRIC=VALUE ...]", c(1, Inf), c(
      "arm", "workload", "context", "block", "metric", "value", "frames", "sensors", "offset", "pass", "layout",
      "from", "outcome", "note", "proof"
    ), cli_add, "Add a pass that was run elsewhere."),
    verb("take", "STUDY FOLDER", c(2, 2), "yes", cli_take, "Take new frame logs out of a folder."),
    verb(
      "mark", "STUDY WORD [VALUE]", c(2, Inf), character(), cli_mark,
      "Mark the running pass: segment, pause, resume, arm, loop, note."
    ),
    verb("exclude", "STUDY PASS", c(2, 2), "reason", cli_exclude, "Let a pass not count, with a reason."),
    verb("include", "STUDY PASS", c(2, 2), "reason", cli_include, "Let an excluded pass count again."),
    verb(
      "correct", "STUDY PASS [METRIC=VALUE ...]", c(2, Inf), c("outcome", "reason"), cli_correct,
      "Correct what was typed or recorded wrong."
    ),
    verb("note", "STUDY TEXT", c(2, 2), "pass", cli_note, "Note something on a study or a pass."),
    verb("history", "STUDY", c(1, 1), record[-1], cli_history, "Everything that was done and said."),
    verb(
      "conditions", "STUDY", c(1, 1), c("all", record[-1]), cli_conditions,
      "What differed between the arms beside the setting."
    ),
    verb("repeat", "STUDY", c(1, 1), character(), cli_repeat, "Add a fresh sealed batch, weighed alone."),
    verb("export", "STUDY FOLDER", c(2, 2), "batch", cli_export, "Write a study as a plain folder of text files."),
    verb(
      "weigh", "FILE|STUDY", c(1, 1), c(weighing, "format", "wide", "exploratory", "fail-on"), cli_weigh,
      "Weigh the arms against the baseline."
    ),
    verb(
      "figure", "FILE|STUDY", c(1, 1), c(
        weighing, "of", "workload", "metric", "size", "file", "format"
      ), cli_figure,
      "Draw a figure, or print the numbers behind it."
    ),
    verb("report", "FILE|STUDY", c(1, 1), c(weighing, "file"), cli_report, "Write the report: one HTML file to send.")
  )
  stats::setNames(all, vapply(all, `[[`, "", "name"))
}

#' The command line
#'
#' What the shell command `honestmargin` runs. `honestmargin --help` lists the
#' verbs; `honestmargin VERB --help` the options of one.
#'
#' @param args Character vector: the words after the command's name.
#' @return The exit status, invisibly, in an interactive session; otherwise R is
#'   left with it. 0 done, 1 a condition of `--fail-on` is met, 2 wrong command
#'   line or something needed not given, 3 wrong input, 4 the outside stops us, 5
#'   waiting for a step by hand, 70 a fault of ours, 130 interrupted.
#' @export
#' @examples
#' if (interactive()) main(c("weigh", demo_study()))
main <- function(args = commandArgs(trailingOnly = TRUE)) {
  status <- run_command(args)
  if (interactive()) {
    return(invisible(status))
  }
  quit(save = "no", status = status)
}

error_status <- c(usage = 2L, needed = 2L, input = 3L, stuck = 4L)

run_command <- function(args) {
  trail <- NULL
  tryCatch(
    withCallingHandlers(dispatch(args), error = function(e) trail <<- sys.calls()),
    honestmargin_error = function(e) {
      kind <- sub("honestmargin_error_", "", class(e)[1])
      tell_error(conditionMessage(e), trail, args)
      error_status[[kind]]
    },
    interrupt = function(e) {
      tell_error("interrupted; what was captured is kept", NULL, args)
      130L
    },
    error = function(e) {
      tell_error(paste0(
        "this is a fault of ours: ", conditionMessage(e),
        "\n  -> please report it with the command you typed and this message; --debug shows where it arose"
      ), trail, args)
      70L
    }
  )
}

tell_error <- function(text, trail, args) {
  message("honestmargin: ", text)
  if ("--debug" %in% args && length(trail)) {
    message(paste(utils::tail(vapply(trail, function(call) deparse(call)[1], ""), 25), collapse = "\n"))
  }
}

dispatch <- function(args) {
  if (!length(args) || args[1] %in% c("--help", "-h", "help")) {
    writeLines(main_help())
    return(if (length(args)) 0L else 2L)
  }
  if (args[1] %in% c("--version", "-v")) {
    writeLines(paste("honestmargin", package_version_text()))
    return(0L)
  }
  known <- verbs()
  verb <- known[[args[1]]]
  if (is.null(verb)) {
    abort_usage(
      paste0("unknown verb '", plain_text(args[1]), "'"),
      todo = did_you_mean(args[1], names(known))
    )
  }
  rest <- args[-1]
  if (any(rest %in% c("--help", "-h"))) {
    optparse::print_help(option_parser(verb, option_shapes()[c(verb$options, "debug")]))
    return(0L)
  }
  parsed <- parse_options(verb, rest)
  as.integer(empty_to(verb$run(parsed$files, parsed$options), 0L))
}

main_help <- function() {
  known <- verbs()
  c(
    "honestmargin VERB [FILE or FOLDER] [options]", "",
    "Is a difference between benchmark passes larger than the run-to-run noise?", "",
    table_lines(data.frame(
      verb = paste0("  ", names(known)), about = vapply(known, `[[`, "", "about")
    ))[-1],
    "", "honestmargin VERB --help says what a verb takes.", "honestmargin --version prints the version."
  )
}
