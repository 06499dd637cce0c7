series_of <- function(...) honestmargin:::sensor_series(data.frame(..., check.names = FALSE))

test_that("means, energy, rise and battery use are what arithmetic says", {
  s <- series_of(
    time_s = 0:10, `power processor [W]` = seq(10, 30, by = 2), `power graphics [W]` = rep(100, 11),
    `temperature processor [C]` = 50:60, `battery BAT0 [%]` = seq(80, 79, by = -0.1), `clock core 0 [MHz]` = 3000,
    `clock core 1 [MHz]` = 5000
  )
  r <- honestmargin:::sensor_readings(s, frames = 1200, asked = list(
    series = "processor_clock", MHz = 5000
  ), limits = list(
    list(series = "processor_temperature", above = 57), list(series = "processor_clock", below = 4500)
  ))
  # trapezoids of a straight line from 10 to 30 W over 10 s; 100 W over 10 s
  expect_equal(r[["processor_energy"]], 200)
  expect_equal(r[["graphics_energy"]], 1000)
  expect_equal(r[["energy_per_frame"]], 1)
  expect_equal(r[["processor_power_mean"]], 20)
  expect_equal(r[["processor_power_p95"]], 29)
  expect_equal(r[["processor_temperature_rise"]], 10)
  expect_equal(r[["processor_temperature_max"]], 60)
  expect_equal(r[["battery_per_hour"]], 360)
  expect_equal(r[["clock_held"]], 80)
  expect_equal(r[["processor_temperature_above_57"]], 300 / 11)
  expect_equal(r[["processor_clock_below_4500"]], 100)
  # unequal steps, against a quadrature of the same straight lines
  t <- c(0, 0.5, 2, 2.2, 7)
  w <- c(5, 9, 2, 4, 4)
  expect_equal(
    honestmargin:::integrate_samples(t, w), stats::integrate(stats::approxfun(t, w), 0, 7, subdivisions = 1000)$value,
    tolerance = 1e-3
  )
  expect_length(honestmargin:::sensor_readings(s[1:2, ]), 0)
})

test_that("energy is of the time in which frames counted, not of a menu between, nor of a sensor's half", {
  # 10 W in play for 2 x 3 s, 90 W in the menu of 4 s between
  play <- rep(c(10, 90, 10), c(31, 39, 31))
  s <- series_of(
    time_s = seq(0, 10, 0.1), `power graphics [W]` = play, `battery x [%]` = c(rep(50, 31), rep(40, 39), rep(30, 31)),
    `energy processor x [J]` = c(0, cumsum(rep(c(2, 9, 2), c(30, 39, 31))))
  )
  frames <- honestmargin:::series_within(s, c(seq(0, 2.99, 0.01), seq(7, 9.99, 0.01)), rep(10, 600))
  r <- honestmargin:::sensor_readings(frames, 600, seconds = 6)
  expect_equal(r[["graphics_energy"]], 60)
  # 2 J a tenth of a second
  expect_equal(r[["processor_energy"]], 120)
  expect_equal(r[["energy_per_frame"]], 0.3)
  expect_equal(r[["battery_per_hour"]], 0)
  # the counter ended after a third of the time
  frames$processor_energy[frames$time_s > 2] <- NA
  expect_false("processor_energy" %in% names(honestmargin:::sensor_readings(frames, 600, seconds = 6)))
})

test_that("power comes from an energy counter, gaps and a sensor that vanishes are left out", {
  s <- series_of(
    time_s = c(0, 1, 3, 4), `energy processor package-0 [J]` = c(0, 10, 40, NA),
    `load graphics [%]` = c(50, NA, 70, NA)
  )
  expect_equal(s$processor_power, c(NA, 10, 15, NA))
  # rows of a second log, at a pace of its own, stand between those of the counter
  two <- series_of(
    time_s = c(0, 0.5, 1, 2), `energy processor x [J]` = c(0, NA, 10, 30), `load graphics [%]` = c(NA, 9, NA, NA)
  )
  expect_equal(two$processor_power, c(NA, NA, 10, 20))
  r <- honestmargin:::sensor_readings(s)
  expect_equal(r[["processor_energy"]], 40)
  expect_equal(r[["graphics_load_mean"]], 60)
})

