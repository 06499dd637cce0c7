# A study as a plain folder: the exchange form.

#' Write a study as a plain folder
#'
#' @param x A study from [read_study()].
#' @param folder Where to; made when it is not there, and must be empty.
#' @return `folder`, invisibly. It holds `study.yml` (the plan as it is stored), `passes.csv`, what was
#'   typed in `readings.csv`, what the record says in `findings.csv`, and `frames/`, `sensors/` and
#'   `marks/` with a `<pass>.csv.gz` each; [read_study()] reads it and gives the same readings.
#' @section Errors: `honestmargin_error_stuck` for a folder that is not empty or
#'   cannot be written.
#' @export
#' @examples
#' out <- write_study(read_study(demo_study()), tempfile("export-"))
#' list.files(out)
write_study <- function(x, folder) {
  checkmate::assert_class(x, "honestmargin_study")
  if (length(list.files(folder, all.files = TRUE, no.. = TRUE))) {
    abort_stuck("this folder is not empty", folder, "name a new one")
  }
  made <- dir.exists(folder) || dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  if (!made) abort_stuck("this folder cannot be made", folder, "name another")
  with_store(x$folder, write = FALSE, code = function(store) {
    if (!is.null(x$store$layout)) store$layout <- x$store$layout
    batch <- x$sealed$batch
    passes <- store_passes(store, batch)
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
  })
  invisible(folder)
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
  put <- function(kind, table) {
    if (!NROW(table)) {
      return(invisible())
    }
    place <- file.path(folder, kind)
    dir.create(place, showWarnings = FALSE)
    # in one piece: fwrite's own packing makes several, whose length at the end is that of the last
    plain <- tempfile(fileext = ".csv")
    on.exit(unlink(plain))
    data.table::fwrite(table, plain)
    write_whole(file.path(place, paste0(capture$pass$pass, ".csv.gz")), function(to) {
      packed <- gzfile(to, "wb")
      on.exit(close(packed))
      writeBin(readBin(plain, "raw", file.size(plain)), packed)
    })
  }
  put("frames", capture$frames)
  put("sensors", capture$sensors)
  put("marks", capture$marks)
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
