# Before and after: an answer only where something says how far things move by themselves.
at_time <- function(values, name, anchor = NULL, version = "1", env = parent.frame()) {
  folder <- file.path(withr::local_tempdir(.local_envir = env), name)
  dir.create(folder)
  writeLines(c(
    "setting: {name: release, baseline: it}", "arms: [{value: it}]", "workloads:", "  - {id: pack, by_hand: run it}",
    if (!is.null(anchor)) "  - {id: still, by_hand: run it, anchor: true}", "metrics: [{id: score, worth: 2}]",
    paste0("machine: {driver: \"", version, "\"}")
  ), file.path(folder, "study.yml"))
  rows <- data.frame(pass = seq_along(values), workload = "pack", arm = "it", score = values)
  if (!is.null(anchor)) {
    rows <- rbind(rows, data.frame(pass = 100 + seq_along(anchor), workload = "still", arm = "it", score = anchor))
  }
  # each pass of the workload is followed by one of the anchor
  rows$order <- rank(c(seq_along(values), if (!is.null(anchor)) seq_along(anchor) + 0.5))
  write.csv(rows, file.path(folder, "passes.csv"), row.names = FALSE)
  folder
}

test_that("one before and one now is no basis, unless declared; what changed comes first", {
  a <- at_time(c(100, 101, 99, 100), "spring", version = "1")
  b <- at_time(c(108, 109, 107, 108), "autumn", version = "2")
  out <- run_cli("against", b, a)
  expect_identical(out$status, 0L)
  expect_match(out$stdout, "driver +1 +2")
  expect_match(out$stdout, "no basis")
  expect_match(out$stdout, "+8.0", fixed = TRUE)
  v <- weigh_against(b, a, steady = TRUE)
  t <- t.test(log(c(108, 109, 107, 108)), log(c(100, 101, 99, 100)))
  expect_equal(v$change, 100 * expm1(-diff(unname(t$estimate))))
  # fewer than five passes: wider than Welch's own
  expect_gte(100 * expm1(t$conf.int[1]), v$lower)
  expect_identical(v$verdict, "clear gain")
  expect_match(v$reason, "declared")
})

test_that("two earlier studies or more: a new mean is predicted from theirs", {
  means <- c(100, 103, 98)
  here <- environment()
  earlier <- lapply(1:3, function(i) at_time(means[i] + c(-0.1, 0, 0.1), paste0("day", i), env = here))
  now <- at_time(c(104, 104.1), "today")
  v <- weigh_against(now, earlier)
  m <- vapply(means, function(x) mean(log(x + c(-0.1, 0, 0.1))), 1)
  half <- qt(0.975, 2) * sd(m) * sqrt(1 + 1 / 3)
  expect_equal(c(v$lower, v$upper), 100 * expm1(mean(log(c(104, 104.1))) - mean(m) + c(-1, 1) * half))
  expect_identical(v$unit_of_replication, "study")
  expect_s3_class(plot_levels(v), "ggplot")
})

test_that("an anchor takes out what the day brought", {
  set.seed(2)
  noise <- function() rnorm(6, sd = 0.2)
  # everything is 10 % quicker today, the workload 5 % more
  a <- at_time(100 + noise(), "before", anchor = 50 + noise() / 4)
  b <- at_time(100 * 1.1 * 1.05 + noise(), "now", anchor = 55 + noise() / 4)
  v <- weigh_against(b, a)
  expect_true(v$lower < 5 && v$upper > 5 && v$upper - v$lower < 3)
  expect_match(v$reason, "anchor")
  expect_identical(v$workload, "pack")
  none <- weigh_against(at_time(110 + noise(), "now", anchor = 55 + noise() / 4), a)
  expect_true(none$lower < 0 && none$upper > 0)
})

test_that("a gate stops a build, keeps a history and says one line", {
  here <- environment()
  earlier <- lapply(1:4, function(i) at_time(100 + i / 10 + c(0, 0.1), paste0("build", i), env = here))
  slow <- at_time(c(90, 90.1), "build5")
  history <- withr::local_tempfile(fileext = ".csv")
  png <- withr::local_tempfile(fileext = ".png")
  args <- c(
    "against", slow, unlist(earlier), "--fail-on", "loss", "--format", "line", "--history", history,
    "--file", png
  )
  out <- do.call(run_cli, as.list(args))
  expect_identical(out$status, 1L)
  expect_match(out$stdout, "^against build4 .*: 1 clear loss; pack score -10.* %")
  do.call(run_cli, as.list(args))
  expect_identical(nrow(read.csv(history)), 2L)
  expect_gt(file.size(png), 10000)
  levels <- attr(weigh_against(slow, earlier), "levels")
  expect_identical(levels$change_point, c(FALSE, FALSE, FALSE, FALSE, TRUE))
})

test_that("odd input has classed errors", {
  a <- at_time(c(100, 101), "a")
  expect_error(weigh_against(a, list()), class = "honestmargin_error_needed")
  expect_error(weigh_against(a, a, arm = "other"), class = "honestmargin_error_input")
  expect_error(weigh_against(a, a, anchor = "none"), class = "honestmargin_error_input")
  expect_error(weigh_against(a, file.path(a, "nowhere")), class = "honestmargin_error_input")
})

