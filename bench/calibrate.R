# The calibration table at full size: Rscript bench/calibrate.R 4000
suppressMessages(library(honestmargin))
source("bench/scenarios.R")
studies <- as.integer(commandArgs(trailingOnly = TRUE)[1])
print_calibration(run_calibration(small_scenarios(), studies))
