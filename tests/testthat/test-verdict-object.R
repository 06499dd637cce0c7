# What the objects of the core refuse, and how they print.
test_that("a verdict that its own interval denies is refused, whoever made it", {
  v <- weigh(data.frame(arm = rep(c("a", "b"), each = 6), value = c(100:105, 120:125)), baseline = "a", worth = 2)
  expect_identical(v$verdict, "clear gain")
  again <- function(change) honestmargin:::new_verdicts(change(as.data.frame(v)), NULL, NULL, NULL)
  expect_s3_class(again(identity), "honestmargin_verdicts")
  for (word in c("loss", "clear loss", "negligible", "surely")) {
    expect_error(again(function(rows) within(rows, verdict <- word)), "a verdict that cannot be")
  }
  expect_error(again(function(rows) within(rows, upper <- lower - 1)), "an interval from")
  # where lower is better the same interval is a loss
  expect_error(again(function(rows) within(rows, better <- "lower")), "a verdict that cannot be")
})

test_that("specification, cell and estimate are made whole or not at all, and print what they are", {
  spec <- honestmargin:::new_contrast_spec("a", c("a", "b"), worth = c(score = 2))
  expect_output(print(spec), "baseline +a\narms +b\nworth +score 2\n")
  expect_error(honestmargin:::new_contrast_spec("c", c("a", "b")), "baseline")
  expect_error(honestmargin:::new_contrast_spec("a", c("a", "b"), confidence = 2), "confidence")
  expect_error(honestmargin:::new_contrast_spec("a", c("a", "b"), stedy = TRUE), "stedy")
  first <- list(workload = "w", segment = NA, context = NA, metric = "m", better = "higher", scale = "percent")
  passes <- list(arm = c("a", "b", "b"), role = rep("counted", 3), outcome = rep("ok", 3))
  cell <- honestmargin:::new_cell(first, list(arm = c("a", "b", "b"), y = log(1:3)), passes, "primary", 1)
  expect_output(print(cell), "w, m\n.*passes: a 1, b 2")
  expect_error(honestmargin:::new_cell(first, list(arm = "a", y = 1:2), passes, "primary", 1), "length")
  e <- honestmargin:::new_estimate(estimate = 0.1, se = 0.02, df = 4, units = 3)
  expect_output(print(e), "estimate +se +df")
  expect_error(honestmargin:::new_estimate(estimate = 0.1, se = -1, df = 4, units = 3), "se")
  expect_output(print(honestmargin:::new_interval(1, 2)), "1 to 2")
})
