# What a study says beyond single comparisons, against R's own tests and by simulation.
crossed <- function(workloads = 3, blocks = 5, arms = c("a", "b"), shared = 0.02, sd = 0.01, effect = 0) {
  rows <- expand.grid(arm = arms, workload = paste0("w", seq_len(workloads)), block = seq_len(blocks))
  rows[c("arm", "workload")] <- lapply(rows[c("arm", "workload")], as.character)
  # a day moves all workloads of an arm together
  day <- matrix(rnorm(blocks * length(arms), sd = shared), blocks)[cbind(rows$block, match(rows$arm, arms))]
  rows$value <- 100 * exp(day + rnorm(nrow(rows), sd = sd) + effect * (rows$arm == "b"))
  rows$order <- seq_len(nrow(rows))
  rows
}
ratios <- function(rows, arm = "b", base = "a") {
  d <- function(w) {
    of <- function(a) {
      here <- rows[rows$arm == a & rows$workload == w, ]
      log(here$value[order(here$block)])
    }
    of(arm) - of(base)
  }
  sapply(unique(rows$workload), d)
}

test_that("these workloads, workloads like these and one more are R's own t intervals", {
  set.seed(1)
  rows <- crossed(4, effect = 0.03)
  found <- weigh_overall(rows, baseline = "a", worth = 2)$overall
  d <- ratios(rows)
  these <- t.test(rowMeans(d))$conf.int
  expect_equal(c(found$lower, found$upper), as.numeric(100 * expm1(these)), tolerance = 1e-8)
  over <- t.test(colMeans(d))$conf.int
  like <- if (diff(over) > diff(these)) over else these
  expect_equal(c(found$like_lower, found$like_upper), as.numeric(100 * expm1(like)), tolerance = 1e-8)
  y <- colMeans(d)
  one_more <- predict(lm(y ~ 1), data.frame(row = 1), interval = "prediction")[1, 2:3]
  expect_equal(c(found$next_lower, found$next_upper), unname(100 * expm1(one_more)), tolerance = 1e-8)
  # five blocks: Bonferroni over the pairs of workloads
  pairs <- combn(4, 2)
  p <- apply(pairs, 2, function(two) t.test(d[, two[1]], d[, two[2]], paired = TRUE)$p.value)
  expect_equal(found$p_differ, min(1, min(p) * 6))
})

test_that("noise that workloads share is not taken for agreement", {
  studies <- simulated(200)
  set.seed(2)
  said <- replicate(studies, {
    rows <- crossed(5, shared = 0.01)
    found <- weigh_overall(rows, baseline = "a")$overall
    c(found$verdict != "unclear", found$like_verdict != "unclear", t.test(colMeans(ratios(rows)))$p.value < 0.05)
  })
  expect_lte(mean(said[1, ]), at_most(0.05, studies))
  expect_lte(mean(said[2, ]), at_most(0.05, studies))
  # the simple way, which this is there to prevent
  expect_gt(mean(said[3, ]), 0.2)
})

test_that("one pass of each workload has no basis, whatever workloads agree on; without blocks errors add up", {
  set.seed(3)
  rows <- crossed(6, 1)
  rows$block <- NULL
  once <- weigh_overall(rows, baseline = "a")$overall
  expect_identical(c(once$verdict, once$like_verdict), c("no basis", "no basis"))
  expect_true(all(is.na(once[c("lower", "like_lower", "next_lower")])))
  # workloads times contexts in one stint per arm: the change is told, and why that is all
  stint <- expand.grid(pass = 1:2, context = c("x", "y"), workload = paste0("w", 1:4), arm = c("a", "b"))
  stint[] <- lapply(stint, as.character)
  stint <- transform(stint, pass = NULL, order = seq_along(arm), value = 100 + seq_along(arm) / 10)
  told <- weigh_overall(stint, baseline = "a")
  expect_identical(unique(told$overall$verdict), "no basis")
  expect_identical(unique(told$contexts$verdict), "no basis")
  expect_match(paste(capture.output(print(told)), collapse = " "), "no\\s+basis")
  rows <- crossed(3, 6)
  rows[c("block", "order")] <- NULL
  found <- weigh_overall(rows, baseline = "a")$overall
  each <- lapply(split(rows, rows$workload), function(w) t.test(log(value) ~ arm, data = w))
  part <- vapply(each, function(t) t$stderr^2, 1)
  df <- sum(part)^2 / sum(part^2 / vapply(each, function(t) t$parameter, 1))
  half <- qt(0.975, df) * sqrt(sum(part)) / 3
  expect_equal(log1p(found$upper / 100) - log1p(found$lower / 100), 2 * half, tolerance = 1e-6)
  said <- capture.output(print(weigh_overall(rows, baseline = "a")))
  expect_match(paste(said, collapse = " "), "assumed\\s+to\\s+be\\s+none")
})

