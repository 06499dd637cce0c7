one <- c(
  "game,run,fps,power draw (W),graphics temperature (C)", "quay,1,100.1,210,70", "quay,2,101.0,212,71",
  "tower,1,99.8,209,71"
)

test_that("one machine alone: each score with its range, what stands beside it, and a year of running it", {
  path <- write_lines(one)
  found <- machine_numbers(read_readings(path, arm = "old laptop", primary = character()), hours = 6, kwh = 0.3)
  quay <- found$scores[found$scores$workload == "quay", ]
  expect_equal(c(quay$lowest, quay$average, quay$highest, quay$passes), c(100.1, 100.55, 101, 2))
  expect_setequal(found$beside$kind, c("power", "temperature"))
  expect_equal(found$running$cost[found$running$workload == "quay"], 0.211 * 6 * 365 * 0.3)
  said <- run_cli("ask", path, "machine", "--arm", "old laptop", "--hours", "6", "--kwh", "0.3")
  expect_identical(said$status, 0L)
  expect_match(said$stdout, "old laptop up to 211 W in quay [(]139 a year[)]")
  expect_every(nchar(strsplit(said$stdout, "\n")[[1]]) <= 80)
})

test_that("of a study the share of the time that each part was at its limit is that of its seconds", {
  study <- read_study(demo_study())
  found <- machine_numbers(study)
  seconds <- limiting_table(study, by = "second")
  for (i in sample(nrow(found$bound), 4)) {
    row <- found$bound[i, ]
    mine <- seconds$limiting[seconds$workload == row$workload & seconds$arm == row$arm & seconds$limiting != "unknown"]
    expect_equal(row$share, 100 * mean(mine == row$limiting))
  }
  # watts of two parts are summed, and that is said
  expect_match(run_cli("ask", demo_study(), "machine")$stdout, "the rest of the machine is[[:space:]]+not in it")
  power <- study$readings[study$readings$workload == "harbour" & study$readings$arm == "125", ]
  counted <- honestmargin:::is_counted(power)
  of <- function(id) mean(power$value[power$metric == id & counted & is.na(power$segment)])
  running <- found$running[found$running$workload == "harbour" & found$running$arm == "125", ]
  expect_equal(running$watts, of("processor_power_mean") + of("graphics_power_mean"))
})

test_that("several watts that somebody typed are not summed, since which is the whole is not known", {
  rows <- data.frame(arm = "a", fps = c(100, 101), wall = c(200, 201), card = c(150, 151))
  names(rows)[3:4] <- c("wall (W)", "card (W)")
  found <- machine_numbers(read_readings(rows, primary = character()), kwh = 0.3)
  expect_null(found$running)
})
