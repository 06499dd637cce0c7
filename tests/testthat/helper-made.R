# how many studies a test draws: half in every suite, where what is far off shows; four times as many, `make calibrate`
simulated <- function(all) ceiling(all * as.numeric(Sys.getenv("HONESTMARGIN_SIMULATED", "0.5")))
# a share that is `level` in truth stays below this, but for three Monte Carlo errors
at_most <- function(level, studies) level + 3 * sqrt(level * (1 - level) / studies)
# A folder study of made-up passes; `frames(arm, i)` gives the frame times of each, `sensors(arm, i)` its samples.
made_study <- function(frames, arms = c("a", "b"), blocks = 4, extra = character(), sensors = NULL, started = NULL,
                       env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  dir.create(file.path(folder, "frames"))
  passes <- data.frame(
    arm = unlist(lapply(seq_len(blocks), function(b) if (b %% 2) arms else rev(arms))),
    block = rep(seq_len(blocks), each = length(arms))
  )
  passes <- data.frame(
    pass = sprintf("p%02d", seq_len(nrow(passes))), workload = "w", passes,
    order = seq_len(nrow(passes))
  )
  passes$started <- started
  writeLines(c(
    "setting: {name: s, baseline: a}", paste0("arms: [", paste0("{value: ", arms, "}", collapse = ", "), "]"),
    paste0("blocks: ", blocks), "metrics: [{id: fps_avg, worth: 2, primary: true}]",
    paste0("workloads: [{id: w", extra, "}]")
  ), file.path(folder, "study.yml"))
  write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE)
  for (i in seq_len(nrow(passes))) {
    x <- frames(passes$arm[i], i)
    writeLines(c("ms", format(x, digits = 10)), file.path(folder, "frames", paste0(passes$pass[i], ".csv")))
    if (!is.null(sensors)) {
      dir.create(file.path(folder, "sensors"), showWarnings = FALSE)
      write.csv(sensors(passes$arm[i], i), file.path(folder, "sensors", paste0(passes$pass[i], ".csv")),
        row.names = FALSE
      )
    }
  }
  folder
}
# frames of our own, not those of the simulator: neighbours alike as in a scene, with a spike now and then
plain_frames <- function(seconds, ms, seed, jitter = 0.05) {
  set.seed(seed)
  wander <- stats::filter(rnorm(ceiling(1.2 * seconds * 1000 / ms), sd = jitter * sqrt(0.75)), 0.5, "recursive")
  x <- ms * exp(as.numeric(wander))
  x[runif(length(x)) < 0.001] <- 4 * ms
  x[cumsum(x) < seconds * 1000]
}
