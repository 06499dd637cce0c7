# What was said on the desk, as it stands in the address of a page and in the fields of its forms.

#' The values of a form, decoded
#' @param text As it stands behind the question mark, or in the body. @return Named character, in order.
#' @noRd
form_values <- function(text) {
  pairs <- strsplit(strsplit(sub("^[?]", "", empty_to(text, "")), "&", fixed = TRUE)[[1]], "=", fixed = TRUE)
  pairs <- Filter(length, pairs)
  plain <- function(x) plain_text(without_escapes(gsub("+", " ", x, fixed = TRUE)))
  values <- vapply(pairs, function(p) plain(paste(p[-1], collapse = "=")), "")
  names(values) <- vapply(pairs, function(p) plain(p[1]), "")
  values
}

#' What the values say
#' @return A list: of the reading `columns` (headings named by role), `answer`, `better`, `baseline`, `arm`, `sheet`,
#'   `primary`, `names`; of the question `worth` (text by metric); of the page `out` (passes left out), `ask` (the tab).
#' @noRd
said_of_values <- function(values) {
  values <- values[nzchar(values)]
  of <- function(before) {
    found <- values[startsWith(names(values), before)]
    stats::setNames(unname(found), substring(names(found), nchar(before) + 1))
  }
  one <- function(name) utils::tail(unname(values[names(values) == name]), 1)
  some <- function(name) unique(unname(values[names(values) == name]))
  columns <- of("col.")
  said <- list(
    columns = heading_roles(columns), answer = of("answer."), better = of("better."),
    baseline = one("baseline"), arm = one("arm"), sheet = some("sheet"), primary = some("primary"),
    names = one("names"), worth = of("worth."), out = some("out"), ask = one("ask")
  )
  for (text in values[startsWith(names(values), "choice.")]) {
    option <- sub("=.*$", "", text)
    if (option %in% table_keys) said <- with_choice(said, list(option = option, value = sub("^[^=]*=", "", text)))
  }
  Filter(length, said)
}

# values by name as names by value
heading_roles <- function(x) if (length(x)) stats::setNames(names(x), x)

#' The same as fields of a form, or as an address
#' @param but Parts that are left out.
#' @return Named character.
#' @noRd
values_of_said <- function(said, but = character()) {
  of <- function(before, x) if (length(x)) stats::setNames(unname(x), paste0(before, names(x)))
  parts <- list(
    columns = of("col.", heading_roles(said$columns)), answer = of("answer.", said$answer),
    better = of("better.", said$better), worth = of("worth.", said$worth)
  )
  for (name in intersect(c("baseline", "arm", "sheet", "primary", "names", "out", "ask"), names(said))) {
    parts[[name]] <- stats::setNames(said[[name]], rep(name, length(said[[name]])))
  }
  unlist(unname(parts[setdiff(names(parts), but)]))
}

address_of_said <- function(page, said) {
  values <- values_of_said(said)
  if (length(values)) address_with(page, values) else page
}

address_with <- function(page, values) {
  escape <- function(x) vapply(enc2utf8(x), utils::URLencode, "", reserved = TRUE)
  paste0(page, "?", paste0(escape(names(values)), "=", escape(values), collapse = "&"))
}

hidden_fields <- function(said, but) hidden_inputs(values_of_said(said, but))

#' Opened as it was said: by the shell's own way
#' @return A study, readings, or the error that says what is asked or wrong.
#' @noRd
open_tray <- function(desk, tray, said) {
  paths <- paths_of_tray(tray)
  of_table <- c("columns", "answer", "better", "arm", "sheet", "primary", "names")
  options <- list(baseline = said$baseline)
  if (any(of_table %in% names(said))) {
    options$layout <- tempfile("layout-", desk$folder, ".yml")
    on.exit(unlink(options$layout))
    yaml::write_yaml(layout_of_said(said), options$layout)
  }
  # nobody sits at a terminal here
  withr::local_options(honestmargin.asks = FALSE)
  tryCatch(desk$opening(paths, options), honestmargin_error = identity)
}

#' What lies beside a table as its layout, where nothing was said yet
#' @noRd
said_beside <- function(tray) {
  paths <- paths_of_tray(tray)
  if (length(paths) != 1) {
    return(list())
  }
  tryCatch(Filter(length, kept_layout(paths)), honestmargin_error = function(e) list())
}