test_that("an arm leaves the best only when another is better by a one-sided t of the verdict's variance", {
  set.seed(4)
  rows <- crossed(1, 6, c("a", "b", "c"), effect = 0.05)
  best <- weigh_overall(rows, baseline = "a")$best
  expect_identical(best$arm[best$could], "b")
  level <- 1 - 0.95^(1 / 6)
  # two contrasts against a, six blocks: the variance of one is helped by the other (Box, Satterthwaite), worked by hand
  varies <- cov(cbind(ratios(rows, "b", "a"), ratios(rows, "c", "a")))
  weights <- c(7, 2) / 9
  helped <- sum(weights * diag(varies))
  df <- min(5 * helped^2 / sum(outer(weights, weights) * varies^2), 7.5)
  behind <- mean(ratios(rows, "b", "a")) - qt(1 - level, df) * sqrt(max(helped, 0.75 * varies[1, 1]) / 6)
  expect_equal(best$at_least[best$arm == "a"], -100 * expm1(-behind), tolerance = 1e-8)
  # half of the other is 50 % behind it, not 100; twice the seconds are 100 % more
  half <- data.frame(arm = rep(c("p", "q"), each = 4), value = c(50, 50.01, 49.99, 50, 100, 100.02, 99.98, 100))
  most <- function(better) {
    rows <- transform(rbind(half, transform(half[5:8, ], arm = "r")), better = better)
    max(weigh_overall(rows, baseline = "p")$best$at_least, na.rm = TRUE)
  }
  expect_equal(most("higher"), 50, tolerance = 0.01)
  expect_equal(most("lower"), 100, tolerance = 0.01)
  studies <- simulated(150)
  lost <- replicate(studies, {
    rows <- crossed(1, 5, letters[1:5], sd = c(0.03, 0.01, 0.01, 0.01, 0.01))
    # all are the best
    !all(weigh_overall(rows, baseline = "a")$best$could)
  })
  expect_lte(mean(lost), at_most(0.05, studies))
  same <- data.frame(arm = rep(c("a", "b", "c"), 3), block = rep(1:3, each = 3), value = 60)
  expect_output(print(weigh_overall(same, baseline = "a")), "results are identical")
})

test_that("whether contexts agree is a t on the differences of the changes", {
  set.seed(5)
  rows <- crossed(2, 6)
  rows$context <- ifelse(rows$workload == "w1", "low", "high")
  rows$workload <- "lap"
  found <- weigh_overall(rows, baseline = "a", worth = 2)$contexts
  d <- sapply(c("low", "high"), function(context) {
    log(rows$value[rows$arm == "b" & rows$context == context] / rows$value[rows$arm == "a" & rows$context == context])
  })
  gap <- d[, found$other] - d[, found$context]
  expect_equal(c(found$lower, found$upper), as.numeric(100 * expm1(t.test(gap)$conf.int)), tolerance = 1e-8)
  # in blocks of their own, the two changes are independent
  rows$block <- rows$block + 10 * (rows$context == "high")
  apart <- weigh_overall(rows, baseline = "a", worth = 2)$contexts
  expect_false(apart$same_blocks)
  welch <- t.test(d[, apart$other], d[, apart$context])$conf.int
  expect_equal(c(apart$lower, apart$upper), as.numeric(100 * expm1(welch)), tolerance = 1e-6)
})

