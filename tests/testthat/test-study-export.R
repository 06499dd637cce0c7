test_that("a study written as a folder is the same study", {
  study <- read_study(demo_study())
  out <- write_study(study, file.path(withr::local_tempdir(), "out"))
  again <- read_study(out)
  expect_equal(weigh(again), weigh(study), ignore_attr = TRUE, tolerance = 1e-9)
  expect_identical(again$passes$reason, study$passes$reason)
  expect_error(write_study(study, out), class = "honestmargin_error_stuck")
})

test_that("a ledger can be exported from the shell and weighs alike", {
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: level, baseline: \"=1\"}", "arms: [{value: \"=1\"}, {value: \"=2\"}]", "blocks: 3",
    "workloads:", "  - id: w", "    command: printf '8\\n8.4\\n9\\n' > {log}; echo score 10{arm} | tr -d =",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  ), file.path(folder, "study.yml"))
  run_study(folder)
  out <- file.path(withr::local_tempdir(), "out")
  expect_identical(run_cli("export", folder, out)$status, 0L)
  expect_equal(weigh(read_study(out)), weigh(read_study(folder)), ignore_attr = TRUE)
})

test_that("a total that hides its parts is told", {
  x <- expand.grid(block = 1:6, arm = c("a", "b"), metric = c("left", "right", "total"), stringsAsFactors = FALSE)
  set.seed(2)
  x$value <- 100 + rnorm(36, sd = 0.1) + ifelse(x$arm == "b", c(left = 5, right = -5, total = 0)[x$metric], 0)
  x$pass <- paste(x$arm, x$block)
  x$better <- "higher"
  v <- weigh(x, baseline = "a", worth = 2)
  found <- honestmargin:::hidden_parts(v, list(list(id = "total", parts = list("left", "right"))))
  expect_match(found$message, "hides that left gained and right lost")
  expect_identical(nrow(honestmargin:::hidden_parts(v, list(list(id = "total", parts = list("left", "total"))))), 0L)
})

test_that("segments, pauses and sensors survive the way through a plain folder", {
  folder <- local_plan(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 2",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads:", "  - id: lap", "    beacon: true",
    "    segments: [harbour, tunnel]", "    command: |",
    "      a={arm}; exec 3> \"$HONESTMARGIN_BEACON_FILE\"; echo beacon 1 >&3",
    "      for s in harbour tunnel; do echo segment $s >&3",
    "      for i in $(seq 1 400); do echo frame $((5 + a + RANDOM_PART + i % 3)) >&3; done",
    "      echo pause >&3; echo frame 3000 >&3; echo resume >&3; done", "      sleep 1.7"
  )
  withr::local_envvar(RANDOM_PART = "1")
  run_study(folder)
  study <- read_study(folder)
  expect_match(study$passes$note, "6.00 s in pause do not count")
  fps <- study$readings[study$readings$metric == "fps_avg", ]
  expect_equal(fps$value[fps$workload == "lap"], fps$value[fps$workload == "lap/tunnel"], tolerance = 0.01)
  out <- write_study(study, file.path(withr::local_tempdir(), "out"))
  expect_setequal(
    list.files(out), c("study.yml", "passes.csv", "frames", "marks", if (length(study$sensors)) "sensors")
  )
  again <- read_study(out)
  key <- function(r) paste(r$pass, r$workload, r$metric)
  framed <- study$readings[study$readings$metric %in% c("fps_avg", "low1_mean", "ms_p99", "frames"), ]
  expect_equal(again$readings$value[match(key(framed), key(again$readings))], framed$value, tolerance = 1e-6)
  expect_s3_class(plot_trace(study), "ggplot")
  expect_identical(attr(figure_data(study, "trace"), "segments")$segment, rep(c("harbour", "tunnel"), 2))
})
