# A study as a plain folder: the exchange form.

#' Write a study as a plain folder
#'
#' @param study A study from [read_study()].
#' @param folder Where to; made when it is not there, and must be empty.
#' @return `folder`, invisibly. It holds `study.yml`, `passes.csv`, typed scores in
#'   `readings.csv` and `frames/<pass>.csv.gz`, and [read_study()] reads it.
#' @section Errors: `honestmargin_error_stuck` for a folder that is not empty or
#'   cannot be written.
#' @export
#' @examples
#' out <- write_study(read_study(demo_study()), tempfile("export-"))
#' list.files(out)
write_study <- function(study, folder) {
  checkmate::assert_class(study, "honestmargin_study")
  if (length(list.files(folder, all.files = TRUE, no.. = TRUE))) {
    abort_stuck("this folder is not empty", folder, "name a new one")
  }
  made <- dir.create(file.path(folder, "frames"), recursive = TRUE, showWarnings = FALSE)
  if (!made) abort_stuck("this folder cannot be made", folder, "name another")
  file.copy(file.path(study$folder, "study.yml"), folder)
  passes <- study$passes[intersect(pass_columns, names(study$passes))]
  write_whole(file.path(folder, "passes.csv"), function(to) writeLines(csv_lines(passes), to))
  traced <- names(by_id(frame_metrics()))
  scores <- as.data.frame(study$readings)[!study$readings$metric %in% traced, reading_columns]
  if (nrow(scores)) {
    write_whole(file.path(folder, "readings.csv"), function(to) writeLines(csv_lines(scores), to))
  }
  for (pass in names(study$traces)) {
    frames <- study_frames(study, pass)$frame_time_ms
    write_whole(file.path(folder, "frames", paste0(pass, ".csv.gz")), function(to) {
      data.table::fwrite(data.frame(frame_time_ms = frames), to, compress = "gzip")
    })
  }
  invisible(folder)
}
