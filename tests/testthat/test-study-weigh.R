# Intervals and p values against R's own t.test; words against the table of rules.
set.seed(41)
blocked <- data.frame(
  arm = rep(c("a", "b"), 8), block = rep(1:8, each = 2), order = 1:16,
  value = 100 * exp(rnorm(16, sd = 0.01) + rep(rnorm(8, sd = 0.03), each = 2) + rep(c(0, 0.02), 8))
)
blocked$arm <- as.character(ifelse(blocked$block %% 3 == 0, rev(blocked$arm), blocked$arm))

test_that("two arms in blocks: the paired t interval on logarithms", {
  v <- weigh(blocked, baseline = "a")
  wide <- reshape(blocked[c("arm", "block", "value")], idvar = "block", timevar = "arm", direction = "wide")
  t <- t.test(log(wide$value.b), log(wide$value.a), paired = TRUE)
  expect_equal(c(v$lower, v$upper), 100 * (exp(as.numeric(t$conf.int)) - 1))
  expect_equal(v$p_value, t$p.value)
  expect_equal(v$change, 100 * (exp(unname(t$estimate)) - 1))
})

test_that("two arms without blocks: Welch's interval on logarithms", {
  x <- blocked[c("arm", "value")]
  v <- weigh(x, baseline = "a")
  t <- t.test(log(value) ~ factor(arm, c("b", "a")), data = x)
  expect_equal(c(v$lower, v$upper), 100 * (exp(as.numeric(t$conf.int)) - 1))
  expect_equal(v$p_value, t$p.value)
})

test_that("a published pair of samples gives the published interval", {
  # Student (1908), Biometrika 6, 1-25: extra sleep, paired differences; mean 1.58, 95 % 0.70 to 2.46
  s <- datasets::sleep
  x <- data.frame(
    arm = as.character(s$group), block = as.character(s$ID), value = s$extra + 20, metric = "sleep",
    unit = "degrees", better = "higher"
  )
  v <- weigh(x, baseline = "1")
  expect_equal(v$scale, "absolute")
  expect_equal(round(c(v$change, v$lower, v$upper), 2), c(1.58, 0.70, 2.46))
  expect_equal(round(v$p_value, 4), 0.0028)
})

test_that("Sidak over the family: interval, p value and verdict agree", {
  x <- rbind(blocked, transform(blocked[blocked$arm == "b", ], arm = "c", value = value * 1.001, order = order + 100))
  x <- rbind(
    transform(x, metric = "m1", pass = seq_len(nrow(x))), transform(x, metric = "m2", pass = seq_len(nrow(x)))
  )
  x$better <- "higher"
  v <- weigh(x, baseline = "a")
  expect_equal(v$family_size, rep(4L, 4))
  expect_equal(v$p_adjusted, 1 - (1 - v$p_value)^4)
  expect_equal(v$differs == "yes", v$p_adjusted < 0.05)
  one <- weigh(x, baseline = "a", primary = "m1")
  expect_equal(one$family_size[one$metric == "m1"], c(2L, 2L))
  expect_equal(unique(one$role[one$metric == "m2"]), "exploratory")
})

test_that("the words follow the rules, in the better direction", {
  word <- honestmargin:::verdict_word
  expect_identical(
    word(c(3, -9, -1, 0.5, -3, -3, 1), c(9, -3, 1, 5, -0.5, 5, 1.5), "higher", 2),
    c("clear gain", "clear loss", "negligible", "gain", "loss", "unclear", "negligible")
  )
  expect_identical(word(c(3, -9), c(9, -3), "lower", 2), c("clear loss", "clear gain"))
  expect_identical(word(c(0.5, -1), c(1.5, 1), "higher", NA), c("gain", "unclear"))
})

