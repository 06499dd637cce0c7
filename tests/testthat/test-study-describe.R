# Passes without a comparison, single readings, and somebody else's numbers.
csv <- function(..., ext = ".csv") {
  path <- withr::local_tempfile(fileext = ext, .local_envir = parent.frame())
  writeLines(c(...), path)
  path
}

test_that("one arm is described as base R would, and gets no verdict", {
  values <- c(812, 820, 808, 815, 799)
  d <- describe_passes(data.frame(arm = "laptop", value = values))$values
  t <- t.test(log(values))
  expect_equal(d$value, unname(exp(t$estimate)))
  expect_equal(c(d$lower, d$upper), exp(as.numeric(t$conf.int)))
  expect_equal(d$noise, 100 * expm1(sd(log(values))))
  expect_identical(c(d$best, d$worst), c(820, 799))
  quicker <- describe_passes(data.frame(arm = "a", value = c(3, 2), metric = "latency", unit = "s"))$values
  expect_identical(c(quicker$best, quicker$worst), c(2, 3))
  expect_identical(describe_passes(data.frame(arm = "a", value = 3))$values$lower, NA_real_)
})

test_that("the passes of one arm are drawn, with where their mean lies", {
  path <- csv("arm,score,heat", "lap,71.2,60", "lap,73.0,61", "lap,72.1,60")
  drawn <- withr::local_tempfile(fileext = ".png")
  expect_identical(run_cli("figure", path, "--of", "passes", "--better", "heat=lower", "--file", drawn)$status, 0L)
  expect_gt(file.size(drawn), 5000)
  rows <- read.csv(text = run_cli(
    "figure", path, "--of", "passes", "--better", "heat=lower", "--metric", "score", "--format", "csv"
  )$stdout)
  t <- t.test(log(c(71.2, 73, 72.1)))$conf.int
  mean <- rows[rows$kind == "mean", ]
  expect_equal(c(mean$lower, mean$upper), exp(as.numeric(t)))
  expect_identical(sum(rows$kind == "pass"), 3L)
  wrong <- run_cli("figure", path, "--of", "passes", "--better", "heat=lower", "--metric", "scor", "--file", drawn)
  expect_match(wrong$stderr, "score")
})

test_that("boots are what tells how well a mean is known, where passes share them", {
  rows <- data.frame(arm = "a", boot = rep(1:3, each = 2), value = c(10, 10.1, 11, 11.1, 12, 12.1))
  rows$metric <- "heat"
  rows$unit <- "C"
  d <- describe_passes(rows)$values
  expect_identical(d$unit_of_replication, "boot")
  expect_equal(c(d$lower, d$upper), as.numeric(t.test(c(10.05, 11.05, 12.05))$conf.int))
})

test_that("weigh says that there is nothing to compare, and describes", {
  path <- csv("arm,score", "lap,71.2", "lap,73.0", "lap,72.1")
  out <- run_cli("weigh", path)
  expect_identical(out$status, 0L)
  expect_match(out$stderr, "one arm only")
  expect_match(out$stdout, "score 72.1 points (69.9 to 74.4)", fixed = TRUE)
  expect_no_match(out$stdout, "\\bgain|\\bloss|negligible|unclear", perl = TRUE)
  expect_error(weigh(read_readings(path), baseline = "lap"), "describe", class = "honestmargin_error_input")
  single <- run_cli("describe", csv("arm,score", "lap,81.2"))
  expect_match(single$stdout, "81.2 points (one pass: noise not measured)", fixed = TRUE)
})

test_that("a plan of one arm is planned, run, weighed and reported", {
  folder <- local_plan(c(
    "setting: {name: machine}", "arms: [{value: littlebox}]", "workloads:",
    "  - id: pack", "    command: \"echo score 5$(date +%N | cut -c1)\"",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]",
    "blocks: 3", "machine: {processor: Oddlantern K6}"
  ))
  expect_match(gsub("\\s+", " ", run_cli("plan", folder)$stdout), "The mean of score will be known to about")
  expect_identical(run_cli("run", folder)$status, 0L)
  expect_match(run_cli("weigh", folder)$stdout, "Oddlantern K6")
  page <- file.path(folder, "r.html")
  expect_identical(run_cli("report", folder, "--file", page)$status, 0L)
  expect_match(xml2::xml_text(xml2::xml_find_first(xml2::read_html(page), "//header")), "nothing is compared")
})

