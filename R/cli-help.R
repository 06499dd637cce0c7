# What the command says of itself: the verbs by what they are for, and where a word is spoken of.

# each line: the verbs, and what they are for
help_groups <- list(
  `First look` = c(
    demo = "weigh the demo study", open = "the desk: all of this in a browser",
    `weigh, report, figure` = "compare arms; write a report; draw",
    describe = "summarise passes without comparing"
  ),
  `Plan and run` = c(
    `start, plan` = "write a plan; check what it can show",
    `run, login, board` = "run or resume; resume at login; serve a page", search = "show or steer a search",
    mark = "mark a moment in the running pass"
  ),
  Record = c(
    add = "add logs, results, tables, sensors or typed numbers", `exclude, include` = "stop or resume counting a pass",
    `correct, undo, note` = "fix a value; remove a pass; add a note", history = "list changes"
  ),
  Trust = c(check = "inspect passes"),
  Continue = c(`repeat, extend` = "add a batch weighed alone; add blocks"),
  `Ask more` = c(
    ask = "every question this study can answer", `choose, screen` = "good enough; many options",
    `against, claim` = "earlier studies; published figures"
  ),
  Share = c(`export, noise, completion` = "write text files; noise memory; complete in the shell")
)

main_help <- function() {
  line <- function(verbs, about) paste0("  ", formatC(verbs, width = -27), about)
  c(
    "honestmargin VERB [FILE or FOLDER] [options]",
    "Is the difference between benchmark passes larger than the run-to-run noise?",
    unlist(lapply(names(help_groups), function(group) {
      c("", group, line(names(help_groups[[group]]), help_groups[[group]]))
    })),
    "", "help VERB explains one verb; help WORD finds a word (help crash).",
    "--version prints the version."
  )
}

#' Verbs, options, questions and plan keys that speak of a word
#' @noRd
help_on <- function(word) {
  hit <- function(...) grepl(tolower(word), tolower(paste(...)), fixed = TRUE)
  verbs <- registered("verb")
  of_verb <- vapply(verbs, function(v) hit(v$name, v$about, paste(v$examples, collapse = " ")), NA)
  options <- unlist(lapply(verbs, function(v) {
    all <- options_of(v)
    all <- all[vapply(names(all), function(name) hit(name, all[[name]]$help), NA)]
    paste0("--", names(all), ": ", vapply(all, `[[`, "", "help"), recycle0 = TRUE)
  }), use.names = FALSE)
  questions <- Filter(function(q) hit(q$name, q$title, q$about), registered("question"))
  keys <- plan_keys()
  keys <- keys[hit(keys$key, keys$about), , drop = FALSE]
  found <- list(
    Verbs = paste0("honestmargin ", names(verbs)[of_verb], ": ", vapply(verbs[of_verb], `[[`, "", "about"),
      recycle0 = TRUE
    ),
    Questions = paste0("honestmargin ask STUDY ", names(questions), ": ", vapply(questions, `[[`, "", "about"),
      recycle0 = TRUE
    ),
    Options = unique(options), `Plan keys` = paste0(keys$key, ": ", keys$about, recycle0 = TRUE)
  )
  found <- Filter(length, found)
  if (!length(found)) {
    abort_usage(paste0("nothing here speaks of '", plain_text(word), "'"), todo = "honestmargin help lists the verbs")
  }
  unlist(lapply(names(found), function(name) {
    c(if (name != names(found)[1]) "", name, fold(found[[name]], first = "  ", rest = "    "))
  }))
}

# words that people try first
meant_verbs <- c(
  compare = "weigh", diff = "weigh", analyse = "weigh", analyze = "weigh", evaluate = "weigh", plot = "figure",
  chart = "figure", summary = "describe", import = "add", validate = "check", questions = "ask", open = "board"
)

abort_no_verb <- function(args) {
  if (file.exists(args[1])) {
    abort_usage(
      paste0("'", plain_text(args[1]), "' is a file, not a verb"),
      todo = to_paste(c("weigh", args))
    )
  }
  meant <- unname(meant_verbs[args[1]])
  abort_usage(paste0("unknown verb '", plain_text(args[1]), "'"), todo = if (is.na(meant)) {
    did_you_mean(args[1], names(registered("verb")))
  } else {
    paste0("did you mean '", meant, "'?")
  })
}
