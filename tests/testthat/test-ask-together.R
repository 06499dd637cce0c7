# Claims of which all must hold, each a one-sided test at the whole level.
two_metrics_in_blocks <- function(faster, cooler, n = 6, sd = 0.01) {
  rows <- expand.grid(arm = c("old", "new"), block = seq_len(n), metric = c("score", "heat"))
  rows[c("arm", "metric")] <- lapply(rows[c("arm", "metric")], as.character)
  rows$better <- ifelse(rows$metric == "score", "higher", "lower")
  shift <- ifelse(rows$arm == "old", 0, ifelse(rows$metric == "score", faster, cooler))
  rows$value <- 100 * exp(shift + rnorm(nrow(rows), sd = sd))
  rows$pass <- paste(rows$arm, rows$block)
  # the other way round in every other block
  rows$order <- 2 * rows$block - xor(rows$arm == "old", rows$block %% 2 == 0)
  rows
}
claims <- c(score = "as_good", heat = "better")

test_that("each bound is that of R's own one-sided t test, and all claims must hold", {
  set.seed(1)
  rows <- two_metrics_in_blocks(0, -0.05)
  found <- weigh_together(rows, claims, baseline = "old", worth = c(score = 2))
  d <- function(m) {
    of <- function(a) log(rows$value[rows$arm == a & rows$metric == m])
    of("new") - of("old")
  }
  lower <- t.test(d("score"), alternative = "greater")$conf.int[1]
  upper <- t.test(d("heat"), alternative = "less")$conf.int[2]
  expect_equal(found$bound[match(names(claims), found$metric)], 100 * expm1(c(lower, upper)), tolerance = 1e-8)
  expect_identical(found$holds[match(names(claims), found$metric)], c(lower > log(0.98), upper < 0))
})

test_that("at the edge of one claim, however well the other holds, all is shown in at most 5 % of studies", {
  set.seed(2)
  studies <- simulated(250)
  shown <- replicate(studies, {
    found <- weigh_together(two_metrics_in_blocks(log(0.98), -0.1), claims, baseline = "old", worth = c(score = 2))
    all(found$holds)
  })
  expect_lte(mean(shown), at_most(0.05, studies))
})

test_that("the shell says it in one sentence, outcomes count, and what lacks is asked for", {
  set.seed(3)
  file <- withr::local_tempfile(fileext = ".csv")
  write.csv(two_metrics_in_blocks(0.05, -0.05), file, row.names = FALSE)
  ask <- function(...) run_cli("ask", file, "together", "-b", "old", ...)
  told <- gsub("\\s+", " ", ask("--claims", "score=as_good,heat=better", "-w", "score=2")$stdout)
  expect_match(told, "new against old: as good in score and better in heat: shown, in main[.]")
  worse <- gsub("\\s+", " ", ask("--claims", "score=as_good,heat=as_good", "-w", "score=2,heat=2")$stdout)
  expect_match(worse, "shown")
  expect_match(ask("--claims", "score=as_good")$stderr, "name the worth of score")
  expect_match(ask("--claims", "score=nice")$stderr, "unknown claim 'nice'")
  expect_match(ask("--claims", "speed=better")$stderr, "which is no metric here")
  expect_match(ask("--claims", "score")$stderr, "expected METRIC=CLAIM")
  claims <- "fps_avg=as_good,failed=as_good"
  study <- run_cli("ask", demo_study(), "together", "--claims", claims, "-w", "failed=50")
  study <- gsub("\\s+", " ", study$stdout)
  expect_match(study, "2000 Hz against 125 Hz: as good in average and .*: not shown; .*average may be as far as -4[.]")
})