test_that("a trend is the mean slope of the blocks, and a plateau holds what is good enough", {
  set.seed(6)
  arms <- c("100", "200", "400", "800")
  along <- function(level, sd = 0.005) {
    rows <- data.frame(arm = arms, block = rep(1:6, each = 4), order = 1:24)
    rows$value <- 100 * exp(rnorm(6, sd = 0.02)[rows$block] + rnorm(24, sd = sd) + level[match(rows$arm, arms)])
    rows
  }
  rows <- along(c(0, 0.05, 0.1, 0.1))
  found <- weigh_overall(rows, baseline = "100", worth = 2, ordered = TRUE)
  slope <- vapply(1:6, function(b) coef(lm(log(value) ~ log2(as.numeric(arm)), data = rows[rows$block == b, ]))[[2]], 1)
  expect_equal(
    c(found$trend$lower, found$trend$upper), as.numeric(100 * expm1(t.test(slope)$conf.int)),
    tolerance = 1e-8
  )
  expect_identical(found$plateau$from, "400")
  expect_identical(found$plateau$fails, "200")
  # 400 is worse than 800 by just the worth: to be named in at most 5 % of studies
  studies <- simulated(150)
  named <- replicate(studies, {
    from <- weigh_overall(along(c(0, 0, log(0.98), 0)), baseline = "100", worth = 2, ordered = TRUE)$plateau$from
    from %in% c("100", "200", "400")
  })
  expect_lte(mean(named), at_most(0.05, studies))
})

test_that("the shell tells it, as data too, and draws it; a limiter hides what it hides", {
  told <- gsub("\\s+", " ", run_cli("ask", demo_study(), "overall")$stdout)
  expect_match(told, "harbour, average: 125 Hz, 500 Hz \\(failed\\) and 1000 Hz could be; 2000 Hz is not: at least 2")
  expect_match(told, "two workloads are too few to generalise")
  expect_match(told, "tunnel, average: limited, which hides any difference")
  expect_match(told, "pebblemark, score: from 125 Hz on, more brings nothing worth having")
  data <- jsonlite::fromJSON(run_cli("ask", demo_study(), "overall", "-f", "json")$stdout)
  expect_setequal(
    names(data),
    c("best", "overall", "trend", "plateau", "contexts", "left_out", "question", "read", "version")
  )
  rows <- read.csv(text = run_cli("figure", demo_study(), "--of", "overall", "-f", "csv")$stdout)
  expect_identical(rows$place[rows$arm == 2000], c("harbour", "tunnel", "these workloads"))
  few <- write_lines("arm,value", "a,1", "b,2", "a,1.1", "b,2.1")
  asked <- gsub("\\s+", " ", run_cli("ask", few, "overall", "-b", "a")$stdout)
  expect_match(asked, "it takes three arms, two workloads")
  expect_identical(run_cli("weigh", few, "-b", "a", "--against", "some")$status, 2L)
  one <- run_cli("figure", write_lines("arm,value", "a,1", "b,2"), "-b", "a", "--of", "overall", "-f", "csv")
  expect_match(one$stderr, "measured in two workloads")
})

test_that("each with each is one family, and those that differ in one attribute are chosen by it", {
  set.seed(7)
  rows <- crossed(1, 6, c("a", "b", "c"))
  v <- weigh(rows, baseline = "b", against = "all")
  expect_identical(paste(v$arm, v$baseline), c("a b", "c b", "c a"))
  expect_identical(unique(v$family_size), 3L)
  # all pairs at once, as Tukey: Sidak of paired t tests of their own is never narrower than one alone
  t <- t.test(ratios(rows, "c", "a"), conf.level = 0.95^(1 / 3))$conf.int
  expect_equal(v$change[3], 100 * expm1(mean(ratios(rows, "c", "a"))), tolerance = 1e-8)
  expect_lte(v$lower[3], 100 * expm1(t[1] + 0.6 * diff(t) / 2))
  expect_match(sentences(v)[2], "against a")
  folder <- local_plan(
    "setting: {name: kit, baseline: A}", "arms:", "  - {value: A, attributes: {size: 8, speed: 1}}",
    "  - {value: B, attributes: {size: 16, speed: 1}}", "  - {value: C, attributes: {size: 16, speed: 2}}",
    "workloads: [{id: lap}]", "metrics: [{id: score, worth: 2}]"
  )
  rows$arm <- toupper(rows$arm)
  rows$workload <- "lap"
  rows$pass <- sprintf("p%02d", seq_len(nrow(rows)))
  write.csv(rows, file.path(folder, "readings.csv"), row.names = FALSE)
  one <- weigh(read_study(folder), against = "attributes")
  expect_identical(paste(one$arm, one$baseline), c("B A", "C B"))
  shown <- run_cli("weigh", folder, "--against", "attributes")$stdout
  expect_match(shown, "arm +against")
  expect_message_of(weigh(rows, baseline = "A", against = "attributes"), "honestmargin_error_input", "exactly one")
})
