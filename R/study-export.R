# A study as a plain folder: the exchange form.

#' Write a study as a plain folder
#'
#' @param x A study from [read_study()].
#' @param folder Where to; made when it is not there, and must be empty.
#' @return `folder`, invisibly. It holds `study.yml` (the plan as it is stored), `passes.csv`, what was
#'   typed in `readings.csv`, what the record says in `findings.csv`, and `frames/`, `sensors/` and
#'   `marks/` with a `<pass>.csv.gz` each; [read_study()] reads it and gives the same readings.
#' @section Errors: `honestmargin_error_stuck` for a folder that is not empty, is a link or
#'   cannot be written; `honestmargin_error_input` for a pass whose id cannot name a file.
#' @export
#' @examples
#' out <- write_study(read_study(demo_study()), tempfile("export-"))
#' list.files(out)
write_study <- function(x, folder) {
  checkmate::assert_class(x, "honestmargin_study")
  folder <- sub("/+$", "", folder)
  if (isTRUE(Sys.readlink(folder) != "")) abort_stuck("this is a link", folder, "name the folder itself")
  if (length(list.files(folder, all.files = TRUE, no.. = TRUE))) {
    abort_stuck("this folder is not empty", folder, "name a new one")
  }
  # made aside and then given its name: a whole study is there, or none
  aside <- tempfile(".export-", dirname(folder))
  if (!dir.create(aside, recursive = TRUE, showWarnings = FALSE)) {
    abort_stuck("this folder cannot be made", folder, "name another")
  }
  on.exit(unlink(aside, recursive = TRUE))
  with_store(x$folder, write = FALSE, code = function(store) write_parts(x, store, aside))
  if (dir.exists(folder)) unlink(folder, recursive = TRUE)
  if (!file.rename(aside, folder)) abort_stuck("could not be put in place", folder, "name another folder")
  invisible(folder)
}

write_parts <- function(x, store, folder) {
  if (!is.null(x$store$layout)) store$layout <- x$store$layout
  batch <- x$sealed$batch
  passes <- store_passes(store, batch)
  assert_file_names(passes$pass)
  put <- function(name, lines) {
    write_whole(
      file.path(folder, name), function(to) writeLines(lines, to, useBytes = TRUE)
    )
  }
  put("study.yml", enc2utf8(attr(x$plan, "text")))
  put("passes.csv", csv_lines(exact_table(passes)))
  traces <- store_traces(store)
  traced <- which(is.na(passes$part) & passes$pass %in% traces$pass)
  damaged <- lapply(traced, function(i) {
    export_capture(store_capture(store, passes[i, ]), folder, traces$kind[traces$pass == passes$pass[i]])
  })
  summaries <- store_summaries(store, x$plan, passes)
  kept <- summaries$readings[summaries$readings$pass %in% passes$pass[traced[lengths(damaged) > 0]], ]
  typed <- store_typed(store, x$plan, passes)
  if (NROW(kept)) typed <- stack_rows(list(kept[!typed_too(kept, typed), ], typed))
  if (NROW(typed)) put("readings.csv", csv_lines(exact_table(typed_rows(typed, passes))))
  found <- c(list(store_record(store, batch)$findings, summaries$findings), lapply(damaged, `[[`, "findings"))
  found <- do.call(bind_findings, found)
  if (nrow(found)) put("findings.csv", csv_lines(findings_as_text(found)))
}

typed_too <- function(kept, typed) {
  key <- function(rows) do.call(paste, rows[c("pass", "part", "segment", "metric")])
  if (NROW(typed)) key(kept) %in% key(typed) else rep(FALSE, nrow(kept))
}

typed_rows <- function(typed, passes) {
  typed <- with_columns(typed, c("workload", "scale"))
  at <- match(typed$pass, passes$pass)
  typed$workload <- ifelse(is.na(typed$workload), passes$workload[at], typed$workload)
  rows <- cbind(typed, passes[at, setdiff(of_pass, "workload")])
  rows[c("pass", setdiff(names(rows), "pass"))]
}

# as few digits as give the same numbers again
exact_table <- function(table) {
  for (column in names(table)[vapply(table, is.double, NA)]) {
    x <- table[[column]]
    text <- ifelse(is.na(x), NA, sprintf("%.15g", x))
    off <- which(as.numeric(text) != x)
    text[off] <- sprintf("%.17g", x[off])
    table[[column]] <- text
  }
  table
}

findings_as_text <- function(found) {
  found$values <- vapply(found$values, function(v) if (length(v)) detail_json(v) else NA_character_, "")
  plain_table(found)
}

# Times stay those of the pass, so frames say when each began; the layout beside
# them says which column is which. Returns what is known of traces that cannot be
# read any more; what was once read of them is exported as numbers.
export_capture <- function(capture, folder, kinds) {
  for (kind in c("frames", "sensors", "marks")) put_log(folder, kind, capture$pass$pass, capture[[kind]])
  layout <- file.path(folder, "frames", "layout.yml")
  if (!is.null(capture$frames) && !file.exists(layout)) {
    writeLines(c(
      "column: frame_time_ms", "starts: start_s", "holds: durations", "unit: ms", "delimiter: comma",
      "decimal: point", "header_lines: 1"
    ), layout)
  }
  gone <- vapply(kinds, function(kind) is.null(capture[[kind]]), NA)
  if (any(gone)) list(findings = capture$findings)
}