test_that("the five designs are recognised", {
  kind <- function(...) {
    honestmargin:::recognise_design(
      data.frame(block = NA, boot = NA, order = NA, ...), "b", "a"
    )$kind
  }
  expect_identical(honestmargin:::recognise_design(transform(blocked, boot = NA), "b", "a")$kind, "blocks")
  expect_identical(kind(arm = c("a", "b", "a", "b", "b", "a")), "session")
  rows <- data.frame(arm = rep(c("a", "b"), each = 4), block = NA, order = NA)
  expect_identical(
    honestmargin:::recognise_design(transform(rows, boot = rep(1:4, each = 2)), "b", "a")$kind, "groups"
  )
  expect_identical(honestmargin:::recognise_design(transform(rows, boot = rep(1:2, each = 4)), "b", "a")$kind, "none")
  expect_identical(honestmargin:::recognise_design(transform(rows, boot = NA, order = 1:8), "b", "a")$kind, "stints")
  expect_identical(kind(arm = c("a", "b")), "single")
})

test_that("what the design cannot answer is not answered", {
  one <- weigh(data.frame(arm = c("a", "b"), value = c(1, 2)), baseline = "a")
  expect_identical(one$verdict, "no basis")
  stint <- data.frame(
    arm = rep(c("a", "b"), each = 5), order = 1:10,
    value = 100 + c(0.1, -0.2, 0.3, 0, -0.1, 9.8, 10.2, 10.1, 9.9, 10)
  )
  expect_identical(weigh(stint, baseline = "a")$verdict, "no basis")
  expect_identical(weigh(stint, baseline = "a", steady = TRUE)$verdict, "gain")
  boots <- data.frame(arm = rep(c("a", "b"), each = 6), boot = rep(1:4, each = 3), value = 100 + c(1:12 %% 5))
  expect_identical(weigh(boots, baseline = "a")$unit_of_replication, "boot")
  known <- weigh(data.frame(arm = c("a", "b"), value = c(100, 110)),
    baseline = "a",
    noise = data.frame(workload = "main", metric = "score", noise = 1, df = 9, source = "spring series")
  )
  # prediction interval: log(1.1) +- t(0.975, 9) * log(1.01) * sqrt(2)
  expect_equal(known$lower, 100 * (exp(log(1.1) - qt(0.975, 9) * log(1.01) * sqrt(2)) - 1))
  expect_match(known$reason, "spring series")
  gone <- weigh(
    data.frame(arm = c("a", "a", "b"), value = c(1, 2, NA), outcome = c("ok", "ok", "no_start")),
    baseline = "a"
  )
  gone <- gone[gone$metric == "score", ]
  expect_identical(gone$verdict, "does not hold")
  expect_match(gone$reason, "b gave no reading: 1 pass, none held.*1 of 1 pass of b failed \\(no_start\\)")
})

test_that("fewer than five passes: Cochran and Cox against more, between Satterthwaite and one arm against as many", {
  a <- c(100, 104, 99)
  b <- c(110, 108, 112, 109, 111, 110, 113, 107, 110, 109)
  v <- weigh(data.frame(arm = rep(c("a", "b"), c(3, 10)), value = c(a, b)), baseline = "a")
  part <- c(var(log(a)) / 3, var(log(b)) / 10)
  half <- sum(part * qt(0.975, c(2, 9))) / sqrt(sum(part))
  expect_equal(log1p(v$upper / 100) - log1p(v$change / 100), half, tolerance = 1e-4)
  v <- weigh(data.frame(arm = rep(c("a", "b"), c(3, 3)), value = c(a, b[1:3])), baseline = "a")
  t <- t.test(log(b[1:3]), log(a))
  half <- qt(0.975, (t$parameter + 2) / 2) * t$stderr
  expect_equal(log1p(v$upper / 100) - log1p(v$change / 100), unname(half))
})

test_that("a score in whole points shows no less than its rounding", {
  v <- weigh(
    data.frame(arm = rep(c("a", "b"), each = 5), value = c(50, 50, 50, 50, 50, 50, 50, 50, 51, 50)),
    baseline = "a"
  )
  expect_gte(v$upper - v$lower, 2 * 100 / 50.2)
  expect_identical(v$differs, "no")
})

