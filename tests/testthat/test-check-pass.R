decide <- function(...) honestmargin:::decide_outcome(list(status = 0L, signal = NA, ...))$outcome

test_that("the outcome follows the evidence, the gravest first", {
  expect_identical(decide(), "ok")
  failed <- honestmargin:::decide_outcome(list(status = 2L, signal = NA))
  expect_identical(failed$why, list(code = "exit_status", values = list(status = 2L)))
  expect_identical(honestmargin:::decide_outcome(list(status = NA, signal = 11L))$outcome, "crash")
  expect_identical(decide(timed_out = TRUE, missing = "score"), "timeout")
  expect_identical(decide(missing = "score"), "lost")
  expect_identical(decide(refused = list(code = "not_set")), "no_start")
  expect_identical(decide(mismatch = list(code = "mismatch")), "wrong_setting")
  expect_identical(decide(interrupted = TRUE, refused = list(code = "not_set")), "interrupted")
  expect_identical(decide(frames_seconds = 20, planned_seconds = 60), "interrupted")
  expect_identical(decide(frames_seconds = 50, planned_seconds = 60), "ok")
})

test_that("a value read back is compared as a number where it is one", {
  differs <- honestmargin:::setting_mismatch
  expect_null(differs("3200", "1600 MHz", factor = 2))
  expect_identical(differs("3200", "1600")$values[c("asked", "read")], list(asked = "3200", read = "1600"))
  expect_null(differs("3200", "3194.2", tolerance = 0.005))
  expect_identical(differs("3200", "3100", tolerance = 0.005)$values$read, "3100")
  expect_null(differs("performance", " performance "))
  expect_identical(differs("performance", "powersave")$values$read, "powersave")
})

test_that("an odd typed value is noticed, a usual one is not", {
  odd <- honestmargin:::looks_odd
  expect_true(odd(12, c(1200, 1210, 1195)))
  expect_false(odd(1230, c(1200, 1210, 1195)))
  expect_true(odd(12, 1200))
  expect_false(odd(900, 1200))
  expect_false(odd(5, numeric()))
})

test_that("numbers are found by pattern and by path", {
  by_pattern <- honestmargin:::number_by_pattern
  expect_identical(by_pattern(c("score: 10", "noise", "score: 1,204 points"), "score: ([0-9,.]+)"), 1204)
  expect_identical(by_pattern("time 1:05.5", "time ([0-9:.]+)"), 65.5)
  expect_identical(by_pattern("nothing", "score: ([0-9]+)"), NA_real_)
  by_path <- honestmargin:::number_by_path
  data <- jsonlite::fromJSON('{"a": {"b": [{"c": 4.5}, {"c": "7.5"}]}, "n": 3}', simplifyVector = FALSE)
  expect_identical(by_path(data, "a.b[0].c"), 4.5)
  expect_identical(by_path(data, "a.b[1].c"), 7.5)
  expect_identical(by_path(data, "n"), 3)
  expect_identical(by_path(data, "a.b[9].c"), NA_real_)
  expect_identical(by_path(data, "a.x"), NA_real_)
  expect_identical(by_path(NULL, "a"), NA_real_)
})
