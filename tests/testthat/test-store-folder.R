local_study <- function(plan = NULL, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  dir.create(file.path(folder, "frames"))
  from <- demo_study()
  file.copy(file.path(from, c("study.yml", "passes.csv")), folder)
  file.copy(list.files(file.path(from, "frames"), full.names = TRUE)[1:8], file.path(folder, "frames"))
  if (!is.null(plan)) writeLines(plan, file.path(folder, "study.yml"))
  folder
}

test_that("a plan's mistakes are named with line and nearest word", {
  plan <- readLines(file.path(demo_study(), "study.yml"))
  change <- function(from, to) sub(from, to, plan)
  cases <- list(
    list(change("^blocks:", "blokcs:"), "line [0-9]+: unknown key 'blokcs'.*did you mean 'blocks'"),
    list(change("^blocks: 5", "blocks: five"), "line 46: 'blocks' must be a whole number"),
    list(change("  baseline: 125", "  baseline: 250"), "line 8: baseline '250' is none of the arms"),
    list(change("^order: shuffled", "order: shufled"), "did you mean 'shuffled'"),
    list(c("a: 1", "b: ["), "not valid YAML")
  )
  for (case in cases) expect_message_of(read_study(local_study(case[[1]])), "honestmargin_error_input", case[[2]])
})

test_that("one log that cannot be read does not take the others along", {
  folder <- local_study()
  writeLines("rubbish", file.path(folder, "frames", "p004.csv"))
  unlink(file.path(folder, "frames", "p004.csv.gz"))
  study <- read_study(folder)
  expect_match(paste(findings(study)$message, collapse = "\n"), "pass p004 is not summarised.*no numeric column")
  expect_true("p005" %in% study$readings$pass[!is.na(study$readings$value)])
})

test_that("passes recorded as ok without any number are told", {
  study <- read_study(local_study())
  expect_true("p050" %in% study$findings$pass[study$findings$code == "empty"])
  told <- subset(findings(study), check == "empty")
  expect_match(told$message, "pass p[0-9]+: recorded as ok but has neither .*the like in [0-9]+ more passes")
})

test_that("a folder without a plan, and a log of no pass, are refused", {
  expect_message_of(read_study(withr::local_tempdir()), "honestmargin_error_input", "no study.yml")
  folder <- local_study()
  writeLines(c("ms", 8, 8), file.path(folder, "frames", "p0x4.csv"))
  expect_message_of(read_study(folder), "honestmargin_error_input", "'p0x4' belongs to no pass")
})
