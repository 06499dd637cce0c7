# A study as a plain folder: the exchange form.

#' Write a study as a plain folder
#'
#' @param study A study from [read_study()].
#' @param folder Where to; made when it is not there, and must be empty.
#' @return `folder`, invisibly. It holds `study.yml`, `passes.csv`, typed scores in
#'   `readings.csv`, and `frames/`, `sensors/` and `marks/` with a `<pass>.csv.gz` each; [read_study()] reads it.
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
  scores <- scores_to_export(study)
  if (nrow(scores)) {
    write_whole(file.path(folder, "readings.csv"), function(to) writeLines(csv_lines(scores), to))
  }
  for (pass in Reduce(union, lapply(study[c("traces", "sensors")], names))) export_pass(study, pass, folder)
  invisible(folder)
}

# What frames, marks and sensors give is worked out anew from them; the rest is
# typed, or its trace is not there.
scores_to_export <- function(study) {
  rows <- as.data.frame(study$readings)
  framed <- c(names(by_id(frame_metrics())), "level_held", "slope_per_loop")
  from_frames <- rows$metric %in% framed & rows$pass %in% names(study$traces)
  from_sensors <- rows$metric %in% sensor_metric_ids & rows$pass %in% names(study$sensors)
  silent <- is.na(rows$value) & rows$metric %in% c(framed, sensor_metric_ids)
  rows[!from_frames & !from_sensors & !silent, reading_columns, drop = FALSE]
}

# All of a pass goes onto the clock of its frame log, which begins with its first frame.
export_pass <- function(study, pass, folder) {
  put <- function(kind, table) {
    place <- file.path(folder, kind)
    dir.create(place, showWarnings = FALSE)
    write_whole(file.path(place, paste0(pass, ".csv.gz")), function(to) {
      data.table::fwrite(table, to, compress = "gzip")
    })
  }
  frames <- if (pass %in% names(study$traces)) study_frames(study, pass)
  begins <- if (is.null(frames$start_s)) 0 else frames$start_s[1]
  if (!is.null(frames)) put("frames", frames["frame_time_ms"])
  sensors <- study_sensors(study, pass)
  if (!is.null(sensors)) {
    sensors$time_s <- sensors$time_s - begins
    put("sensors", sensors)
  }
  if (pass %in% names(study$marks)) put("marks", marks_on_frames(study_marks(study, pass), frames))
}

study_marks <- function(study, pass) {
  path <- study$marks[[pass]]
  if (grepl("[.]parquet$", path)) read_trace(path) else read_marks(path)
}

marks_on_frames <- function(marks, frames) {
  if (!is.null(frames$start_s) && nrow(frames) > 1) {
    x <- frames$frame_time_ms
    n <- length(x)
    ends <- c(frames$start_s, frames$start_s[n] + x[n] / 1000)
    clock <- stats::approxfun(ends, c(0, cumsum(x)) / 1000, rule = 2, ties = "ordered")
    marks$time_s <- clock(marks$time_s)
  }
  marks
}
