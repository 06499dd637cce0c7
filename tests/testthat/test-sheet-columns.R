# What columns are: declared, by heading, by their cells where nothing else can be meant; else asked.
asked <- function(lines, code, ...) {
  error <- tryCatch(
    read_readings(if (is.data.frame(lines)) lines else write_lines(lines), ...),
    honestmargin_error_asked = identity
  )
  expect_s3_class(error, "honestmargin_error_asked")
  if (inherits(error, "error")) {
    expect_true(code %in% vapply(error$questions, `[[`, "", "code"), info = conditionMessage(error))
  }
}

test_that("a column of words that varies is never pooled over: by heading, or asked", {
  for (name in c("Stage", "Track name", "difficulty", "tester", "shader")) {
    rows <- c(
      paste0("GPU,", name, ",Result"), paste0("Old,", letters[1:5], ",", 100 + 1:5),
      paste0("New,", letters[1:5], ",", 104 + 1:5)
    )
    asked(rows, "words", baseline = "Old", better = c(Result = "higher"))
    r <- read_readings(write_lines(rows), baseline = "Old", better = c(Result = "higher"), columns = c(workload = name))
    expect_identical(weigh(r, "Old")$verdict, rep("no basis", 5))
    out <- read_readings(write_lines(rows), baseline = "Old", better = c(Result = "higher"), columns = c(note = name))
    expect_identical(weigh(out, "Old")$n_arm, 5L)
  }
  # known beside the arm as what was run, or as a second factor; alone, as the arm that holds the baseline
  rows <- c("GPU,Benchmark,Resolution,Result", "Old,a,1080p,100", "Old,b,1080p,50", "New,a,1080p,104", "New,b,1080p,52")
  r <- read_readings(write_lines(rows), baseline = "Old", better = c(Result = "higher"))
  expect_setequal(r$workload, c("a", "b"))
  factors <- read_readings(
    write_lines(
      "Setting,Resolution,Game,FPS", "off,1080p,lake,60", "on,1080p,lake,61", "off,1440p,lake,40",
      "on,1440p,lake,41"
    )
  )
  expect_setequal(factors$context, c("1080p", "1440p"))
  preset <- read_readings(write_lines("Preset,FPS", "Low,141", "High,99", "Low,142", "High,98"), baseline = "Low")
  expect_identical(preset$arm, c("Low", "High", "Low", "High"))
  # the same in all rows says nothing of the passes, and is told
  same <- read_readings(write_lines("arm,fps,driver", "a,100,551.2 beta", "b,101,551.2 beta"))
  expect_match(attr(what_was_read(same), "left_out")$why, "551.2 beta in all rows")
})

test_that("numbers under headings that nobody knows are measured, or asked about", {
  threads <- c("arm,threads,score", "a,4,100", "a,8,180", "b,4,104", "b,8,186")
  asked(threads, "number")
  r <- read_readings(write_lines(threads), columns = c(context = "threads"))
  expect_setequal(r$context, c("4", "8"))
  asked(c("arm,crashes,fps", "a,0,100", "a,1,101", "b,0,100", "b,0,104"), "number")
  asked(data.frame(arm = c("a", "a", "b", "b"), fps = 100:103, voltage = c(1.1, 1.1, 1.2, 1.2)), "number")
  # a price is a fact of the arm as a rule
  asked(c("arm,price,fps", "a,499,100", "a,499,101", "b,599,104", "b,599,106"), "number")
  expect_error(read_readings(write_lines("arm,fps,fps", "a,100,80", "b,104,82")), "two columns are called 'fps'")
  # more than any setting, and different in each pass
  gloss <- read_readings(write_lines("arm,gloss", "a,98.5", "a,97.2", "b,91.4", "b,92.6"), better = c(gloss = "higher"))
  expect_identical(gloss$value, c(98.5, 97.2, 91.4, 92.6))
  rows <- data.frame(arm = rep(c("a", "b"), 2), fps = 100:103, threads = 8, `heat (C)` = 60, check.names = FALSE)
  expect_identical(unique(read_readings(rows, better = c(heat = "lower"))$metric), c("fps", "heat"))
  named <- read_readings(rows, better = c(threads = "none", heat = "lower"))
  expect_identical(unique(named$metric), c("fps", "threads", "heat"))
})

