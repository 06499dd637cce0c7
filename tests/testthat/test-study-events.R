# Rare events: counted, told by arm and attribute, never averaged away.
drops_in <- function(arms, capacity, with, passes = 5) {
  folder <- withr::local_tempdir(.local_envir = parent.frame())
  writeLines(c(
    "setting: {name: kit, baseline: A}", "arms:",
    sprintf("  - {value: %s, attributes: {capacity: %s}}", arms, capacity),
    "workloads: [{id: lap, probe: true, command: \"true\"}]", "metrics: [{id: low1_mean, primary: true}]"
  ), file.path(folder, "study.yml"))
  passes <- expand.grid(block = seq_len(passes), arm = arms, stringsAsFactors = FALSE)
  passes$pass <- sprintf("p%03d", seq_len(nrow(passes)))
  passes$workload <- "lap"
  dir.create(file.path(folder, "frames"))
  set.seed(1)
  for (i in seq_len(nrow(passes))) {
    x <- 8 + runif(2000)
    if (passes$block[i] <= with[match(passes$arm[i], arms)]) x[1000:1004] <- 60
    writeLines(format(x), file.path(folder, "frames", paste0(passes$pass[i], ".csv")))
  }
  write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE)
  folder
}

test_that("drops in some passes of some arms are found, also by attribute", {
  folder <- drops_in(c("A", "B", "C", "D", "E"), c("8", "8", "32", "32", "32"), c(3, 2, 0, 0, 0))
  study <- read_study(folder)
  table <- event_table(study)
  expect_identical(table$with, c(3L, 2L, 0L, 0L, 0L))
  expect_equal(table$with_upper[3], 100 * (1 - 0.05^(1 / 5)))
  long <- study$readings$value[study$readings$metric == "seconds"]
  expect_equal(table$minutes[1] * 60, 5 * mean(long), tolerance = 0.01)
  out <- run_cli("weigh", folder)
  text <- gsub("\\s+", " ", out$stdout)
  expect_match(text, "deep drops in 3 of 5 passes at A, 2 of 5 passes at B, in none of 15 at C, D and E")
  expect_match(text, "capacity: 5 of 10 with 8, 0 of 15 with 32 (arms pooled, exploratory)", fixed = TRUE)
  expect_identical(event_table(study, by = "capacity")$with, c(5L, 0L))
  expect_error(event_table(study, by = "colour"), class = "honestmargin_error_input")
  shown <- figure_data(study, "trace", pass = c("p001", "p011"))
  expect_identical(unique(shown$pass), c("p001", "p011"))
  expect_identical(attr(shown, "drops")$pass, "p001")
  png <- file.path(folder, "x.png")
  expect_identical(run_cli("figure", folder, "--of", "trace", "--pass", "p001,p011", "--file", png)$status, 0L)
  expect_identical(run_cli("figure", folder, "--of", "trace", "--pass", "p999", "--file", png)$status, 3L)
})

test_that("a count's interval bears how few events there were", {
  rows <- data.frame(arm = rep(c("a", "b"), 5), block = rep(1:5, each = 2), metric = "deep_drops", value = 0)
  none <- weigh(rows, baseline = "a")
  # z sqrt(0 + 0 + 1) / n
  expect_equal(none$upper, qnorm(0.975) / 5)
  expect_identical(none$differs, "no")
  rows$value <- c(2, 9, 3, 11, 2, 8, 1, 10, 2, 12)
  some <- weigh(rows, baseline = "a")
  d <- rows$value[rows$arm == "b"] - rows$value[rows$arm == "a"]
  half <- max(qt(0.975, 4) * sd(d) / sqrt(5), qnorm(0.975) * sqrt(sum(rows$value) + 1) / 5)
  expect_equal(c(some$lower, some$upper), mean(d) + c(-1, 1) * half)
})