test_that("machines stand side by side: what differs, and what is the same", {
  made <- function(name, memory, score) {
    folder <- local_plan(c(
      "setting: {name: machine}", paste0("arms: [{value: ", name, ", attributes: {memory: ", memory, "}}]"),
      "workloads: [{id: pack, by_hand: run it}]", "machine: {system: Lanternix 4}"
    ), env = parent.frame())
    for (s in score) add_pass(folder, name, values = c(score = s))
    folder
  }
  a <- made("alpha", "16 GB", c(100, 102, 101))
  b <- made("beta", "32 GB", 110)
  out <- run_cli("describe", a, b)$stdout
  expect_match(out, "101.0 ±2.5 +110 \\(one pass\\)")
  expect_match(out, "memory +16 GB +32 GB")
  expect_match(out, "The same in all: system Lanternix 4")
})

test_that("single readings show what was measured and the break-even noise", {
  v <- weigh(data.frame(arm = c("old", "new"), value = c(71.2, 73)), baseline = "old")
  expect_identical(v$verdict, "no basis")
  expect_equal(v$change, 100 * (73 / 71.2 - 1))
  noise <- v$codes[[1]][[2]]$values$noise
  # at that noise, known exactly, the interval ends at 0
  known <- data.frame(workload = "main", metric = "score", noise = noise, df = 1e9, source = "x")
  at <- weigh(data.frame(arm = c("old", "new"), value = c(71.2, 73)), baseline = "old", noise = known)
  expect_equal(at$lower, 0, tolerance = 1e-4)
})

test_that("repeats of the baseline stand for arms that ran once, where they lie around them", {
  rows <- data.frame(arm = c("old", "A", "old", "B", "old"), value = c(71.2, 73, 71.4, 75.1, 71.1), order = 1:5)
  v <- weigh(rows, baseline = "old", noise = "baseline")
  y <- log(c(71.2, 71.4, 71.1))
  half <- qt(1 - (1 - 0.95^(1 / 2)) / 2, 2) * sd(y) * sqrt(1 + 1 / 3)
  expect_equal(v$upper[1], 100 * expm1(log(73) - mean(y) + half))
  expect_match(v$reason, "taken from the 3 passes of old, as declared")
  expect_identical(unique(weigh(rows, baseline = "old")$verdict), "no basis")
  last <- transform(rows, order = c(1, 4, 2, 5, 3))
  expect_match(weigh(last, baseline = "old", noise = "baseline")$reason, "do not lie around")
})

test_that("claims: the noise at which a gap stands, rounding counted, simultaneous over rows", {
  one <- weigh_claims(71.2, 73)
  expect_equal(one$break_even, 100 * expm1(log(73 / 71.2) / (qnorm(0.975) * sqrt(2))))
  expect_identical(weigh_claims(71.2, 71.3, rounded = 0.1)$break_even, 0)
  two <- weigh_claims(c(71.2, 50), c(73, 51))
  expect_lt(two$break_even[1], one$break_even)
  out <- run_cli("claim", "71.2", "73.0")
  expect_match(gsub("\\s+", " ", out$stdout), "71.2 against 73.0 is \\+2.53 %.* less than 0.85 % .*rounded to 0.1")
  # a unit that both have, and tens, say how they were rounded
  out <- run_cli("claim", "1.05e3 fps", "1.10e3 fps")
  expect_match(gsub("\\s+", " ", out$stdout), "1050 against 1100 is \\+4.76 %.*rounded to 10\\)")
  expect_identical(run_cli("claim", "12 fps", "13 ms")$status, 2L)
  expect_identical(run_cli("claim", "+3%", "5")$status, 2L)
  expect_identical(run_cli("claim", "70-71", "73")$status, 2L)
  file <- csv("claim,from,to", "A,100,104.5", "B,60.1,60.2 %")
  bad <- run_cli("claim", file)
  expect_identical(bad$status, 3L)
  expect_match(bad$stderr, "line 3: column to: '60.2 %'")
  table <- run_cli("claim", csv("claim,from,to,passes", "A,100,104.5,5", "B,60,61,3"))$stdout
  expect_match(table, "A +100.0 +104.5 +\\+4.50 % +5 / 5 +")
  expect_match(table, "B +60 +61 +\\+1.67 % +3 / 3 +")
  many <- withr::with_seed(1, weigh_claims(runif(1e4, 50, 100), runif(1e4, 50, 100)))
  expect_identical(nrow(many), 10000L)
  expect_error(weigh_claims(0, 5), class = "honestmargin_error_input")
})

