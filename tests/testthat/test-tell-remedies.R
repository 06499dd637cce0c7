# What is offered as a remedy has to exist and to end where it says. All texts of the sources are walked for what they
# offer: a verb, an option, a key of a plan; what is printed over the shapes of study is run as printed.
source_texts <- function() {
  files <- list.files(file.path(Sys.getenv("HONESTMARGIN_SOURCE", "../.."), "R"), "[.]R$", full.names = TRUE)
  unlist(lapply(files, function(f) {
    tokens <- utils::getParseData(parse(f, keep.source = TRUE))
    vapply(tokens$text[tokens$token == "STR_CONST"], function(s) eval(str2lang(s)), "", USE.NAMES = FALSE)
  }))
}
offered <- function(texts, pattern) unique(unlist(regmatches(texts, gregexpr(pattern, texts, perl = TRUE))))

# the second text of each code, as far as it stands without values
registered_words <- function() {
  words <- as.list(honestmargin:::code_words)
  lapply(words, function(w) if (is.function(w)) c("", paste(all_strings(body(w)), collapse = " ")) else c(w, "")[1:2])
}
all_strings <- function(code) {
  if (is.character(code)) code else if (is.call(code)) unlist(lapply(as.list(code), all_strings))
}

test_that("every verb, option and key that a text offers is one that there is", {
  texts <- source_texts()
  verbs <- honestmargin:::registered("verb")
  named <- offered(texts, "(?<=honestmargin )[a-z]+\\b(?!/)(?=$| [A-Z-]| [{']|[.,:;)])")
  expect_gt(length(named), 15)
  expect_identical(setdiff(named, c(names(verbs), "help", "honestmargin")), character())
  known <- unique(unlist(lapply(verbs, function(verb) names(honestmargin:::options_of(verb)))))
  # what a text offers to somebody else's program
  others <- c("vanilla", "rate", "force-local", "arms", "set", "show", "replay")
  options <- offered(texts[!startsWith(texts, "--")], "(?<![^ ('\"])--[a-z][a-z-]+")
  expect_gt(length(options), 40)
  expect_identical(setdiff(options, paste0("--", c(known, others, "help", "version", "debug"))), character())
  keys <- sub(".*/", "", plan_keys()$key)
  said <- offered(unlist(lapply(registered_words(), `[`, 2)), "(?<=\\b)[a-z_]+(?=: (true|false|[{\\[]|[0-9]))")
  expect_identical(setdiff(said, keys), character())
})

options_of_all <- function() do.call(c, unname(lapply(honestmargin:::registered("verb"), honestmargin:::options_of)))

# the commands that a text prints, as somebody would paste them: what a text leaves open is filled in
commands_of <- function(said, shape) {
  flat <- gsub("[[:space:]]+", " ", gsub("\n[[:space:]]*\n", " ; ", said))
  found <- unlist(regmatches(flat, gregexpr("honestmargin [a-z]+( [^ ,;:()]+(,[^ ,;:()]+)*)*", flat)))
  verbs <- names(honestmargin:::registered("verb"))
  words <- lapply(strsplit(sub("^honestmargin ", "", found), " "), function(w) {
    flags <- paste0("--", names(Filter(function(o) identical(o$action, "store_true"), options_of_all())))
    behind <- c(FALSE, grepl("^--", w[-length(w)]) & !w[-length(w)] %in% flags)
    stop_at <- c(which(!seq_along(w) %in% 1 & !behind & !grepl("^--|/|^[A-Z0-9]", w)), length(w) + 1)[1]
    w <- w[seq_len(stop_at - 1)]
    open <- match(w, c("N", "STUDY", "FOLDER"))
    w <- ifelse(is.na(open), w, c("3", shape, shape)[open])
    if (length(w) == 1) c(w, shape) else w
  })
  unique(words[vapply(words, function(w) w[1] %in% verbs, NA)])
}

test_that("a command that is printed beside an answer can be pasted, and so can each option that is offered", {
  set.seed(as.integer(Sys.Date()))
  whole <- identical(Sys.getenv("HONESTMARGIN_GRID"), "all")
  always <- c("ledger_begun", "ledger_done", "search", "logs_of_one", "one_stint_each")
  tried <- 0
  for (name in if (whole) shape_names else c(always, sample(setdiff(shape_names, always), 3))) {
    folder <- withr::local_tempdir()
    opened <- suppressMessages(make_shape(name, folder))
    weighed <- grid_words(c("weigh", "SHAPE"), opened, "score", folder)
    for (verb in c("weigh", "describe", "check")) {
      words <- grid_words(c(verb, "SHAPE"), opened, metric_of_shape(name), folder)
      cell <- run_cell(words)
      offers <- commands_of(cell$said, opened[1])
      flags <- intersect(
        c("--steady", "--setting-limits", "--no-limiter", "--exploratory", "--with-excluded"),
        offered(cell$said, "(?<![a-z])--[a-z-]+")
      )
      offers <- c(lapply(offers, function(w) {
        own <- any(grepl("^--", w))
        if (w[1] %in% c("weigh", "describe", "firm") && !own) grid_words(w, opened, "score", folder) else w
      }), lapply(flags, function(flag) c(if (flag == "--exploratory") words else weighed, flag)))
      for (offer in offers) {
        tried <- tried + 1
        # on a copy: an offer that adds to the study does not stand in the way of the next
        copy <- withr::local_tempdir()
        file.copy(opened[1], copy, recursive = TRUE)
        got <- run_cell(gsub(opened[1], file.path(copy, basename(opened[1])), offer, fixed = TRUE))
        if (!got$status %in% c(0, 1, 3)) {
          fail(paste0(name, ", ", verb, " offers ", paste(offer, collapse = " "), " -> ", got$status, "\n", got$said))
        }
      }
    }
  }
  expect_gt(tried, 6)
})
