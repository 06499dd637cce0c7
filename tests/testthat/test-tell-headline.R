# One line for a study, and one line for each answer.
test_that("the headline never says more than the rows, over many combinations", {
  verdicts <- weigh(read_study(demo_study()))
  primary <- which(verdicts$role == "primary")
  words <- c(
    "clear gain", "gain", "negligible", "unclear", "loss", "clear loss", "blocked", "no basis", "does not hold"
  )
  arms <- c("500", "1000", "2000")
  set.seed(17)
  for (i in 1:60) {
    mixed <- verdicts
    # few words at a time, so that arms with one answer alone occur too
    mixed$verdict[primary] <- sample(sample(words, sample(1:4, 1)), length(primary), TRUE)
    rows <- as.data.frame(mixed)[primary, ]
    told <- headline(mixed)
    clauses <- strsplit(told, "[.] (?=[A-Z0-9])", perl = TRUE)[[1]]
    of_arm <- function(arm) clauses[startsWith(clauses, paste(arm, "Hz ")) & !grepl("crashed in 1 of 5", clauses)]
    for (arm in arms) {
      mine <- rows$verdict[rows$arm == arm]
      said <- paste(of_arm(arm), collapse = " ")
      expect_identical(grepl("\\bloses in\\b", said), any(mine %in% c("loss", "clear loss")))
      expect_identical(grepl("\\bgains in\\b", said), any(mine %in% c("gain", "clear gain")))
      expect_identical(grepl("not hold", said), any(mine == "does not hold"))
    }
    # each verdict by its own name, and no other
    expect_identical(grepl("unclear", told), any(rows$verdict == "unclear"))
    expect_identical(grepl("blocked", told), any(rows$verdict == "blocked"))
    expect_identical(grepl("([Nn]o|without) basis", told), any(rows$verdict == "no basis"))
    expect_identical(grepl("negligible|no difference worth having", told), any(rows$verdict == "negligible"))
    expect_no_match(told, "neither")
  }
})

test_that("a failure is in the headline, and pairs have none", {
  verdicts <- weigh(read_study(demo_study()))
  expect_match(headline(verdicts), "500 Hz crashed in 1 of 5 passes of tunnel.")
  expect_null(headline(weigh(read_study(demo_study()), against = "all")))
  expect_match(
    headline(verdicts), paste0(
      "^2000 Hz loses in harbour: average -3[.]4 % \\(clear loss\\) and 1 % low -7[.]5 % \\(loss\\)[.] .*",
      "Of the other 13 comparisons, 6 are negligible, 4 unclear and 3 blocked\\.$"
    )
  )
})

test_that("each answer has its values, change, worth and noise, the baseline first", {
  study <- data.frame(
    arm = rep(c("off", "on"), 4), block = rep(1:4, each = 2), unit = "fps", metric = "fps_avg",
    value = c(100, 104, 101, 105, 100, 104, 99, 103)
  )
  out <- run_cli("weigh", write_lines(
    "arm,block,metric,unit,value", paste(study$arm, study$block, study$metric, study$unit, study$value, sep = ",")
  ), "--baseline", "off", "--worth", "2")
  lines <- strsplit(out$stdout, "\n")[[1]]
  at <- grep("^average [(]fps_avg[)] +off -> on +change +interval +verdict$", lines)
  expect_match(lines[at + 1], "^  on +100[.]0+ -> 104[.]0 +\\+4[0-9.]* % .* clear gain$")
  expect_match(out$stdout, "Worth 2 %, noise [0-9.]+ %")
  expect_match(lines[1], "^on gains: average \\+4[.]0 % \\(.* to .* %\\), clear gain; worth 2 %[.] Run order")
  bare <- run_cli("weigh", write_lines("arm,value", "a,100", "b,104", "a,101", "b,105", "a,100", "b,104"), "-b", "a")
  expect_match(gsub("\\s+", " ", bare$stdout), "No worth named.*name the smallest change worth having")
})

test_that("where an arm failed is said though that place is not shown, and exploratory rows are called so", {
  verdicts <- weigh(read_study(demo_study()))
  expect_match(headline(verdicts[verdicts$workload == "harbour", ]), "500 Hz crashed in 1 of 5 passes of tunnel[.]")
  shown <- run_cli("weigh", demo_study(), "--metric", "fps_min")$stdout
  expect_match(gsub("\\s+", " ", shown), "All rows are exploratory: each interval alone, expect about 0 of 6 to move")
})

test_that("what goes on from a command is of the same study, wherever its name stood", {
  told <- run_cli("weigh", "--worth", "fps_avg=3", demo_study())$stdout
  next_one <- regmatches(told, regexpr("honestmargin ask [^\n#]+", told))
  expect_identical(trimws(next_one), paste("honestmargin ask", demo_study(), "--worth fps_avg=3 firm"))
  expect_identical(run_cli(strsplit(trimws(next_one), " ")[[1]][-1])$status, 0L)
})

test_that("the demo fits a screen: at most 35 lines of 80 columns, no finding twice", {
  lines <- strsplit(run_cli("demo", withr::local_tempdir())$stdout, "\n")[[1]]
  own <- grep("^  honestmargin", lines, value = TRUE, invert = TRUE)
  expect_lte(length(lines), 36)
  expect_every(nchar(own) <= 80)
  caveats <- grep("^[!*] ", lines, value = TRUE)
  expect_identical(anyDuplicated(caveats), 0L)
  expect_length(grep("120 fps", lines), 1)
})
