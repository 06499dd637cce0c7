# A pass that is not like the other passes: shorter or longer, or the same to the last frame.

#' A metric of whole passes, by their ids
#' @noRd
whole_values <- function(study, metric) {
  rows <- study$readings
  here <- rows$metric == metric & is.na(rows$segment) & is.na(rows$part)
  stats::setNames(rows$value[here], rows$pass[here])
}

counted_passes <- function(study) study$passes$pass[ran_well(study$passes)]

register("check", "length", scope = "study", run = function(study) {
  rows <- study$readings
  whole <- is.na(rows$segment) & is.na(rows$part)
  rows <- rows[rows$metric == "seconds" & whole & rows$pass %in% with_frames(study) & is_counted(rows), , drop = FALSE]
  alike <- split_in_order(seq_len(nrow(rows)), rows$workload, rows$context, rows$arm)
  do.call(bind_findings, lapply(alike, function(at) {
    here <- rows[at, , drop = FALSE]
    middle <- stats::median(here$value)
    away <- abs(here$value - middle)
    odd <- nrow(here) >= 4 & away > pmax(0.1 * middle, 6 * stats::mad(here$value))
    do.call(bind_findings, lapply(which(odd), function(i) {
      new_finding("warning", "odd_length",
        seconds = here$value[i], usual = middle, workload = here$workload[i], pass = here$pass[i]
      )
    }))
  }))
})

# a log that was appended to begins with the frames of the pass before
register("check", "appended", scope = "study", run = function(study) {
  if (!NROW(study$pace)) {
    return(no_findings())
  }
  counts <- study$pace$pass %in% counted_passes(study)
  pace <- study$pace[counts & !is.na(study$pace$begins) & !duplicated(study$pace$pass), , drop = FALSE]
  frames <- whole_values(study, "frames")
  twins <- split(pace$pass, pace$begins)
  twins <- twins[lengths(twins) > 1]
  do.call(bind_findings, lapply(unname(twins), function(passes) {
    n <- frames[passes]
    # of equal length they are copies, which is told as such
    if (anyNA(n) || length(unique(n)) < 2) {
      return(NULL)
    }
    new_finding("warning", "appended",
      passes = passes[n > min(n)], counts = passes[which.min(n)],
      workload = study$passes$workload[match(passes[1], study$passes$pass)]
    )
  }))
})

# frames of two passes never agree in their number, mean and slowest frame to the nanosecond
register("check", "copies", scope = "study", run = function(study) {
  of <- function(metric) whole_values(study, metric)
  frames <- of("frames")
  frames <- frames[names(frames) %in% counted_passes(study)]
  # a trace of one frame time only looks like any other of it
  frames <- frames[!is.na(frames) & frames >= 60]
  frames <- frames[which(of("fps_min")[names(frames)] < of("fps_max")[names(frames)])]
  if (!length(frames)) {
    return(no_findings())
  }
  key <- do.call(paste, c(list(frames), lapply(c("fps_avg", "fps_min", "fps_max", "pacing_ms"), function(metric) {
    of(metric)[names(frames)]
  })))
  twins <- split(names(frames), key)
  twins <- twins[lengths(twins) > 1]
  do.call(bind_findings, lapply(unname(twins), function(passes) {
    # whose they are can be told where they are of one arm
    of <- study$passes[match(passes, study$passes$pass), c("workload", "context", "arm"), drop = FALSE]
    new_finding("warning", "copied",
      passes = passes, counts = if (nrow(unique(of)) == 1) passes[1] else NA_character_, workload = of$workload[1]
    )
  }))
})
