verdict_columns_of <- function(v) {
  v <- as.data.frame(v)
  v$codes <- NULL
  v
}
readings_of_study <- function(study) {
  r <- as.data.frame(study$readings)
  attributes(r) <- attributes(r)[c("names", "class", "row.names")]
  r[order(r$pass, r$part, r$segment, r$metric), ] |> `rownames<-`(NULL)
}

test_that("a study written as a folder is the same study", {
  study <- read_study(demo_study())
  out <- write_study(study, file.path(withr::local_tempdir(), "out"))
  again <- read_study(out)
  expect_identical(verdict_columns_of(weigh(again)), verdict_columns_of(weigh(study)))
  expect_identical(again$passes$reason, study$passes$reason)
  expect_error(write_study(study, out), class = "honestmargin_error_stuck")
})

sorted_findings <- function(study) {
  f <- findings(weigh(study))
  f[do.call(order, unname(as.list(f))), ] |> `rownames<-`(NULL)
}

# One study with every kind of pass that there is.
every_kind <- function(env = parent.frame()) {
  folder <- local_plan(
    "setting: {name: level, unit: Hz, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 3", "warm_up: 1",
    "sensors: {rate: 20, commands: {\"load graphics [%]\": echo 97}}", "exclusion_rules: [a pop-up]",
    "metrics:", "  - {id: fps_avg, worth: 2, primary: true}", "  - {id: MB/s, better: higher, worth: 2, primary: true}",
    "  - {id: lap time, unit: s, worth: 2}", "gates: [{name: heat, command: echo 50, below: 30, wait: 0}]",
    "workloads:", "  - id: lap", "    beacon: true", "    segments: [harbour, tunnel]", "    command: |",
    "      exec 3> \"$HONESTMARGIN_BEACON_FILE\"; echo beacon 1 >&3; e=$(date +%N); e=${e#0}",
    "      for s in harbour tunnel; do echo segment $s >&3",
    "      for i in $(seq 200); do echo frame $((10 + {arm} + i % 3)).$((e % 900 + 100)) >&3; done",
    "      echo pause >&3; echo frame 3000 >&3; echo resume >&3; done; echo frame 6000 >&3; echo frame 12.5 >&3",
    "      sleep 2.5; echo hello >&3; [ \"{pass}\" != p006 ]",
    "  - id: disk/copy", "    command: echo rate 51{arm}.$HONESTMARGIN_SEED{arm}",
    "    scores: [{metric: MB/s, pattern: 'rate ([0-9.]+)'}]",
    "  - id: session", "    beacon: true", "    toggle: {settle: 0.1}", "    command: |",
    "      exec 3> \"$HONESTMARGIN_BEACON_FILE\"; echo beacon 1 >&3",
    "      for r in 1 2 3; do for a in 1 2; do echo arm $a Hz >&3",
    "      for i in $(seq 50); do echo frame $((9 + a + (i + r) % 3)).0$a >&3; done; done; done",
    "  - id: log", "    command: |", "      seq 1 200 | awk '{print 7 + {arm} + ($1 % 7) / 10}' > {log}",
    "  - {id: hand, by_hand: drive it}",
    env = env
  )
  drive <- function(kind, facts) {
    switch(kind,
      play = "ok",
      value = 60 + as.numeric(facts$metric == "lap time") + stats::runif(1),
      note = "quiet \u2014 all well"
    )
  }
  expect_identical(run_study(folder, ask = drive)$state, "done")
  schedule <- subset(plan_study(folder)$schedule, role == "counted")
  of <- function(workload, k) schedule$pass[schedule$workload == workload][k]
  exclude_pass(folder, of("log", 2), "a pop-up, \"again\"")
  exclude_pass(folder, of("session", 1), "a call", part = 2)
  correct_reading(folder, of("disk/copy", 3), "MB/s", 522.25, "misread")
  correct_reading(folder, of("log", 3), "fps_avg", 61.5, "counted wrong")
  correct_outcome(folder, of("hand", 4), "freeze", "it hung")
  folder
}

test_that("a study weighs alike from its ledger, its export and its export's export, to the last digit", {
  withr::local_envvar(HONESTMARGIN_SEED = "7")
  study <- read_study(every_kind())
  # what the test is about is there
  expect_every(c("crash", "freeze", "ok") %in% study$passes$outcome)
  expect_every(c("harbour", "tunnel") %in% study$readings$segment)
  expect_every(c("pause", "gap", "gate_shut", "noted", "corrected", "beacon_refused") %in% findings(study)$check)
  expect_gt(sum(study$passes$part, na.rm = TRUE), 12)
  expect_true("graphics_load_mean" %in% study$readings$metric)
  out <- write_study(study, file.path(withr::local_tempdir(), "out"))
  once <- read_study(out)
  twice <- read_study(write_study(once, file.path(withr::local_tempdir(), "again")))
  own <- list(new_metric("paused?", unit = "ms", better = "lower", compute = max))
  with_own <- readings_of_study(read_study(study$folder, metrics = own))
  expect_identical(readings_of_study(read_study(out, metrics = own)), with_own)
  # frames in a pause count in no metric of the tester's own
  expect_lt(max(with_own$value[with_own$metric == "paused?"], na.rm = TRUE), 3000)
  readings <- readings_of_study(study)
  found <- sorted_findings(study)
  verdicts <- verdict_columns_of(weigh(study))
  for (other in list(once, twice)) {
    expect_identical(readings_of_study(other), readings)
    expect_identical(sorted_findings(other), found)
    expect_identical(verdict_columns_of(weigh(other)), verdicts)
    expect_identical(other$passes$part, study$passes$part)
  }
  expect_identical(figure_data(once, "trace", "session"), figure_data(study, "trace", "session"))
})

