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
  "t <- min(vapply(1:2, function(i) system.time(s <<- read_study('", logs,
    "'))[['elapsed']], 1)); cat(t, peak(), nrow(s$readings))"
)
out <- as.numeric(strsplit(processx::run("Rscript", c("-e", code))$stdout, " ")[[1]])
said(
  "100 passes of 100 000 frames from logs to readings", sprintf("%.2f s, %.0f MB", out[1], out[2]),
  "under 2 s, 200 MB"
)
unlink(work, recursive = TRUE)

# What they do to a program, weighed by ourselves: each is flipped on and off many
# times a minute inside one process (flips.c), and each flip is a pass.
weighed_flips <- function(what, commands, env = character()) {
  own <- tempfile("bench-")
  dir.create(own)
  built <- system(paste(gsub("OWN", own, paste(
    "gcc -O2 -shared -fPIC -o OWN/libbehind.so bench/flips_behind.c -ldl && gcc -O2 -o OWN/flips bench/flips.c",
    "-LOWN -Wl,--no-as-needed -lbehind -lGL -lX11 -Wl,-rpath,OWN"
  )), "2> /dev/null"))
  if (built != 0) {
    return(said(what, "no OpenGL headers", "negligible at 1 %"))
  }
  writeLines(c(
    "question: What does it cost?", "setting: {name: what, baseline: \"off\"}",
    "arms: [{value: \"off\"}, {value: \"on\"}]", "blocks: 1", "sensors: {rate: 0}",
    "metrics: [{id: fps_avg, worth: 1, primary: true}]", "workloads:", "  - id: flips", "    beacon: true",
    "    toggle: {settle: 0}", "    command: |", paste0("      ", commands)
  ), file.path(own, "study.yml"))
  do.call(Sys.setenv, as.list(c(env, FLIPS = own)))
  invisible(run_study(own))
  v <- weigh(read_study(own))
  v <- v[v$role == "primary", ]
  said(
    sprintf("%s, %d flips", what, v$n_arm + v$n_baseline),
    sprintf("%+.2f %% (%.2f to %.2f): %s", v$change, v$lower, v$upper, v$verdict), "negligible at 1 %"
  )
  unlink(own, recursive = TRUE)
}
if (nzchar(inside$helper_path("recorder"))) {
  weighed_flips("recorder on against off beside a busy program", c(
    paste0(inside$helper_path("recorder"), " --sensors s --rate 5 > /dev/null & P=$!"),
    "$FLIPS/flips $P 0.1 1200; kill -CONT $P; kill $P"
  ))
}
if (nzchar(inside$helper_path("probe.so")) && nzchar(Sys.which("Xvfb"))) {
  number <- tempfile("display-")
  server <- processx::process$new("sh", c("-c", paste("exec Xvfb -displayfd 3 -screen 0 640x480x24 3>", number)))
  Sys.sleep(3)
  weighed_flips(
    "probe on against off in an OpenGL program",
    paste0("LD_PRELOAD=", inside$helper_path("probe.so"), " HONESTMARGIN_PROBE=$FLIPS/p $FLIPS/flips probe 0.05 3000"),
    c(DISPLAY = paste0(":", readLines(number, warn = FALSE)[1]))
  )
  invisible(server$kill())
}
