# How often a search ends where it should: Rscript bench/searches.R 12500, written to docs/searches.md
suppressMessages(library(honestmargin))
source("bench/climbs.R")
n <- as.integer(commandArgs(trailingOnly = TRUE)[1])
cells <- expand.grid(factor = c(1.5, 2, 3, 5, 10), kind = 1:5)
kinds <- data.frame(
  allowed = c(0, 1, 2, 12, 0), soak = c(1, 1.7, 2.7, 12.7, 1), pace = c("step", "step", "step", "step", "halve"),
  stringsAsFactors = FALSE
)
future::plan("multicore", workers = parallel::detectCores())
began <- Sys.time()
rows <- future.apply::future_lapply(seq_len(nrow(cells)), function(i) {
  kind <- kinds[cells$kind[i], ]
  r <- climb_many(ceiling(n / nrow(cells)), cells$factor[i], kind$allowed, kind$soak, kind$pace)
  sprintf(
    "| %g | %s | %g | %.1f | %.1f | %.1f | %.1f | %.1f | %.1f | %.1f |", cells$factor[i], kind$pace, kind$allowed,
    kind$soak, 100 * mean(abs(r$off) <= 1), 100 * mean(r$off > 1), 100 * mean(r$off < -1),
    100 * mean(r$covered, na.rm = TRUE), mean(r$passes), mean(r$failures)
  )
}, future.seed = 30, future.chunk.size = 1)
took <- as.numeric(difftime(Sys.time(), began, units = "secs"))
message(sprintf("%d searches in %.0f s", nrow(cells) * ceiling(n / nrow(cells)), took))
writeLines(c(
  "# How often a search ends where it should", "",
  paste0(
    "Simulated parts with a known rate of failures at each of 13 values, ", ceiling(n / nrow(cells)),
    " searches a line, by the rules that `run` uses; made by `make calibrate`, never typed. The rate grows by a ",
    "factor from one value to the next; at most 2 failures an hour are wanted, and the soak is so many times as ",
    "long as that ",
    "takes for one failure on average. In range: within one value of the highest that meets it. Covered: the limit ",
    "that is told for the value found holds. One Monte Carlo standard error at 95 %: ",
    sprintf("%.1f", 100 * sqrt(0.95 * 0.05 / ceiling(n / nrow(cells)))), "."
  ), "",
  "| factor | pace | allowed | soak | in range, % | too high, % | too low, % | covered, % | passes | failures |",
  "| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |", unlist(rows), "",
  paste(
    "Where the rate grows tenfold a step, one failure is enough to send the search down. Where it grows less, that",
    "sends it too far down by chance: `allowed: 1` with a soak of 1.7 is in range from a factor of 3 on,",
    "`allowed: 2` with one of 2.7 from a factor of 2 on, at the price of more failures; a larger step does so too.",
    "At a factor of 1.5 neighbours hardly differ: only `allowed: 12` with a soak of 12.7 is, for a machine that fails",
    "by itself all night; by hand take every second value, which makes it 2.25."
  )
), "docs/searches.md")
