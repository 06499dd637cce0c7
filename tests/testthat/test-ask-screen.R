# Which of many options matter.
options_plan <- function(k = 6, way = "together", blocks = 3, extra = character(), restart = integer(),
                         env = parent.frame()) {
  local_plan(
    "setting: {name: options}", "screen:", paste("  way:", way), extra, "  options:",
    paste0("    - {name: o", seq_len(k), ", from: 'a', to: 'b', restart: ", seq_len(k) %in% restart, "}"),
    "workloads: [{id: lap}]", "metrics: [{id: score, worth: 2, primary: true}]", paste("blocks:", blocks), env = env
  )
}
# a study of made-up passes, as its plan says
played <- function(folder, effects, sd, also = function(levels) 0) {
  planned <- plan_study(folder)
  levels <- screen_levels(planned$plan)
  rows <- planned$schedule
  at <- levels[rows$arm, , drop = FALSE]
  rows$score <- 100 * exp(as.numeric(at %*% effects) + apply(at, 1, also) + rnorm(nrow(rows), sd = sd))
  rows$order <- seq_len(nrow(rows))
  utils::write.csv(
    rows[c("pass", "workload", "arm", "block", "order", "score")], file.path(folder, "passes.csv"), row.names = FALSE
  )
  read_study(folder)
}

test_that("the designs are balanced: every option half of the time, every two of them free of each other", {
  for (k in 2:23) {
    levels <- two_level_design(k)
    expect_identical(dim(levels), as.integer(c(c(4, 8, 12, 16, 20, 24)[c(4, 8, 12, 16, 20, 24) > k][1], k)))
    expect_equal(crossprod(1 - 2 * levels), diag(nrow(levels), k))
    expect_identical(sum(rowSums(levels) == 0), 1L)
  }
  # of four options in eight passes none is mixed up with a pair, of seven each with three
  named <- function(k) `colnames<-`(two_level_design(k), letters[1:k])
  expect_identical(nrow(screen_aliases(named(4))), 0L)
  expect_identical(as.integer(table(screen_aliases(named(7))$option)), rep(3L, 7))
  folded <- named(7)
  expect_identical(nrow(screen_aliases(rbind(folded, 1 - folded))), 0L)
})

test_that("effects are those of lm, and of a worked example", {
  # the pilot plant of Box, Hunter and Hunter (2005), table 5.2: temperature 23, concentration -5, catalyst 1.5
  levels <- as.matrix(expand.grid(temperature = 0:1, concentration = 0:1, catalyst = 0:1))
  yield <- c(60, 72, 54, 68, 52, 83, 45, 80)
  found <- screen_effects(yield, NULL, levels, paste(seq_along(yield)))
  expect_equal(found$effects$estimate, c(23, -5, 1.5))
  set.seed(5)
  folder <- options_plan(blocks = 2)
  study <- played(folder, c(0.05, 0.03, 0, 0, 0, -0.02), 0.01)
  mine <- weigh_screen(study, confidence = 0.9)
  rows <- as.data.frame(study$readings)
  at <- screen_levels(study$plan)[rows$arm, ]
  fit <- stats::lm(log(rows$value) ~ factor(rows$block) + at)
  expect_equal(mine$change, 100 * expm1(unname(stats::coef(fit)[-(1:2)])))
  ends <- stats::confint(fit, level = 0.9^(1 / 6))[-(1:2), ]
  expect_equal(cbind(mine$lower, mine$upper), 100 * expm1(unname(ends)))
})

