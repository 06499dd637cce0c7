# The change of every percentile of frame time, with its band.

frames_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  found <- weigh_frames(x, ...)
  keep <- chosen_places(found, workload, context)
  structure(plain_table(found)[keep, , drop = FALSE], labels = labels_of(found), confidence = attr(found, "confidence"))
}

register("figure", "frames",
  rank = 3.5, data = frames_data, about = "change of each percentile of frame time", weighs = TRUE
)
