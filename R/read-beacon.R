# The lines of a beacon, as the recorder stored them or as a program wrote a file.

#' @param path File. @param arrived `TRUE` where each line begins with its time of
#'   arrival and the client's number, as the recorder writes it.
#' @return Data frame: `arrived_s`, `client`, `text`; the attribute `refused` counts
#'   the lines the recorder did not store.
#' @noRd
read_beacon <- function(path, arrived) {
  lines <- first_lines(path, -1)
  counts <- grep("^# refused", lines, value = TRUE)
  lines <- lines[nzchar(lines) & !startsWith(lines, "#")]
  out <- if (arrived && length(lines)) {
    parts <- data.table::tstrsplit(lines, "\t", fixed = TRUE, keep = 1:3, fill = NA)
    data.frame(arrived_s = as.numeric(parts[[1]]), client = parts[[2]], text = parts[[3]])
  } else {
    data.frame(arrived_s = rep(NA_real_, length(lines)), client = rep("1", length(lines)), text = lines)
  }
  structure(out, refused = sum(as.numeric(unlist(regmatches(counts, gregexpr("[0-9]+", counts))))))
}
