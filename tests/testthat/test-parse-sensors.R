log_of <- function(..., env = parent.frame()) {
  path <- withr::local_tempfile(fileext = ".csv", .local_envir = env)
  writeLines(c(...), path, useBytes = TRUE)
  path
}
at <- function(text, zone = "UTC") as.numeric(as.POSIXct(text, tz = zone))

test_that("units stand in headings or in cells, and parts are told by the trade's words", {
  log <- read_sensors(log_of(
    paste0(
      "Time;CPU clock [GHz];CPU core #3 load (%);GPU temp (\u00b0F);VRAM used (GiB);Board power;Fan (RPM);",
      "Battery charge (%);Comment"
    ),
    "0;4,2;55;212;2;65 W;1200;80;x", "0,5;4,1;60;32;3;70 W;1250;79;y"
  ))
  expect_identical(attr(log, "absolute"), FALSE)
  expect_equal(log$time_s, c(0, 0.5))
  expect_equal(log[["clock processor [MHz]"]], c(4200, 4100))
  expect_equal(log[["load core 3 [%]"]], c(55, 60))
  expect_equal(log[["temperature graphics [C]"]], c(100, 0))
  expect_equal(log[["memory graphics used [MB]"]], c(2147.483648, 3221.225472))
  expect_equal(log[["power Board power [W]"]], c(65, 70))
  expect_equal(log[["battery Battery charge [%]"]], c(80, 79))
  expect_match(findings(log)$message, "left out of .*Comment")
})

test_that("times are read in many forms, and never guessed where two are possible", {
  times <- function(one, two, ...) read_sensors(log_of("Time,Clock [MHz]", paste0(one, ",1"), paste0(two, ",2")), ...)
  read <- function(...) times(...)$time_s
  utc <- list(zone = "UTC")
  expect_equal(
    read("2026-03-14 18:00:00.25", "2026-03-14 18:00:00.75", utc), at("2026-03-14 18:00:00") + c(0.25, 0.75)
  )
  expect_equal(read("14.03.2026 18:00:01", "14.03.2026 18:00:02", utc), at("2026-03-14 18:00:00") + 1:2)
  expect_equal(read("2026-03-14T18:00:01+02:00", "2026-03-14T18:00:02+02:00", utc), at("2026-03-14 16:00:00") + 1:2)
  expect_equal(
    read("2026-03-14T18:00:01Z", "2026-03-14T18:00:02Z", list(zone = "Asia/Tokyo")), at("2026-03-14 18:00:00") + 1:2
  )
  expect_equal(read("1773511200.5", "1773511201"), c(1773511200.5, 1773511201))
  expect_equal(read("1773511200500", "1773511201000"), c(1773511200.5, 1773511201))
  expect_equal(
    read("23:59:59.5", "00:00:00.5", list(date = "2026-03-14", zone = "UTC")), at("2026-03-15") + c(-0.5, 0.5)
  )
  expect_equal(read("0:59", "1:01"), c(59, 61))
  expect_equal(read("14 Mar 2026 18:00:01", "14 Mar 2026 18:00:02", utc), at("2026-03-14 18:00:00") + 1:2)
  expect_equal(
    read("5", "6", list(start = "2026-03-14 18:00:00", zone = "UTC", offset = -2)), at("2026-03-14 18:00:00") + 3:4
  )
  expect_equal(read("03/14/2026 18:00:01", "03/14/2026 18:00:02", utc), at("2026-03-14 18:00:00") + 1:2)
  expect_message_of(
    times("03/04/2026 18:00:01", "03/04/2026 18:00:02"), "honestmargin_error_input", "read in two ways"
  )
  form <- list(form = "%d/%m/%Y %H:%M:%S", zone = "UTC")
  expect_equal(read("03/04/2026 18:00:01", "03/04/2026 18:00:02", form), at("2026-04-03 18:00:00") + 1:2)
  # half days, in whatever language the machine speaks
  american <- c("3/14/2026 11:59:59 AM", "3/14/2026 12:00:00 PM")
  expect_equal(read(american[1], american[2], utc), at("2026-03-14 12:00:00") + -1:0)
  expect_equal(read("14/03/2026 12:00:01 am", "14/03/2026 1:00:01 a.m.", utc), at("2026-03-14 00:00:01") + c(0, 3600))
  expect_equal(
    read("6:00:01 PM", "6:00:02 PM", list(date = "2026-03-14", zone = "UTC")), at("2026-03-14 18:00:00") + 1:2
  )
  expect_message_of(times("3/14/2026 0:30:01 PM", "3/14/2026 0:30:02 PM"), "honestmargin_error_input", "is not a time")
  expect_message_of(times("6:00:01 PM", "13:00:02 PM"), "honestmargin_error_input", "'13:00:02 PM' is not a time")
  expect_message_of(times("6:00:01 PM", "6:00:02"), "honestmargin_error_input", "'6:00:02' is not a time")
  expect_message_of(times("soon", "later"), "honestmargin_error_input", "'soon' is not a time")
  separate <- read_sensors(log_of("Date,Time,Clock [MHz]", "2026-03-14,18:00:01,1", "2026-03-14,18:00:02,2"), utc)
  expect_equal(separate$time_s, at("2026-03-14 18:00:00") + 1:2)
  # the cells tell, in whatever language the heading is
  german <- read_sensors(
    log_of(
      "Datum;Uhrzeit;Takt [MHz];W\u00e4rme [C]", "14.03.2026;18:00:01,5;4.200;60,5",
      "14.03.2026;18:00:02,5;4.210;61,0"
    ),
    utc
  )
  expect_equal(german$time_s, at("2026-03-14 18:00:00") + c(1.5, 2.5))
  expect_equal(german[["clock Takt [MHz]"]], c(4200, 4210))
})

