test_that("a study written as a folder is the same study", {
  study <- read_study(demo_study())
  out <- write_study(study, file.path(withr::local_tempdir(), "out"))
  again <- read_study(out)
  expect_equal(weigh(again), weigh(study), ignore_attr = TRUE, tolerance = 1e-9)
  expect_identical(again$passes$reason, study$passes$reason)
  expect_error(write_study(study, out), class = "honestmargin_error_stuck")
})

test_that("a ledger can be exported from the shell and weighs alike", {
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: level, baseline: \"=1\"}", "arms: [{value: \"=1\"}, {value: \"=2\"}]", "blocks: 3",
    "workloads:", "  - id: w", "    command: printf '8\\n8.4\\n9\\n' > {log}; echo score 10{arm} | tr -d =",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  ), file.path(folder, "study.yml"))
  run_study(folder)
  out <- file.path(withr::local_tempdir(), "out")
  expect_identical(run_cli("export", folder, out)$status, 0L)
  expect_equal(weigh(read_study(out)), weigh(read_study(folder)), ignore_attr = TRUE)
})

test_that("a total that hides its parts is told", {
  x <- expand.grid(block = 1:6, arm = c("a", "b"), metric = c("left", "right", "total"), stringsAsFactors = FALSE)
  set.seed(2)
  x$value <- 100 + rnorm(36, sd = 0.1) + ifelse(x$arm == "b", c(left = 5, right = -5, total = 0)[x$metric], 0)
  x$pass <- paste(x$arm, x$block)
  x$better <- "higher"
  v <- weigh(x, baseline = "a", worth = 2)
  found <- honestmargin:::hidden_parts(v, list(list(id = "total", parts = list("left", "right"))))
  expect_match(found$message, "hides that left gained and right lost")
  expect_identical(nrow(honestmargin:::hidden_parts(v, list(list(id = "total", parts = list("left", "total"))))), 0L)
})
