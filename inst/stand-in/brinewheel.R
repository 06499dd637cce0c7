# Behaves like the invented racer: takes a scene and the dial controller's report
# rate, writes a frame log and exits. What it costs is in demo_truth().
# Rscript brinewheel.R --scene harbour --rate 2000 --log frames.csv [--seconds 20] [--seed 7]
words <- commandArgs(trailingOnly = TRUE)
given <- function(name, default = NULL) {
  at <- match(paste0("--", name), words)
  if (is.na(at)) default else words[at + 1]
}
scene <- given("scene")
rate <- given("rate")
log <- given("log")
if (is.null(scene) || is.null(rate) || is.null(log)) {
  message("brinewheel: --scene, --rate and --log are needed")
  quit(status = 2)
}
seconds <- as.numeric(given("seconds", "20"))
seed <- given("seed")
if (!is.null(seed)) set.seed(as.integer(seed))
noise <- honestmargin::demo_truth()$noise
level <- 1 + stats::rnorm(1, sd = noise$pass)
play_scene <- utils::getFromNamespace("play_scene", "honestmargin")
frames <- play_scene(scene, rate, level, seconds, if (is.null(seed)) NULL else as.integer(seed))
writeLines(c("frame_time_ms", sprintf("%.3f", frames)), log)
cat("scene ", scene, ": average ", round(1000 * length(frames) / sum(frames), 2), " fps\n", sep = "")