test_that("detectable and more_passes agree with R's own power of the t test", {
  v <- weigh(blocked, baseline = "a")
  sd_d <- sd(log(blocked$value[blocked$arm == "b"][order(blocked$block[blocked$arm == "b"])]) -
    log(blocked$value[blocked$arm == "a"][order(blocked$block[blocked$arm == "a"])]))
  needed <- power.t.test(n = 8, sd = sd_d, power = 0.8, type = "paired", strict = TRUE)$delta
  expect_equal(v$detectable, 100 * (exp(needed) - 1), tolerance = 0.01)
  set.seed(4)
  x <- data.frame(
    arm = rep(c("a", "b"), 4), block = rep(1:4, each = 2), value = exp(rnorm(8, sd = 0.02) + rep(c(0, 0.015), 4))
  )
  v <- weigh(x, baseline = "a")
  d <- diff(matrix(log(x$value), 2))
  n <- ceiling(power.t.test(delta = abs(mean(d)), sd = sd(d), power = 0.8, type = "paired", strict = TRUE)$n)
  expect_identical(v$verdict, "unclear")
  # blocks of a fresh batch
  expect_lte(abs(v$more_passes - n), 1)
})

test_that("a fixed order with drift is blocked, a shuffled one is not", {
  fixed <- data.frame(
    arm = rep(c("a", "b"), 8), block = rep(1:8, each = 2), order = 1:16,
    value = 100 - 0.4 * 1:16 + rep(c(0.02, -0.05, 0.03, 0), 4)
  )
  v <- weigh(fixed, baseline = "a")
  expect_identical(v$verdict, "blocked")
  expect_true("blocking" %in% findings(v)$severity)
  mirrored <- transform(fixed, arm = ifelse(block %% 2 == 0, ifelse(arm == "a", "b", "a"), arm))
  expect_false(weigh(mirrored, baseline = "a")$verdict == "blocked")
})

test_that("a drift of what nobody asked about is a note, told once", {
  two <- c("fps_avg", "ms_p95", "ms_p99")
  x <- do.call(rbind, lapply(two, function(id) {
    data.frame(
      arm = rep(c("a", "b"), 8), block = rep(1:8, each = 2), order = 1:16, pass = 1:16, metric = id,
      value = 100 + c(0.3, -0.2, 0.1, -0.4, 0.2, 0, -0.1, 0.3)[(1:16) %% 8 + 1] + (id != "fps_avg") * 1:16
    )
  }))
  asked <- weigh(x, baseline = "a", primary = "fps_avg")
  told <- findings(asked)[grepl("^order_", findings(asked)$check), ]
  expect_identical(told$severity, c("warning", "note"))
  expect_match(told$message[2], "\\(ms_p95, ms_p99\\)$")
  expect_identical(unique(asked$verdict[asked$metric != "fps_avg"]), "blocked")
  all <- findings(weigh(x, baseline = "a"))
  expect_identical(all$severity[grepl("^order_", all$check)], c("blocking", "warning"))
})

test_that("what is missing or wrong in the call is named", {
  expect_message_of(weigh(blocked), "honestmargin_error_needed", "name the baseline")
  expect_message_of(weigh(blocked, baseline = "aa"), "honestmargin_error_input", "did you mean 'a'")
  expect_message_of(
    weigh(blocked, baseline = "a", worth = c(fps = 2)), "honestmargin_error_input", "worth names 'fps'"
  )
  expect_message_of(weigh("file.csv", baseline = "a"), "honestmargin_error_input", "read the file first")
})

test_that("passes that are all alike are not taken for precise ones", {
  same <- data.frame(arm = rep(c("a", "b"), each = 3), value = 5)
  v <- weigh(same, baseline = "a", worth = 2)
  expect_identical(v$verdict, "unclear")
  expect_match(v$reason, "rounded to 1")
  expect_identical(v$more_passes, Inf)
})

test_that("a misspelt argument is an error that names the right one", {
  expect_message_of(weigh(blocked, "a", worht = 2), "honestmargin_error_usage", "unknown argument 'worht'.*'worth'")
  expect_message_of(read_study(demo_study(), metric = list()), "honestmargin_error_usage", "did you mean 'metrics'")
  expect_message_of(plot_change(blocked, basline = "a"), "honestmargin_error_usage", "baseline")
  expect_message_of(frame_summary(1:3, flors = 30), "honestmargin_error_usage", "floors")
  expect_message_of(plot_change(weigh(blocked, "a"), worth = 2), "honestmargin_error_usage", "weighed already")
})

