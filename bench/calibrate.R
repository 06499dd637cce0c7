# The calibration table at full size, written to docs/calibration.md: Rscript bench/calibrate.R 4000
# Runs on all cores, says how far it is, and goes on where it was stopped (bench/.calibration).
suppressMessages(library(honestmargin))
source("bench/scenarios.R")
studies <- as.integer(commandArgs(trailingOnly = TRUE)[1])
future::plan("multicore", workers = parallel::detectCores())
kept <- file.path("bench", ".calibration")
dir.create(kept, showWarnings = FALSE)
cells <- calibration_cells()
# what was run by another version of the code is run again
version <- tools::md5sum(c("bench/scenarios.R", list.files("R", full.names = TRUE)))
version <- substr(cli::hash_md5(paste(version, collapse = "")), 1, 8)
spread <- function(x, f) future.apply::future_lapply(x, f, future.seed = 20, future.chunk.size = ceiling(studies / 8))
table <- do.call(rbind, lapply(seq_along(cells), function(i) {
  file <- file.path(kept, paste0(version, "-", studies, "-", i, ".rds"))
  if (!file.exists(file)) {
    began <- Sys.time()
    saveRDS(run_cell(cells[[i]], studies, spread), file)
    took <- as.numeric(difftime(Sys.time(), began, units = "secs"))
    message(sprintf("%d/%d  %s, %s (%.0f s)", i, length(cells), cells[[i]]$what, cells[[i]]$scenario, took))
  }
  readRDS(file)
}))
print_calibration(table)
row <- sprintf(
  "| %s | %s | %.1f | %.1f | %s%s | %s |", table$what, table$scenario, 100 * table$share, 100 * table$error, table$wanted,
  ifelse(missed(table), " **missed**", ""),
  ifelse(is.na(table$beside), "", sprintf("%s: %.1f", table$beside_what, 100 * table$beside))
)
writeLines(c(
  "# Calibration", "",
  paste0(
    "Simulated studies with known truth, ", studies, " a line, through the public functions; made by `make calibrate`, ",
    "never typed. Error: one Monte Carlo standard error. **missed**: more than two of them beyond what is wanted. Weak ",
    "spots are named as such. Beside: what a simpler way says of the same studies."
  ), "",
  "| what | scenario | % | error | wanted | beside, % |", "| --- | --- | --- | --- | --- | --- |", row
), "docs/calibration.md")
