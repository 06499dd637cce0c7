# Where noise comes from, against data of which it is known, R's own tests, and a worked example.
rows_of <- function(blocks, block_sd, heat = 0, seed = 1) {
  set.seed(seed)
  rows <- expand.grid(arm = c("a", "b", "c"), block = seq_len(blocks), stringsAsFactors = FALSE)
  rows$order <- seq_len(nrow(rows))
  rows$pass <- sprintf("p%03d", rows$order)
  warm <- rnorm(nrow(rows))
  rows$value <- 100 * exp(rnorm(blocks, sd = block_sd)[rows$block] + rnorm(nrow(rows), sd = 0.01) + heat * warm)
  list(scores = cbind(rows, metric = "score"), warm = 60 + 5 * warm)
}

test_that("shares agree with R's own analysis of variance and correlation", {
  made <- rows_of(8, 0.02, 0.01)
  rows <- made$scores
  rows$y <- log(rows$value)
  rows$boot <- NA
  found <- honestmargin:::noise_shares(rows, list(warm = made$warm))
  table <- anova(lm(y ~ factor(arm) + factor(block), rows))
  ratio <- table[2, "F value"]
  expect_equal(found$p[1], table[2, "Pr(>F)"])
  expect_equal(found$share[1], ((ratio - 1) / 3) / (1 + (ratio - 1) / 3))
  model <- summary(lm(y ~ factor(arm) + factor(block) + made$warm, rows))
  expect_equal(found$p[2], model$coefficients["made$warm", "Pr(>|t|)"])
  without <- summary(lm(y ~ factor(arm) + factor(block), rows))
  # what a line on it leaves of the variance inside blocks
  expect_equal(found$share[2], 1 - model$sigma^2 / without$sigma^2)
})

test_that("what was put in is found about as often as it should be, and what was not hardly ever", {
  shares <- function(heat) {
    t(vapply(1:200, function(i) {
      made <- rows_of(6, 0.01, heat, seed = i)
      found <- honestmargin:::noise_shares(transform(made$scores, y = log(value), boot = NA), list(warm = made$warm))
      unlist(found[found$source == "warm", c("share", "lower", "upper", "p")])
    }, numeric(4)))
  }
  half <- shares(0.01)
  expect_lt(abs(median(half[, "share"]) - 0.5), 0.1)
  covers <- mean(half[, "lower"] <= 0.5 & 0.5 <= half[, "upper"])
  expect_gte(covers, 0.95 - 3 * sqrt(0.05 * 0.95 / 200))
  expect_lte(mean(shares(0)[, "p"] < 0.05), at_most(0.05, 200))
})

test_that("a study says what would be saved, from its own sensors", {
  made <- rows_of(8, 0.02, 0.015)
  heat <- transform(made$scores, metric = "processor_temperature_min", value = made$warm)
  folder <- local_plan(
    "setting: {name: fan, baseline: a}", "arms: [{value: a}, {value: b}, {value: c}]", "workloads: [{id: main}]",
    "metrics: [{id: score, worth: 2, primary: true}, {id: processor_temperature_min, unit: C, better: lower}]"
  )
  both <- rbind(made$scores, heat)
  both$workload <- "main"
  write.csv(both, file.path(folder, "readings.csv"), row.names = FALSE)
  told <- gsub("\\s+", " ", run_cli("ask", folder, "sources")$stdout)
  expect_match(told, "main, score: [0-9]+ % of the variance of a pass lies between blocks .* the blocks take out")
  expect_match(told, "correlates with how warm the processor began .*: cooling down to the same temperature first")
  found <- noise_sources(read_study(folder))
  row <- found[found$source == "processor_temperature_min", ]
  expect_identical(row$saved, floor(8 * row$share / 100))
  few <- data.frame(arm = c("a", "b"), block = c(1, 1), value = c(1, 2))
  expect_message_of(noise_sources(few), "honestmargin_error_input", "too few passes")
})

test_that("one arm alone is told what is needed, or where its noise comes from", {
  rows <- data.frame(
    arm = "a", block = 1:5, order = 1:5, value = c(10, 11, 10.5, 10.2, 10.8), metric = "score", better = "higher"
  )
  expect_message_of(noise_sources(rows), "honestmargin_error_input", "too few passes")
  set.seed(9)
  twice <- data.frame(arm = "a", block = rep(1:8, each = 3), order = 1:24)
  twice$y <- rnorm(24) + rnorm(8, sd = 3)[twice$block]
  shares <- honestmargin:::noise_shares(transform(twice, boot = NA), list())
  ratio <- anova(lm(y ~ factor(block), twice))
  expect_equal(shares$p, ratio[["Pr(>F)"]][1])
})
