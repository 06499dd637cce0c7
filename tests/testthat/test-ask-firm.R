# What each verdict would be under every other reasonable choice, against weighing it so.
test_that("each choice is what weighing so would say", {
  study <- read_study(demo_study())
  v <- weigh(study)
  firm <- how_firm(v)
  pick <- function(v, metric = "low1_quantile") {
    v$verdict[v$workload == "harbour" & v$metric == metric & v$arm == "1000"]
  }
  then <- function(choice) {
    firm$then[firm$workload == "harbour" & firm$metric == "low1_quantile" & firm$arm == "1000" & firm$choice == choice]
  }
  expect_identical(then("excluded pass p016 counted"), pick(weigh(study, with_excluded = TRUE)))
  passes <- study$readings
  without <- plain <- as.data.frame(passes)
  without$block <- NA
  primary <- c("fps_avg", "low1_quantile", "score")
  worth <- c(fps_avg = 2, low1_quantile = 5, score = 2)
  weighed <- function(rows, primary, worth) pick(weigh(rows, "125", worth = worth, primary = primary), primary[2])
  expect_identical(then("the blocks not used"), weighed(without, primary, worth))
  first <- plain[!plain$block %in% "1", ]
  expect_identical(then("the first block left out"), weighed(first, primary, worth))
  other <- replace(primary, 2, "low1_mean")
  expect_identical(then("low1_mean instead of low1_quantile"), weighed(plain, other, c(worth, low1_mean = 5)))
  expect_identical(firm$agrees, sub("clear ", "", firm$then) == sub("clear ", "", firm$verdict))
})

test_that("what was declared, and which arms were compared, holds under every choice", {
  stints <- data.frame(
    pass = 1:12, arm = rep(c("a", "b"), each = 6), order = 1:12, role = "counted", reason = NA,
    value = c(100, 101, 99, 100.5, 99.5, 100, 103, 104, 102, 103.5, 102.5, 103)
  )
  stints[3, c("role", "reason")] <- list("excluded", "the phone rang")
  firm <- how_firm(weigh(stints, "a", steady = TRUE))
  with <- weigh(stints, "a", steady = TRUE, with_excluded = TRUE)
  expect_identical(firm$then, with$verdict)
  expect_identical(firm$then, "gain")
  # what counts already is no other choice, and what is sent still knows which they were
  expect_identical(nrow(how_firm(with)), 0L)
  report <- withr::local_tempfile(fileext = ".html")
  write_report(with, report)
  expect_identical(sum(read_report(report)$role == "excluded"), 1L)
  rounds <- data.frame(arm = rep(c("a", "b", "c"), 6), block = rep(1:6, each = 3), order = 1:18)
  rounds$value <- 100 + c(0, 1, 2) + rep(c(0, 3, 1, 4, 2, 5), each = 3) + c(1, -2, 1, 3, 0, -3, 2)[1:18 %% 7 + 1] / 10
  firm <- how_firm(weigh(rounds, "a", against = "all"))
  rounds$block <- NA
  without <- weigh(rounds, "a", against = "all")
  here <- firm[firm$choice == "the blocks not used", ]
  expect_identical(paste(here$arm, here$baseline), paste(without$arm, without$baseline))
  expect_identical(here$then, without$verdict)
})

test_that("all that is told of verdicts counts what they count, and sees no limiter where none is said to be", {
  study <- read_study(demo_study())
  v <- weigh(study, with_excluded = TRUE, no_limiter = TRUE)
  expect_true("excluded_counted" %in% findings(v)$check)
  counted <- study
  for (part in c("readings", "passes")) counted[[part]]$role[counted[[part]]$role == "excluded"] <- "counted"
  expect_identical(outcome_table(v), outcome_table(counted))
  here <- function(found) found$overall[found$overall$metric == "low1_quantile", ]
  expect_equal(
    here(weigh_overall(v)), here(weigh_overall(weigh(counted, no_limiter = TRUE))),
    ignore_attr = TRUE
  )
  expect_null(weigh_overall(v)$left_out)
  expect_false(is.null(weigh_overall(counted)$left_out))
})

test_that("the shell says which verdicts hang on a choice", {
  told <- gsub("\\s+", " ", run_cli("ask", demo_study(), "firm")$stdout)
  expect_match(told, "1 % low \\(quantile\\), 1000 Hz: negligible; unclear under all 6 other choices[.]")
  expect_match(told, "The same under all 3 to 6 other choices: .*harbour, average, 2000 Hz \\(clear loss\\)")
  scores <- data.frame(arm = c("off", "on"), value = c(100, 104, 101, 104.5, 99, 103))
  expect_identical(nrow(how_firm(scores, baseline = "off")), 0L)
  expect_output(print(how_firm(scores, baseline = "off")), "No choice was made")
})
