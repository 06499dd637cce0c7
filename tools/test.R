# Runs the tests against the installed package, files side by side on all cores, and
# counts what they did. `Rscript tools/test.R PATTERN` runs the files that fit.
options(warn = 1)
# one file, in a process of its own: its rows as a table
if (identical(commandArgs(TRUE)[1], "--file")) {
  rows <- as.data.frame(testthat::test_file(commandArgs(TRUE)[2],
    package = "honestmargin", load_package = "installed", stop_on_failure = FALSE,
    reporter = testthat::CheckReporter$new()
  ))
  saveRDS(rows[c("file", "test", "failed", "skipped", "error", "real")], commandArgs(TRUE)[3])
  quit(status = 0)
}
# the noise memory of whoever tests is not theirs to fill
Sys.setenv(HONESTMARGIN_SOURCE = getwd(), NOT_CRAN = "true", HONESTMARGIN_NOISE = "off")
wanted <- c(commandArgs(TRUE), ".")[1]
files <- grep(wanted, list.files("tests/testthat", "^test-.*[.]R$", full.names = TRUE), value = TRUE)
# what took longest last time goes first; at the first time the largest
last <- ".setup/test-seconds.csv"
known <- if (file.exists(last)) utils::read.csv(last) else data.frame(file = character(), seconds = numeric())
cost <- known$seconds[match(basename(files), known$file)]
cost[is.na(cost)] <- file.size(files)[is.na(cost)] / 1000
waiting <- files[order(-cost)]
# real renderers share one machine badly: their files begin first, one at a time
renders <- function(file) grepl("probe|demo-study", file)
waiting <- waiting[order(!renders(waiting))]
# some files mostly wait for runs of others
side_by_side <- parallel::detectCores() + 1
running <- list()
begin <- function(file) {
  out <- tempfile(fileext = ".rds")
  log <- tempfile()
  process <- processx::process$new(file.path(R.home("bin"), "Rscript"),
    c("--vanilla", "tools/test.R", "--file", file, out),
    stdout = log, stderr = "2>&1", cleanup_tree = TRUE
  )
  list(file = file, out = out, log = log, process = process, at = proc.time()[["elapsed"]])
}
results <- NULL
took <- NULL
repeat {
  while (length(running) < side_by_side && length(waiting)) {
    one_renders <- any(vapply(running, function(r) renders(r$file), NA))
    nth <- which(!(one_renders & renders(waiting)))[1]
    if (is.na(nth)) break
    running <- c(running, list(begin(waiting[nth])))
    waiting <- waiting[-nth]
  }
  if (!length(running)) break
  Sys.sleep(0.1)
  over <- !vapply(running, function(r) r$process$is_alive(), NA)
  for (r in running[over]) {
    seconds <- proc.time()[["elapsed"]] - r$at
    rows <- if (file.exists(r$out)) readRDS(r$out)
    if (is.null(rows)) {
      rows <- data.frame(
        file = basename(r$file), test = "the file itself", failed = 1, skipped = FALSE, error = TRUE, real = 0
      )
    }
    bad <- rows$failed > 0 | rows$error
    cat(
      sprintf("%-34s %3d tests %5.1f s%s\n", basename(r$file), nrow(rows), seconds, if (any(bad)) "   FAILED" else "")
    )
    if (any(bad)) cat(readLines(r$log, warn = FALSE), sep = "\n")
    results <- rbind(results, rows)
    took <- rbind(took, data.frame(file = basename(r$file), seconds = round(seconds, 1)))
  }
  running <- running[!over]
}
dir.create(".setup", showWarnings = FALSE)
utils::write.csv(took, last, row.names = FALSE)
slow <- utils::head(results[order(-results$real), ], 10)
cat("\nThe slowest:\n", sprintf("%6.1f s  %s: %s\n", slow$real, slow$file, slow$test), sep = "")
failed <- results$failed > 0 | results$error
if (any(failed)) cat("\nFailed:\n", sprintf("  %s: %s\n", results$file[failed], results$test[failed]), sep = "")
skipped <- !failed & results$skipped
line <- sprintf("%d passed, %d failed, %d skipped", sum(!failed & !skipped), sum(failed), sum(skipped))
writeLines(line, ".setup/test-count")
cat("\n", line, "\n", sep = "")
quit(status = if (any(failed) || !any(!failed & !skipped)) 1 else 0)
