# passes of a run share what the machine was like then
in_runs <- function(order, sd = 0.01) {
  arm <- strsplit(order, "")[[1]]
  runs <- rle(arm)$lengths
  data.frame(arm = arm, order = seq_along(arm), value = 100 * exp(
    rnorm(length(arm), sd = 0.01) + rep(rnorm(length(runs), sd = sd), runs)
  ))
}
false_share <- function(make, studies) mean(replicate(studies, any(make()$differs %in% "yes")))

test_that("stints with a few passes gone back for are judged by their runs, shuffled orders by their passes", {
  set.seed(11)
  studies <- simulated(400)
  for (order in c("AAAABBBBAB", "AAAAABBBBBABA")) {
    expect_identical(weigh(in_runs(order), baseline = "A")$unit_of_replication, "stint")
    expect_lte(false_share(function() weigh(in_runs(order), baseline = "A"), studies), at_most(0.05, studies))
  }
  expect_identical(weigh(in_runs("ABBABAABAB"), baseline = "A")$unit_of_replication, "pass")
  # Wald and Wolfowitz (1940): the chance of so few runs, counted here over all orders
  orders <- combn(10, 5, function(at) replace(rep("b", 10), at, "a"), simplify = FALSE)
  runs <- vapply(orders, function(o) length(rle(o)$lengths), 1L)
  for (order in orders[c(1, 60, 130, 200)]) {
    few <- mean(runs <= length(rle(order)$lengths)) > 0.25
    expect_identical(honestmargin:::looks_shuffled(order), few)
  }
})

test_that("declared steadiness does not make passes of a boot independent", {
  set.seed(12)
  studies <- simulated(300)
  boots <- function() {
    rows <- data.frame(arm = rep(c("a", "b"), each = 15), order = 1:30, boot = rep(1:10, each = 3))
    rows$value <- 100 * exp(rnorm(10, sd = 0.01)[rows$boot] + rnorm(30, sd = 0.003))
    weigh(rows, baseline = "a", steady = TRUE)
  }
  expect_identical(boots()$unit_of_replication, "boot")
  expect_lte(false_share(boots, studies), at_most(0.05, studies))
})

test_that("there and back with three arms, what being first in a block may bring is in the interval", {
  set.seed(13)
  studies <- simulated(300)
  mirrored <- function(arms = c("a", "b", "c"), blocks = 6, slow = 0.97, warming = 0) {
    rows <- do.call(rbind, lapply(seq_len(blocks), function(b) {
      data.frame(block = b, arm = if (b %% 2) arms else rev(arms))
    }))
    rows$order <- seq_len(nrow(rows))
    rows$value <- 100 * exp(rnorm(blocks, sd = 0.02)[rows$block] + rnorm(nrow(rows), sd = 0.01) + warming * rows$order)
    rows$value <- rows$value * ifelse(duplicated(rows$block), 1, slow)
    rows
  }
  for (base in c("a", "b")) {
    expect_lte(false_share(function() weigh(mirrored(), baseline = base), studies), at_most(0.05, studies))
    warm <- function() weigh(mirrored(slow = 1, warming = 0.01), baseline = base)
    expect_lte(false_share(warm, studies), at_most(0.05, studies))
  }
  # by hand: half of how far apart both ways are, and the error of that by R's own t
  rows <- mirrored()
  d <- log(rows$value[rows$arm == "b"]) - log(rows$value[rows$arm == "a"])
  level <- 0.95^(1 / 2)
  apart <- t.test(d[c(1, 3, 5)], d[c(2, 4, 6)], var.equal = TRUE, conf.level = level)$conf.int
  half <- diff(t.test(d, conf.level = level)$conf.int) / 2 + (abs(mean(apart)) + diff(apart) / 2) / 2
  v <- weigh(rows, baseline = "a")
  shown <- log1p(v$upper[v$arm == "b"] / 100) - log1p(v$lower[v$arm == "b"] / 100)
  expect_equal(shown, 2 * half, tolerance = 1e-6)
  expect_identical(weigh(mirrored(blocks = 2), baseline = "a")$verdict, c("no basis", "no basis"))
  plan <- c(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}, {value: c}]", "order: mirrored",
    "workloads: [{id: w}]", "metrics: [{id: score}]"
  )
  expect_match(findings(plan_study(write_lines(plan, ext = ".yml")))$todo, "balanced", all = FALSE)
})

test_that("passes in two lumps do not make differences of three blocks", {
  set.seed(14)
  studies <- simulated(300)
  lumps <- function(arms, workloads) {
    rows <- expand.grid(arm = letters[seq_len(arms)], block = 1:3, workload = paste0("w", seq_len(workloads)))
    rows[] <- lapply(rows, as.character)
    rows$value <- 100 * exp(rnorm(nrow(rows), sd = 0.002) + 0.03 * (runif(nrow(rows)) < 0.5))
    weigh(rows, baseline = "a")
  }
  for (shape in list(c(4, 5), c(2, 5))) {
    expect_lte(false_share(function() lumps(shape[1], shape[2]), studies), at_most(0.05, studies))
  }
  # nor do three boots, or three passes of a session without blocks
  unblocked <- function(passes) {
    rows <- do.call(rbind, lapply(1:15, function(w) {
      arm <- sample(rep(c("a", "b"), 3))
      level <- 0.03 * (runif(6) < 0.5)
      rows <- data.frame(arm = rep(arm, each = passes), order = seq_len(6 * passes), workload = paste0("w", w))
      rows$value <- 100 * exp(rep(level, each = passes) + rnorm(nrow(rows), sd = 0.002))
      if (passes > 1) rows$boot <- rep(1:6, each = passes)
      rows
    }))
    weigh(rows, baseline = "a")
  }
  for (passes in c(1, 3)) {
    expect_lte(false_share(function() unblocked(passes), studies), at_most(0.05, studies))
  }
  told <- unlist(lapply(1:10, function(i) unblocked(3)$reason))
  expect_match(told, "3 boots for 15 comparisons leave .* more boots narrow it", all = FALSE)
  told <- do.call(rbind, lapply(1:5, function(i) lumps(4, 5)))
  expect_match(told$reason, "3 blocks for 15 comparisons leave too much to chance", all = FALSE)
  # what is far beyond what passes do by themselves is found all the same
  rows <- expand.grid(arm = c("a", "b"), block = 1:3, workload = paste0("w", 1:5))
  rows$value <- 100 * exp(rnorm(30, sd = 0.003)) * ifelse(rows$arm == "b", 0.6, 1)
  expect_identical(unique(weigh(rows, baseline = "a", worth = 2)$verdict), "clear loss")
})
