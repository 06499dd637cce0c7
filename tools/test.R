# Runs the tests against the installed package and counts what they did.
options(warn = 1, testthat.progress.max_fails = 1000)
Sys.setenv(HONESTMARGIN_SOURCE = getwd(), NOT_CRAN = "true")
results <- as.data.frame(testthat::test_dir("tests/testthat",
  package = "honestmargin", load_package = "installed", stop_on_failure = FALSE,
  reporter = if (Sys.getenv("CI") == "true") "summary" else "progress"
))
failed <- results$failed > 0 | results$error
skipped <- !failed & results$skipped
line <- sprintf("%d passed, %d failed, %d skipped", sum(!failed & !skipped), sum(failed), sum(skipped))
writeLines(line, ".setup/test-count")
cat(line, "\n", sep = "")
quit(status = if (any(failed) || !any(!failed & !skipped)) 1 else 0)