test_that("logs that lie in a folder weigh as those that were taken in", {
  plan <- c(
    "setting: {name: cap, baseline: \"off\"}", "arms: [{value: \"off\"}, {value: \"on\"}]", "blocks: 3",
    "metrics: [{id: fps_avg, worth: 2}]", "workloads: [{id: lap}]", "order: mirrored"
  )
  taken <- local_plan(plan)
  plain <- local_plan(plan)
  dir.create(file.path(plain, "frames"))
  schedule <- plan_study(taken)$schedule
  for (i in seq_len(nrow(schedule))) {
    log <- file.path(plain, "frames", paste0(schedule$pass[i], ".csv"))
    # the last line is cut, and one frame is a gap
    x <- c(simulate_frames(3, 8 + (schedule$arm[i] == "on"), seed = i), 6000, 9.1)
    cat(sprintf("%.4f\n", x), "1x", file = log, sep = "")
    frames <- read_frames(log)
    add_pass(taken, schedule$arm[i], block = schedule$block[i], frames = frames)
  }
  passes <- read_study(taken)$passes
  write.csv(
    passes[c("pass", "workload", "arm", "block", "order", "seconds")], file.path(plain, "passes.csv"),
    row.names = FALSE
  )
  a <- read_study(taken)
  b <- read_study(plain)
  same <- setdiff(names(a$readings), "boot")
  expect_identical(readings_of_study(b)[same], readings_of_study(a)[same])
  seen <- c("line_cut", "gap")
  expect_every(seen %in% findings(a)$check)
  expect_identical(
    subset(findings(b), check %in% seen)$message, subset(findings(a), check %in% seen)$message
  )
})

test_that("frames that begin alike and slow down later are exported with their layout", {
  folder <- local_plan(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 2", "workloads: [{id: w}]",
    "metrics: [{id: fps_avg}]"
  )
  for (arm in c("1", "2", "1", "2")) add_pass(folder, arm, frames = rep(c(16, 33), c(600, 50)))
  out <- file.path(withr::local_tempdir(), "out")
  # what is exported is the plan as it is stored, not what stands in the folder now
  cat("# mended later\n", file = file.path(folder, "study.yml"), append = TRUE)
  expect_identical(run_cli("export", folder, out)$status, 0L)
  expect_false(any(grepl("mended later", readLines(file.path(out, "study.yml")))))
  back <- read_study(out)
  expect_identical(nrow(pass_trace(back, "p001")), 650L)
  expect_false("unreadable" %in% findings(back)$check)
})

test_that("a total that hides its parts is told", {
  folder <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads: [{id: main}]",
    "metrics:", "  - {id: left, better: higher, worth: 2}", "  - {id: right, better: higher, worth: 2}",
    "  - {id: total, better: higher, worth: 2, parts: [left, right]}"
  )
  x <- expand.grid(block = 1:6, arm = c("a", "b"), metric = c("left", "right", "total"), stringsAsFactors = FALSE)
  set.seed(2)
  x$value <- 100 + rnorm(36, sd = 0.1) + ifelse(x$arm == "b", c(left = 5, right = -5, total = 0)[x$metric], 0)
  x$pass <- paste(x$arm, x$block)
  write.csv(x, file.path(folder, "readings.csv"), row.names = FALSE)
  told <- subset(findings(weigh(read_study(folder))), check == "parts")
  expect_match(told$message, "hides that left gained and right lost")
})

test_that("the flips of a session whose trace is damaged are exported as numbers, each with its arm", {
  folder <- local_plan(
    "setting: {name: rate, unit: Hz, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 2",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads:", "  - id: session", "    beacon: true",
    "    toggle: {settle: 0.1}", "    command: |",
    "      exec 3> \"$HONESTMARGIN_BEACON_FILE\"; echo beacon 1 >&3",
    "      for r in 1 2 3; do for a in 1 2; do echo arm $a Hz >&3",
    "      for i in $(seq 50); do echo frame $((9 + a + (i + r) % 3)).0$a >&3; done; done; done"
  )
  expect_identical(run_study(folder)$state, "done")
  before <- weigh(read_study(folder))
  for (kind in c("frames", "marks")) {
    file <- list.files(file.path(folder, kind), full.names = TRUE)[1]
    writeBin(charToRaw("damaged"), file)
    out <- write_study(read_study(folder), file.path(withr::local_tempdir(), "out"))
    again <- read_study(out)
    expect_identical(again$passes$arm, read_study(folder)$passes$arm)
    expect_equal(weigh(again)[c("change", "lower", "n_arm")], before[c("change", "lower", "n_arm")])
  }
})
