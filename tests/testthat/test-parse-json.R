# Results as JSON, as harnesses write them.
read_text <- function(text, ..., ext = ".json") {
  read_readings(write_lines(text, ext = ext), ...)
}
codes_of <- function(readings) findings(readings)$check

test_that("records are rows, however they are written down", {
  same <- list(
    c("[{\"arm\": \"off\", \"score\": 100.25, \"at\": {\"ms\": 5}},", "{\"arm\": \"on\", \"score\": 1e3, \"at\": {}}]"),
    c("{\"arm\":\"off\",\"score\":100.25,\"at\":{\"ms\":5}}", "", "{\"arm\":\"on\",\"score\":1000}"),
    "{\"all\": {\"runs\": [{\"arm\":\"off\",\"score\":100.25,\"at\":{\"ms\":5}}, {\"arm\":\"on\",\"score\":1000}]}}",
    "{\"arm\": [\"off\", \"on\"], \"score\": [100.25, 1000], \"at.ms\": [5]}",
    "{\"arm\":{\"0\":\"off\",\"1\":\"on\"},\"score\":{\"0\":100.25,\"1\":1000},\"at.ms\":{\"0\":5}}"
  )
  for (text in same) {
    r <- as.data.frame(read_text(text, better = c(at.ms = "lower")))
    expect_identical(r$arm, c("off", "on", "off", "on"))
    expect_identical(r$metric, c("score", "score", "at.ms", "at.ms"))
    expect_identical(r$value, c(100.25, 1000, 5, NA))
  }
})

test_that("names and lists of passes are taken for what they are", {
  keyed <- "{\"off\": {\"fps\": [100, 101], \"threads\": 8}, \"on\": {\"fps\": [104, 105], \"threads\": 9}}"
  expect_message_of(read_text(keyed), "honestmargin_error_asked", "'threads' is the same in all passes of an arm")
  r <- read_text(keyed, columns = c(note = "threads"))
  expect_identical(r$arm, c("off", "off", "on", "on"))
  expect_identical(r$value, c(100, 101, 104, 105))
  expect_setequal(unique(r$metric), "fps")
  expect_true("names_taken" %in% codes_of(r))
  # each says its arm, so the names are those of the passes
  r <- read_text("{\"p1\": {\"arm\": \"off\", \"fps\": 1}, \"p2\": {\"arm\": \"on\", \"fps\": 2}}")
  expect_identical(r$pass, c("p1", "p2"))
  lists <- "{\"off\": [100, 101, 102], \"on\": [104, 105]}"
  expect_message_of(
    read_text(lists, baseline = "off"), "honestmargin_error_asked",
    "is a higher or a lower 'value' better"
  )
  r <- read_text(lists, better = c(value = "higher"), baseline = "off")
  expect_identical(c(table(r$arm[!is.na(r$value)])), c(off = 3L, on = 2L))
  # what was changed stands beside the list
  r <- read_text(
    "[{\"threads\": 8, \"scores\": [1, 2]}, {\"threads\": 16, \"scores\": [3, 4]}]",
    columns = c(arm = "threads"), better = c(scores = "higher")
  )
  expect_identical(r$arm, c("8", "8", "16", "16"))
  # in quotes and the same in all: a version, or a rate that was held
  r <- read_text(sprintf("{\"arm\": \"%s\", \"fps\": \"60\", \"build\": \"1.2\"}", c("a", "b")))
  expect_identical(unique(r$metric), "fps")
  # programs write the unit behind the name
  one <- "{\"arm\": \"a\", \"draw_ms\": 5, \"avg.fps\": 60, \"ops_per_ms\": 7}"
  r <- read_text(one, better = c(ops_per_ms = "higher"))
  expect_identical(r$unit, c("ms", "fps", ""))
  expect_identical(r$better, c("lower", "higher", "higher"))
  # alone, the names are parts of one record
  r <- read_text("{\"cpu\": {\"load\": 5}, \"gpu\": {\"load\": 6}}", arm = "box", better = c(
    cpu.load = "lower", gpu.load = "lower"
  ))
  expect_identical(r$metric, c("cpu.load", "gpu.load"))
})

test_that("what is no result of passes is refused, and where it is broken is said", {
  refused <- function(text, pattern, ...) {
    expect_message_of(read_text(text, ...), "honestmargin_error_input", pattern)
  }
  frames <- paste0("[{\"arm\": \"a\", \"frame_times\": [", paste(rep(16, 60), collapse = ","), "]}]")
  refused(frames, "'frame_times' lists 60 numbers: these are no passes")
  refused("[{\"arm\": \"a\", \"score\": 1", "cannot be read as JSON")
  refused(c("{\"arm\": \"a\", \"score\": 1}", "{\"arm\": \"a\", \"score\"}"), "line 2: cannot be read as JSON")
  refused("[]", "no record in it")
  refused("[[1, 2]]", "a list of lists without names")
  refused("[{\"a\": [1, 2], \"b\": [1, 2, 3]}]", "lists that do not go together: a, b")
  expect_message_of(
    read_text(paste0("[", paste0("{\"arm\": \"a\", \"score\": ", c(1, 2, 3, "\"much\""), "}", collapse = ","), "]")),
    "honestmargin_error_asked", "'much'"
  )
})

