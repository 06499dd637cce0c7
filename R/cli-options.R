# The options of all verbs stand here once; a verb names those it takes.

option_shapes <- function() {
  flag <- function(help) list(action = "store_true", default = FALSE, help = help)
  text <- function(meta, help, short = NULL) list(type = "character", metavar = meta, help = help, short = short)
  list(
    baseline = text("ARM", "arm the others are compared with (default: the plan's)", "-b"),
    worth = text("W", "smallest change worth having: 2, or fps_avg=2,low1_mean=5", "-w"),
    better = text("M=DIR", "direction of a metric: load=lower,score=higher"),
    primary = text("M,M", "metrics whose comparisons count as one family"),
    confidence = text("P", "confidence over the family (default 95, in percent)"),
    steady = flag("you declare that nothing but the setting changed over time"),
    noise = text("FILE", "CSV of noise known from this machine: workload, metric, noise, df, source"),
    `with-excluded` = flag("weigh excluded passes as if they counted"),
    `no-limiter` = flag("you know that no limiter held the passes"),
    layout = text("FILE", "YAML file that says how the frame logs are laid out"),
    format = text("F", "table, csv or json (default table)", "-f"),
    wide = flag("all columns"),
    exploratory = flag("also the comparisons outside the family"),
    `fail-on` = text("V,V", "exit with 1 when a primary verdict is one of these: loss, gain, unclear, ..."),
    of = text("KIND", "change, passes, trace or sensors (default change)"),
    workload = text("W,W", "only these workloads"),
    metric = text("M,M", "only these metrics"),
    size = text("WxH", "pixels (default 1280x800)"),
    file = text("PATH", "where to write", "-o"),
    batch = text("N", "which batch of a study (see repeat)"),
    live = flag("run a real study on this machine: compressing a file, in under two minutes"),
    card = flag("the steps by hand on one page, to print"),
    `noise-level` = text("M=P", "noise of one pass that you know: fps_avg=0.8"),
    most = text("N", "run at most so many passes"),
    arm = text("ARM", "value of the setting"), context = text("C", "level of the second factor"),
    block = text("B", "which block"),
    value = text("V", "the number (or write METRIC=VALUE after the study)"),
    frames = text("FILE", "frame log of the pass"), from = text("FILE", "a CSV of scores, long or wide"),
    sensors = text("FILE", "sensor log of another program, cut to the passes that it covers"),
    offset = text("S", "seconds to add to the clock of the sensor log"),
    outcome = text("O", "what happened: ok, crash, down, freeze, artefact, ..."),
    note = text("TEXT", "what was seen or felt"), proof = text("FILE", "a picture to keep with the pass"),
    yes = flag("do it without asking"), off = flag("take it away again"), reason = text("TEXT", "why"),
    pass = text("PASS", "the pass it is about"),
    all = flag("the steady ones too"),
    debug = flag("show where in the code an error arose")
  )
}

#' @param verb From `verbs()`.
#' @param args Words after the verb.
#' @return A list: `options` (named), `files` (what is no option).
#' @noRd
parse_options <- function(verb, args) {
  shapes <- option_shapes()[c(verb$options, "debug")]
  args <- join_negative(args)
  check_words(args, shapes)
  parser <- option_parser(verb, shapes)
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
  list(options = parsed$options, files = parsed$args)
}

# "--offset -100": a number below zero is a value, not an option
join_negative <- function(args) {
  at <- which(grepl("^-[0-9.]+$", args[-1]) & grepl("^--[^=]+$", args[-length(args)]))
  args[at] <- paste0(args[at], "=", args[at + 1])
  if (length(at)) args[-(at + 1)] else args
}

option_parser <- function(verb, shapes) {
  made <- lapply(names(shapes), function(name) {
    shape <- shapes[[name]]
    flags <- c(shape$short, paste0("--", name))
    shape$short <- NULL
    do.call(optparse::make_option, c(list(flags), shape))
  })
  optparse::OptionParser(
    usage = paste0("honestmargin ", verb$name, " ", verb$takes, " [options]"),
    option_list = made, add_help_option = FALSE, description = paste0("\n", verb$about)
  )
}

# optparse stops at a wrong word without naming a near one
check_words <- function(args, shapes) {
  given <- sub("=.*", "", grep("^--.", args, value = TRUE))
  wrong <- setdiff(given, paste0("--", names(shapes)))
  if (length(wrong)) {
    abort_usage(
      paste0("unknown option ", wrong[1]),
      todo = did_you_mean(wrong[1], paste0("--", names(shapes)))
    )
  }
}

split_list <- function(text) if (is.null(text)) NULL else trimws(strsplit(text, ",", fixed = TRUE)[[1]])

#' `fps_avg=2,low1_mean=5`, or one number alone
#' @noRd
named_numbers <- function(text, option) {
  if (is.null(text)) {
    return(NULL)
  }
  parts <- split_list(text)
  value <- suppressWarnings(as.numeric(sub("^.*=", "", parts)))
  named <- grepl("=", parts, fixed = TRUE)
  if (anyNA(value) || any(value < 0) || (length(parts) > 1 && !all(named))) {
    abort_usage(
      paste0("--", option, " ", text, ": not a number that is 0 or more"),
      todo = paste0("write --", option, " 2, or --", option, " fps_avg=2,low1_mean=5")
    )
  }
  if (all(named)) stats::setNames(value, trimws(sub("=.*$", "", parts))) else value
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
