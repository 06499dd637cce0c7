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

test_that("the pass that stands for its arm is the middle one by what is said", {
  d <- figure_data(study, "sensors", "pebblemark")
  expect_identical(attr(d, "by"), "score")
  scores <- subset(study$readings, workload == "pebblemark" & metric == "score" & arm == "500" & role == "counted")
  scores <- scores[!is.na(scores$value), ]
  middle <- scores$pass[order(scores$value)][(nrow(scores) + 1) %/% 2]
  expect_identical(unique(d$pass[d$arm == "500"]), middle)
  expect_match(plot_sensors(study, "pebblemark")$labels$subtitle, "middle pass of each arm, by score", fixed = TRUE)
  expect_match(plot_sensors(study, "harbour")$labels$subtitle, "middle pass of each arm, by average", fixed = TRUE)
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

# two contexts that differ by half, in logs
contexts_study <- function(env = parent.frame()) {
  folder <- local_plan(
    "setting: {name: system, baseline: A}", "arms: [{value: A}, {value: B}]", "blocks: 3",
    "context: {name: preset, levels: [low, high]}", "metrics: [{id: fps_avg, worth: 2, primary: true}]",
    "frames_layout: {column: frame_time_ms, holds: durations, unit: ms}", "workloads: [{id: harbour}]",
    env = env
  )
  passes <- expand.grid(arm = c("A", "B"), context = c("low", "high"), block = 1:3, stringsAsFactors = FALSE)
  passes$pass <- sprintf("q%02d", 1:12)
  passes$workload <- "harbour"
  utils::write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE)
  dir.create(file.path(folder, "frames"))
  for (i in 1:12) {
    level <- (if (passes$arm[i] == "A") 10 else 11) * (if (passes$context[i] == "low") 1 else 2)
    ms <- simulate_frames(12, mean_ms = level, loading_seconds = 0, seed = i)
    writeLines(c("frame_time_ms", ms), file.path(folder, "frames", paste0(passes$pass[i], ".csv")))
  }
  folder
}

test_that("no figure, warning or limiting part mixes contexts", {
  folder <- contexts_study()
  study <- read_study(folder)
  middle <- function(context) tapply(trace$median_ms, trace$arm, median)
  for (context in c("low", "high")) {
    trace <- figure_data(study, "trace", context = context)
    expect_identical(unique(trace$context), context)
    expect_every(abs(middle()[c("A", "B")] / c(10, 11) / (if (context == "low") 1 else 2) - 1) < 0.1)
    expect_match(plot_trace(study, context = context)$labels$title, context)
  }
  expect_error(figure_data(study, "trace", context = "lo"), class = "honestmargin_error_input", "low")
  expect_identical(unique(figure_data(study, "change", context = "low")$context), "low")
  page <- withr::local_tempfile(fileext = ".html")
  write_report(study, page)
  about <- xml2::xml_attr(xml2::xml_find_all(xml2::read_html(page), "//figure/div"), "aria-label")
  expect_setequal(about[grepl("frame times", about)], paste("frame times over time in harbour,", c("low", "high")))
  shown <- run_cli("weigh", folder, "--context", "low", "--format", "csv")
  expect_identical(unique(utils::read.csv(text = shown$stdout)$context), "low")
  none <- run_cli("weigh", folder, "--workload", "harbor")
  expect_identical(none$status, 3L)
  expect_match(none$stderr, "harbour")
})
