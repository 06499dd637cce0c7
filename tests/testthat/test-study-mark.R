test_that("the tester marks a running pass from another shell, beside a frame log", {
  cli <- paste(rscript, "-e \"honestmargin::main()\"")
  plays <- c(cli, "mark . segment harbour; sleep 2;", cli, "mark . segment tunnel; sleep 1; seq 300 | sed s/.*/10/ > {log}")
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
  marks <- honestmargin:::read_trace(study$marks[["p001"]])
  expect_identical(marks$value, c("harbour", "tunnel"))
  expect_lt(abs(diff(marks$time_s) - 2.5), 1.5)
  # 3 s of frames end with the pass, whose last second and a bit lies in the tunnel
  frames <- function(place) study$readings$value[study$readings$workload == place & study$readings$metric == "frames"]
  expect_identical(frames("lap/harbour") + frames("lap/tunnel"), c(300, 300))
  expect_every(frames("lap/tunnel") > 90 & frames("lap/tunnel") < 290)
})

test_that("a mark that says nothing known is refused with what to do", {
  folder <- local_plan(quick, "    command: sleep 1")
  expect_message_of(mark_pass(folder, "segmnt", "a"), "honestmargin_error_input", "segment")
  expect_message_of(mark_pass(folder, "arm"), "honestmargin_error_needed", "which arm")
  expect_message_of(mark_pass(folder, "arm", "3"), "honestmargin_error_input", "unknown arm '3'")
  expect_message_of(mark_pass(folder, "note", strrep("x", 300)), "honestmargin_error_input", "too long")
})