test_that("days that differ by themselves are called a difference in at most 5 %", {
  set.seed(9)
  false <- mean(replicate(2000, {
    y <- rep(rnorm(4, sd = 0.02), each = 3) + rnorm(12, sd = 0.005)
    found <- honestmargin:::estimate_against(list2DF(list(study = rep(1:4, each = 3), y = y, order = 1:12)))
    abs(found$estimate) > qt(0.975, found$df) * found$se
  }))
  expect_lte(false, 0.05 + 2 * sqrt(0.05 * 0.95 / 2000))
})

test_that("what the memory knows of days is believed in at most 5 % too often, with few passes and with an anchor", {
  set.seed(10)
  cell <- list(workload = "w", context = NA_character_, metric = "score", unit = "", scale = "percent")
  remembered <- function(days, workload = "w") {
    data.frame(
      study = seq_along(days), day = as.character(seq_along(days)), workload = workload, context = NA_character_,
      metric = "score", scale = "percent",
      unit = "", setting = "s", arm = "a", work = "w",
      level = 100 * exp(days + rnorm(length(days), sd = 0.005 / sqrt(5))), level_passes = 5,
      total = 100 * expm1(0.005 * sqrt(rchisq(length(days), 4) / 4)), df_total = 4
    )
  }
  said <- function(found) abs(found$estimate) > qt(0.975, found$df) * found$se
  of_days <- function(sd, n) {
    days <- honestmargin:::spread_of_days(remembered(rnorm(4, sd = sd)), cell)
    y <- rep(rnorm(2, sd = sd), n) + rnorm(sum(n), sd = 0.005)
    said(honestmargin:::estimate_against(list2DF(list(study = rep(1:2, n), y = y, order = seq_along(y))), days = days))
  }
  anchored <- function(sd) {
    day <- rnorm(5, sd = 0.02)
    memory <- rbind(remembered(day + rnorm(5, sd = sd)), remembered(day, "anchor"))
    apart <- honestmargin:::spread_of_days(memory, cell, "anchor")
    visit <- function(own) {
      y <- rep(own, each = 5) + rnorm(10, sd = 0.005)
      list2DF(list(study = rep(1:2, each = 5), y = y, order = rep(1:5, 2)))
    }
    day <- rnorm(2, sd = 0.02)
    said(honestmargin:::estimate_against(visit(day + rnorm(2, sd = sd)), visit(day), apart = apart))
  }
  # what one day brought says nothing of another, but something of itself
  same <- transform(remembered(rnorm(4, sd = 0.01)), day = "1")
  expect_null(honestmargin:::spread_of_days(same, cell))
  expect_identical(honestmargin:::spread_of_days(same, cell, one_day = TRUE)$df, 3L)
  studies <- simulated(400)
  most <- at_most(0.05, studies)
  for (sd in c(0, 0.01)) {
    expect_lte(mean(replicate(studies, of_days(sd, c(5, 5)))), most)
    expect_lte(mean(replicate(studies, of_days(sd, c(1, 3)))), most)
    expect_lte(mean(replicate(studies, anchored(sd))), most)
  }
})

test_that("tables and reports stand against one another, under whatever name the arm had", {
  now <- write_lines("run,fps", "1,95.1", "2,95.9", "3,94.7", "4,95.3")
  before <- write_lines("run,fps", "1,100.1", "2,100.9", "3,99.7", "4,100.3")
  open <- run_cli("against", now, before, "--worth", "2")
  expect_match(open$stdout, "No basis: one study before and one now")
  steady <- run_cli("against", now, before, "--worth", "2", "--steady")
  expect_match(steady$stdout, "clear loss")
  # by hand: Welch's t on logarithms
  test <- stats::t.test(log(c(95.1, 95.9, 94.7, 95.3)), log(c(100.1, 100.9, 99.7, 100.3)))
  found <- weigh_against(
    read_readings(now, arm = "m"), read_readings(before, arm = "m"), steady = TRUE, worth = 2
  )
  # a little wider: so few passes are weighed with fewer degrees of freedom, and their digits count
  by_hand <- 100 * (exp(as.numeric(test$conf.int)) - 1)
  expect_every(c(by_hand[1] - found$lower, found$upper - by_hand[2]) > 0)
  expect_every(abs(c(found$lower, found$upper) - by_hand) < 0.1)
  called <- data.frame(arm = "new driver", fps = c(95.1, 95.9, 94.7, 95.3))
  was <- data.frame(arm = "driver", fps = c(100.1, 100.9, 99.7, 100.3))
  again <- weigh_against(read_readings(called), list(read_readings(was)),
    arm = c(now = "new driver", before = "driver"), steady = TRUE, worth = 2
  )
  expect_equal(again$change, found$change)
  refused <- run_cli("against", write_lines("arm,fps", "a,1", "a,2"), write_lines("arm,fps", "b,1", "b,2"))
  expect_match(refused$stderr, "--arm NOW=BEFORE")
  torn <- tryCatch(
    weigh_against(
      read_readings(data.frame(arm = "a", value = 1:2, metric = "load", unit = "s", better = "lower")),
      read_readings(data.frame(arm = "a", value = 1:2, metric = "load", unit = "ms", better = "lower"))
    ),
    error = identity
  )
  expect_match(conditionMessage(torn), "'load' is not the same at all times")
})
