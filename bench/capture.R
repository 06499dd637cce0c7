# What capturing costs: the probe inside a program, the recorder beside it, and
# from logs to readings. Sourced by bench.R.
work <- tempfile("bench-")
dir.create(work)

# A program that shows frames and does nothing else, about 400 000 a second.
writeLines(c(
  "#include <time.h>", "#include <stdio.h>", "#include <stdlib.h>", "void glXSwapBuffers(void *d, unsigned long w);",
  "static double now(void) { struct timespec t; clock_gettime(CLOCK_MONOTONIC, &t); return t.tv_sec + 1e-9 * t.tv_nsec; }",
  "int main(void) { volatile double x = 1; for (int r = 0; r < 21; r++) { double t = now();",
  "  for (int i = 0; i < 20000; i++) { for (int k = 0; k < 600; k++) x = x * 1.0000001; glXSwapBuffers(0, 7); }",
  "  printf(\"%.3f\\n\", 1e9 * (now() - t) / 20000); } return 0; }"
), file.path(work, "shower.c"))
writeLines("void glXSwapBuffers(void *d, unsigned long w) { (void)d; (void)w; }", file.path(work, "gl.c"))
built <- nzchar(Sys.which("gcc")) && system(sprintf(
  "cd %s && gcc -O2 -shared -fPIC -o libgl.so gl.c && gcc -O2 -o shower shower.c -L. -lgl -Wl,-rpath,%s",
  shQuote(work), work
)) == 0
if (built && nzchar(inside$helper_path("probe.so"))) {
  per_frame <- function(env) {
    out <- processx::run(file.path(work, "shower"), env = c("current", env))$stdout
    median(as.numeric(strsplit(out, "\n")[[1]]))
  }
  probe <- inside$probe_environment(file.path(work, "f"))
  costs <- replicate(7, per_frame(probe) - per_frame(c(NONE = "")))
  said("the frame probe's cost per frame, median", sprintf("%.0f ns", median(costs)), "under 200 ns")
}

# 60 sensors made of files, read five times a second for ten seconds
root <- file.path(work, "root")
for (i in 0:59) {
  chip <- file.path(root, "sys/class/hwmon", paste0("hwmon", i))
  dir.create(chip, recursive = TRUE)
  writeLines(paste0("chip", i), file.path(chip, "name"))
  writeLines("45000", file.path(chip, "temp1_input"))
}
if (nzchar(inside$helper_path("recorder"))) {
  recorder <- inside$start_recorder(file.path(work, "s"), root = root)
  Sys.sleep(10)
  used <- recorder$get_cpu_times()
  inside$end_recorder(recorder)
  rows <- nrow(inside$sampled(file.path(work, "s"), 0))
  said(
    sprintf("the recorder at 5 Hz with 60 sensors (%d rows in 10 s)", rows),
    sprintf("%.2f %% of a core", 10 * sum(used[c("user", "system")])), "under 0.5 %"
  )
}

# logs to readings, in a process of its own so that its memory can be seen
logs <- file.path(work, "study")
dir.create(file.path(logs, "frames"), recursive = TRUE)
writeLines(c(
  "setting: {name: a, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "workloads: [{id: w}]",
  "metrics: [{id: fps_avg}]"
), file.path(logs, "study.yml"))
x <- simulate_frames(800, mean_ms = 7, seed = 5)[1:1e5]
ids <- sprintf("p%03d", 1:100)
for (id in ids) {
  data.table::fwrite(
    data.frame(frame_time_ms = round(x * runif(1, 0.99, 1.01), 3)), file.path(logs, "frames", paste0(id, ".csv"))
  )
}
write.csv(
  data.frame(pass = ids, workload = "w", arm = rep(1:2, 50), block = rep(1:50, each = 2)),
  file.path(logs, "passes.csv"),
  row.names = FALSE
)
code <- paste0(
  "library(honestmargin); peak <- function() as.numeric(gsub('[^0-9]', '', grep('VmHWM', readLines('/proc/self/status'), value = TRUE))) / 1024;",
  "t <- min(vapply(1:2, function(i) system.time(s <<- read_study('", logs, "'))[['elapsed']], 1)); cat(t, peak(), nrow(s$readings))"
)
out <- as.numeric(strsplit(processx::run("Rscript", c("-e", code))$stdout, " ")[[1]])
said(
  "100 passes of 100 000 frames from logs to readings", sprintf("%.2f s, %.0f MB", out[1], out[2]),
  "under 3 s, 500 MB"
)

