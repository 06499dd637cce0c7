segmented <- c(
  "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 3",
  "metrics: [{id: score, worth: 2, primary: true}]", "workloads:"
)
by_command <- c(
  segmented, "  - id: lap", "    segments: [harbour, tunnel]",
  "    command: echo harbour {arm}1 tunnel {arm}2 all {arm}3",
  "    scores:", "      - {metric: score, segment: harbour, pattern: 'harbour ([0-9]+)'}",
  "      - {metric: score, segment: tunnel, pattern: 'tunnel ([0-9]+)'}",
  "      - {metric: score, pattern: 'all ([0-9]+)'}"
)

test_that("scores of segments are readings of their own, and failed passes count in each", {
  folder <- local_plan(sub("echo harbour", "'[ $HONESTMARGIN_PASS = p003 ] || echo harbour", by_command) |>
    sub(pattern = "all \\{arm\\}3$", replacement = "all {arm}3'"))
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  verdicts <- weigh(study)
  expect_identical(unique(verdicts$workload), "lap")
  expect_setequal(verdicts$segment, c(NA, "harbour", "tunnel"))
  expect_identical(unique(verdicts$role), "primary")
  expect_identical(unique(verdicts$family_size), 3L)
  expect_equal(unique(study$readings$value[study$readings$segment %in% "tunnel" & study$readings$arm == 2 &
    !is.na(study$readings$value)]), 22)
  failed <- study$readings[study$readings$pass == "p003", ]
  expect_setequal(failed$segment, c(NA, "harbour", "tunnel"))
  expect_every(is.na(failed$value))
  expect_identical(plan_study(file.path(folder, "study.yml"))$power$family_size, 3)
})

test_that("numbers of segments can be typed in one call, and a segment nobody planned is refused", {
  folder <- local_plan(segmented, "  - {id: lap, by_hand: drive, segments: [harbour, tunnel]}")
  added <- run_cli("add", folder, "--arm", "1", "harbour/score=100", "tunnel/score=90")
  expect_identical(added$status, 0L)
  expect_identical(read_study(folder)$readings$segment, c("harbour", "tunnel"))
  expect_false(any(grepl("segment", findings(read_study(folder))$check)))
  add_pass(folder, "2", values = c("harbour/score" = 101))
  add_pass(folder, "2", values = c("harbour/score" = 102))
  half <- findings(read_study(folder))
  expect_match(half$message[half$check == "segment_missing"], "^the segment tunnel is missing in 2 of 3 passes \\(p00")
  first <- read_study(folder)$passes$pass[1]
  correct_reading(folder, first, "harbour/score", 107, "misread")
  now <- subset(read_study(folder)$readings, pass == first)
  expect_identical(now$value[match(c("harbour", "tunnel"), now$segment)], c(107, 90))
  wrong <- run_cli("add", folder, "--arm", "1", "harbor/score=100")
  expect_identical(wrong$status, 3L)
  expect_match(wrong$stderr, "has no segment 'harbor'")
  expect_match(wrong$stderr, "harbour")
  bad <- sub("segment: tunnel", "segment: tunel", by_command)
  expect_message_of(run_study(local_plan(bad)), "honestmargin_error_input", "names the segment 'tunel'")
})

test_that("sensors and toggling are checked where they are planned", {
  refuse <- function(pattern, ...) {
    folder <- local_plan(segmented, ...)
    expect_message_of(plan_study(file.path(folder, "study.yml")), "honestmargin_error_input", pattern)
  }
  refuse("toggled, but nothing tells when", "  - {id: lap, command: echo, toggle: {settle: 1}}")
  refuse("'gpu' does not say which sensor", "  - {id: lap, command: echo}", "sensors:", "  commands: {gpu: echo 5}")
  refuse("needs above: or below:", "  - {id: lap, command: echo}", "sensors: {limits: [{series: graphics_load}]}")
  refuse(
    "did you mean 'graphics_load'", "  - {id: lap, command: echo}",
    "sensors: {limits: [{series: graphic_load, above: 9}]}"
  )
})
