# One kind of answer to every question.
test_that("a study lists what it can be asked, each in one line, and what each would need", {
  rows <- ask_study(read_study(demo_study()))
  expect_named(rows, c("question", "answer", "needs", "about"))
  answered <- rows$question[!is.na(rows$answer)]
  expect_setequal(answered, c(
    "verdicts", "steps", "describe", "machine", "check", "overall", "trade", "options", "firm", "frames", "sources",
    "events", "outcomes", "limiting"
  ))
  expect_identical(rows$answer[rows$question == "outcomes"], "1 of 59 passes failed")
  expect_match(rows$needs[rows$question == "floors"], "--floor")
  told <- run_cli("ask", demo_study())$stdout
  expect_match(told, "overall +125 Hz, 500 Hz \\(failed\\) and 1000 Hz could be best everywhere\n")
  expect_match(told, "screen +this study has no block screen")
  expect_true(all(nchar(strsplit(told, "\n")[[1]]) <= 80 | grepl("^Next", strsplit(told, "\n")[[1]])))
})

test_that("every answer prints, is a table, a list for JSON, a line, and says what was read", {
  study <- read_study(demo_study())
  answers <- list(
    weigh_overall(study), how_firm(study), weigh_frames(study), noise_sources(study),
    weigh_together(study, c(fps_avg = "as_good")), weigh_floors(study, c(low1_quantile = 60)),
    weigh_near(study, 2), ask_study(study, "events"), ask_study(study, "outcomes"), ask_study(study, "limiting")
  )
  for (found in answers) {
    expect_s3_class(found, "honestmargin_answer")
    told <- capture.output(print(found))
    expect_match(paste(told, collapse = " "), "Read 63 passes: 4 arms, 3 workloads, 5 blocks", fixed = TRUE)
    expect_identical(class(as.data.frame(found)), "data.frame")
    expect_gt(nrow(as.data.frame(found)), 0)
    expect_length(honestmargin:::answer_line(found), 1)
    # a choice of columns is a table like any other
    if (is.data.frame(found)) expect_output(print(found[1:2]), names(found)[1])
  }
})

test_that("an answer from a table tells its account in R, in the shell and as data", {
  path <- write_lines("arm,run,score", "off,1,1000", "on,1,1041", "off,2,1008", "on,2,1049", "off,3,996", "on,3,1038")
  found <- weigh_floors(read_readings(path, baseline = "off"), c(score = 990))
  expect_output(print(found), "Read 6 values of")
  for (words in list(c("ask", path, "outcomes"), c("check", path), c("describe", path))) {
    baseline <- if (words[1] != "describe") c("-b", "off")
    data <- jsonlite::fromJSON(run_cli(words, baseline, "-f", "json")$stdout)
    expect_identical(data$read$table$passes, c(3L, 3L), info = words[1])
  }
})

test_that("an unknown question and an option of another are refused, and the verbs of before point here", {
  expect_error(ask_study(read_study(demo_study()), "frim"), "did you mean 'firm'", class = "honestmargin_error_input")
  expect_match(run_cli("ask", demo_study(), "frim")$stderr, "did you mean 'firm'")
  idle <- run_cli("ask", demo_study(), "firm", "--floor", "fps_avg=60")
  expect_identical(idle$status, 2L)
  expect_match(idle$stderr, "the question firm: --floor is for floors")
  before <- run_cli("firm", demo_study())
  expect_identical(before$stdout, run_cli("ask", demo_study(), "firm")$stdout)
  expect_match(before$stderr, "'firm' is now: honestmargin ask .* firm")
})
