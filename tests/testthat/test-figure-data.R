study <- read_study(demo_study())

test_that("figures draw the numbers of the verdicts", {
  v <- weigh(study)
  d <- figure_data(v, "change", "harbour", "fps_avg")
  expect_equal(d$lower, v$lower[v$workload == "harbour" & v$metric == "fps_avg"])
  p <- plot_change(study, "harbour", "fps_avg")
  expect_s3_class(p, "ggplot")
  drawn <- lapply(seq_along(p$layers), function(i) ggplot2::layer_data(p, i))
  has <- function(column, values) {
    any(vapply(
      drawn, function(l) column %in% names(l) && setequal(round(l[[column]], 6), round(values, 6)), NA
    ))
  }
  expect_true(has("xend", d$upper))
  expect_true(has("xmax", 2))
})

test_that("the interval of a pass figure is the verdict's, in the metric's unit", {
  d <- figure_data(study, "passes", "harbour", "fps_avg")
  v <- weigh(study)
  v <- v[v$workload == "harbour" & v$metric == "fps_avg" & v$arm == "2000", ]
  mean <- d[d$kind == "mean" & d$arm == "2000", ]
  expect_equal(mean$upper, v$baseline_value * (1 + v$upper / 100))
  expect_equal(sum(d$kind == "pass"), 20)
  expect_equal(sum(d$state == "excluded"), 1)
})

test_that("a thinned trace keeps the slowest frame and the length", {
  frames <- pass_trace(study, "p007")
  d <- honestmargin:::thin_trace(frames$frame_time_ms, 300)
  expect_equal(max(d$slowest_ms), max(frames$frame_time_ms))
  expect_lte(nrow(d), 300)
  expect_gt(max(d$time_s), 59)
})

test_that("unknown workloads, kinds and too many panels are named", {
  expect_message_of(plot_change(study, "harbor"), "honestmargin_error_input", "did you mean 'harbour'")
  expect_message_of(plot_trace(study, "pebblemark"), "honestmargin_error_input", "no frame log")
  expect_message_of(
    plot_change(study, metric = unique(study$readings$metric)), "honestmargin_error_input", "no metric 'frames'"
  )
  every <- unique(weigh(study)$metric)
  expect_message_of(plot_change(study, metric = every), "honestmargin_error_needed", "panels do not fit")
})
