# studies of blocks: `cells` places with a metric each, of one noise or of others
many_cells <- function(arms = 3, blocks = 4, cells = 8, effect = 0, sd = 1, draw = rnorm) {
  names <- letters[seq_len(arms)]
  sd <- rep_len(sd, cells)
  # workloads run one after the other in each arm's turn, in an order that is neither fixed nor mirrored
  turn <- function(b) {
    there <- seq_len(arms)
    if (b > 3) sample(arms) else list(there, rev(there), c(there[-1], 1L))[[b]]
  }
  turns <- as.vector(vapply(seq_len(blocks), turn, seq_len(arms)))
  do.call(rbind, lapply(seq_len(cells), function(i) {
    rows <- expand.grid(arm = names, block = seq_len(blocks), stringsAsFactors = FALSE)
    rows$order <- turns + arms * (rows$block - 1)
    noise <- rnorm(blocks, sd = 0.02)[rows$block] + 0.01 * sd[i] * draw(nrow(rows))
    rows$value <- 100 * exp(noise + 0.01 * effect * (rows$arm != "a"))
    rows$workload <- sprintf("w%02d", i)
    rows$pass <- paste(rows$workload, rows$block, rows$arm)
    rows
  }))
}
is_moderated <- function(rows, ...) !is.null(attr(weigh(rows, baseline = "a", ...), "moderated"))

test_that("what a prior is worth comes back as it was drawn, and trigamma is turned round", {
  for (x in c(1e-4, 0.01, 0.5, 1.6, 20, 1e3)) expect_equal(trigamma(inverse_trigamma(x)), x, tolerance = 1e-8)
  set.seed(3)
  # true variances scattered as a prior of 4 degrees of freedom scatters them, each seen with 8
  true <- 2.5 * 4 / stats::rchisq(4000, 4)
  seen <- matrix(true * stats::rchisq(4000, 8) / 8)
  # of one contrast the scatter is taken at its upper limit, which of 4000 cells is hardly more
  prior <- moderating_prior(seen, matrix(8, 4000), 8)
  expect_equal(prior$df, 4, tolerance = 0.15)
  expect_equal(unname(prior$scale), 2.5, tolerance = 0.1)
  # of noises that are all one nothing is apart: as much as is allowed
  expect_identical(moderating_prior(matrix(2 * stats::rchisq(4000, 8) / 8, 400), matrix(8, 400, 10), 8)$df, 16)
  # no variance below three quarters of its own (of two arms: of all of it), none with more than three times its own df
  found <- moderated_variance(c(1, 1), c(1, 1), c(4, 4), 100, 0, c(3, 1), 4)
  expect_identical(found, list(variance = c(0.75, 1), df = c(12, 12)))
})

test_that("a study finds more for it, and is not false more often", {
  set.seed(8)
  studies <- simulated(120)
  found <- vapply(seq_len(studies), function(i) {
    rows <- many_cells(4, 5, 15, effect = 3)
    share <- function(...) mean(weigh(rows, baseline = "a", ...)$differs %in% "yes")
    c(share(), share(own_noise = TRUE))
  }, numeric(2))
  # simulated beside it with plain matrices: 66 of 100, and 28 where nothing is asked of few signs
  expect_gt(mean(found[1, ]), 0.55)
  expect_lt(mean(found[2, ]), 0.35)
  false <- function(...) {
    mean(vapply(seq_len(studies), function(i) any(weigh(many_cells(...), baseline = "a")$differs %in% "yes"), NA))
  }
  expect_lte(false(3, 4, 8), at_most(0.055, studies))
  # two memory layouts, in cells whose noise differs; one cell five times noisier
  two <- function(n) rnorm(n, 0, 0.2) + 3 * (runif(n) < 0.5)
  expect_lte(false(4, 4, 8, sd = exp(rnorm(8, 0, 0.5)), draw = two), at_most(0.055, studies))
  expect_lte(false(4, 5, 9, sd = c(5, rep(1, 8))), at_most(0.055, studies))
})

