# A machine made of files: what the recorder finds there is known exactly.
made_up_machine <- function(env = parent.frame()) {
  root <- withr::local_tempdir(.local_envir = env)
  put <- function(path, ...) {
    full <- file.path(root, path)
    dir.create(dirname(full), recursive = TRUE, showWarnings = FALSE)
    writeLines(c(...), full)
  }
  put("proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0", "cpu0 50 0 50 400 0 0 0 0 0 0", "cpu1 50 0 50 400 0 0 0 0 0 0")
  put("proc/meminfo", "MemTotal: 2000000 kB", "MemAvailable: 1500000 kB", "SwapTotal: 1000 kB", "SwapFree: 1000 kB")
  put("sys/devices/system/cpu/cpu0/cpufreq/scaling_cur_freq", "3600000")
  put("sys/devices/system/cpu/cpu1/cpufreq/scaling_cur_freq", "4400000")
  put("sys/class/hwmon/hwmon0/name", "k10temp")
  put("sys/class/hwmon/hwmon0/temp1_input", "61500")
  put("sys/class/hwmon/hwmon0/temp1_label", "Tctl")
  put("sys/class/hwmon/hwmon1/name", "amdgpu")
  put("sys/class/hwmon/hwmon1/power1_average", "151000000")
  put("sys/class/hwmon/hwmon1/fan1_input", "1450")
  put("sys/class/powercap/intel-rapl:0/name", "package-0")
  put("sys/class/powercap/intel-rapl:0/energy_uj", "990000000")
  put("sys/class/powercap/intel-rapl:0/max_energy_range_uj", "1000000000")
  put("sys/class/powercap/intel-rapl:0/constraint_0_power_limit_uw", "65000000")
  put("sys/class/power_supply/BAT0/type", "Battery")
  put("sys/class/power_supply/BAT0/capacity", "83")
  put("sys/class/drm/card0/device/gpu_busy_percent", "97")
  put("sys/class/drm/card0/device/pp_dpm_sclk", "0: 500Mhz", "1: 2100Mhz *")
  put("sys/class/drm/card0/device/mem_info_vram_used", "7900000000")
  put("sys/class/drm/card0/device/mem_info_vram_total", "8000000000")
  list(root = root, put = put)
}

test_that("every kind of sensor is read from its file, with its unit, and counters wrap", {
  machine <- made_up_machine()
  path <- file.path(machine$root, "out.csv")
  recorder <- honestmargin:::start_recorder(
    path,
    rate = 20, root = machine$root, commands = c("load own [%]" = "echo 42")
  )
  Sys.sleep(0.6)
  machine$put(
    "proc/stat", "cpu  190 0 100 810 0 0 0 0 0 0", "cpu0 140 0 50 410 0 0 0 0 0 0", "cpu1 50 0 50 500 0 0 0 0 0 0"
  )
  machine$put("sys/class/powercap/intel-rapl:0/energy_uj", "5000000")
  Sys.sleep(0.6)
  # a card that is pulled out: its file gives nothing any more
  machine$put("sys/class/drm/card0/device/gpu_busy_percent", "")
  Sys.sleep(0.6)
  honestmargin:::end_recorder(recorder)
  rows <- honestmargin:::sampled(path, 0)
  expect_every(diff(rows$time_s) > 0)
  expect_equal(stats::median(diff(rows$time_s)), 0.05, tolerance = 0.2)
  first <- rows[2, ]
  expect_equal(first[["clock core 1 [MHz]"]], 4400)
  expect_equal(first[["temperature processor Tctl [C]"]], 61.5)
  expect_equal(first[["power graphics power1 [W]"]], 151)
  expect_equal(first[["fan graphics fan1 [rpm]"]], 1450)
  expect_equal(first[["memory used [MB]"]], 512)
  expect_equal(first[["battery BAT0 [%]"]], 83)
  expect_equal(first[["clock graphics [MHz]"]], 2100)
  expect_equal(first[["memory graphics total [MB]"]], 8000)
  expect_equal(first[["limit processor package-0 [W]"]], 65)
  expect_equal(utils::tail(rows[["load own [%]"]], 1), 42)
  # 990 J up to the wrap at 1000 J, then 5 J
  expect_equal(utils::tail(rows[["energy processor package-0 [J]"]], 1), 15)
  expect_equal(max(rows[["load core 0 [%]"]], na.rm = TRUE), 90)
  expect_equal(max(rows[["load processor [%]"]], na.rm = TRUE), 90)
  expect_true(is.na(utils::tail(rows[["load graphics [%]"]], 1)))
  expect_equal(max(rows[["load graphics [%]"]], na.rm = TRUE), 97)
  series <- honestmargin:::sensor_series(rows)
  expect_equal(series$processor_clock[2], 4000)
  expect_equal(series$graphics_memory[2], 7900)
})

