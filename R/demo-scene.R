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
#' @noRd
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

#' Sensors of a pass of the stand-in game
#'
#' The harbour keeps the graphics part busy; at 2000 Hz one core of the processor
#' has so much to do with the controller that graphics waits for it. The tunnel is held
#' at its limiter, so nothing is busy; the benchmark loads all cores.
#' @param scene `"harbour"`, `"tunnel"` or `"pebblemark"`.
#' @param rate Report rate in Hz.
#' @param seconds Length of the pass.
#' @param every_s Seconds between samples.
#' @param seed Integer; the same seed gives the same pass.
#' @return Data frame: `time_s` and sensor columns, called `quantity part [unit]`.
#' @noRd
play_sensors <- function(scene, rate, seconds = 60, every_s = 1, seed = NULL) {
  fast <- as.numeric(rate) > 1000
  level <- switch(scene,
    harbour = if (fast) c(graphics = 91, all = 46, busiest = 97) else c(graphics = 98.2, all = 38, busiest = 71),
    tunnel = c(graphics = 57, all = 24, busiest = 43),
    pebblemark = c(graphics = 1, all = 99, busiest = 99.6),
    abort_input(paste0("unknown scene '", scene, "'"), todo = "harbour, tunnel or pebblemark")
  )
  draw <- function() {
    time_s <- seq(0, seconds, by = every_s)
    n <- length(time_s)
    around <- function(middle, sd, digits = 1) round(pmin(100, pmax(0, stats::rnorm(n, middle, sd))), digits)
    warm <- 1 - exp(-time_s / 25)
    cores <- 6
    other <- (cores * level[["all"]] - level[["busiest"]]) / (cores - 1)
    loads <- cbind(around(level[["busiest"]], 0.9), vapply(2:cores, function(i) around(other, 4), numeric(n)))
    colnames(loads) <- sprintf("load core %d [%%]", seq_len(cores) - 1)
    heat <- 0.35 * level[["all"]] + 0.1 * level[["graphics"]]
    out <- data.frame(
      time_s = time_s, `load processor [%]` = round(rowMeans(loads), 1), loads,
      `clock processor [MHz]` = round(4620 - 1.4 * level[["all"]] - 60 * warm + stats::rnorm(n, sd = 8)),
      `temperature processor [C]` = round(44 + heat * (0.55 + 0.45 * warm) + stats::rnorm(n, sd = 0.4), 1),
      `power processor [W]` = round(18 + 0.62 * level[["all"]] + stats::rnorm(n, sd = 1.2), 1),
      `load graphics [%]` = around(level[["graphics"]], 0.8),
      `clock graphics [MHz]` = round(2050 + 3 * level[["graphics"]] - 35 * warm + stats::rnorm(n, sd = 6)),
      `temperature graphics [C]` = round(
        47 + 0.24 * level[["graphics"]] * (0.6 + 0.4 * warm) + stats::rnorm(n, sd = 0.3), 1
      ),
      `power graphics [W]` = round(22 + 1.25 * level[["graphics"]] + stats::rnorm(n, sd = 1.5), 1),
      `memory graphics used [MB]` = round(3400 + 12 * level[["graphics"]] + 90 * warm),
      `memory graphics total [MB]` = 8192, `memory used [MB]` = round(7900 + 160 * warm + stats::rnorm(n, sd = 6)),
      check.names = FALSE
    )
    out
  }
  if (is.null(seed)) draw() else seeded(seed, draw())
}
