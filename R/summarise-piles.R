# Are the frames of a pass piled up at one level? What that means is judged over passes.

#' Is a pass piled up at a limit?
#'
#' A limiter or the display puts most frames into a narrow band, and hardly any
#' is faster, since frames cannot come before their time.
#' @param frame_time_ms Frame times of one pass.
#' @return Named vector: `level_ms`, `share` of frames in a band 4 % wide,
#'   `faster` (share before it), `held` (1 or 0).
#' @noRd
pile_of_frames <- function(frame_time_ms) {
  band <- densest_band(frame_time_ms, 0.04)
  c(band, held = as.numeric(band[["share"]] >= 0.5 && band[["faster"]] <= 0.1))
}