test_that("a layout maps sensors, with factors for values that are shown at half", {
  layout <- log_of(
    "time: t", "zone: UTC", "sensors:", "  mem: {quantity: clock, part: memory, unit: MHz, factor: 2}",
    "  skip me: false"
  )
  log <- read_sensors(log_of("t,mem,skip me", "1,1600,5", "2,1601,6"), layout)
  expect_equal(log[["clock memory [MHz]"]], c(3200, 3202))
  expect_identical(ncol(log), 2L)
  expect_message_of(
    read_sensors(log_of("t,a [W]", "1,2"), list(times = "t")), "honestmargin_error_input",
    "unknown layout key 'times'"
  )
  wrong <- list(time = "t", sensors = list(a = list(quantity = "heat")))
  expect_message_of(read_sensors(log_of("t,a", "1,2"), wrong), "honestmargin_error_input", "'heat' is no quantity")
  expect_message_of(read_sensors(log_of("t,a", "3,2", "1,4")), "honestmargin_error_input", "no time column")
  expect_message_of(read_sensors(log_of("time,a", "1,2", "3,4")), "honestmargin_error_input", "no sensor")
  # gaps, a repeated heading in the middle, a byte-order mark
  gaps <- read_sensors(log_of("\ufefftime,CPU (W)", "1,10", "2,", "time,CPU (W)", "3,n/a", "4,12"))
  expect_equal(gaps[["power processor [W]"]], c(10, NA, NA, 12))
})

