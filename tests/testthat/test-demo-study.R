study <- read_study(demo_study())
verdicts <- weigh(study)
row <- function(workload, metric, arm) {
  verdicts[verdicts$workload == workload & verdicts$metric == metric & verdicts$arm == arm, ]
}

test_that("the verdicts on the demo study equal the truth that was put in", {
  truth <- yaml::read_yaml(file.path(dirname(demo_study()), "truth.yml"))$changes_percent
  for (workload in c("harbour", "pebblemark")) {
    for (metric in names(truth[[workload]])) {
      for (arm in names(truth[[workload]][[metric]])) {
        change <- truth[[workload]][[metric]][[arm]]
        v <- row(workload, metric, arm)
        expect_true(v$lower <= change && change <= v$upper, info = paste(workload, metric, arm))
        expect_identical(v$verdict %in% c("loss", "clear loss"), change < 0, info = paste(workload, metric, arm))
        expect_false(v$verdict %in% c("gain", "clear gain"), info = paste(workload, metric, arm))
      }
    }
  }
  expect_identical(unique(verdicts$verdict[verdicts$workload == "tunnel" & verdicts$metric == "fps_avg"]), "blocked")
  lows <- verdicts$verdict[verdicts$workload == "tunnel" & verdicts$metric == "low1_quantile"]
  expect_false(any(lows %in% c("blocked", "loss", "gain")))
})

test_that("the simulator gives the committed data again from its seed", {
  again <- honestmargin:::simulate_demo_study()
  expect_equal(pass_trace(study, "p007")$frame_time_ms, round(again$frames$p007, 3))
  scores <- study$readings[study$readings$metric == "score", ]
  expect_identical(scores$value, again$passes$score[match(scores$pass, again$passes$pass)])
})

test_that("crash and exclusion are counted and shown", {
  o <- outcome_table(study)
  expect_identical(o$crash[o$workload == "tunnel" & o$arm == "500"], 1L)
  expect_identical(o$excluded[o$workload == "harbour" & o$arm == "1000"], 1L)
  expect_match(row("tunnel", "low1_quantile", "500")$reason, "1 of 5 passes of 500 failed")
  with <- weigh(study, with_excluded = TRUE)
  expect_gt(
    with$n_arm[with$workload == "harbour" & with$metric == "fps_avg" & with$arm == "1000"],
    row("harbour", "fps_avg", "1000")$n_arm
  )
})

test_that("one arm alone at a ceiling gives a bound, never negligible", {
  held <- study
  held$ceilings <- held$ceilings[held$ceilings$arm == "2000", ]
  v <- weigh(held)
  bound <- v[v$workload == "tunnel" & v$metric == "fps_avg" & v$arm == "2000", ]
  expect_match(bound$reason, "^at least")
  expect_false(bound$verdict == "negligible")
})

test_that("sentences carry number, unit, interval and verdict", {
  said <- sentences(verdicts)
  expect_named(said, c("harbour", "tunnel", "pebblemark"))
  expect_match(said[["harbour"]], "2000 Hz clearly loses: average -3.4 % \\(-4.7 to -2.1 %\\)")
  expect_match(said[["tunnel"]], "blocked: 500, 1000 and 2000 Hz in average \\(both arms are limited to 120 fps")
  every <- sentences(verdicts, by = "verdict")
  expect_length(every, nrow(verdicts))
  expect_every(grepl("[exploratory]", every[verdicts$role == "exploratory"], fixed = TRUE))
})

test_that("the stand-in game plays as its simulator says", {
  log <- withr::local_tempfile(fileext = ".csv")
  script <- system.file("stand-in", "brinewheel.R", package = "honestmargin")
  run <- processx::run(
    file.path(R.home("bin"), "Rscript"),
    c(script, "--scene", "tunnel", "--rate", "500", "--log", log, "--seconds", "8", "--seed", "5")
  )
  expect_match(run$stdout, "average 1[01][0-9]")
  expect_equal(sum(read_frames(log)$frame_time_ms), 8000, tolerance = 0.02)
  bad <- processx::run(file.path(R.home("bin"), "Rscript"), c(script, "--scene", "tunnel"), error_on_status = FALSE)
  expect_identical(bad$status, 2L)
})
