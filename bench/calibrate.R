# The calibration table at full size, written to docs/calibration.md: Rscript bench/calibrate.R 4000
suppressMessages(library(honestmargin))
source("bench/scenarios.R")
studies <- as.integer(commandArgs(trailingOnly = TRUE)[1])
table <- run_calibration(small_scenarios(), studies)
print_calibration(table)
wanted <- as.numeric(sub(" .*", "", table$wanted)) / 100
off <- ifelse(grepl("less", table$wanted), table$share - wanted, wanted - table$share)
worst <- off > 2 * table$error
row <- sprintf(
  "| %s | %s | %.1f | %.1f | %s%s |", table$what, table$scenario, 100 * table$share, 100 * table$error, table$wanted,
  ifelse(worst, " **missed**", "")
)
writeLines(c(
  "# Calibration", "",
  paste0(
    "Simulated studies with known truth, ", studies, " a line, through the public functions; made by `make calibrate`, never ",
    "typed. Error: one Monte Carlo standard error. **missed**: more than two of them beyond what is wanted."
  ), "",
  "| what | scenario | % | error | wanted |", "| --- | --- | --- | --- | --- |", row[order(-off / pmax(table$error, 1e-9))]
), "docs/calibration.md")
