# The same table in whatever form it comes gives the same verdict.

test_that("a table weighs alike as CSV, as a data frame, as JSON records, as a sheet and through a pipe", {
  numbers <- c("verdict", "change", "lower", "upper", "n_arm", "n_baseline", "metric", "workload", "context", "arm")
  alike <- function(a, b, info) {
    a <- as.data.frame(a)[numbers]
    b <- as.data.frame(b)[numbers]
    rownames(a) <- rownames(b) <- NULL
    a[vapply(a, is.character, NA)] <- lapply(a[vapply(a, is.character, NA)], function(v) ifelse(is.na(v), "", v))
    b[vapply(b, is.character, NA)] <- lapply(b[vapply(b, is.character, NA)], function(v) ifelse(is.na(v), "", v))
    expect_equal(a, b, tolerance = 1e-12, info = info)
  }
  withr::local_envvar(HONESTMARGIN_NOISE = "off")
  whole <- identical(Sys.getenv("HONESTMARGIN_GRID"), "all")
  set.seed(as.integer(Sys.Date()))
  able <- setdiff(names(table_shapes), c("one_arm", "outcomes_only"))
  slowly <- if (whole) able else sample(able, 5)
  for (name in able) {
    rows <- table_shapes[[name]]()
    folder <- withr::local_tempdir()
    opened <- of_table(rows, folder)
    told <- told_of(rows)
    baseline <- unique(rows$arm)[1]
    say <- function(x) {
      weigh(read_readings(x, better = told$better, columns = told$columns, baseline = baseline), baseline, worth = 2)
    }
    csv <- say(opened[1])
    alike(say(rows), csv, paste(name, "data frame"))
    json <- file.path(folder, "scores.json")
    writeLines(jsonlite::toJSON(rows, digits = NA), json)
    alike(say(json), csv, paste(name, "JSON"))
    if (!name %in% slowly) next
    piped <- processx::run("sh", c("-c", paste(
      "cat", shQuote(opened[1]), "|", launcher, "weigh -", paste(shQuote(opened[-1]), collapse = " "), "--format json"
    )), error_on_status = FALSE)
    expect_identical(piped$status, 0L, info = piped$stderr)
    expect_equal(jsonlite::fromJSON(piped$stdout)$verdicts$change, as.data.frame(csv)$change,
      info = paste(name, "pipe")
    )
    if (nzchar(Sys.which("python3")) && requireNamespace("readxl", quietly = TRUE)) {
      text <- lapply(rows, function(v) ifelse(is.na(v) | v %in% "", NA, as.character(v)))
      lines <- c(list(names(rows)), lapply(seq_len(nrow(rows)), function(i) {
        vapply(text, `[`, "", i,
          USE.NAMES = FALSE
        )
      }))
      alike(say(write_sheet(lines)), csv, paste(name, "sheet"))
    }
  }
})

test_that("what was read is known of readings, of verdicts and of a study", {
  readings <- read_readings(write_lines("arm,score", "a,100", "b,104", "a,101", "b,105"))
  expect_identical(what_was_read(weigh(readings, "a")), what_was_read(readings))
  expect_setequal(what_was_read(read_study(demo_study()))$workload, c("harbour", "tunnel", "pebblemark"))
  expect_error(what_was_read(list()), class = "honestmargin_error_input")
})

test_that("in R, columns of a data frame are used as the same file's are", {
  rows <- data.frame(
    arm = rep(c("off", "on"), 4), game = rep(c("lake", "town"), each = 4), fps = c(
      60.5, 61.5, 60.6, 61.7, 50.5, 51.5,
      50.4, 51.6
    ),
    valid = "yes"
  )
  rows$valid[8] <- "no"
  v <- weigh(rows, "off")
  expect_setequal(v$workload, c("lake", "town"))
  expect_identical(v$n_arm[v$workload == "town"], 1L)
})