test_that("rows that are cut out of a table of verdicts still know their findings, units and names", {
  v <- weigh(read_study(demo_study()))
  some <- subset(v, role == "primary" & workload == "harbour")
  expect_s3_class(some, "honestmargin_verdicts")
  expect_identical(findings(subset(v, role == "primary")), findings(v))
  # what concerns rows that are not shown is not told of those that are
  expect_true("tunnel" %in% findings(v)$workload)
  expect_identical(findings(some), subset(findings(v), !workload %in% "tunnel"), ignore_attr = TRUE)
  expect_match(sentences(some), "2000 Hz clearly loses: average")
  expect_identical(class(some[c("arm", "verdict")]), "data.frame")
  expect_output(print(some), "harbour, average \\(fps_avg\\): worth 2 %")
  # why it is what it is can be asked for as codes, without reading words
  held <- subset(v, verdict == "blocked" & role == "primary")
  expect_every(vapply(held$codes, function(codes) codes[[1]]$code == "both_held", NA))
  expect_equal(held$codes[[1]][[1]]$values$fps, c(120, 120), tolerance = 0.01)
})

test_that("what an instrument cannot tell apart enters the interval, and the remedy is longer passes", {
  # 10 minutes a pass, the level in whole percent: one percent of the level is 6 percent an hour
  drain <- function(per_hour, seconds, from) {
    at <- function(s) floor(from - per_hour * s / 3600)
    3600 * (at(0) - at(seconds)) / seconds
  }
  table <- function(seconds) {
    rows <- expand.grid(arm = c("a", "b"), block = 1:5, stringsAsFactors = FALSE)
    rows$value <- ifelse(rows$arm == "a", drain(14.5, seconds, 99.6), drain(18.5, seconds, 99.6))
    # two passes tell another percent, so that there is noise at all
    rows$value[1:2] <- rows$value[1:2] + 3600 / seconds * c(0.001, -0.001)
    cbind(rows, metric = "battery_per_hour", seconds = seconds)
  }
  short <- weigh(table(600), baseline = "a", worth = 1)
  expect_equal(short$change, 6, tolerance = 0.01)
  expect_every(short$lower < 4 & short$upper > 4)
  expect_lte(short$lower, 6 - 12 + 0.1)
  expect_identical(short$verdict, "unclear")
  expect_identical(short$more_passes, Inf)
  expect_match(short$reason, "longer passes")
  long <- weigh(table(36000), baseline = "a", worth = 1)
  expect_identical(long$verdict, "clear loss")
  expect_equal(long$change, 4, tolerance = 0.1)
  # a counter that steps by 0.37 shows so in its readings, whatever their digits
  counted <- data.frame(
    arm = rep(c("a", "b"), 6), block = rep(1:6, each = 2), value = 37 + 0.37 * c(0, 1, 0, 1, 1, 1, 0, 1, 0, 1, 0, 1)
  )
  expect_equal(honestmargin:::resolution(counted$value), 0.37)
  expect_identical(honestmargin:::resolution(c(1.2345678, 2.7182818, 3.1415926, 0.5772156)), 0)
})

test_that("in contexts that are crossed partly, the arms that ran there are compared", {
  rows <- expand.grid(
    arm = c("a", "b", "c"), context = c("low", "high", "ultra"), block = 1:3, stringsAsFactors = FALSE
  )
  set.seed(5)
  rows$value <- c(a = 100, b = 110, c = 121)[rows$arm] * exp(rnorm(nrow(rows), sd = 0.002))
  rows <- rows[!(rows$context == "high" & rows$arm == "c") & !(rows$context == "ultra" & rows$arm == "a"), ]
  v <- weigh(rows, baseline = "a", worth = 2)
  expect_identical(paste(v$context, v$arm, v$baseline), c("low b a", "low c a", "high b a", "ultra c b"))
  expect_every(v$family_size == 4L & v$verdict == "clear gain")
  expect_output(print(v, long = TRUE), "Baseline a \\(in ultra: b\\)")
  # one after the other they are what a table of two arms gives
  ultra <- weigh(rows[rows$context == "ultra", ], baseline = "b", worth = 2, confidence = 0.95^(1 / 4))
  expect_equal(v$lower[4], ultra$lower)
})

