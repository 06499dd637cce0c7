minimal <- c("setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads: [{id: w}]")

test_that("a plan has every default that the table of keys names, and nothing is asked for later", {
  plan <- plan_study(local_plan(minimal))$plan
  keys <- subset(plan_keys(), nzchar(default) & !grepl("/", key))
  expect_gte(nrow(keys), 6)
  # yes and no are written in small letters in a plan
  written <- function(value) if (is.logical(value)) tolower(format(value)) else format(value)
  for (i in seq_len(nrow(keys))) expect_equal(written(plan[[keys$key[i]]]), keys$default[i], info = keys$key[i])
  expect_identical(
    plan$workloads[[1]][c("probe", "beacon", "anchor")], list(probe = FALSE, beacon = FALSE, anchor = FALSE)
  )
  expect_identical(plan$sensors$rate, 5)
})

test_that("each key's example is one that the key takes, and the reference page shows every key", {
  keys <- plan_keys()
  page <- paste(readLines(file.path(source_root(), "docs", "plan.md")), collapse = "\n")
  for (i in which(nzchar(keys$example))) {
    value <- yaml::yaml.load(keys$example[i])
    expect_null(
      honestmargin:::assert_key(value, keys$key[i], keys$key[i], list(line = integer(), source = "plan")),
      label = keys$key[i]
    )
    row <- paste0("`", keys$key[i], "`")
    expect_true(grepl(row, page, fixed = TRUE) && grepl(keys$about[i], page, fixed = TRUE), info = row)
  }
})

test_that("a plan of another encoding is the same plan to look at and to run", {
  folder <- local_plan(minimal)
  path <- file.path(folder, "study.yml")
  text <- c("question: Does it cost smoothness \u2014 r\u00e9ally?", minimal)
  writeBin(iconv(paste(text, collapse = "\n"), "UTF-8", "UTF-16", toRaw = TRUE)[[1]], path)
  expect_match(plan_study(path)$plan$question, "\u2014 r\u00e9ally")
  expect_identical(add_pass(folder, "a", values = c(score = 5))$arm, "a")
  expect_match(read_study(folder)$plan$question, "r\u00e9ally")
})

test_that("an arm with a name for people is told by it", {
  scores <- c(10, 11, 10.1, 11.2, 9.9, 11.1)
  folder <- local_plan(
    "setting: {name: s, unit: Hz, baseline: 125}", "arms: [{value: 125}, {value: 2000, label: two thousand}]",
    "workloads: [{id: w}]", "blocks: 3", "metrics: [{id: score, worth: 2}]"
  )
  for (i in 1:6) add_pass(folder, c("125", "2000")[(i + 1) %% 2 + 1], values = c(score = scores[i]))
  expect_match(sentences(read_study(folder)), "against 125 Hz: two thousand clearly gains")
})

test_that("a decimal comma and a serial number are no missing values", {
  folder <- withr::local_tempdir()
  write_plan <- function(arm, worth) {
    writeLines(c(
      paste0("setting: {name: board, baseline: ", arm, "}"), "arms:", paste("  - value:", c(arm, "1,5", "40000000000")),
      "workloads:", "  - {id: lap, command: [\"true\"], scores: [{metric: points}]}",
      "metrics:", "  - id: points", "    better: higher", "    primary: true", paste("    worth:", worth)
    ), file.path(folder, "study.yml"))
  }
  write_plan("20261130123456789", "1.5")
  plan <- expect_silent(plan_study(folder))
  expect_output(print(plan), "20261130123456789, 1,5, 40000000000; baseline 20261130123456789")
  write_plan("a", "1,5")
  expect_message_of(plan_study(folder), "honestmargin_error_input", "worth' must be a number .*a point before decimals")
})

test_that("a value that is called 560.10 reaches the command and the verdict as it was written", {
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: driver, baseline: 560.10}", "arms:", "  - value: 560.10", "  - value: 560.9",
    "workloads:", "  - {id: lap, command: 'echo {arm}', seconds: 1.50, scores: [{metric: points}]}",
    "metrics:", "  - {id: points, better: higher, primary: true, worth: 2.0}"
  ), file.path(folder, "study.yml"))
  plan <- plan_study(folder)
  expect_output(print(plan), "driver: 560.10, 560.9; baseline 560.10")
  # a spreadsheet has taken the last zero
  passes <- data.frame(
    pass = letters[1:6], workload = "lap", arm = c(560.1, 560.9), points = c(100, 110, 101, 111, 99, 109)
  )
  utils::write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE)
  found <- weigh(read_study(folder))
  expect_identical(c(found$arm, found$baseline, found$verdict), c("560.9", "560.10", "clear gain"))
  expect_identical(found$worth, 2)
  writeLines(
    sub("echo [{]arm[}]", "echo {arm} >>said; echo 5", c(readLines(file.path(folder, "study.yml")), "blocks: 1")),
    file.path(folder, "study.yml")
  )
  unlink(file.path(folder, "passes.csv"))
  run_study(folder)
  expect_setequal(readLines(file.path(folder, "said")), c("560.10", "560.9"))
})

test_that("layouts and plans that hold lists, maps or anchors where a word is due are refused without a warning", {
  log <- write_lines("a,frame_time_ms", sprintf("%d,%.3f", 1:100, 8 + 1:100 / 100))
  layout <- function(line, key = "column") {
    lines <- c(column = "column: 2", holds = "holds: durations", unit = "unit: ms")
    lines[[key]] <- line
    write_lines(lines, ext = ".yml")
  }
  for (line in c("column: [a, b]", "column: {a: b}", "column: *a", "column: ~", "*acolumn: 2", "column: []")) {
    expect_no_warning(expect_error(read_frames(log, layout(line)), class = "honestmargin_error_input"))
  }
  expect_error(read_frames(log, layout("unit: [ms, s]", "unit")), class = "honestmargin_error_input")
  plan <- write_lines("setting: *a", "arms: [{value: 1}]", "workloads: [{id: w}]", ext = ".yml")
  expect_no_warning(expect_error(plan_study(plan), class = "honestmargin_error_input"))
  # a pattern that gives up on a line finds nothing there, and says nothing
  expect_no_warning(honestmargin:::last_match(strrep("a", 5e4), "(a+)+b"))
})
