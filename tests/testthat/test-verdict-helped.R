# Contrasts in complete blocks, helped by how the other arms vary.
in_blocks <- function(arms = 4, blocks = 5, sd = rep(0.01, arms), effect = 0) {
  rows <- data.frame(arm = letters[seq_len(arms)], block = rep(seq_len(blocks), each = arms))
  level <- rnorm(blocks, sd = 0.02)[rows$block] + effect * (rows$arm == "b")
  rows$value <- 100 * exp(level + rnorm(nrow(rows)) * rep_len(sd, arms)[match(rows$arm, letters)])
  rows
}

test_that("the interval is that of the rule, worked out from its weights", {
  set.seed(3)
  for (sd in list(rep(0.01, 4), c(0.01, 0.05, 0.002, 0.01))) {
    rows <- in_blocks(sd = sd)
    v <- weigh(rows, baseline = "a")
    d <- sapply(c("b", "c", "d"), function(arm) log(rows$value[rows$arm == arm] / rows$value[rows$arm == "a"]))
    covariance <- cov(d)
    for (i in 1:3) {
      w <- ifelse(1:3 == i, (4 + 4 / 3) / 8, 4 / 3 / 8)
      mixed <- sum(w * diag(covariance))
      df <- min(4 * mixed^2 / sum(outer(w, w) * covariance^2), 6)
      half <- qt(1 - (1 - 0.95^(1 / 3)) / 2, df) * sqrt(max(mixed, 0.75 * covariance[i, i]) / 5)
      expect_equal(c(v$lower[i], v$upper[i]), 100 * expm1(mean(d[, i]) + c(-1, 1) * half), tolerance = 1e-8)
    }
  }
})

test_that("an arm with a hole keeps its own variance and helps no other; two arms are a paired t", {
  set.seed(4)
  rows <- in_blocks()
  whole <- weigh(rows, baseline = "a")
  holed <- weigh(rows[-8, ], baseline = "a")
  own <- function(data, arm) {
    pair <- merge(data[data$arm == arm, ], data[data$arm == "a", ], by = "block")
    as.numeric(100 * expm1(t.test(log(pair$value.x / pair$value.y), conf.level = 0.95^(1 / 3))$conf.int))
  }
  d <- holed[holed$arm == "d", ]
  expect_equal(c(d$lower, d$upper), own(rows[-8, ], "d"), tolerance = 1e-8)
  # the other two help one another, without the third
  expect_false(isTRUE(all.equal(holed$lower[1], whole$lower[1])))
  expect_false(isTRUE(all.equal(c(holed$lower[1], holed$upper[1]), own(rows, "b"))))
  two <- weigh(rows[rows$arm %in% c("a", "b"), ], baseline = "a")
  paired <- t.test(log(rows$value[rows$arm == "b"]), log(rows$value[rows$arm == "a"]), paired = TRUE)
  expect_equal(c(two$lower, two$upper), as.numeric(100 * expm1(paired$conf.int)), tolerance = 1e-8)
})

# the rule itself, many times over: what it calls different, and what it finds
rule <- function(studies, sd, effect = 0, blocks = 5, cells = 1) {
  arms <- length(sd)
  alpha <- 1 - 0.95^(1 / ((arms - 1) * cells))
  set.seed(8)
  hit <- replicate(studies, {
    y <- matrix(rnorm(blocks * arms), blocks) * rep(sd, each = blocks)
    y[, 2] <- y[, 2] + effect
    spread <- honestmargin:::helping_spread(cov(y[, -1] - y[, 1]))
    vapply(seq_len(arms - 1), function(i) {
      at <- honestmargin:::helped_variance(
        spread$own[i], spread$total, spread$squares[i], spread$all, spread$contrasts, blocks - 1
      )
      abs(mean(y[, i + 1] - y[, 1])) > qt(1 - alpha / 2, at$df) * sqrt(at$variance / blocks)
    }, NA)
  })
  c(any = mean(apply(hit, 2, any)), first = mean(hit[1, ]))
}

test_that("whatever arms are noisy, few are called different falsely, and more is found than alone", {
  studies <- 4000
  most <- at_most(0.05, studies)
  for (sd in list(rep(1, 4), c(3, 1, 1, 1), c(1, 10, 1, 1), c(1, 3, 3, 1, 1, 1))) {
    expect_lte(rule(studies, sd)[["any"]], most)
  }
  # three times the noise of a pass, six arms: 61 % are found where each arm stands alone
  expect_gt(rule(studies, rep(1, 6), effect = 3)[["first"]], 0.72)
})

test_that("the change that a plan says it finds four times in five is found so", {
  for (case in list(c(4, 3, 1), c(4, 5, 1), c(6, 5, 3))) {
    family <- (case[1] - 1) * case[3]
    folder <- local_plan(
      "setting: {name: level, baseline: 1}",
      paste0("arms: [", paste0("{value: ", seq_len(case[1]), "}", collapse = ", "), "]"), paste("blocks:", case[2]),
      "metrics: [{id: score, worth: 2, primary: true, noise: 0.01}]",
      "workloads:",
      paste0("  - {id: w", seq_len(case[3]), ", command: x, scores: [{metric: score, pattern: x}]}")
    )
    power <- plan_study(folder)$power
    expect_equal(power$family_size, family)
    # noise of 0.01 % is small enough for the logarithm to be straight
    effect <- power$detectable / 0.01
    found <- rule(4000, rep(1, case[1]), effect, case[2], case[3])[["first"]]
    expect_gte(found, 0.77)
    expect_lte(found, 0.83)
  }
})
