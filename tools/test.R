# Runs the tests against the installed package, files side by side on all cores (testthat's own parallel mode), and
# counts what they did. `Rscript tools/test.R PATTERN` runs the files that fit.
options(warn = 1)
# the noise memory of whoever tests is not theirs to fill; what is forked all the time has its memory in large pages
Sys.setenv(
  HONESTMARGIN_SOURCE = getwd(), NOT_CRAN = "true", HONESTMARGIN_NOISE = "off", TESTTHAT_CPUS = parallel::detectCores(),
  GLIBC_TUNABLES = "glibc.malloc.hugetlb=1:glibc.malloc.arena_max=1"
)
pattern <- commandArgs(TRUE)
results <- testthat::test_local(".",
  filter = if (length(pattern)) sub("^test-", "", pattern[1]), load_package = "installed", reporter = "summary",
  stop_on_failure = FALSE
)
rows <- as.data.frame(results)
# why each test was skipped, a test without any expectation among them
rows$why <- vapply(results, function(result) {
  skips <- Filter(function(x) inherits(x, "expectation_skip"), result$results)
  paste(unique(vapply(skips, conditionMessage, "")), collapse = "; ")
}, "")
failed <- rows$failed > 0 | rows$error
if (any(failed)) cat("\nFailed:\n", sprintf("  %s: %s\n", rows$file[failed], rows$test[failed]), sep = "")
skipped <- !failed & rows$skipped
if (any(skipped)) {
  cat("\nSkipped:\n", with(rows[skipped, ], sprintf("  %s: %s (%s)\n", file, test, why)), sep = "")
}
line <- sprintf("%d passed, %d failed, %d skipped", sum(!failed & !skipped), sum(failed), sum(skipped))
dir.create(".setup", showWarnings = FALSE)
writeLines(line, ".setup/test-count")
cat("\n", line, "\n", sep = "")
quit(status = if (any(failed) || !any(!failed & !skipped)) 1 else 0)