test_that("the recorder ends with whoever started it, and says why it cannot begin", {
  path <- withr::local_tempfile()
  code <- sprintf(
    "p <- honestmargin:::start_recorder(%s); cat(p$get_pid()); flush(stdout()); Sys.sleep(60)", deparse(path)
  )
  parent <- processx::process$new(rscript, c("-e", code), stdout = "|")
  parent$poll_io(20000)
  pid <- as.integer(parent$read_output())
  expect_true(honestmargin:::process_lives(pid))
  parent$signal(9)
  parent$wait(3000)
  for (i in 1:50) if (honestmargin:::process_lives(pid)) Sys.sleep(0.1) else break
  expect_false(honestmargin:::process_lives(pid))
  expect_error(honestmargin:::start_recorder("/no/such/folder/x"), class = "honestmargin_error_stuck")
})

test_that("a sensor that ends in mid-pass and one that is not there are said, with limits and commands of the plan", {
  folder <- local_plan(
    "setting: {name: level, baseline: 2400}", "arms: [{value: 2400}, {value: 4800}]", "blocks: 1",
    "metrics: [{id: score}]", "sensors:", "  rate: 10", "  asked_clock: memory",
    "  commands:", "    \"load graphics [%]\": \"[ ! -f gone ] && echo load 96\"",
    "    \"clock memory [MHz]\": echo 2400",
    "  limits: [{series: graphics_load, above: 90}]", "workloads:", "  - id: w",
    "    command: rm -f gone; sleep 1.6; touch gone; sleep 1.6; echo score 5",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  )
  withr::local_dir(folder)
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  value <- function(id) study$readings$value[study$readings$metric == id]
  expect_equal(value("graphics_load_mean"), c(96, 96))
  expect_equal(value("graphics_load_above_90"), c(100, 100))
  expect_setequal(value("clock_held"), c(100, 50))
  said <- findings(study)
  expect_match(
    said$message[said$check == "sensor_gone"],
    "pass p001: the sensor load graphics \\[%\\] gave nothing any more after [12] s .*the like in 1 more pass"
  )
  expect_identical(sum(said$check == "no_sensor"), 1L)
  if (!file.exists("/sys/class/powercap/intel-rapl:0/energy_uj")) {
    expect_match(
      said$message, "no sensor of .*power",
      all = FALSE
    )
  }
})

test_that("a library below a folder with a space is preloaded from a copy", {
  skip_if(!nzchar(honestmargin:::helper_path("probe.so")), "no probe here")
  odd <- file.path(withr::local_tempdir(), "a folder")
  dir.create(odd)
  file.copy(dirname(honestmargin:::helper_path("probe.so")), odd, recursive = TRUE)
  used <- honestmargin:::preloadable(file.path(odd, "helpers", "probe.so"))
  expect_false(grepl("[ :]", used))
  expect_every(file.exists(file.path(dirname(used), c("probe.so", "probe_layer.json"))))
})
