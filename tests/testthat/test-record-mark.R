test_that("the tester marks a running pass from another shell, beside a frame log", {
  plays <- c(
    launcher, "mark . segment harbour; sleep 2;", launcher,
    "mark . segment tunnel; sleep 1; seq 300 | sed s/.*/10/ > {log}"
  )
  folder <- local_plan(
    "setting: {name: rate, unit: Hz, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 1",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "frames_layout: {column: 1, holds: durations, unit: ms}",
    "workloads:", "  - id: lap", "    beacon: true",
    paste0("    command: '", paste(plays, collapse = " "), "'")
  )
  refused <- run_cli("mark", folder, "segment", "harbour")
  expect_identical(refused$status, 4L)
  expect_match(refused$stderr, "no pass that takes marks is running")
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  expect_identical(study$passes$outcome, c("ok", "ok"))
  marks <- pass_trace(study, "p001", "marks")
  expect_identical(marks$value, c("harbour", "tunnel"))
  expect_gte(diff(marks$time_s), 2)
  # 3 s of frames end with the pass, however long its shells took: those after the mark lie in the tunnel
  frames <- function(place) {
    r <- study$readings[study$readings$segment %in% place & study$readings$metric == "frames", ]
    # where the shells took longer than that the harbour has none
    vapply(c("p001", "p002"), function(id) sum(r$value[r$pass == id]), 1)
  }
  # a frame that lies on both sides of the mark is of neither
  expect_every(frames("harbour") + frames("tunnel") >= 299)
  after <- vapply(c("p001", "p002"), function(id) {
    study$passes$seconds[study$passes$pass == id & is.na(study$passes$part)] - max(
      pass_trace(study, id, "marks")$time_s
    )
  }, 1)
  expect_every(abs(frames("tunnel") - pmin(after * 100, 300)) <= 5)
})

test_that("a mark that says nothing known is refused with what to do", {
  folder <- local_plan(quick, "    command: sleep 1", "    scores: [{metric: score}]")
  expect_message_of(mark_pass(folder, "segmnt", "a"), "honestmargin_error_input", "segment")
  expect_message_of(mark_pass(folder, "arm"), "honestmargin_error_needed", "which arm")
  expect_message_of(mark_pass(folder, "arm", "3"), "honestmargin_error_input", "unknown arm '3'")
  expect_message_of(mark_pass(folder, "note", strrep("x", 300)), "honestmargin_error_input", "too long")
})

test_that("a session by hand in which the setting is flipped is marked, cut and weighed", {
  folder <- local_plan(
    "setting: {name: rate, unit: Hz, baseline: 125}", "arms: [{value: 125}, {value: 1000}]", "blocks: 1",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads:", "  - {id: session, by_hand: play the harbour,",
    "     beacon: true, frames: session.csv, toggle: {settle: 0.2}}"
  )
  plan <- run_cli("plan", folder)
  expect_match(plan$stdout, "1 +flipped inside the pass")
  expect_match(run_cli("plan", folder, "--card")$stdout, "honestmargin mark STUDY arm")
  # how long each quarter really was, however slow the machine is
  at <- numeric()
  plays <- function(kind, facts) {
    if (kind == "play") {
      expect_identical(facts$marks$arms, c("125", "1000"))
      for (arm in c("125 Hz", "1000 Hz", "125 Hz", "1000 Hz")) {
        at <<- c(at, honestmargin:::monotonic_s())
        mark_pass(folder, "arm", arm, at_s = at[length(at)])
        Sys.sleep(1.2)
      }
      at <<- c(at, honestmargin:::monotonic_s())
    }
    # 20 ms a frame in the quarters with 1000 Hz, 10 ms else
    switch(kind,
      play = "ok",
      frames = rep(c(10, 20, 10, 20), round(1000 * diff(at) / c(10, 20, 10, 20))),
      note = NA_character_
    )
  }
  expect_identical(run_study(folder, ask = plays)$state, "done")
  study <- read_study(folder)
  expect_identical(study$passes$arm, rep(c("125", "1000"), 2))
  expect_lt(max(abs(study$readings$value[study$readings$metric == "ms_p50"] - c(10, 20, 10, 20))), 0.01)
  # each flip has its part of the trace, from its own beginning; the first also what passed before it was marked
  trace <- figure_data(study, "trace")
  expect_setequal(trace$arm, c("125", "1000"))
  expect_lt(max(trace$time_s), max(diff(at)) + 0.6)
  back <- read_study(write_study(study, file.path(withr::local_tempdir(), "out")))
  expect_equal(back$readings$value[back$readings$metric == "ms_p50"], c(10, 20, 10, 20), tolerance = 1e-3)
})
