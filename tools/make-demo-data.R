# Makes the demo study in inst/extdata from the simulator. Run by `make demo-data`.
suppressMessages(pkgload::load_all(".", quiet = TRUE))
out <- "inst/extdata/dial-study"
unlink(out, recursive = TRUE)
dir.create(file.path(out, "frames"), recursive = TRUE)
study <- simulate_demo_study()
started <- as.POSIXct("2026-03-14 18:00:00", tz = "UTC") + 95 * (study$passes$order - 1)
passes <- data.frame(study$passes[c("pass", "workload", "arm")],
  context = NA, study$passes["block"], boot = NA,
  study$passes[c("order", "outcome", "role", "reason")],
  started = format(started, "%Y-%m-%dT%H:%M:%SZ"), study$passes[c("seconds", "score")]
)
write.csv(passes, file.path(out, "passes.csv"), na = "", row.names = FALSE, quote = FALSE)
for (pass in names(study$frames)) {
  to <- gzfile(file.path(out, "frames", paste0(pass, ".csv.gz")), "wb", compression = 9)
  writeLines(c("frame_time_ms", sprintf("%.3f", study$frames[[pass]])), to)
  close(to)
}
dir.create(file.path(out, "sensors"))
for (i in which(passes$outcome == "ok")) {
  sensors <- play_sensors(passes$workload[i], passes$arm[i], passes$seconds[i], every_s = 2, seed = 5000 + i)
  to <- gzfile(file.path(out, "sensors", paste0(passes$pass[i], ".csv.gz")), "wb", compression = 9)
  write.csv(sensors, to, row.names = FALSE, quote = FALSE)
  close(to)
}
file.copy("tools/demo-study.yml", file.path(out, "study.yml"))
truth <- demo_truth()
yaml::write_yaml(
  list(
    about = "What the simulator put in; tests compare the verdicts with it.",
    seed = 12L,
    changes_percent = list(
      harbour = list(
        fps_avg = list(
          `500` = 0, `1000` = 0, `2000` = round(100 * (1 / truth$scenes$harbour$slower_at_2000 - 1), 2)
        ),
        low1_quantile = list(
          `500` = 0, `1000` = 0,
          `2000` = round(
            100 * (1 / (truth$scenes$harbour$slower_at_2000 * truth$scenes$harbour$busier_at_2000) - 1), 2
          )
        )
      ),
      tunnel = "held at a limiter of 120 fps; the average cannot be answered, nothing else differs",
      pebblemark = list(score = list(`500` = 0, `1000` = 0, `2000` = 0))
    )
  ),
  "inst/extdata/truth.yml"
)