test_that("known effects come out in order, and a wrong word on any option is rare", {
  set.seed(11)
  n <- 80
  folder <- options_plan(k = 7, blocks = 2)
  planned <- plan_study(folder)
  levels <- screen_levels(planned$plan)
  at <- levels[planned$schedule$arm, ]
  one <- function(effects) {
    y <- as.numeric(at %*% effects) + rnorm(nrow(at), sd = 0.01)
    found <- screen_effects(y, planned$schedule$block, at, planned$schedule$arm)$effects
    half <- stats::qt(1 - (1 - 0.95^(1 / 7)) / 2, found$df) * found$se
    list(any = any(abs(found$estimate) > half), order = order(-found$estimate)[1:2])
  }
  bound <- at_most(0.05, 400)
  expect_lte(mean(replicate(400, one(rep(0, 7))$any)), bound)
  first <- replicate(n, one(c(0, 0.06, 0, 0, 0.03, 0, 0))$order)
  expect_gte(mean(first[1, ] == 2 & first[2, ] == 5), 0.95)
  study <- played(folder, c(0, 0.06, 0, 0, 0.03, 0, 0), 0.005)
  mine <- weigh_screen(study)
  expect_identical(mine$option[order(mine$rank)][1:2], c("o2", "o5"))
  expect_identical(sort(mine$rank), c(1L, 2L, 3L, 3L, 3L, 3L, 3L))
})

test_that("options that act on one another are said so, and rarely where they do not", {
  set.seed(3)
  folder <- options_plan(k = 4, blocks = 3)
  both <- played(folder, c(0.03, 0.03, 0, 0), 0.005, also = function(l) 0.04 * l[1] * l[2])
  expect_lt(weigh_screen(both)$p_interact[1], 0.01)
  expect_match(paste(screen_words(weigh_screen(both)), collapse = " "), "its average over the others")
  # of six options each is mixed up with pairs of others: then nothing is told of any alone
  mixed <- weigh_screen(played(options_plan(k = 6, blocks = 3), c(0.03, 0.03, 0, 0, 0, 0), 0.005, also = function(l) {
    0.04 * l[1] * l[2]
  }))
  expect_identical(unique(mixed$verdict), "no basis")
  expect_match(screen_words(mixed)[1], "no option can be judged alone: options act on one another")
  # and folded over they are
  fold <- weigh_screen(played(
    options_plan(k = 6, blocks = 3, extra = "  fold_over: true"), c(0.03, 0.03, 0, 0, 0, 0), 0.005,
    also = function(l) 0.04 * l[1] * l[2]
  ))
  expect_identical(fold$verdict[1:2], c("clear gain", "clear gain"))
  expect_identical(unique(fold$verdict[3:6]), "negligible")
  planned <- plan_study(folder)
  at <- screen_levels(planned$plan)[planned$schedule$arm, ]
  p <- replicate(400, screen_effects(
    rnorm(nrow(at)), planned$schedule$block, at, planned$schedule$arm
  )$p_interact)
  expect_lte(mean(p < 0.05), at_most(0.05, 400))
})

test_that("restarts stand together, and their unit is the block", {
  folder <- options_plan(k = 6, blocks = 4, restart = 2)
  schedule <- plan_study(folder)$schedule
  levels <- screen_levels(plan_study(folder)$plan)
  changes <- tapply(levels[schedule$arm, 2], schedule$block, function(v) sum(diff(v) != 0))
  expect_identical(as.integer(changes), rep(1L, 4))
  set.seed(2)
  # what each start brings moves all passes of it: no effect of the option
  wrong <- replicate(60, {
    y <- rnorm(nrow(schedule), sd = 0.002)
    start <- cumsum(c(TRUE, diff(levels[schedule$arm, 2]) != 0 | diff(as.integer(schedule$block)) != 0))
    y <- y + rnorm(max(start), sd = 0.02)[start]
    at <- levels[schedule$arm, ]
    e <- screen_effects(y, schedule$block, at, schedule$arm, "o2")$effects[2, ]
    naive <- screen_effects(y, schedule$block, at, schedule$arm)$effects[2, ]
    hit <- function(e) abs(e$estimate) > stats::qt(0.975, e$df) * e$se
    c(hit(e), hit(naive))
  })
  expect_lte(mean(wrong[1, ]), at_most(0.05, 60))
  # and taken for passes it would be found all the time
  expect_gt(mean(wrong[2, ]), 0.3)
})

