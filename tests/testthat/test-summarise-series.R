test_that("of several devices of a kind each stays a series, and the one at work is the one that is judged", {
  frames <- simulate_frames(5, 10, spread = 0.15, seed = 1)
  sensors <- data.frame(
    time_s = 0:4, `load graphics 0 [%]` = 1, `load graphics 1 [%]` = 98, `clock graphics 0 [MHz]` = 300,
    `clock graphics 1 [MHz]` = 2100, check.names = FALSE
  )
  folder <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads: [{id: w}]",
    "metrics: [{id: fps_avg}]"
  )
  for (kind in c("frames", "sensors")) dir.create(file.path(folder, kind))
  writeLines(c("pass,workload,arm", "p1,w,a", "p2,w,b"), file.path(folder, "passes.csv"))
  for (pass in c("p1", "p2")) {
    writeLines(c("ms", frames), file.path(folder, "frames", paste0(pass, ".csv")))
    write.csv(sensors, file.path(folder, "sensors", paste0(pass, ".csv")), row.names = FALSE)
  }
  study <- read_study(folder)
  value <- function(id) unique(study$readings$value[study$readings$metric == id])
  expect_identical(value("graphics_load_mean"), 98)
  expect_identical(value("graphics_0_load_mean"), 1)
  expect_identical(value("graphics_clock_mean"), 2100)
  expect_identical(value("graphics_0_clock_max"), 300)
  expect_identical(unique(limiting_table(study)$limiting), "graphics")
  drawn <- figure_data(study, "sensors")
  expect_true("graphics 0 load (%)" %in% drawn$label)
})