test_that("it takes eight cells of three arms, fifteen of two, and what may be lent at all", {
  set.seed(5)
  expect_true(is_moderated(many_cells()))
  expect_false(is_moderated(many_cells(cells = 7)))
  expect_false(is_moderated(many_cells(blocks = 2)))
  expect_false(is_moderated(many_cells(arms = 2, cells = 14)))
  expect_true(is_moderated(many_cells(arms = 2, cells = 15)))
  rows <- many_cells()
  expect_false(is_moderated(rows, own_noise = TRUE))
  expect_false(is_moderated(rows, looks = TRUE))
  # the same order in every block, passes without blocks, cells that are not judged
  fixed <- rows
  fixed$order <- match(fixed$arm, c("a", "b", "c")) + 3 * (fixed$block - 1)
  expect_false(is_moderated(fixed))
  expect_false(is_moderated(transform(rows, block = NA)))
  # a metric that says the same as another is no further cell
  twice <- rbind(transform(rows[rows$workload < "w06", ], metric = "one"), transform(
    rows[rows$workload < "w06", ], metric = "two", value = 2 * value
  ))
  twice$better <- "higher"
  expect_false(is_moderated(twice))
  other <- transform(many_cells(), metric = "two", order = rows$order)
  apart <- rbind(transform(rows, metric = "one"), other)
  apart$better <- "higher"
  expect_false(is_moderated(apart[apart$workload < "w04", ]))
  expect_true(is_moderated(apart[apart$workload < "w05", ]))
  # a hole leaves a cell out, and the others are enough
  with_hole <- many_cells(cells = 9)
  expect_identical(attr(weigh(with_hole[-2, ], baseline = "a"), "moderated")$cells, 8)
})

test_that("it is told, marked where it decides, left out where asked, and a choice of how firm", {
  set.seed(2)
  verdicts <- weigh(many_cells(4, 5, 15, effect = 3), baseline = "a", worth = 2)
  alone <- weigh(what_was_weighed(verdicts), baseline = "a", worth = 2, own_noise = TRUE)
  marked <- vapply(verdicts$codes, function(row) "moderated" %in% vapply(row, `[[`, "", "code"), NA)
  expect_identical(marked, verdicts$verdict != alone$verdict)
  expect_gt(sum(marked), 0)
  said <- paste(capture.output(print(verdicts)), collapse = " ")
  expect_match(said, "The noise of each comparison is\\s+steadied by that of 15 cells .worth [0-9.]+ degrees of")
  firm <- as.data.frame(how_firm(verdicts))
  mine <- firm[firm$choice == "each comparison with its own noise alone", ]
  expect_identical(mine$then, alone$verdict)
  path <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(what_was_weighed(verdicts)[c("workload", "arm", "block", "order", "value")], path, row.names = FALSE)
  told <- run_cli("weigh", path, "--baseline", "a", "--columns", "block=block", "--own-noise")
  expect_no_match(told$stdout, "steadied")
  expect_match(run_cli("weigh", path, "--baseline", "a", "--columns", "block=block")$stdout, "steadied")
  # further passes are worked out with it: as many as a fresh study of that size then needs
  open <- verdicts$verdict == "unclear" & is.finite(verdicts$more_passes)
  expect_lt(stats::median(verdicts$more_passes[open] / alone$more_passes[open]), 1)
})

test_that("a plan promises what its study finds", {
  folder <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}, {value: c}, {value: d}]", "blocks: 5",
    "workloads:", sprintf("  - {id: w%02d, command: 'run {arm}', scores: [{metric: score}]}", 1:15),
    "metrics: [{id: score, worth: 3, noise: 1, primary: true}]"
  )
  promised <- plan_study(folder, memory = FALSE)$power$detectable
  set.seed(4)
  studies <- simulated(120)
  found <- replicate(studies, {
    rows <- many_cells(4, 5, 15, effect = 100 * log(1 + promised / 100))
    mean(weigh(rows, baseline = "a")$differs %in% "yes")
  })
  expect_lt(abs(mean(found) - 0.8), 0.06)
  # where few blocks leave too much to chance, a plan says what then can be found
  few <- sub("w15", "w15", readLines(file.path(folder, "study.yml")))
  few <- few[!grepl("id: w(0[8-9]|1)", few)]
  few[grepl("^blocks", few)] <- "blocks: 3"
  writeLines(few, file.path(folder, "study.yml"))
  promised <- plan_study(folder, memory = FALSE)$power$detectable
  found <- replicate(studies, {
    rows <- many_cells(4, 3, 7, effect = 100 * log(1 + promised / 100))
    mean(weigh(rows, baseline = "a")$differs %in% "yes")
  })
  expect_gt(mean(found), 0.6)
  expect_lt(mean(found), 0.95)
})

