# Runs the tests against the installed package, files side by side on all cores, and
# counts what they did. `Rscript tools/test.R PATTERN` runs the files that fit.
options(warn = 1)
# the noise memory of whoever tests is not theirs to fill
Sys.setenv(HONESTMARGIN_SOURCE = getwd(), NOT_CRAN = "true", HONESTMARGIN_NOISE = "off")
wanted <- c(commandArgs(TRUE), ".")[1]
files <- grep(wanted, list.files("tests/testthat", "^test-.*[.]R$", full.names = TRUE), value = TRUE)
# what took longest last time goes first; at the first time what mostly waits, then the largest
last <- ".setup/test-seconds.csv"
known <- if (file.exists(last)) utils::read.csv(last) else data.frame(file = character(), seconds = numeric())
waits <- "test-(run|search|board|source|study-memory|report|readme|cli)"
cost <- known$seconds[match(basename(files), known$file)]
cost[is.na(cost)] <- (file.size(files) / 1000 + 50 * grepl(waits, files))[is.na(cost)]
files <- files[order(-cost)]
results <- NULL
took <- NULL

# one process has everything loaded, and runs each file in a fork of itself; it talks into a file, never to a terminal
folder <- tempfile("tests-")
dir.create(folder)
log <- file.path(folder, "log")
runner <- processx::process$new(
  file.path(R.home("bin"), "Rscript"), c("--vanilla", "tools/test-files.R", folder, files),
  stdout = log, stderr = "2>&1", cleanup_tree = TRUE,
  # as the command itself: what is forked all the time has its memory in large pages
  env = c("current", GLIBC_TUNABLES = "glibc.malloc.hugetlb=1:glibc.malloc.arena_max=1")
)
told <- character()
tell <- function(done) {
  bad <- done$rows$failed > 0 | done$rows$error
  cat(sprintf("%-34s %3d tests %5.1f s, %5.1f s of a processor%s\n", done$file, nrow(done$rows), done$seconds,
    done$processor, if (any(bad)) "   FAILED" else ""
  ))
  if (any(bad)) writeLines(done$said)
}
repeat {
  alive <- runner$is_alive()
  for (path in setdiff(list.files(folder, "[.]rds$", full.names = TRUE), told)) {
    done <- readRDS(path)
    told <- c(told, path)
    tell(done)
    results <- rbind(results, done$rows)
    took <- rbind(took, data.frame(file = done$file, seconds = round(done$seconds, 1)))
  }
  if (!alive) break
  Sys.sleep(0.1)
}
never <- setdiff(basename(files), took$file)
if (length(never)) {
  writeLines(readLines(log, warn = FALSE))
  results <- rbind(results, data.frame(
    file = never, test = "the file itself", failed = 1, skipped = FALSE, error = TRUE, real = 0, why = ""
  ))
}
dir.create(".setup", showWarnings = FALSE)
if (!is.null(took)) utils::write.csv(took, last, row.names = FALSE)
slow <- utils::head(results[order(-results$real), ], 10)
cat("\nThe slowest:\n", sprintf("%6.1f s  %s: %s\n", slow$real, slow$file, slow$test), sep = "")
failed <- results$failed > 0 | results$error
if (any(failed)) cat("\nFailed:\n", sprintf("  %s: %s\n", results$file[failed], results$test[failed]), sep = "")
skipped <- !failed & results$skipped
if (any(skipped)) {
  cat("\nSkipped:\n", with(results[skipped, ], sprintf("  %s: %s (%s)\n", file, test, why)), sep = "")
}
line <- sprintf("%d passed, %d failed, %d skipped", sum(!failed & !skipped), sum(failed), sum(skipped))
writeLines(line, ".setup/test-count")
cat("\n", line, "\n", sep = "")
quit(status = if (any(failed) || !any(!failed & !skipped)) 1 else 0)