test_that("results that repeat to the last digit are no counter of the gap between two arms", {
  # sizes of a file that two settings give, the same each time
  sizes <- data.frame(arm = rep(c("a", "b"), 5), block = rep(1:5, each = 2), value = rep(c(32.374, 30.695), 5))
  found <- weigh(sizes, baseline = "a", worth = 2)
  expect_identical(found$verdict, "clear loss")
  expect_equal(found$change, 100 * (30.695 / 32.374 - 1))
  # ticks of 15.6 ms are one, also where only two of them are seen
  ticks <- data.frame(arm = rep(c("a", "b"), 5), block = rep(1:5, each = 2), value = rep(c(15.6, 31.2), 5))
  expect_lt(weigh(ticks, baseline = "a", worth = 2)$lower, 50)
})

test_that("a table is told of a number that was typed wrong, and of arms that are written in two ways", {
  scores <- c(100.1, 103.2, 100.4, 103.5, 99.8, 103.1, 100.2, 103.6)
  table <- data.frame(arm = rep(c("off", "on"), 4), value = scores)
  told <- function(table) {
    found <- findings(weigh(table, baseline = "off"))
    found[found$check %in% c("odd_pass", "arms_alike"), , drop = FALSE]
  }
  expect_identical(nrow(told(table)), 0L)
  slip <- told(transform(table, value = replace(value, 4, 1035)))
  expect_match(slip$message, "pass 4: score 1035 points where other passes of on gave 103")
  expect_match(slip$todo, "a decimal mark lost")
  far <- told(transform(table, value = replace(value, 4, 150)))
  expect_match(far$todo, "firm")
  shaky <- transform(table, value = ifelse(arm == "on", 103.35 + 40 * (value - 103.35), value))
  seen <- findings(weigh(shaky, baseline = "off"))
  expect_match(seen$message[seen$check == "unequal"], "passes of on vary")
  twice <- told(transform(table, arm = replace(arm, 3, "OFF")))
  expect_match(twice$message, "off, OFF are written differently")
  versions <- weigh(data.frame(arm = c("1.0", "1", "2", "2.0", "1", "2"), value = scores[1:6]), baseline = "1")
  expect_identical(sum(findings(versions)$check == "arms_alike"), 2L)
})

test_that("dplyr, tibble and data.table take a table of verdicts as any other", {
  skip_if_not_installed("dplyr")
  skip_if_not_installed("tibble")
  works <- tryCatch(nrow(dplyr::count(data.frame(a = 1), a)) == 1, error = function(e) FALSE)
  if (!works) skip("dplyr does not work by itself here")
  v <- weigh(read_study(demo_study()))
  primary <- dplyr::filter(v, role == "primary")
  expect_identical(nrow(primary), sum(v$role == "primary"))
  expect_identical(dplyr::mutate(v, twice = 2 * change)$twice, 2 * v$change)
  expect_identical(sum(dplyr::count(v, verdict)$n), nrow(v))
  expect_identical(nrow(dplyr::bind_rows(v, v)), 2L * nrow(v))
  expect_identical(tibble::as_tibble(v)$codes, v$codes)
  expect_identical(headline(dplyr::filter(v, workload == "harbour")), headline(v[v$workload == "harbour", ]))
  d <- data.table::as.data.table(v)
  expect_identical(d[["arm"]], v$arm)
})

test_that("every answer is a tidy table", {
  skip_if_not_installed("generics")
  study <- read_study(demo_study())
  v <- weigh(study)
  answers <- list(
    weigh_overall(v), how_firm(v), weigh_frames(study), weigh_floors(study, c(low1_quantile = 60)),
    weigh_near(study, 2, primary = "score"), weigh_together(study, c(score = "as_good")), noise_sources(study),
    describe_passes(study), check_passes(v), plan_study(file.path(demo_study(), "study.yml")), study$readings
  )
  for (x in answers) expect_identical(class(generics::tidy(x)), "data.frame")
  expect_setequal(unique(generics::tidy(answers[[1]])$question), c("best", "overall", "trend", "plateau"))
})
