# Options: those that several verbs take stand here once; a verb's own stand with it.

option_flag <- function(help) list(action = "store_true", default = FALSE, help = help)
option_text <- function(meta, help, short = NULL) list(type = "character", metavar = meta, help = help, short = short)

#' @param ... Names of options that several verbs take.
#' @noRd
shared_options <- function(...) {
  all <- list(
    baseline = option_text("ARM", "arm the others are compared with (default: the plan's)", "-b"),
    worth = option_text("W", "smallest change worth having: 2, or fps_avg=2,low1_mean=5", "-w"),
    better = option_text("M=DIR", "direction of a metric: load=lower,score=higher"),
    columns = option_text("C=H,C=H", "what columns are called in a table: arm=Einstellung,value=Punkte"),
    answer = option_text("Q=A,Q=A", "answers to what was asked of a table: marks=comma"),
    keep = option_flag("keep what was settled beside the table, so that nothing is asked again"),
    sheet = option_text("S,S", "which sheet of a workbook; several hold one arm each"),
    names = option_text("SHAPE", "how the names of logs are built: '{arm}_run{pass}.csv', {workload}, {any}"),
    score = option_text("M=PATTERN", "the number in each file that a program printed: 'fps=Average: ([0-9.]+)'"),
    primary = option_text("M,M", "metrics whose comparisons count as one family"),
    confidence = option_text("P", "confidence over the family: 0.95 or 95% (the default)"),
    steady = option_flag("you declare that nothing but the setting changed over time"),
    noise = option_text("FILE", paste(
      "baseline: its repeats stand for arms that ran once; memory: what studies on this machine left; or a CSV:",
      "workload, metric, noise, df, source"
    )),
    `no-memory` = option_flag("neither read nor update the noise memory"),
    `with-excluded` = option_flag("weigh excluded passes as if they counted"),
    `no-limiter` = option_flag("you know that no limiter held the passes"),
    `own-noise` = option_flag("judge each comparison by the noise of its own cell, not by that of the others too"),
    `setting-limits` = option_flag("the setting is itself a limiter or a sync: what it holds back is its effect"),
    looks = option_flag("results were seen early: intervals valid at any look"),
    against = option_text("WHAT", paste(
      "baseline (default); all: each arm with each; attributes: those that differ in one; previous: each with the one",
      "before it; A,B,C: the same in this order"
    )),
    layout = option_text("FILE", "YAML file that says how the logs are laid out"),
    format = option_text("F", "table, csv or json (default table)", "-f"),
    wide = option_flag("all columns"),
    long = option_flag("also sentences, reasons, outcomes, limiting parts and what each check asks for"),
    workload = option_text("W,W", "only these workloads"),
    metric = option_text("M,M", "only these metrics"),
    context = option_text("C,C", "only these levels of the second factor"),
    file = option_text("PATH", "where to write", "-o"),
    batch = option_text("N", "which batch of a study (see repeat); all of them side by side: all"),
    yes = option_flag("do it without asking"),
    reason = option_text("TEXT", "why"),
    part = option_text("N", "which flip of a toggled pass"),
    pass = option_text("PASS", "the pass it is about")
  )
  all[c(...)]
}

# whatever is opened, what settles how it is read can be said
input_options <- function() {
  shared_options("better", "columns", "answer", "keep", "sheet", "names", "score", "layout", "batch")
}

# how passes are weighed
shared_weighing <- function() {
  shared_options(
    "baseline", "worth", "primary", "confidence", "steady", "noise", "with-excluded", "no-limiter", "setting-limits",
    "own-noise",
    "looks", "against"
  )
}

weighing_options <- function() c(shared_weighing(), shared_options("no-memory"), input_options())

#' @param verb A registered verb.
#' @param args Words after the verb.
#' @return A list: `options` (named), `files` (what is no option).
#' @noRd
parse_options <- function(verb, args) {
  args <- join_negative(args)
  assert_options(args, verb)
  parser <- option_parser(verb)
  parsed <- tryCatch(
    optparse::parse_args(parser, args, positional_arguments = c(0, Inf), convert_hyphens_to_underscores = TRUE),
    error = function(e) {
      abort_usage(
        sub("^Error in [^:]*: ", "", conditionMessage(e)),
        todo = paste0("see honestmargin ", verb$name, " --help")
      )
    }
  )
  need <- verb$files
  if (length(parsed$args) < need[1] || length(parsed$args) > need[2]) {
    abort_usage(
      if (length(parsed$args) < need[1]) {
        paste(verb$takes, "is missing")
      } else {
        paste0(
          "one word too many: '", parsed$args[need[2] + 1], "'"
        )
      },
      todo = paste0(
        "honestmargin ", verb$name, " ", verb$takes, " [options]; see honestmargin ", verb$name, " --help"
      )
    )
  }
  list(options = structure(parsed$options, typed = args), files = parsed$args)
}