test_that("a study that was sealed before keeps its method, with the new one beside it", {
  # `score` is the helper's line of a plan
  workloads <- rbind(sprintf("  - id: w%d", 1:8), "    command: [sh, -c, 'echo score 1$(date +%N | cut -c4-6)']", score)
  folder <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}, {value: c}]", "blocks: 3", "sensors: {rate: 0}",
    "metrics: [{id: score, worth: 1, primary: true}]", "workloads:", as.vector(workloads)
  )
  run_study(folder)
  new <- weigh(read_study(folder))
  expect_identical(read_study(folder)$sealed$method, 2L)
  expect_false(is.null(attr(new, "moderated")))
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
  guards <- DBI::dbGetQuery(con, "SELECT name FROM sqlite_master WHERE type = 'trigger'")$name
  for (guard in guards) DBI::dbExecute(con, paste0("DROP TRIGGER \"", guard, "\""))
  DBI::dbExecute(con, "UPDATE act SET detail = NULL WHERE kind = 'seal'")
  DBI::dbDisconnect(con)
  old <- weigh(read_study(folder))
  expect_null(attr(old, "moderated"))
  expect_identical(old$lower, weigh(read_study(folder), own_noise = TRUE)$lower)
  expect_match(findings(old)$message, "sealed before comparisons were steadied .* by the newer method", all = FALSE)
})

test_that("a report gives its own verdicts again, by the method it was written with", {
  set.seed(6)
  rows <- many_cells()
  page <- withr::local_tempfile(fileext = ".html")
  write_report(rows, page, baseline = "a", worth = 2)
  expect_identical(weigh(read_report(page))$lower, weigh(rows, baseline = "a", worth = 2)$lower)
  # one of before says nothing of a method
  lines <- readLines(page)
  writeLines(sub("\"method\":2,", "", lines, fixed = TRUE), page)
  expect_equal(weigh(read_report(page))$lower, weigh(rows, baseline = "a", worth = 2, own_noise = TRUE)$lower)
})

test_that("with noise known from elsewhere only how it is among the cells counts, whatever the day", {
  set.seed(11)
  sd <- exp(rnorm(15, 0, 1))
  rows <- many_cells(2, 5, 15, effect = 3, sd = sd)
  noise <- data.frame(workload = sprintf("w%02d", 1:15), metric = "score", noise = sd, df = 20)
  noise$source <- "earlier studies"
  verdicts <- weigh(rows, baseline = "a", noise = noise)
  # the same as of a study whose cells all vary as their own noise says, each shown in its own noise again
  here <- match(rows$workload, noise$workload)
  units <- log(1 + noise$noise / 100)
  plain <- transform(rows, value = exp(log(value / 100) / units[here] * 0.01))
  told <- weigh(plain, baseline = "a")
  half <- function(v) log(1 + v$upper / 100) - log(1 + v$lower / 100)
  expect_equal(half(verdicts), half(told) * units[match(verdicts$workload, noise$workload)] / 0.01, tolerance = 1e-6)
  # a day on which everything is twice as noisy, remembered as it was before, is no other study
  noise$noise <- 100 * (exp(units / 2) - 1)
  expect_equal(weigh(rows, baseline = "a", noise = noise)$lower, verdicts$lower, tolerance = 1e-6)
  expect_gt(attr(verdicts, "moderated")$df[1], 2 * attr(weigh(rows, baseline = "a"), "moderated")$df[1])
  expect_match(paste(capture.output(print(verdicts)), collapse = " "), "relative to earlier\\s+studies")
  # one cell that nobody knows, and it is not used
  expect_equal(weigh(rows, baseline = "a", noise = noise[-1, ])$lower, weigh(rows, baseline = "a")$lower)
})

