test_that("options come along, and text from outside stays text", {
  x <- data.frame(
    arm = rep(c("off", "=o</script>n"), 4), value = c(100, 104, 101, 105, 99, 103, 100, 104) / 3,
    metric = "a <b> & &amp; \"c\"", better = "lower", outcome = c(rep("ok", 7), "crash"), order = 1:8,
    role = c("excluded", rep("counted", 7)), reason = c("a, \"word\"\nand </script>", rep(NA, 7))
  )
  verdicts <- weigh(x, "off", worth = 3, confidence = 0.9, steady = TRUE, with_excluded = TRUE)
  path <- write_report(verdicts, withr::local_tempfile(fileext = ".html"))
  back <- read_report(path)
  same_verdicts(weigh(back), verdicts)
  expect_identical(back$reason[1], x$reason[1])
  expect_identical(weigh(back, worth = 9)$worth[1], 9)
  noise <- data.frame(workload = "main", metric = "score", noise = 1, df = 20, source = "a year of passes")
  single <- data.frame(arm = c("a", "b"), value = c(100, 109))
  verdicts <- weigh(single, "a", worth = 2, noise = noise)
  path <- write_report(verdicts, withr::local_tempfile(fileext = ".html"))
  same_verdicts(weigh(read_report(path)), verdicts)
})

test_that("what carries no readings, or was cut, is refused", {
  page <- write_lines("<html><body>a page</body></html>", ext = ".html")
  expect_message_of(read_report(page), "honestmargin_error_input", "no readings are carried in this file")
  whole <- write_report(
    data.frame(arm = c("a", "b", "a", "b"), value = 1:4), withr::local_tempfile(fileext = ".html"),
    baseline = "a"
  )
  lines <- readLines(whole)
  at <- grep("carried-study", lines)
  cut <- write_lines(lines[seq_len(at)], ext = ".html")
  expect_message_of(read_report(cut), "honestmargin_error_input", "whole as it was")
  newer <- write_lines(sub("\"form\":1", "\"form\":2", lines, fixed = TRUE), ext = ".html")
  expect_message_of(read_report(newer), "honestmargin_error_input", "newer version")
  expect_identical(run_cli("weigh", page)$status, 3L)
})

test_that("a report that was sent leaves nothing in the noise memory of who reads it", {
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 3", "sensors: {rate: 0}",
    "metrics: [{id: score, worth: 2, primary: true}]", "workloads:", "  - id: w", "    command: echo score 1{arm}$$",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  ), file.path(folder, "study.yml"))
  run_study(folder)
  path <- write_report(read_study(folder), withr::local_tempfile(fileext = ".html"))
  memory <- withr::local_tempfile(fileext = ".csv")
  told <- run_cli("weigh", path, env = c(HONESTMARGIN_NOISE = memory))
  expect_identical(told$status, 0L)
  expect_false(file.exists(memory))
  expect_identical(read_report(path)$sealed$hash, read_study(folder)$sealed$hash)
})

test_that("a report that somebody altered is refused, never a fault", {
  scores <- data.frame(arm = rep(c("off", "on"), 4), value = c(100, 104, 101, 105, 99, 103, 100, 104))
  path <- write_report(scores, withr::local_tempfile(fileext = ".html"), baseline = "off", worth = 2)
  lines <- readLines(path)
  from <- grep("id=\"carried-", lines)
  set.seed(31)
  altered <- withr::local_tempfile(fileext = ".html")
  for (i in 1:40) {
    now <- lines
    at <- sample(unlist(lapply(from, function(f) f + 1:3)), 1)
    text <- strsplit(now[at], "")[[1]]
    text[sample(length(text), min(length(text), 3))] <- sample(c("x", "9", "\"", ",", "{", "-"), 3, TRUE)
    now[at] <- paste(text, collapse = "")
    writeLines(now, altered)
    status <- tryCatch(
      {
        headline(weigh(read_report(altered)))
        "read"
      },
      honestmargin_error = function(e) "refused", error = function(e) conditionMessage(e)
    )
    expect_true(status %in% c("read", "refused"), info = paste(status, now[at]))
  }
})