test_that("a log that covers many passes is cut to each by time, with the offset of its clock", {
  folder <- local_plan(
    quick, "    settle: 1", "    command: sleep 2; echo score 5{arm}",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  )
  began <- as.numeric(Sys.time())
  run_study(folder, most = 3)
  ended <- as.numeric(Sys.time())
  seconds <- seq(began - 5, ended + 5, by = 0.1)
  # the log's clock is 100 s ahead
  stamps <- format(as.POSIXct(seconds + 100, origin = "1970-01-01", tz = "UTC"), "%Y-%m-%d %H:%M:%OS2")
  log <- log_of("Time,CPU package (W),CPU (C)", paste0(stamps, ",50,", round(seconds - began, 1)))
  zone <- log_of("zone: UTC")
  missed <- run_cli("add", folder, "--sensors", log, "--layout", zone)
  expect_identical(missed$status, 3L)
  expect_match(missed$stderr, "covers no pass")
  added <- run_cli("add", folder, "--sensors", log, "--layout", zone, "--offset", "-100")
  expect_identical(added$status, 0L)
  expect_match(added$stderr, "3 passes")
  twice <- run_cli("add", folder, "--sensors", log, "--layout", zone, "--offset", "-100")
  expect_identical(twice$status, 3L)
  expect_match(twice$stderr, "was added before")
  study <- read_study(folder)
  rise <- study$readings$value[study$readings$metric == "processor_temperature_mean"]
  expect_length(rise, 3)
  expect_every(diff(rise) > 2.9)
  # the second in which the setting settles is no part of the pass
  expect_gt(study$readings$value[study$readings$metric == "processor_temperature_min"][1], 0.9)
  energy <- study$readings[study$readings$metric == "processor_energy", ]
  expect_identical(nrow(energy), 3L)
  # 50 W for as long as the pass lasted on this machine
  expect_every(abs(energy$value - 50 * study$passes$seconds[match(energy$pass, study$passes$pass)]) < 12)
  expect_identical(sum(study_history(folder)$kind == "sensors added"), 3L)
})

test_that("a log that comes later gives its readings to segments and flips too", {
  writes <- paste(
    "exec 3> \"$HONESTMARGIN_BEACON_FILE\"; echo beacon 1 >&3; for part in \"$1\" \"$2\"; do echo $part >&3;",
    "for i in $(seq 300); do echo frame 10 >&3; done; done; sleep 6"
  )
  later <- function(first, second, ...) {
    folder <- local_plan(
      "setting: {name: rate, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 1", "sensors: {rate: 0}",
      "metrics: [{id: fps_avg, worth: 2}]", "workloads:", "  - id: lap", "    beacon: true", ...,
      paste0("    command: |\n      bash -c '", writes, "' x '", first, "' '", second, "'"),
      env = parent.frame()
    )
    run_study(folder, most = 1)
    con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
    begun <- DBI::dbGetQuery(con, "SELECT played FROM ended")$played[1]
    DBI::dbDisconnect(con)
    at <- as.numeric(as.POSIXct(begun, format = "%Y-%m-%dT%H:%M:%OS", tz = "UTC")) + seq(-9, 9, 0.1)
    stamps <- format(as.POSIXct(at, origin = "1970-01-01", tz = "UTC"), "%Y-%m-%d %H:%M:%OS2")
    add_sensors(folder, log_of("Time,CPU (C)", paste0(stamps, ",", rep(c(60, 80), c(121, 60)))), list(zone = "UTC"))
    heat <- subset(read_study(folder)$readings, metric == "processor_temperature_mean")
    structure(
      heat$value,
      names = paste(heat$pass, heat$part, heat$segment), limiting = limiting_table(read_study(folder))
    )
  }
  segments <- later("segment harbour", "segment tunnel", "    segments: [harbour, tunnel]")
  expect_lt(max(abs(segments[c("p001 NA harbour", "p001 NA tunnel", "p001 NA NA")] - c(60, 80, 70))), 6)
  flips <- later("arm 1", "arm 2", "    toggle: {settle: 0.5}")
  expect_lt(max(abs(flips[c("p001 1 NA", "p001 2 NA")] - c(60, 80))), 2)
  expect_identical(attr(flips, "limiting")$part, 1:2)
})

test_that("samples of one second are all kept, and times that run backwards are told", {
  log <- read_sensors(log_of(
    "Time,Clock [MHz]", "2026-03-14 18:00:01,1", "2026-03-14 18:00:01,2", "2026-03-14 18:00:02,3",
    "2026-03-14 18:00:02,4", "2026-03-14 18:00:09,5", "2026-03-14 18:00:09,6"
  ), list(zone = "UTC"))
  expect_equal(log$time_s - at("2026-03-14 18:00:00"), c(1, 1.5, 2, 2.5, 9, 9.5))
  expect_equal(log[[2]], 1:6)
  expect_identical(nrow(findings(log)), 0L)
  back <- read_sensors(log_of("Time,Clock [MHz]", "1,1", "2,2", "3,3", "0.5,4", "1.5,5"))
  expect_match(findings(back)$message, "run backwards in line 5")
})