test_that("claims with their spread: Welch's interval, and it holds as often as it says", {
  x <- log(c(70.6, 71.4, 71.9, 70.9, 71.2))
  y <- log(c(73.4, 72.1, 73.9))
  # of logarithms with so small a spread R's own standard error, and the critical value of Cochran and Cox
  found <- weigh_claims(exp(mean(x)), exp(mean(y)),
    passes = list(5, 3), spread = list(sd(x) * exp(mean(x)), sd(y) * exp(mean(y)))
  )
  part <- c(var(x) / 5, var(y) / 3)
  crit <- sum(part * qt(0.975, c(4, 2))) / sum(part)
  expect_equal(
    log1p(c(found$lower, found$upper) / 100), mean(y) - mean(x) + c(-1, 1) * crit * t.test(y, x)$stderr,
    tolerance = 1e-5
  )
  expect_identical(found$stands, found$lower > 0)
  # twelve passes against two that are noisier
  few <- withr::with_seed(5, vapply(seq_len(1000), function(i) {
    one <- rnorm(2, 100, 3)
    two <- rnorm(12, 100, 1)
    weigh_claims(mean(one), mean(two), passes = list(2, 12), spread = list(sd(one), sd(two)))$stands
  }, NA))
  expect_lt(mean(few), at_most(0.05, 1000))
  alike <- withr::with_seed(4, {
    n <- 1500
    one <- matrix(rnorm(4 * n, 100, 2), n)
    two <- matrix(rnorm(6 * n, 100, 5), n)
    sds <- list(apply(one, 1, sd), apply(two, 1, sd))
    # each by itself: over all together they would share 5 % of error
    vapply(seq_len(n), function(i) {
      weigh_claims(mean(one[i, ]), mean(two[i, ]), passes = list(4, 6), spread = lapply(sds, `[`, i))$stands
    }, NA)
  })
  expect_lt(mean(alike), 0.05 + 3 * sqrt(0.05 * 0.95 / 1500))
  expect_gt(mean(alike), 0.03)
  wide <- weigh_claims(100, 101, passes = 5, rounded = 1, spread = 0.1)
  expect_lt(wide$lower, 0)
  told <- run_cli("claim", "71.2", "73.0", "--passes", "3", "--spread", "0.5,0.7")$stdout
  expect_match(gsub("\\s+", " ", told), "\\(standard deviation 0.5 and 0.7\\) it is \\+0.1 to \\+5.0 %: it stands")
  file <- csv("claim,from,to,passes,spread", "A,100,104.5,5,1", "B,60,61,3,2", "C,50,52,1,")
  table <- run_cli("claim", file)$stdout
  expect_match(table, "A .* yes *\n")
  expect_match(table, "B .* no *\n")
  expect_identical(weigh_claims(50, 52)$stands, NA)
  for (wrong in list(list(1, NA), list(-1, 1), list(0, 0))) {
    expect_error(weigh_claims(50, 52, passes = 3, spread = wrong), class = "honestmargin_error_input")
  }
  expect_error(weigh_claims(50, 52, spread = 1), "one pass has no spread", class = "honestmargin_error_input")
  expect_identical(run_cli("claim", "5", "6", "--spread", "1,2,3")$status, 2L)
})

test_that("of several arms in a table nothing is told but what is known", {
  file <- write_lines("arm,score", "off,100", "on,104", "off,101", "on,103", "off,99", "on,105")
  lines <- strsplit(run_cli("describe", file)$stdout, "\n")[[1]]
  expect_match(lines[1], "metric +arm +mean")
  expect_false("." %in% trimws(lines))
})
