# What the runner and the ledger cost. Sourced by bench.R.
inside <- asNamespace("honestmargin")

folder <- tempfile("bench-")
dir.create(folder)
writeLines(c(
  "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 20",
  "workloads: [{id: w, command: 'echo score 5', scores: [{metric: score, pattern: 'score ([0-9]+)'}]}]"
), file.path(folder, "study.yml"))
# by the command, as a tester runs it; its start is measured where nothing is left to do
run <- function(...) seconds(system2("honestmargin", c("run", folder, ...), stdout = FALSE, stderr = FALSE))
run("--most", "2")
took <- run()
ran <- nrow(read_study(folder)$passes) - 2
took <- took - min(run(), run())
said("the runner's own cost a pass (the command only echoes)", sprintf("%.0f ms", 1000 * took / ran), "under 60 ms")

large <- tempfile("bench-")
dir.create(large)
writeLines(c(
  "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}, {value: 3}, {value: 4}]", "blocks: 1000",
  paste0("workloads: [", paste0("{id: w", 1:5, "}", collapse = ", "), "]"),
  "metrics: [{id: m1, better: higher, primary: true}]"
), file.path(large, "study.yml"))
local({
  plan <- inside$read_plan(large)
  store <- inside$open_store(large, create = TRUE)
  on.exit(inside$close_store(store))
  sealing <- seconds(inside$store_seal(store, plan))
  schedule <- inside$store_open(store)
  n <- nrow(schedule)
  said("sealing a plan of 20 000 passes", sprintf("%.2f s", sealing), "(no aim yet)")
  inside$write_act(store, "bench", rows = list(
    begun = data.frame(pass = schedule$pass, started = "2026-01-01T00:00:00Z", pid = 1L, boot = "b", host = "h"),
    ended = data.frame(
      pass = schedule$pass, ended = "2026-01-01T00:01:00Z", seconds = 60, outcome = "ok", effective = NA, note = NA,
      played = NA
    ),
    reading = data.frame(
      pass = rep(schedule$pass, each = 10), part = 0L, segment = "", origin = "typed", metric = paste0("m", 1:10),
      value = exp(rnorm(10 * n, sd = 0.01)), unit = "", better = "higher"
    )
  ))
  cat(sprintf("  (ledger of %d passes, %d readings)\n", n, 10 * n))
})
said("the board's word on that ledger", sprintf("%.0f ms", 1000 * best_of(3, function() inside$read_pulse(large))),
  "under 500 ms")
said("the board's figure of that ledger, made aside", sprintf("%.1f s",
  seconds(inside$board_picture(inside$look_now(large)))), "(no aim yet)")
said("loading that ledger", sprintf("%.2f s", best_of(2, function() read_study(large))), "under 2 s")

trace <- simulate_frames(8000, mean_ms = 7, seed = 4)[1:1e6]
stored <- tempfile("bench-")
dir.create(stored)
both <- best_of(3, function() {
  row <- inside$write_trace(stored, "p", "frames", data.frame(frame_time_ms = trace))
  inside$read_trace(file.path(stored, row$file))
})
said("one million frames to Parquet and back", sprintf("%.2f s", both), "under 0.5 s")