test_that("1, 2, 3 once within each arm are passes, and a pass is no arm", {
  r <- read_readings(write_lines("arm,k,fps", "a,1,100", "a,2,101", "b,1,104", "b,2,105"))
  expect_identical(unique(r$pass), c("a 1", "a 2", "b 1", "b 2"))
  for (heading in c("run #", "Lauf Nr.", "#", "iteration")) {
    r <- read_readings(write_lines(paste0("card,", heading, ",fps"), "a,1,100", "a,2,101", "b,1,104", "b,2,105"),
      baseline = "a"
    )
    expect_identical(unique(r$pass), c("a 1", "a 2", "b 1", "b 2"))
  }
  asked(c("arm,run,score", "a,1,100", "a,1,101", "b,1,104", "b,1,103"), "repeats")
  asked(c("arm,round,score", "a,1,100", "a,2,101", "b,1,104", "b,2,103"), "rounds")
  asked(data.frame(arm = rep(c("a", "b"), each = 2), round = c(1, 2, 1, 2), score = 100:103), "rounds")
})

test_that("what stands beside arms or passes is a sum that is checked, or asked about", {
  r <- read_readings(
    write_lines("What,Stock,OC,Difference", "quay fps,120.3,126.0,4.7%", "pier fps,60.1,60.3,0.3%"),
    baseline = "Stock", better = c(value = "higher")
  )
  expect_identical(unique(r$arm), c("Stock", "OC"))
  asked(c("run,Off,On,Diff %", "1,100,104,9", "2,101,105,8"), "sum_column", baseline = "Off")
  asked(c("run,Off,On,Room temp", "1,100,104,21.5", "2,101,105,21.6"), "beside", baseline = "Off")
  asked(c("arm,fps,vs off", "off,120.3,0 %", "on,126.0,+4.7 %", "off,120.9,-", "on,125.4,+3.7 %"), "sum_column")
  asked(c("arm,fps,Stabw", "off,120.3,1.5", "on,126.0,1.4"), "sum_column")
})

test_that("a misspelt name, one text among numbers and a missing field are asked about", {
  full <- c("arm,scene,fps", "stock,lake,100", "tuned,lake,104", "stock,town,80", "tuned,town,83", "stock,lake,101")
  asked(c(full, "tunde,lake,105", "stock,town,81", "tuned,town,84"), "lone")
  asked(c("arm,fps", "a,100", "a,well", "b,104", "b,105", "a,101"), "text")
  asked(c("arm,fps,watts", "a,100,50", "a,51", "b,104,55"), "fields")
  kept <- read_readings(write_lines("arm,fps", "a,100", "a,well", "b,104", "b,105", "a,101"), answer = c(text = "out"))
  expect_identical(kept$value, c(100, 104, 105, 101))
})

test_that("a battery, an uptime, drops, errors and losses have no direction by themselves; neither has a bare time", {
  open <- c(
    "Battery life (min)", "runtime", "uptime (h)", "screen-on time (min)", "Akkulaufzeit (h)", "fps drop",
    "error score",
    "lost points", "zeit (s)", "time (s)", "GPU load (%)", "encode (s)", "power (W)"
  )
  for (name in open) {
    asked(
      c(paste0("arm,", name), "a,70.5", "a,71.25", "b,75.5", "b,76.25"),
      paste0("better:", sub(" [(].*", "", name))
    )
  }
  known <- list(
    lower = c(
      "load time (s)", "latency", "frame time (ms)", "Ladezeit (s)", "power draw (W)", "temp (\u00b0C)",
      "noise level (dBA)", "ms"
    ),
    higher = c("fps", "Avg FPS", "score", "bandwidth (GB/s)", "MB/s", "Punkte")
  )
  for (direction in names(known)) {
    for (name in known[[direction]]) {
      r <- read_readings(write_lines(paste0("arm,", name), "a,70.5", "a,71.25", "b,75.5", "b,76.25"))
      expect_identical(unique(r$better), direction, info = name)
    }
  }
  # a difference of temperatures is one of degrees
  heat <- read_readings(write_lines("arm,temp \u00b0C", "a,61", "a,62", "b,64", "b,65"))
  expect_identical(unique(heat$scale), "absolute")
})

test_that("everything that is open is asked at once, each answer by its option, with one message and status 2", {
  file <- write_lines("GPU;tester;wobble", "Old;Ada;1.204", "New;Bo;1.251", "Old;Bo;1.207", "New;Ada;1.250")
  run <- run_cli("weigh", file, "--baseline", "Old")
  expect_identical(run$status, 2L)
  expect_match(run$stderr, "2 things have to be said")
  expect_match(run$stderr, "--answer marks=comma: a comma is the decimal mark: 1.204 is 1204", fixed = TRUE)
  expect_match(run$stderr, "--columns workload=tester", fixed = TRUE)
  done <- run_cli(
    "weigh", file, "--baseline", "Old", "--answer", "marks=point", "--columns", "note=tester", "--better",
    "wobble=lower",
    "--format", "json"
  )
  expect_identical(done$status, 0L, info = done$stderr)
  expect_equal(jsonlite::fromJSON(done$stdout)$verdicts$n_arm, 2)
})
