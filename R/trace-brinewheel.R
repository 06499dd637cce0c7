# The demo's invented racer, its scenes and the truth that the demo data carry.

#' The truth behind the demo study
#'
#' An invented machine runs an invented racer while the report rate of a dial
#' controller is changed. Rates up to 1000 Hz change nothing; 2000 Hz costs
#' average and 1 % low in the harbour; the tunnel is held at a limiter.
#' @return A list: `rates`, `scenes` (per scene mean frame time, limiter, cost of
#'   2000 Hz), `noise` (shares: pass to pass, block to block, warming per pass).
#' @export
#' @examples
#' demo_truth()$scenes$harbour
demo_truth <- function() {
  list(
    rates = c("125", "500", "1000", "2000"), baseline = "125",
    scenes = list(
      harbour = list(mean_ms = 7.1, limit_ms = NULL, busy = 1.35, slower_at_2000 = 1.03, busier_at_2000 = 1.055),
      tunnel = list(mean_ms = 5.2, limit_ms = 1000 / 120, busy = 2, slower_at_2000 = 1, busier_at_2000 = 1)
    ),
    score = list(mean = 12480, slower_at_2000 = 1),
    noise = list(pass = 0.004, block = 0.008, warming = 0.0003, score = 0.003)
  )
}

#' Run the stand-in game once
#'
#' @param scene `"harbour"` or `"tunnel"`.
#' @param rate Report rate of the dial controller in Hz.
#' @param level How slow the machine is at this moment, as a factor of frame time.
#' @param seconds Length of the pass.
#' @param seed Integer; the same seed gives the same pass.
#' @return Numeric vector of frame times in ms.
#' @export
#' @examples
#' length(play_scene("harbour", 2000, seconds = 5, seed = 7))
play_scene <- function(scene, rate, level = 1, seconds = 60, seed = NULL) {
  scenes <- demo_truth()$scenes
  if (!scene %in% names(scenes)) {
    abort_input(
      paste0("unknown scene '", scene, "'"),
      todo = did_you_mean(scene, names(scenes))
    )
  }
  s <- scenes[[scene]]
  fast <- as.numeric(rate) > 1000
  simulate_frames(seconds,
    mean_ms = s$mean_ms * level * (if (fast) s$slower_at_2000 else 1),
    busy_factor = s$busy * (if (fast) s$busier_at_2000 else 1), limit_ms = s$limit_ms, seed = seed
  )
}
