# A table that was read, kept as a study folder.

#' Keep readings as a plain study folder
#'
#' @param x Readings, from [read_readings()]. @param folder Where to; made, or empty.
#' @param baseline Which arm the others are compared with. @param worth As in [weigh()].
#' @return `folder`, invisibly: `study.yml` and `readings.csv`, which [read_study()] reads.
#' @noRd
keep_readings <- function(x, folder, baseline, worth = NULL) {
  if (length(list.files(folder))) abort_stuck("this folder is not empty", folder, "name a new one")
  if (is.null(baseline)) abort_needed("which arm is the baseline?", todo = "a study names it: give --baseline")
  dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  metrics <- unique(x$metric)
  by_metric <- worth_by_metric(worth, NULL, x)
  described <- vapply(metrics, function(m) {
    row <- match(m, x$metric)
    size <- if (m %in% names(by_metric)) paste0(", worth: ", show_exact(by_metric[[m]]))
    paste0(
      "  - {id: ", yaml_quoted(m), ", better: ", x$better[row], if (nzchar(x$unit[row])) {
        paste0(", unit: ", yaml_quoted(x$unit[row]))
      }, size, if (x$better[row] != "none") ", primary: true", "}"
    )
  }, "")
  plan <- bare_plan("a table", baseline, unique(x$arm), x$workload, x$context, described)
  writeLines(enc2utf8(plan), file.path(folder, "study.yml"), useBytes = TRUE)
  writeLines(csv_lines(exact_table(plain_table(x))), file.path(folder, "readings.csv"))
  invisible(folder)
}