# a pass as people know it, and as it stands in an address: a table counts its passes in each workload anew
called_pass <- function(rows) {
  part <- if (is.null(rows$part)) NA else rows$part
  of <- ifelse(rows$workload == "main", "", paste(" of", rows$workload))
  paste0(rows$pass, ifelse(is.na(part), "", paste(" part", part)), of)
}

#' Passes that were left out on this page, as such
#' @param out As `called_pass()` calls them. @param reasons Named by them.
#' @noRd
with_left_out <- function(x, out, reasons) {
  mark <- function(rows) {
    called <- called_pass(rows)
    at <- which(called %in% out)
    rows$role[at] <- "excluded"
    rows$reason[at] <- reasons[called[at]]
    rows
  }
  if (is_study(x)) {
    x$passes <- mark(x$passes)
    x$readings <- mark(x$readings)
    x
  } else {
    mark(x)
  }
}

#' Verdicts of a tray, as it was said, with what was tried before them
#' @return Verdicts, or the error that stands in their way.
#' @noRd
weigh_tray <- function(desk, tray, said) {
  # files may change while the desk is open, and so may the reason of what is left out
  files <- paths_of_tray(tray)
  if (length(files) == 1 && dir.exists(files)) files <- list.files(files, recursive = TRUE, full.names = TRUE)
  stamp <- file.info(files)[c("size", "mtime")]
  key <- list(address_of_said(tray$id, said[names(said) != "ask"]), tray$reasons[said$out], stamp)
  if (identical(desk$weighed$key, key)) {
    return(desk$weighed$verdicts)
  }
  x <- open_tray(desk, tray, said)
  if (inherits(x, "error")) {
    return(x)
  }
  verdicts <- tryCatch(
    {
      worth <- worth_said(said$worth)
      x <- with_left_out(x, said$out, tray$reasons)
      how <- list(baseline = said$baseline, worth = worth, primary = said$primary)
      do.call(weigh, c(list(x), how))
    },
    honestmargin_error = identity
  )
  if (!inherits(verdicts, "error")) {
    desk$weighed <- list(key = key, verdicts = verdicts)
  }
  verdicts
}

worth_said <- function(texts) {
  if (!length(texts)) {
    return(NULL)
  }
  numbers <- suppressWarnings(as.numeric(sub(",", ".", sub("^[+]|%$", "", trimws(texts)), fixed = TRUE)))
  bad <- which(is.na(numbers) | numbers < 0)
  if (length(bad)) {
    abort_input(
      paste0("'", texts[[bad[1]]], "' is no worth of ", names(texts)[bad[1]]), NULL,
      "write the smallest change worth having, in percent: 2"
    )
  }
  stats::setNames(numbers, names(texts))
}

#' What was tried with a tray since its first answer
#'
#' The first question that was answered stands; each later one that differs in baseline, worth, direction, primary
#' metrics or the passes that count is after the fact, whether or not it was taken back.
#' @return `tray` with this state among those it has `tried`.
#' @noRd
note_tried <- function(desk, tray, said) {
  state <- said[intersect(names(said), c("baseline", "worth", "better", "primary", "out"))]
  if (!any(vapply(tray$tried, identical, NA, state))) tray$tried <- c(tray$tried, list(state))
  put_tray(desk, tray)
}

#' The same in words, one a change
#' @noRd
tried_words <- function(tray) {
  first <- empty_to(tray$tried, list(list()))[[1]]
  later <- tray$tried[-1]
  told <- function(x) {
    if (length(x)) paste0(if (!is.null(names(x))) paste0(names(x), " "), x, collapse = ", ") else "none"
  }
  changed <- unlist(lapply(c("baseline", "worth", "better", "primary"), function(part) {
    others <- unique(Filter(function(v) !identical(v, first[[part]]), lapply(later, `[[`, part)))
    vapply(others, function(v) paste0(part, ": ", told(first[[part]]), " -> ", told(v)), "")
  }))
  out <- setdiff(unlist(lapply(later, `[[`, "out")), first$out)
  c(changed, if (length(out)) paste0("left out ", out, " (", tray$reasons[out], ")"))
}
