# The next step of a search, from what is known so far.
climbs <- function() {
  env <- new.env()
  sys.source(file.path(source_root(), "bench", "climbs.R"), env)
  env
}
# walks until the search is over; `holds(rung, test, soak)` says what happens
walk <- function(rules, holds, most = 500) {
  steps <- list(rung = integer(), test = integer(), held = logical(), seconds = numeric(), soak = logical())
  repeat {
    now <- climb_next(steps, rules)
    if (now$do == "done" || length(steps$rung) >= most) {
      return(list(now = now, steps = as.data.frame(steps)))
    }
    add <- list(
      rung = now$rung, test = empty_to(now$test, NA), held = holds(now$rung, now$test, now$do == "soak"), seconds = 60,
      soak = now$do == "soak"
    )
    for (name in names(steps)) steps[[name]] <- c(steps[[name]], add[[name]])
  }
}

test_that("it climbs rung by rung, steps back and repeats, and never goes where it failed", {
  out <- walk(climb_rules(10, 1, repeats = 2), function(rung, test, soak) rung < 7)
  expect_identical(out$now[c("do", "rung", "why", "failed", "good")], list(
    do = "done", rung = 6L, why = "found", failed = 7L, good = 6L
  ))
  expect_identical(out$steps$rung, c(1L, 1L, 2:7, 6L))
})

test_that("the safety distance is taken from the value that failed, whatever the values are", {
  values <- c(0, 10, 40, 50, 55, 60)
  rules <- climb_rules(6, 1, repeats = 1, down = rungs_down(values, 6, 15))
  expect_identical(walk(rules, function(rung, test, soak) rung < 6)$now$rung, 3L)
  expect_identical(rungs_down(c(0, -0.1, -0.2, -0.3), 4, 0.2), c(0L, 0L, 1L, 2L))
  expect_identical(rungs_down(NULL, 3), 0:2)
  # nothing above the start at that distance
  far <- climb_rules(3, 1, repeats = 1, down = rungs_down(c(0, 1, 2), 3, 50))
  expect_identical(walk(far, function(rung, test, soak) rung < 3)$now[c("rung", "why")], list(rung = 1L, why = "found"))
})

test_that("halving needs fewer passes and ends on the same value", {
  for (top in c(2L, 9L, 33L, 64L)) {
    step <- walk(climb_rules(64, 1), function(rung, test, soak) rung <= top)
    half <- walk(climb_rules(64, 1, pace = "halve"), function(rung, test, soak) rung <= top)
    expect_identical(half$now$rung, top)
    expect_identical(step$now$rung, top)
    # a walk by halving is no longer than the logarithm, and the repeats
    expect_lte(nrow(half$steps), 7 + 3)
  }
})

test_that("a soak that fails sends it down again, and so does what was marked afterwards", {
  rules <- climb_rules(8, 2, repeats = 1, soak_test = 2, soak_seconds = 150)
  out <- walk(rules, function(rung, test, soak) if (soak) rung < 4 else rung < 7)
  expect_identical(out$now[c("rung", "why")], list(rung = 3L, why = "found"))
  soaked <- out$steps[out$steps$soak, ]
  # 150 s in passes of 60 s where it holds, one pass where it fails
  expect_identical(as.integer(table(soaked$rung)[c("6", "5", "4", "3")]), c(1L, 1L, 1L, 3L))
  later <- as.list(out$steps)
  later$held[later$rung == 3 & later$soak][1] <- FALSE
  expect_identical(climb_next(later, rules)[c("do", "rung")], list(do = "soak", rung = 2L))
})

test_that("what is spent, skipped or allowed is heeded", {
  spent <- walk(climb_rules(20, 1, most_passes = 6), function(rung, test, soak) TRUE)
  expect_identical(spent$now$why, "spent")
  expect_identical(nrow(spent$steps), 6L)
  skipped <- walk(climb_rules(6, 1, skipped = c(3L, 6L)), function(rung, test, soak) TRUE)
  expect_identical(unique(skipped$steps$rung), c(1L, 2L, 4L, 5L))
  expect_identical(skipped$now$rung, 5L)
  start <- walk(climb_rules(6, 1), function(rung, test, soak) FALSE)
  expect_identical(start$now[c("rung", "why")], list(rung = 0L, why = "start_fails"))
  # every second pass fails: nothing would hold but for what is allowed
  n <- 0
  luck <- walk(climb_rules(3, 1, repeats = 1, allowed = 1), function(rung, test, soak) (n <<- n + 1) %% 2 == 0)
  expect_identical(luck$now[c("rung", "why")], list(rung = 3L, why = "found"))
})

test_that("it ends within one value of the highest that meets the target, and its limit covers", {
  climb_many <- climbs()$climb_many
  bound <- function(n) 0.95 - 3 * sqrt(0.95 * 0.05 / n)
  set.seed(91)
  for (kind in list(list(factor = 6, allowed = 0, soak = 1), list(factor = 3, allowed = 1, soak = 1.7))) {
    r <- climb_many(300, kind$factor, kind$allowed, kind$soak)
    expect_gte(mean(abs(r$off) <= 1), bound(300))
    expect_gte(mean(r$covered, na.rm = TRUE), bound(300))
    expect_true(!any(r$again))
  }
  # and the test can fail: parts that change little from step to step are not found by so short a soak
  expect_lt(mean(abs(climb_many(200, 1.3)$off) <= 1), 0.8)
})

test_that("how long to soak is the exact limit of none seen", {
  # poisson.test is an implementation of its own
  for (wanted in c(0.5, 1, 6)) {
    hours <- soak_hours(wanted)
    limit <- stats::poisson.test(0, hours, alternative = "less", conf.level = 0.95)$conf.int[2]
    expect_equal(limit, wanted, tolerance = 1e-8)
  }
  # none in 30 minutes still allows 6 an hour
  expect_equal(possible_rate(0, 0.5)$upper, 5.99, tolerance = 1e-3)
})