#' What goes on from a command
#' @return A list of words: `again` (the same command), `firm` (how firm its verdicts are, of what was read in the same
#'   way).
#' @noRd
follow_ups <- function(verb, files, options) {
  of_ask <- gsub("-", "_", names(options_of(registered("verb", "ask"))))
  shared <- setdiff(intersect(of_ask, given_options(options)), "format")
  said <- unlist(lapply(shared, function(name) {
    c(option_word(name), if (!isTRUE(options[[name]])) options[[name]])
  }))
  list(again = c(verb, attr(options, "typed")), firm = c("ask", files[1], said, "firm"))
}

# "--offset -100": a number below zero is a value, not an option
join_negative <- function(args) {
  at <- which(grepl("^-[0-9.]+$", args[-1]) & grepl("^--[^=]+$", args[-length(args)]))
  args[at] <- paste0(args[at], "=", args[at + 1])
  if (length(at)) args[-(at + 1)] else args
}

option_parser <- function(verb) {
  shapes <- options_of(verb)
  made <- lapply(names(shapes), function(name) {
    shape <- shapes[[name]]
    flags <- c(shape$short, paste0("--", name))
    shape$short <- NULL
    do.call(optparse::make_option, c(list(flags), shape))
  })
  optparse::OptionParser(
    usage = paste0("honestmargin ", verb$name, " ", verb$takes, " [options]"),
    option_list = made, add_help_option = FALSE, description = paste0("\n", verb$about),
    epilogue = paste(c("Examples:", paste0("  honestmargin ", verb$examples)), collapse = "\n")
  )
}

options_of <- function(verb) {
  c(
    if (is.function(verb$options)) verb$options(), list(debug = option_flag("show where in the code an error arose"))
  )
}

# optparse stops at a wrong word without naming a near one
assert_options <- function(args, verb) {
  shapes <- options_of(verb)
  given <- sub("=.*", "", grep("^--.", args, value = TRUE))
  wrong <- setdiff(given, paste0("--", names(shapes)))
  if (length(wrong)) {
    abort_usage(
      paste0("unknown option ", wrong[1]),
      todo = did_you_mean(wrong[1], paste0("--", names(shapes)))
    )
  }
}

#' `arm=Einstellung,value=Punkte`
#' @noRd
named_texts <- function(text, option) {
  if (is.null(text)) {
    return(NULL)
  }
  parts <- split_list(text)
  if (!all(grepl("=", parts, fixed = TRUE))) {
    abort_usage(
      paste0("--", option, " ", text, ": expected NAME=HEADING"),
      todo = "--columns arm=Einstellung,value=Punkte"
    )
  }
  stats::setNames(trimws(sub("^[^=]*=", "", parts)), trimws(sub("=.*$", "", parts)))
}

named_words <- function(text, option, allowed) {
  if (is.null(text)) {
    return(NULL)
  }
  parts <- split_list(text)
  word <- sub("^.*=", "", parts)
  if (!all(grepl("=", parts, fixed = TRUE)) || !all(word %in% allowed)) {
    abort_usage(paste0("--", option, " ", text, ": expected METRIC=", paste(allowed, collapse = " or METRIC=")))
  }
  stats::setNames(word, trimws(sub("=.*$", "", parts)))
}

one_word <- function(text, option, allowed, default) {
  text <- empty_to(text, default)
  if (!text %in% allowed) {
    abort_usage(
      paste0("--", option, " cannot be '", text, "'"),
      todo = did_you_mean(text, allowed)
    )
  }
  text
}

figure_size <- function(text) {
  text <- empty_to(text, "1280x800")
  size <- suppressWarnings(as.integer(strsplit(text, "x", fixed = TRUE)[[1]]))
  if (!grepl("^[0-9]+x[0-9]+$", text) || any(size < 200) || any(size > 8000)) {
    abort_usage(
      paste0("--size ", text, ": expected WIDTHxHEIGHT in pixels, 200 to 8000 each"),
      todo = "for example --size 1920x1080"
    )
  }
  size
}