# What the recorder does to a program that keeps one core busy, weighed by ourselves
if (built && nzchar(inside$helper_path("recorder"))) {
  own <- tempfile("bench-")
  dir.create(own)
  writeLines(c(
    "question: Does the recorder cost time?", "setting: {name: recorder, baseline: \"off\"}",
    "arms: [{value: \"off\"}, {value: \"on\"}]", "blocks: 12", "warm_up: 1", "sensors: {rate: 0}",
    "metrics: [{id: ns_per_round, unit: ns, worth: 1, primary: true}]", "workloads:", "  - id: shower",
    "    command: |", paste0(
      "      if [ {arm} = on ]; then ", inside$helper_path("recorder"), " --sensors s --rate 5 --root ", root, " & fi"
    ),
    paste0("      ", work, "/shower | sort -n | sed -n 11p; kill $! 2> /dev/null || true"),
    "    scores: [{metric: ns_per_round, pattern: '^([0-9.]+)$'}]"
  ), file.path(own, "study.yml"))
  invisible(run_study(own))
  v <- weigh(read_study(own))
  said(
    "recorder on against off beside a busy program, 12 blocks",
    sprintf("%+.2f %% (%.2f to %.2f): %s", v$change, v$lower, v$upper, v$verdict), "negligible at 1 %"
  )
}
unlink(work, recursive = TRUE)

# What the probe does to a real renderer, weighed by ourselves. Frames per second of
# processor time: here all rendering is done by the processor, which other machines share.
if (nzchar(Sys.which("glxgears")) && nzchar(Sys.which("Xvfb"))) {
  own <- tempfile("bench-")
  dir.create(own)
  env <- inside$probe_environment(file.path(own, "f"))
  writeLines(c(
    "question: Does the frame probe cost frames?", "setting: {name: probe, baseline: \"off\"}",
    "arms: [{value: \"off\"}, {value: \"on\"}]", "blocks: 12", "sensors: {rate: 0}",
    "metrics: [{id: frames_per_cpu_s, unit: fps, worth: 1, primary: true}]", "workloads:", "  - id: gears",
    "    command: |",
    paste0("      if [ {arm} = on ]; then export ", paste0(names(env)[1:2], "=", env[1:2], collapse = " "), "; fi"),
    "      frames=$(LP_NUM_THREADS=0 timeout 5.6 glxgears | sed -n 's/ frames in.*//p')",
    "      times > cpu; tail -1 cpu | tr 'ms' '  ' | awk -v f=\"$frames\" '{print \"rate\", f / (60 * $1 + $2 + 60 * $3 + $4)}'",
    "    scores: [{metric: frames_per_cpu_s, pattern: 'rate ([0-9.]+)'}]"
  ), file.path(own, "study.yml"))
  number <- file.path(own, "display")
  server <- processx::process$new("sh", c("-c", paste("exec Xvfb -displayfd 3 -screen 0 640x480x24 3>", number)))
  Sys.sleep(3)
  Sys.setenv(DISPLAY = paste0(":", readLines(number, warn = FALSE)[1]))
  invisible(run_study(own))
  v <- weigh(read_study(own))
  said(
    "probe on against off in an OpenGL program, twelve blocks",
    sprintf("%+.2f %% (%.2f to %.2f): %s", v$change, v$lower, v$upper, v$verdict), "negligible at 1 %"
  )
  invisible(server$kill())
}