test_that("sensors are recorded for all, judged only where they are named", {
  study <- read_study(demo_study())
  verdicts <- weigh(study)
  power <- verdicts[verdicts$metric == "graphics_power_mean" & verdicts$workload == "harbour", ]
  expect_identical(unique(power$role), "exploratory")
  # at 2000 Hz the graphics part waits: less power, by construction
  expect_lt(power$change[power$arm == "2000"], -4)
  named <- weigh(study, primary = c("fps_avg", "graphics_power_mean"))
  expect_identical(unique(named$role[named$metric == "graphics_power_mean"]), "primary")
  expect_false(any(verdicts$metric == "graphics_load_mean"))
  # in a table that somebody typed every metric is primary
  typed <- data.frame(
    arm = rep(c("a", "b"), 4), metric = "processor_power_mean", value = c(50, 48, 51, 47, 50, 48, 52, 47)
  )
  expect_identical(weigh(typed, baseline = "a")$role, "primary")
})

limit_of <- function(...) {
  honestmargin:::limiting_part(series_of(time_s = seq(0, 9.5, by = 0.5), ...))
}

test_that("the limiting part follows from the evidence, and nothing is made up where sensors are missing", {
  busy <- function(graphics, all, core) {
    list(`load graphics [%]` = graphics, `load processor [%]` = all, `load core 0 [%]` = core)
  }
  part <- function(...) do.call(limit_of, list(...))$limiting
  expect_identical(do.call(limit_of, busy(98, 40, 70))$limiting, "graphics")
  expect_identical(do.call(limit_of, busy(60, 95, 99))$limiting, "processor")
  expect_identical(do.call(limit_of, busy(60, 40, 97))$limiting, "one thread")
  expect_identical(do.call(limit_of, busy(60, 40, 70))$limiting, "none seen")
  blind <- limit_of(`load processor [%]` = 40)
  expect_identical(blind$limiting, "unknown")
  expect_identical(blind$evidence[[1]]$values$missing, "graphics_load")
  expect_identical(limit_of(`fan x [rpm]` = 1000)$limiting, "unknown")
  expect_identical(honestmargin:::limiting_part(NULL)$limiting, "unknown")
  full <- do.call(
    limit_of, c(busy(80, 40, 70), list(`memory graphics used [MB]` = 7950, `memory graphics total [MB]` = 8000))
  )
  expect_identical(full$limiting, "graphics memory")
  clock <- rep(c(5000, 4200), each = 10)
  hot <- do.call(limit_of, c(busy(80, 85, 88), list(
    `temperature processor [C]` = rep(c(85, 97), each = 10), `clock core 0 [MHz]` = clock
  )))
  expect_identical(hot$limiting, "heat")
  expect_equal(hot$share, 50)
  capped <- do.call(limit_of, c(busy(80, 85, 88), list(
    `power processor [W]` = rep(c(50, 65), each = 10), `limit processor package-0 [W]` = 65,
    `clock core 0 [MHz]` = clock
  )))
  expect_identical(capped$limiting, "power")
  rising <- do.call(limit_of, c(busy(80, 85, 88), list(`throttles processor [count]` = rep(0:9, each = 2))))
  expect_identical(rising$limiting, "heat")
})

test_that("the demo study says what limited each arm", {
  by_arm <- honestmargin:::limiting_by_arm(read_study(demo_study()))
  at <- function(workload, arm) by_arm$limiting[by_arm$workload == workload & by_arm$arm == arm]
  expect_identical(vapply(c("125", "500", "1000", "2000"), at, "", workload = "harbour", USE.NAMES = FALSE), c(
    "graphics", "graphics", "graphics", "one thread"
  ))
  expect_identical(at("tunnel", "125"), "limiter")
  expect_identical(at("pebblemark", "2000"), "processor")
  second <- limiting_table(read_study(demo_study()), by = "second")
  busy <- second[second$workload == "harbour" & second$arm == "2000", ]
  expect_gt(mean(busy$limiting == "one thread"), 0.95)
  expect_every(busy$busiest_core_load[busy$limiting == "one thread"] >= 90)
})