test_that("when nothing differs, counts differ rarely: Poisson and dispersed", {
  studies <- simulated(200)
  for (how in list(c(0.5, 0), c(10, 0), c(10, 1))) {
    set.seed(3)
    false <- mean(replicate(studies, {
      level <- if (how[2] > 0) how[1] * rgamma(10, 1 / how[2], 1 / how[2]) else how[1]
      rows <- data.frame(arm = rep(c("a", "b"), 5), block = rep(1:5, each = 2), metric = "deep_drops")
      rows$value <- rpois(10, level)
      weigh(rows, baseline = "a")$differs == "yes"
    }))
    expect_lte(false, at_most(0.05, studies))
  }
})

test_that("a low that lies in two lumps is told as such", {
  rows <- data.frame(
    arm = rep(c("a", "b"), 5), block = rep(1:5, each = 2), metric = "low1_mean",
    value = c(58, 59, 57.5, 22, 58.2, 58.4, 57.9, 25, 58.1, 58.8)
  )
  v <- weigh(rows, baseline = "a", worth = 3)
  expect_match(sentences(v), "a rare bad level, in 2 of 5 passes against 0 of 5", fixed = TRUE)
  expect_match(v$reason, "2 of 5 passes of b, 0 of 5 of a")
  # arms at different levels are no lumps
  apart <- transform(rows, value = ifelse(arm == "a", 58, 22) + c(0.1, 0.3, -0.2, 0, 0.2)[block])
  expect_identical(weigh(apart, baseline = "a", worth = 3)$verdict, "clear loss")
})

test_that("which pass drops, when, how long and how deep, and where a rate sits at half of another", {
  set.seed(3)
  folder <- withr::local_tempdir()
  dir.create(file.path(folder, "frames"))
  writeLines(c(
    "setting: {name: kit, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads: [{id: quay}]",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "blocks: 2"
  ), file.path(folder, "study.yml"))
  even <- function() 8 * exp(as.numeric(stats::arima.sim(list(ar = 0.8), 3000, sd = 0.02)))
  dropped <- even()
  at <- which.min(abs(cumsum(dropped) - 15000))
  dropped[at + 0:5] <- c(60, 90, 120, 80, 70, 60)
  halved <- even()
  slow <- cumsum(halved) > 8000 & cumsum(halved) < 13000
  halved[slow] <- 16 * exp(rnorm(sum(slow), 0, 0.005))
  frames <- list(p001 = even(), p002 = dropped, p003 = even(), p004 = halved)
  for (id in names(frames)) {
    writeLines(c("frame_time_ms", sprintf("%.4f", frames[[id]])), file.path(folder, "frames", paste0(id, ".csv")))
  }
  utils::write.csv(
    data.frame(pass = names(frames), arm = c("a", "b"), workload = "quay", block = c(1, 1, 2, 2), order = 1:4),
    file.path(folder, "passes.csv"), row.names = FALSE
  )
  moments <- honestmargin:::moments_of_study(read_study(folder))
  expect_identical(moments$drops$pass, "p002")
  expect_equal(moments$drops$start_s, sum(dropped[seq_len(at - 1)]) / 1000, tolerance = 1e-4)
  expect_equal(moments$drops$seconds, 0.48, tolerance = 1e-3)
  expect_equal(moments$drops$rate, 6 / 0.48, tolerance = 1e-3)
  expect_identical(moments$stretches$pass, "p004")
  begin <- sum(halved[seq_len(which(slow)[1] - 1)]) / 1000
  expect_equal(moments$stretches$start_s, begin, tolerance = 0.6 / begin)
  expect_equal(moments$stretches$end_s, begin + sum(halved[slow]) / 1000, tolerance = 0.05)
  expect_equal(moments$stretches$rate, 62.5, tolerance = 0.02)
  said <- run_cli("ask", folder, "events")$stdout
  expect_match(said, "p002 +b +quay +15.0 s +0.48 s +1[23] fps +125 fps +120 ms")
  expect_match(said, "At half the rate for a part: p004, b in quay")
  # the figure shows the pass that has one
  expect_identical(unique(figure_data(read_study(folder), "drops")$pass), "p002")
  unlink(file.path(folder, "frames", "p002.csv"))
  expect_error(figure_data(read_study(folder), "drops"), "no pass has a deep drop", class = "honestmargin_error_input")
})