test_that("at a terminal questions have numbered choices with what each would make of the table, and are kept", {
  skip_if(!nzchar(Sys.which("script")), "script, which gives a pseudo-terminal, is not here")
  folder <- withr::local_tempdir()
  table <- file.path(folder, "scores.csv")
  writeLines(c("GPU;tester;score", "Old;Ada;1.204", "New;Bo;1.251", "Old;Bo;1.207", "New;Ada;1.250"), table)
  typed <- function(answers, ...) {
    command <- paste(launcher, "weigh", table, "--baseline Old", ...)
    out <- processx::run("sh", c("-c", paste0(
      "(sleep 2; for a in ", paste(answers, collapse = " "), "; do sleep 1; echo $a; done; sleep 6) | script -qec ",
      shQuote(command), " /dev/null"
    )), error_on_status = FALSE, timeout = 60)
    gsub("\r", "", out$stdout)
  }
  said <- typed(c("9", "2", "3"), "--keep")
  expect_match(said, "1. a point is the decimal mark: 1.204 is 1.204", fixed = TRUE)
  expect_match(said, "1. what was run: compared within each", fixed = TRUE)
  expect_match(said, "New gains|of|negligible|unclear")
  kept <- yaml::read_yaml(file.path(folder, "scores.layout.yml"))
  expect_identical(kept$answer$marks, "comma")
  expect_identical(kept$columns$note, "tester")
  # and nothing is asked again
  again <- run_cli("weigh", table, "--format", "json")
  expect_identical(again$status, 0L, info = again$stderr)
  expect_equal(jsonlite::fromJSON(again$stdout)$verdicts$baseline_value, sqrt(1204 * 1207), tolerance = 1e-6)
  # two columns of one role
  both <- file.path(folder, "both.csv")
  writeLines(c("card,tester,shop,fps", "Old,Ada,x,100.5", "New,Bo,y,104.5", "Old,Bo,y,101.5", "New,Ada,x,105"), both)
  first <- run_cli("weigh", both, "-b", "Old", "--columns", "note=tester,note=shop", "--keep", "--format", "csv")
  expect_identical(run_cli("weigh", both, "--format", "csv")$stdout, first$stdout)
  # written by hand, it works for another table
  layout <- file.path(folder, "mine.yml")
  writeLines(c("columns: {arm: Kram, value: Zahl}", "baseline: x", "better: {score: lower}"), layout)
  other <- write_lines("Kram;Zahl", "x;5,5", "y;6,5", "x;5,6", "y;6,4")
  expect_identical(run_cli("weigh", other, "--layout", layout)$status, 0L)
  expect_match(
    run_cli("weigh", other, "--layout", write_lines("colums: x", ext = ".yml"))$stderr,
    "did you mean 'column"
  )
})

test_that("any table can be kept as a study, which weighs alike", {
  folder <- withr::local_tempdir()
  table <- write_lines(
    "Setting,scene,fps,load time (s)", "off,lake,98.4,12.31", "on,lake,103.2,11.02", "off,town,60.1,15.2",
    "on,town,63.9,14.1",
    "off,lake,98.9,12.4", "on,lake,102.8,11.1", "off,town,60.4,15.1", "on,town,63.2,14.2"
  )
  kept <- file.path(folder, "kept")
  saved <- run_cli("weigh", table, "--baseline", "off", "--worth", "2", "--save", kept, "--format", "json")
  expect_identical(saved$status, 0L, info = saved$stderr)
  again <- run_cli("weigh", kept, "--format", "json")
  expect_identical(again$status, 0L, info = again$stderr)
  columns <- c("workload", "metric", "arm", "verdict", "change", "lower", "upper", "worth")
  sorted <- function(run) {
    rows <- jsonlite::fromJSON(run$stdout)$verdicts[columns]
    rows <- rows[order(rows$workload, rows$metric), ]
    rownames(rows) <- NULL
    rows
  }
  expect_equal(sorted(again), sorted(saved))
})