test_that("files of one pass each are known by their names, and records of one file are no passes of their own", {
  folder <- withr::local_tempdir()
  write <- function(name, text) writeLines(text, file.path(folder, name))
  for (run in 1:3) {
    write(paste0("off_run", run, ".json"), sprintf("{\"fps\": %d, \"version\": \"1.2\"}", 100 + run))
    write(paste0("on_run", run, ".json"), sprintf("{\"fps\": %d, \"version\": \"1.2\"}", 110 + run))
  }
  run <- run_cli("weigh", folder, "--baseline", "off", "--format", "json")
  told <- jsonlite::fromJSON(run$stdout)
  expect_identical(told$verdicts$verdict, "gain")
  # geometric means of 101 to 103 and 111 to 113
  expect_equal(told$verdicts$change, 100 * ((111 * 112 * 113 / (101 * 102 * 103))^(1 / 3) - 1), tolerance = 1e-6)
  expect_true("from_names" %in% told$findings$check)
  expect_match(told$read$left_out$what, "version", all = FALSE)
  # in turns, a minute apart: their times tell the order and the rounds
  for (i in 1:6) {
    name <- paste0(c("off", "on")[(i + 1) %% 2 + 1], "_run", (i + 1) %/% 2, ".json")
    Sys.setFileTime(file.path(folder, name), as.POSIXct("2026-11-01 10:00:00") + 60 * i)
  }
  write("summary.csv", c("arm,fps", "off,102"))
  run <- run_cli("weigh", folder, "--baseline", "off", "--format", "json")
  expect_match(jsonlite::fromJSON(run$stdout)$findings$message, "not read, beside results: summary.csv", all = FALSE)
  expect_true("order_in_times" %in% jsonlite::fromJSON(run$stdout)$findings$check)
  unlink(file.path(folder, "summary.csv"))
  read <- read_readings(list.files(folder, full.names = TRUE))
  expect_identical(read$order[order(read$arm, read$pass)], c(1, 3, 5, 2, 4, 6))
  expect_identical(read$block[order(read$order)], as.character(c(1, 1, 2, 2, 3, 3)))
  for (name in list.files(folder)) write(name, c("{\"fps\": 100}", "{\"fps\": 101}"))
  v <- weigh(read_readings(list.files(folder, full.names = TRUE)), "off")
  expect_identical(v$unit_of_replication, "boot")
  expect_identical(v$n_arm, 6L)
  expect_true("records_of_file" %in% findings(v)$check)
  # of one file an arm, each record is a pass, as in a table
  for (name in c("off", "on")) writeLines("[100, 101, 102]", file.path(folder, paste0(name, ".json")))
  r <- read_readings(file.path(folder, c("off.json", "on.json")), better = c(value = "higher"))
  expect_identical(c(table(r$arm)), c(off = 3L, on = 3L))
  expect_every(is.na(r$boot))
  expect_false("records_of_file" %in% codes_of(r))
  kept <- run_cli(
    "weigh", file.path(folder, c("off.json", "on.json")), "--baseline", "off", "--better", "value=higher", "--save",
    file.path(folder, "kept")
  )
  expect_match(kept$stderr, "kept in", fixed = TRUE)
})

test_that("what comes through a pipe is weighed", {
  text <- c("{\"arm\": \"off\", \"score\": 100}", "{\"arm\": \"on\", \"score\": 104}")
  script <- paste("cat", shQuote(write_lines(rep(text, 3))), "|", launcher, "weigh - --baseline off --format csv")
  run <- processx::run("sh", c("-c", script), error_on_status = FALSE)
  expect_identical(run$status, 0L)
  expect_equal(utils::read.csv(text = run$stdout)$change, 4)
})

test_that("whatever stands in a table or in JSON is read or refused, and nothing breaks", {
  withr::local_seed(5)
  one <- function(x) x[[sample(length(x), 1)]]
  words <- list(
    "arm", "score", "fps", "run 1", "run 2", "date", "value", "Average", "", "stock", "role", "metric", "pass"
  )
  cells <- list("", "a", "b", "100", "1,5", "crash", "2026-11-01", "1:05.2", "-", "Average", "50 ms", "#N/A")
  some <- function(x, most) lapply(seq_len(sample(0:most, 1)), function(i) one(x))
  value <- function(depth) {
    kind <- if (depth) sample(3, 1) else 1
    if (kind == 1) {
      return(one(list(NULL, TRUE, 1.5, 100, "crash", "101 fps", "1.2")))
    }
    inner <- lapply(some(1, 4), function(i) value(depth - 1))
    if (kind == 2) inner else stats::setNames(inner, rep_len(unlist(sample(words)), length(inner)))
  }
  odd <- c(
    lapply(1:120, function(i) {
      as.character(jsonlite::toJSON(list(value(3), value(2)), auto_unbox = TRUE, null = "null"))
    }),
    lapply(1:120, function(i) {
      wide <- sample(2:6, 1)
      row <- function(of) paste(vapply(seq_len(wide), function(k) one(of), ""), collapse = ";")
      heading <- paste(unlist(sample(words, wide)), collapse = ";")
      c(heading, vapply(seq_len(sample(1:5, 1)), function(r) row(cells), ""))
    })
  )
  classes <- vapply(odd, function(lines) {
    file <- write_lines(lines, ext = ".csv")
    class(tryCatch(read_readings(file, better = c(value = "lower")), error = identity))[1]
  }, "")
  known <- c("honestmargin_readings", paste0("honestmargin_error_", c("input", "asked", "needed", "usage")))
  expect_setequal(setdiff(classes, known), character())
  expect_gt(sum(classes == "honestmargin_error_asked"), 10)
})
