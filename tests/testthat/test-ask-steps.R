# each step brings a known change; the loads are typed
climb <- function(blocks = 6, seed = 1, shuffled = FALSE) {
  set.seed(seed)
  arms <- c("stock", "memory", "timings", "pinned")
  rows <- expand.grid(arm = arms, block = seq_len(blocks), stringsAsFactors = FALSE)
  if (shuffled) rows <- do.call(rbind, lapply(split(rows, rows$block), function(b) b[sample(nrow(b)), ]))
  level <- c(stock = 100, memory = 105, timings = 105, pinned = 110.25)[rows$arm]
  rows$order <- seq_len(nrow(rows))
  rows$fps <- round(level * exp(rnorm(nrow(rows), sd = 0.004)), 2)
  rows$`graphics load (%)` <- c(stock = 80, memory = 85, timings = 85, pinned = 91)[rows$arm]
  rows
}
read_climb <- function(rows) read_readings(rows, better = c(`graphics load` = "none"))

test_that("each step is weighed against the one before it, the last against the first too, as one family", {
  found <- weigh_steps(read_climb(climb()), worth = 2)
  steps <- as.data.frame(found)
  expect_identical(steps$from, c("stock", "memory", "timings", "stock"))
  expect_identical(steps$to, c("memory", "timings", "pinned", "pinned"))
  expect_identical(steps$step, c(1L, 2L, 3L, NA))
  # the order is the same in every block, so none is clear
  expect_identical(steps$verdict, c("gain", "negligible", "gain", "gain"))
  # the truth lies in each interval
  truth <- c(5, 0, 5, 10.25)
  expect_every(steps$lower < truth & truth < steps$upper)
  # the same arms and level by hand: differences within blocks, Sidak over four
  rows <- climb()
  y <- log(tapply(rows$fps, rows[c("block", "arm")], mean))
  d <- y[, "timings"] - y[, "memory"]
  expect_equal(steps$change[2], 100 * (exp(mean(d)) - 1), tolerance = 1e-8)
  expect_identical(weigh(read_climb(rows), against = "previous", worth = 2)$family_size, rep(4L, 4))
  expect_equal(found$loads$change[found$loads$to == "pinned" & found$loads$from == "timings"], 6)
})

test_that("one pass through the steps gives raw changes and no basis", {
  path <- write_lines("setting,fps", "stock,100", "memory,105", "pinned,110.25")
  said <- run_cli("ask", path, "steps", "--worth", "2")$stdout
  expect_match(said, "stock -> memory[^;]*[+]5.0+ %, no basis")
  expect_match(said, "All[[:space:]]+2 steps: [+]10.2 %, no basis")
  weighed <- run_cli("weigh", path, "--against", "previous", "--worth", "2")
  expect_match(weighed$stdout, "only if one pass varies by less")
})

test_that("an order that the rows do not tell is asked for, and what is named is taken", {
  rows <- climb(shuffled = TRUE)
  expect_error(weigh_steps(read_climb(rows), worth = 2), "more than one order", class = "honestmargin_error_needed")
  order <- c("stock", "memory", "timings", "pinned")
  named <- as.data.frame(weigh_steps(read_climb(rows), worth = 2, against = order))
  expect_identical(named$to, c("memory", "timings", "pinned", "pinned"))
  path <- write_lines(c("arm,block,fps", paste(rows$arm, rows$block, rows$fps, sep = ",")))
  weighed <- run_cli("weigh", path, "--against", paste(order, collapse = ","), "--worth", "2")
  expect_match(weighed$stdout, "All 3 steps: [+]10")
  expect_match(run_cli("weigh", path, "--against", "stock,nothing")$stderr, "there is no arm 'nothing'")
  # rounds in one order tell it too
  rounds <- data.frame(arm = rep(order, 3), value = 100 + 1:12)
  expect_identical(as.data.frame(weigh_steps(rounds))$to, c(order[-1], "pinned"))
  # of a setting that has numbers, they are the order
  numbers <- data.frame(arm = c(3, 1, 2, 2, 3, 1), block = rep(1:2, each = 3), value = c(3, 1, 2, 2, 3, 1) + 10)
  expect_identical(as.data.frame(weigh_steps(numbers))$to, c("2", "3", "3"))
})

test_that("a step whose arm always failed is told, and the picture is drawn without it", {
  rows <- climb()
  rows$outcome <- ifelse(rows$arm == "timings", "crash", "ok")
  rows$fps[rows$arm == "timings"] <- NA
  found <- as.data.frame(weigh_steps(read_climb(rows), worth = 2))
  fps <- found[found$metric == "fps", ]
  expect_identical(fps$verdict[fps$to == "timings"], "does not hold")
  expect_identical(fps$verdict[is.na(fps$step)], "gain")
  folder <- withr::local_tempdir()
  save_figure(plot_steps(read_climb(rows), worth = 2), file.path(folder, "steps.png"))
  expect_gt(file.size(file.path(folder, "steps.png")), 5000)
})

test_that("an arm that failed anywhere is told so by every question that names it", {
  rows <- climb()
  rows$outcome <- ifelse(rows$arm == "timings" & rows$block == 2, "crash", "ok")
  rows$fps[rows$outcome == "crash"] <- NA
  rows$workload <- "quay"
  read <- read_climb(rows)
  said <- list(
    steps = weigh_steps(read, worth = 2), options = rank_options(read, baseline = "stock", worth = 2),
    trade = weigh_trade(read, baseline = "stock", worth = 2), machine = machine_numbers(read)
  )
  for (name in names(said)) {
    shown <- paste(capture.output(print(said[[name]])), collapse = " ")
    expect_match(shown, "timings.*(failed|not clear: failed passes)")
  }
  expect_match(headline(weigh(read, against = "previous", worth = 2)), "timings crashed in 1 of 6 passes")
  loops <- data.frame(
    arm = rep(c("a", "b"), each = 6), run = rep(rep(1:2, each = 3), 2), loop = rep(1:3, 4), score = 100 + 1:12
  )
  loops$outcome <- ifelse(loops$arm == "b" & loops$run == 2 & loops$loop == 3, "crash", "ok")
  loops$score[loops$outcome == "crash"] <- NA
  expect_match(
    paste(capture.output(print(run_loops(read_readings(loops, baseline = "a")))), collapse = " "),
    "b [(]failed in 1 of 2 passes"
  )
})