test_that("names with dates, contexts and hyphens are read by what they say, and a layout beside them is used", {
  folder <- withr::local_tempdir()
  put <- function(name, mean, seed) {
    writeLines(
      c("frame_time_ms", format(plain_frames(6, mean, seed))), file.path(folder, paste0(name, ".csv"))
    )
  }
  days <- c("2026-03-01_18-05", "2026-03-02_18-05", "2026-03-03_18-05", "2026-03-04_18-05")
  for (i in 1:4) put(paste0(c("off", "on")[(i + 1) %% 2 + 1], "_", days[i]), 8, i)
  study <- read_logs(folder, baseline = "off")
  expect_identical(unique(study$readings$workload), "main")
  expect_identical(study$passes$arm[order(study$passes$order)], c("off", "on", "off", "on"))
  unlink(list.files(folder, full.names = TRUE))
  for (i in 1:4) put(paste0(c("rich-wide", "lean-wide")[i %% 2 + 1], "_run", (i + 1) %/% 2), 8, i)
  expect_setequal(read_logs(folder, baseline = "rich-wide")$passes$arm, c("rich-wide", "lean-wide"))
  unlink(list.files(folder, full.names = TRUE))
  for (i in 1:8) {
    put(paste0("lake_", c("day", "night")[(i > 4) + 1], "_", c("off", "on")[i %% 2 + 1], "_", (i + 1) %/% 2), 8, i)
  }
  writeLines(c("names: '{workload}_{context}_{arm}_{pass}.csv'", "baseline: 'off'"), file.path(folder, "layout.yml"))
  run <- run_cli("weigh", folder, "--format", "json")
  expect_identical(run$status, 0L, info = run$stderr)
  expect_setequal(jsonlite::fromJSON(run$stdout)$verdicts$context, c("day", "night"))
  # few numbers that nobody headed
  rates <- withr::local_tempdir()
  for (arm in c("off", "on")) {
    for (i in 1:2) {
      writeLines(
        format(round(stats::rnorm(60, if (arm == "on") 140 else 133, 2), 1)),
        file.path(rates, paste0(arm, "_", i, ".csv"))
      )
    }
  }
  expect_match(run_cli("weigh", rates, "--baseline", "off")$stderr, "frames in ms .* or a rate each second")
})

test_that("numbered devices keep their numbers, and the idle one is seen", {
  log <- write_lines(
    "time_s,GPU 1 load [%],GPU 2 load [%],Wibble", paste(0:20, 96 + (0:20) %% 3, 1, 7, sep = ",")
  )
  sensors <- read_sensors(log)
  expect_true(all(c("load graphics 1 [%]", "load graphics 2 [%]") %in% names(sensors)))
  expect_match(findings(sensors)$message, "left out of .*: Wibble")
  series <- honestmargin:::sensor_series(sensors)
  expect_gt(mean(series$graphics_load), 95)
  expect_lt(mean(series$graphics_2_load), 5)
})

test_that("one verb adds files of any kind, and typed numbers", {
  folder <- local_plan(
    "setting: {name: s, baseline: 'off'}", "arms: [{value: 'off'}, {value: 'on'}]", "blocks: 3",
    "metrics: [{id: score, better: higher, worth: 2, primary: true}]", "workloads:", "- id: main", "  by_hand: play it",
    "  scores: [{metric: score}]"
  )
  table <- write_lines("card;run;score", "off;1;100,5", "off;2;101,2", "on;1;104,1", "on;2;103,8")
  added <- run_cli("add", folder, table)
  expect_identical(added$status, 0L, info = added$stderr)
  expect_match(added$stderr, "4 passes stored from")
  expect_match(run_cli("add", folder, table)$stderr, "was added before")
  expect_match(run_cli("add", folder, "--arm", "on", "score=104.4")$stderr, "stored as pass")
  # while somebody chooses, nothing is stored
  asking <- write_lines("card;shift;score", "off;early;100,5", "on;late;104,1", "off;late;101,2", "on;early;103,8")
  chosen <- processx::run("sh", c("-c", paste("printf '3\\n' |", launcher, "add", folder, asking)),
    env = c("current", HONESTMARGIN_ASK = "yes"), error_on_status = FALSE
  )
  expect_match(chosen$stderr, "3. neither; leave it out - Read 4 values", fixed = TRUE)
  expect_identical(chosen$status, 0L, info = chosen$stderr)
  expect_identical(sum(read_study(folder)$passes$outcome == "ok"), 9L)
  expect_match(run_cli("take", folder, tempdir(), "--yes")$stderr, "take is now part of add")
})
