# The command line: words in, exit status out. Verbs only ask and show; each stands
# in a file of its own and registers itself.

# A verb is a value: what it `takes` (for its help), how many `files` at least and at most, its
# `options` (a function that gives a named list of them), two `examples`, what to `run` (a function of the words and
# the options; returns the exit status), and what it is `about`.

#' The command line
#'
#' What the shell command `honestmargin` runs. `honestmargin --help` lists the
#' verbs; `honestmargin VERB --help` the options of one.
#'
#' @param args Character vector: the words after the command's name.
#' @return The exit status, invisibly, in an interactive session; otherwise R is
#'   left with it. 0 done, 1 a condition of `--fail-on` is met, 2 wrong command
#'   line or something needed not given, 3 wrong input, 4 the outside stops us, 5
#'   waiting for a step by hand, 70 an internal error, 130 interrupted, 141 nobody reads
#'   the output any more.
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

error_status <- c(usage = 2L, needed = 2L, asked = 2L, input = 3L, stuck = 4L)

# Where the locale knows no letters beyond ASCII, no name in a file would be the same as one that is typed.
read_utf8 <- function() {
  for (name in c("C.UTF-8", "C.utf8", "en_US.UTF-8")) {
    if (l10n_info()[["UTF-8"]]) break
    suppressWarnings(Sys.setlocale("LC_CTYPE", name))
  }
}

run_command <- function(args) {
  read_utf8()
  before <- options(c(honestmargin.command = TRUE, plain_numbers))
  on.exit(options(before))
  trail <- NULL
  tryCatch(
    withCallingHandlers(dispatch(args), error = function(e) trail <<- sys.calls()),
    honestmargin_error = function(e) {
      kind <- sub("honestmargin_error_", "", class(e)[1])
      paste_this <- if (kind == "asked") command_that_answers(e$questions, args)
      tell_error(paste0(conditionMessage(e), if (length(paste_this)) {
        paste0("\n  The first answer to each, as one command:\n  ", paste_this)
      }), trail, args)
      error_status[[kind]]
    },
    interrupt = function(e) {
      tell_error("interrupted; what was captured is kept", NULL, args)
      130L
    },
    error = function(e) {
      # whoever read the output (head, say) has had enough of it
      if (grepl("SIGPIPE|[Bb]roken pipe", conditionMessage(e))) {
        return(141L)
      }
      tell_error(paste0(
        "internal error: ", conditionMessage(e),
        "\n  -> please report it with your command; --debug shows where it arose"
      ), trail, args)
      70L
    }
  )
}

tell_error <- function(text, trail, args) {
  tell_user("honestmargin: ", text)
  if ("--debug" %in% args && length(trail)) {
    tell_user(paste(utils::tail(vapply(trail, function(call) deparse(call)[1], ""), 25), collapse = "\n"))
  }
}

# verbs of before that are questions now; for one version they still answer
earlier_verbs <- c("overall", "together", "firm", "frames", "sources", "conditions")

dispatch <- function(args) {
  # `help VERB` is `VERB --help`; of any other word it finds where that is spoken of
  if (length(args) > 1 && args[1] == "help") {
    if (!args[2] %in% c(names(registered("verb")), earlier_verbs)) {
      writeLines(help_on(args[2]))
      return(0L)
    }
    args <- c(args[2], "--help")
  }
  if (!length(args) || args[1] %in% c("--help", "-h", "help")) {
    writeLines(main_help())
    return(if (length(args)) 0L else 2L)
  }
  if (args[1] %in% c("--version", "-v")) {
    writeLines(paste("honestmargin", package_version_text()))
    return(0L)
  }
  if (args[1] %in% earlier_verbs) {
    study <- if (length(args) > 1) as_typed(args[2]) else "STUDY"
    tell_user("'", args[1], "' is now: honestmargin ask ", study, " ", args[1])
    # at the end, where no option waits for its value
    args <- c("ask", args[-1], args[1])
  }
  verb <- registered("verb", args[1])
  if (is.null(verb)) abort_no_verb(args)
  rest <- args[-1]
  if (any(rest %in% c("--help", "-h"))) {
    optparse::print_help(option_parser(verb))
    return(0L)
  }
  parsed <- parse_options(verb, rest)
  as.integer(empty_to(verb$run(parsed$files, parsed$options), 0L))
}
