plan_of_time <- function(..., env = parent.frame()) {
  local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}, {value: c}, {value: d}]", ..., "workloads:",
    "  - {id: w1, command: 'run {arm}', seconds: 60, scores: [{metric: score}, {metric: load}]}",
    "  - {id: w2, command: 'run {arm}', seconds: 60, scores: [{metric: score}, {metric: load}]}",
    "metrics:", "  - {id: score, noise: 1, primary: true}",
    "  - {id: load, noise: 1, better: lower, unit: s, primary: true}", env = env
  )
}

test_that("what the time would buy otherwise fits into it, and finds what such a plan finds", {
  folder <- plan_of_time("blocks: 5")
  planned <- plan_study(folder, memory = FALSE)
  rows <- planned$alternatives
  expect_identical(rows$what[1], "as planned")
  expect_setequal(rows$what[-1], c("2 of 4 arms", "judge score alone", "2 passes of each arm a block"))
  expect_equal(rows$finds[1], planned$power$detectable[1])
  expect_every(rows$seconds <= planned$seconds)
  expect_identical(order(rows$finds[-1]), seq_len(nrow(rows) - 1))
  two <- rows[rows$what == "2 of 4 arms", ]
  # half of the arms are run twice as often, and the plan that says so finds as much
  expect_equal(c(two$blocks, two$seconds), c(10, planned$seconds))
  lines <- sub("^blocks: 5", "blocks: 10", readLines(file.path(folder, "study.yml")))
  writeLines(sub(", {value: c}, {value: d}", "", lines, fixed = TRUE), file.path(folder, "study.yml"))
  expect_equal(plan_study(folder, memory = FALSE)$power$detectable[1], two$finds)
  # another budget than the plan's own
  more <- plan_study(plan_of_time("blocks: 5"), memory = FALSE, minutes = 80)$alternatives
  expect_equal(more$blocks[more$what == "as many blocks as fit"], 10)
  told <- run_cli("plan", plan_of_time("blocks: 5"), "--minutes", "80")$stdout
  expect_match(told, "as many blocks as fit +10 +80 +80 min")
  unknown <- plan_of_time("blocks: 5")
  lines <- gsub(", seconds: 60", "", readLines(file.path(unknown, "study.yml")))
  writeLines(lines, file.path(unknown, "study.yml"))
  expect_message_of(plan_study(unknown, minutes = 80), "honestmargin_error_needed", "how long is a pass")
  expect_match(run_cli("plan", unknown)$stdout, "What as many passes would buy, spent otherwise")
  # nothing to choose between: a search, one arm
  expect_null(plan_study(local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}]",
    "workloads: [{id: w, command: x, scores: [{metric: score}]}]"
  ))$alternatives)
})