test_that("one option at a time, a target and what confirms it, from the shell", {
  command <- "printf 'score %s\\n' $(( 1000 + {fog} + {water} + {crowd} + $(echo {pass} | tr -dc 0-9) * 7 % 5 ))"
  make <- function(way) {
    local_plan(
      "question: Which options cost most?", "setting:", "  name: options", "screen:", paste("  way:", way),
      # folded over, or nothing would tell whether options act on one another
      if (way == "together") "  fold_over: true",
      "  options:", "    - {name: fog, from: 0, to: 90}", "    - {name: water, from: 0, to: 60}",
      "    - {name: crowd, from: 0, to: 1}",
      "workloads:", "  - id: lap", paste0("    command: ", command),
      "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]", "metrics: [{id: score, worth: 2, primary: true}]",
      "blocks: 5", "sensors: {rate: 0}", env = parent.frame(2)
    )
  }
  for (way in c("singly", "together")) {
    folder <- make(way)
    plan <- run_cli("plan", folder)
    expect_match(plan$stdout, "together, folded over")
    run_study(folder)
    out <- run_cli("screen", folder, "--target", "12%")
    expect_identical(out$status, 0L)
    expect_match(out$stdout, "fog 0 -> 90 .*clear gain")
    expect_match(out$stdout, "crowd 0 -> 1 .*negligible")
    expect_match(out$stdout, "to win 12 % in .*: fog 90 and water 60 \\(foreseen")
    report <- file.path(folder, "r.html")
    expect_identical(run_cli("report", folder, "--file", report)$status, 0L)
    expect_match(paste(readLines(report), collapse = " "), "What each option does")
  }
  confirm <- file.path(folder, "confirm")
  expect_identical(run_cli("screen", folder, "--target", "12", "--confirm", confirm)$status, 0L)
  run_study(confirm)
  verdicts <- subset(weigh(read_study(confirm)), metric == "score")
  expect_identical(verdicts$verdict, "clear gain")
  expect_equal(verdicts$change, 15, tolerance = 0.01)
  expect_message_of(weigh(read_study(folder)), "honestmargin_error_input", "honestmargin screen")
  expect_match(run_cli("screen", folder, "--target", "80")$stdout, "not foreseen to win 80 %")
})

test_that("what is no screening is refused with what to do", {
  bad <- function(pattern, ...) {
    folder <- options_plan(..., env = parent.frame())
    expect_message_of(plan_study(folder), "honestmargin_error_input", pattern)
  }
  bad("one option is no screening", k = 1)
  bad("more than 23 options", k = 24)
  twice <- local_plan(
    "setting: {name: x}", "screen:", "  options: [{name: a, from: 1, to: 1}, {name: b, from: 1, to: 2}]",
    "workloads: [{id: lap}]"
  )
  expect_message_of(plan_study(twice), "honestmargin_error_input", "both levels of a are the same")
  expect_message_of(weigh_screen(read_study(demo_study())), "honestmargin_error_input", "no block screen")
  # two options, one at a time: the start once a block
  expect_identical(nrow(plan_study(options_plan(k = 2, way = "singly"))$schedule), 9L)
  # the start runs about as often as the root of the number of options, and is not always the first of its block
  nine <- plan_study(options_plan(k = 9, way = "singly", blocks = 8))$schedule
  expect_identical(sum(nine$arm == "start"), 24L)
  place <- stats::ave(seq_len(nrow(nine)), nine$block, FUN = seq_along)
  expect_gt(length(unique(place[nine$arm == "start"])), 6)
  one <- played(options_plan(blocks = 1, k = 7), rep(0, 7), 0.01)
  expect_message_of(weigh_screen(one), "honestmargin_error_input", "too few passes")
})