test_that("boots of one arm each are steadied where their cells are alike, and never made surer by their own", {
  boots <- function(sd = rep(1, 15), effect = 0) {
    do.call(rbind, lapply(1:15, function(k) {
      arm <- sample(rep(c("a", "b"), 5))
      level <- sd[k] * rnorm(10) + effect * (arm == "b")
      data.frame(
        workload = paste0("w", k), arm = rep(arm, each = 2), boot = rep(1:10, each = 2), order = 1:20,
        value = 100 * exp(0.01 * (rep(level, each = 2) + 0.2 * rnorm(20)))
      )
    }))
  }
  set.seed(4)
  expect_false(is_moderated(boots(exp(rnorm(15, 0, 1)))))
  studies <- simulated(60)
  found <- replicate(studies, {
    rows <- boots(effect = 3)
    v <- weigh(rows, baseline = "a")
    own <- weigh(rows, baseline = "a", own_noise = TRUE)
    c(mean(v$differs %in% "yes"), mean(own$differs %in% "yes"), !is.null(attr(v, "moderated")))
  })
  # in nearly half cells seem to lie apart by chance, and are left alone
  expect_gt(mean(found[3, ]), 0.3)
  # by plain matrices: 60 and 46 of 100
  expect_gt(mean(found[1, ]), mean(found[2, ]))
  expect_gt(mean(found[1, ]), 0.5)
  # boots that lie in blocks, each of one arm, are blocks
  rows <- many_cells()
  blocks <- weigh(rows, baseline = "a")
  rows$boot <- paste(rows$block, rows$arm)
  expect_equal(weigh(rows, baseline = "a")$lower, blocks$lower)
})

test_that("the best set and the change between contexts have the variance of the verdicts", {
  set.seed(21)
  studies <- simulated(40)
  out <- replicate(studies, {
    rows <- many_cells(4, 5, 15, effect = 3)
    ruled <- function(...) {
      best <- weigh_overall(weigh(rows, baseline = "a", ...))$best
      best <- best[!is.na(best$workload), ]
      c(mean(!best$could[best$arm == "a"]), mean(!best$could[best$arm != "a"]))
    }
    c(ruled(), ruled(own_noise = TRUE))
  })
  # b, c and d are equally good, and a is 3 standard deviations of a pass behind
  expect_gt(mean(out[1, ]), mean(out[3, ]) + 0.05)
  expect_lt(mean(out[2, ]), 0.05)
  # the change between contexts in shared blocks is a comparison like any other: that of the differences
  pair <- function(effect) {
    one <- many_cells(2, 5, 15)
    other <- many_cells(2, 5, 15, effect = effect)
    other$order <- one$order <- NULL
    transform(rbind(cbind(one, context = "x"), cbind(other, context = "y")), pass = paste(pass, context))
  }
  rows <- pair(4)
  of <- weigh_overall(weigh(rows, baseline = "a"))$contexts
  wide <- merge(rows[rows$context == "x", ], rows[rows$context == "y", ], by = c("workload", "block", "arm"))
  gap <- weigh(transform(wide, value = value.y / value.x)[c("workload", "block", "arm", "value")], baseline = "a")
  expect_equal(of$lower, gap$lower[match(of$workload, gap$workload)], tolerance = 1e-8)
  # in blocks of their own errors add up, and are no wider than of two that are not steadied
  apart <- rows
  apart$block <- paste(apart$context, apart$block)
  steady <- weigh_overall(weigh(apart, baseline = "a"))$contexts
  alone <- weigh_overall(weigh(apart, baseline = "a", own_noise = TRUE))$contexts
  expect_lt(mean(steady$upper - steady$lower), mean(alone$upper - alone$lower))
})
