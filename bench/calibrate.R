# The calibration table at full size, written to docs/calibration.md: Rscript bench/calibrate.R 4000
# With the word `new` after it only what the table has no row of yet; each row tells the day it was measured on.
# Runs on all cores, says how far it is, and goes on where it was stopped (bench/.calibration); with the word `done` only
# what has been run so far is written.
suppressMessages(library(honestmargin))
source("bench/scenarios.R")
studies <- as.integer(commandArgs(trailingOnly = TRUE)[1])
future::plan("multicore", workers = parallel::detectCores())
kept <- file.path("bench", ".calibration")
dir.create(kept, showWarnings = FALSE)
cells <- calibration_cells()
csv <- "inst/extdata/calibration.csv"
before <- utils::read.csv(csv, colClasses = c(beside_what = "character"))
of_cell <- vapply(cells, function(cell) paste(cell$what, cell$scenario), "")
if ("new" %in% commandArgs(trailingOnly = TRUE)) {
  kept_rows <- before[paste(before$what, before$scenario) %in% of_cell, , drop = FALSE]
  cells <- cells[!of_cell %in% paste(before$what, before$scenario)]
} else {
  kept_rows <- before[0, ]
}
# what was run by another version of the code is run again
version <- tools::md5sum(c("bench/scenarios.R", list.files("R", full.names = TRUE)))
version <- substr(cli::hash_md5(paste(version, collapse = "")), 1, 8)
file_of <- function(cell) {
  file.path(kept, paste0(version, "-", studies, "-", substr(cli::hash_md5(paste(cell$what, cell$scenario)), 1, 10), ".rds"))
}
if ("done" %in% commandArgs(trailingOnly = TRUE)) cells <- Filter(function(cell) file.exists(file_of(cell)), cells)
spread <- function(x, f) future.apply::future_lapply(x, f, future.seed = 20, future.chunk.size = ceiling(studies / 8))
table <- do.call(rbind, lapply(seq_along(cells), function(i) {
  file <- file_of(cells[[i]])
  if (!file.exists(file)) {
    began <- Sys.time()
    saveRDS(run_cell(cells[[i]], studies, spread), file)
    took <- as.numeric(difftime(Sys.time(), began, units = "secs"))
    message(sprintf("%d/%d  %s, %s (%.0f s)", i, length(cells), cells[[i]]$what, cells[[i]]$scenario, took))
  }
  readRDS(file)
}))
print_calibration(table)
# what the documentation and the vignette tell
told <- data.frame(
  table[c("what", "scenario")],
  percent = round(100 * table$share, 1), error = round(100 * table$error, 1), wanted = table$wanted,
  missed = missed(table), beside_what = ifelse(is.na(table$beside), "", table$beside_what),
  beside = round(100 * table$beside, 1), measured = format(Sys.Date())
)
told <- rbind(kept_rows, told)
told <- told[order(match(paste(told$what, told$scenario), of_cell)), ]
utils::write.csv(told, csv, row.names = FALSE, na = "", quote = c(1, 2, 5, 7))
row <- sprintf(
  "| %s | %s | %.1f | %.1f | %s%s | %s | %s |", told$what, told$scenario, told$percent, told$error, told$wanted,
  ifelse(told$missed, " **missed**", ""),
  ifelse(is.na(told$beside), "", sprintf("%s: %.1f", told$beside_what, told$beside)), told$measured
)
# looking after every block beside a plan of fixed size, three comparisons
looked <- function(effect, blocks = 200, wanted = 60) {
  d <- matrix(rnorm(blocks * studies, effect, sqrt(2)), blocks)
  n <- seq_len(blocks)
  mean <- apply(d, 2, cumsum) / n
  spread <- sqrt((apply(d^2, 2, cumsum) - n * mean^2) / (n - 1))
  settled <- abs(mean) > honestmargin:::look_critical(n, wanted) * spread / sqrt(n)
  first <- apply(settled, 2, function(s) which(s)[1])
  stats::quantile(ifelse(is.na(first), blocks, first), c(0.5, 0.8), names = FALSE)
}
fixed <- function(effect, alpha = 1 - 0.95^(1 / 3)) {
  ceiling(power.t.test(delta = effect, sd = sqrt(2), sig.level = alpha, power = 0.8, type = "paired", strict = TRUE)$n)
}
set.seed(21)
blocks <- vapply(1:3, function(effect) c(effect, looked(effect), fixed(effect)), numeric(4))
writeLines(c(
  "# Calibration", "",
  paste0(
    "Simulated studies with known truth, ", studies,
      " a line, through the public functions (moderated, noise memory, boots, sessions: through the core that they call); ",
    "made by `make calibrate`, never typed. Error: one Monte Carlo standard error. **missed**: more than two of them beyond what is wanted. Weak ",
    "spots are named as such. Beside: what a simpler way says of the same studies. Measured: the day on which that line ",
    "was run."
  ), "",
  "| what | scenario | % | error | wanted | beside, % | measured |", "| --- | --- | --- | --- | --- | --- | --- |",
    row, "",
  "## How many blocks until it is settled", "",
  paste(
    "`run --until-settled`, three comparisons, by the true difference in standard deviations of one pass; beside it the",
    "blocks that a plan of fixed size needs to find it four times in five, if the difference is known beforehand."
  ), "",
  "| difference | half are settled after | four in five after | fixed plan |", "| --- | --- | --- | --- |",
  sprintf("| %d | %d | %d | %d |", blocks[1, ], as.integer(blocks[2, ]), as.integer(blocks[3, ]),
    as.integer(blocks[4, ]))
), "docs/calibration.md")
