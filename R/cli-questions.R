# What the reader asks, at a terminal one after the other, elsewhere all at once with one command to paste; and what was
# settled, kept beside the table.

#' What was said of how something is read: by options, else by the layout that was kept beside it
#' @return A list: `columns`, `baseline`, `better`, `primary`, `answer`, `names`, `sheet`, `arm`.
#' @noRd
said_of_input <- function(path, options) {
  kept <- kept_layout(path, options$layout)
  given <- list(
    columns = named_texts(options$columns, "columns"), baseline = options$baseline,
    better = directions_given(options, "none"), primary = split_list(options$primary),
    answer = named_texts(options$answer, "answer"), names = options$names, sheet = split_list(options$sheet),
    arm = options$arm
  )
  for (part in intersect(names(kept), names(given))) {
    several <- part %in% c("columns", "better", "answer")
    given[[part]] <- if (several) {
      c(given[[part]], kept[[part]][if (part == "columns") {
        TRUE
      } else {
        setdiff(
          names(kept[[part]]),
          names(given[[part]])
        )
      }])
    } else {
      empty_to(given[[part]], kept[[part]])
    }
  }
  given
}

#' Read a table, asking at a terminal what is open
#' @param read A function of what was said.
#' @noRd
read_asking <- function(path, said, read, keep = FALSE) {
  repeat {
    found <- tryCatch(read(said), honestmargin_error_asked = identity)
    if (!inherits(found, "error")) break
    if (!is_terminal()) stop(found)
    said <- ask_questions(found, said, read)
  }
  if (keep) keep_layout(path, said)
  attr(found, "said_baseline") <- said$baseline
  found
}

ask_questions <- function(asked, said, read) {
  tell_user(asked$where, ":")
  for (question in asked$questions) {
    if (!length(question$choices)) stop(asked)
    tell_user(paste(fold(question$seen, first = "", rest = "  "), collapse = "\n"))
    for (i in seq_along(question$choices)) {
      one <- question$choices[[i]]
      tell_user(paste(fold(paste0(i, ". ", one$says, made_of_choice(one, said, read)), first = "  ", rest = "     "),
        collapse = "\n"
      ))
    }
    repeat {
      answer <- read_answer(paste0("Which? 1 to ", length(question$choices), ", q to stop: "))
      if (answer %in% c("q", "quit")) stop(asked)
      if (answer %in% as.character(seq_along(question$choices))) break
    }
    said <- with_choice(said, question$choices[[as.integer(answer)]])
  }
  said
}

# what a choice alone would make of the table
made_of_choice <- function(one, said, read) {
  made <- tryCatch(read(with_choice(said, one)), honestmargin_error = identity)
  if (inherits(made, "honestmargin_error_asked")) {
    return("")
  }
  if (inherits(made, "error")) paste0(" (", made$what, ")") else paste0(" - ", read_lines(made)[1])
}

keep_layout <- function(path, said) {
  file <- layout_beside(path)
  yaml::write_yaml(layout_of_said(said), file)
  tell_user("kept in ", file)
}

#' One command that answers every question with its first choice
#' @param args The words of the command line that asked.
#' @noRd
command_that_answers <- function(questions, args) {
  open <- Filter(function(q) length(q$choices) > 0, questions)
  if (!length(open)) {
    return(NULL)
  }
  for (question in open) {
    one <- question$choices[[1]]
    option <- paste0("--", one$option)
    at <- match(option, args)
    if (is.na(at)) {
      args <- c(args, option, one$value)
    } else if (at < length(args)) {
      args[at + 1] <- paste(args[at + 1], one$value, sep = ",")
    }
  }
  to_paste(args)
}
