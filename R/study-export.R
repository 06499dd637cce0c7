# A study as a plain folder: the exchange form.

#' Write a study as a plain folder
#'
#' @param x A study from [read_study()].
#' @param folder Where to; made when it is not there, and must be empty.
#' @return `folder`, invisibly. It holds `study.yml` (the plan as it is stored), `passes.csv`, what was
#'   typed in `readings.csv`, what the record says in `findings.csv`, what it holds of the machine in
#'   `conditions.csv`, what was said of blind pairs in `pairs.csv`, and `frames/`, `sensors/` and
#'   `marks/` with a `<pass>.csv.gz` each; [read_study()] reads it and gives the same readings.
#' @details The verb `export` also saves what can be read of a ledger that is damaged ([rescue_study()]).
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
  traces <- store_traces(store)
  traced <- which(is.na(passes$part) & passes$pass %in% traces$pass)
  damaged <- lapply(traced, function(i) {
    export_capture(store_capture(store, passes[i, ]), folder, traces$kind[traces$pass == passes$pass[i]])
  })
  summaries <- store_summaries(store, x$plan, passes)
  kept <- summaries$readings[summaries$readings$pass %in% passes$pass[traced[lengths(damaged) > 0]], ]
  # flips are found again by the marks of their pass; where those are gone they are listed
  listed <- with_listed_parts(passes, summaries$parts, passes$pass[traced[lengths(damaged) > 0]], x$plan)
  put("passes.csv", csv_lines(exact_table(listed)))
  typed <- store_typed(store, x$plan, passes)
  if (NROW(kept)) typed <- stack_rows(list(kept[!typed_too(kept, typed), ], typed))
  if (NROW(typed)) put("readings.csv", csv_lines(exact_table(typed_rows(typed, listed))))
  record <- store_record(store, batch)
  seen <- record$snapshots[record$snapshots$pass %in% passes$pass, , drop = FALSE]
  if (NROW(seen)) put("conditions.csv", csv_lines(seen[c("pass", "at", "key", "value")]))
  if (!is.null(record$blind)) {
    put("pairs.csv", csv_lines(cbind(record$blind$pairs, as.data.frame(record$blind[c("hash", "given_up")]))))
  }
  found <- c(
    list(x$rescued, record$findings, summaries$findings), lapply(damaged, `[[`, "findings")
  )
  found <- do.call(bind_findings, found)
  if (nrow(found)) put("findings.csv", csv_lines(findings_as_text(found)))
}

with_listed_parts <- function(passes, parts, damaged, plan) {
  parts <- parts[parts$pass %in% damaged, , drop = FALSE]
  if (!NROW(parts)) {
    return(passes)
  }
  flips <- passes_with_parts(passes[passes$pass %in% parts$pass, , drop = FALSE], parts, plan)
  stack_rows(list(passes[!(passes$pass %in% parts$pass & !is.na(passes$part)), , drop = FALSE], flips))
}

typed_too <- function(kept, typed) {
  key <- function(rows) do.call(paste, rows[c("pass", "part", "segment", "metric")])
  if (NROW(typed)) key(kept) %in% key(typed) else rep(FALSE, nrow(kept))
}

typed_rows <- function(typed, passes) {
  typed <- with_columns(typed, c("workload", "scale"))
  at <- match(paste(typed$pass, typed$part), paste(passes$pass, passes$part))
  at <- ifelse(is.na(at), match(typed$pass, passes$pass), at)
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

#' Save what can be read of a study whose ledger is damaged
#'
#' @param x Study folder.
#' @param folder Where to, as in [write_study()].
#' @return The names of the tables of the ledger that could not be read to their end, invisibly.
#' @section Errors: `honestmargin_error_input` where neither a plan nor a pass can be read.
#' @export
#' @examples
#' # honestmargin export STUDY NEW_FOLDER, on a ledger that is damaged
rescue_study <- function(x, folder) {
  rescued <- rescue_ledger(x)
  on.exit(unlink(rescued$folder, recursive = TRUE))
  # the traces are files beside the ledger, and whole or not by themselves
  for (kind in intersect(c("traces", "frames", "sensors", "marks"), list.files(x))) {
    file.copy(file.path(x, kind), rescued$folder, recursive = TRUE)
  }
  if (file.exists(file.path(x, "study.yml"))) file.copy(file.path(x, "study.yml"), rescued$folder)
  study <- tryCatch(read_study(rescued$folder), honestmargin_error_input = function(e) {
    abort_input(
      "nothing of a pass can be read any more", ledger_file(x),
      "the traces that were captured lie beside it as files, each with the name of its pass"
    )
  })
  if (length(rescued$lost)) study$rescued <- new_finding("warning", "rescued", tables = rescued$lost)
  write_study(study, folder)
  invisible(rescued$lost)
}
