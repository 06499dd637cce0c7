# Speed, as ratios within one run (machines are noisy), and a small calibration.
# Prints what it measured; nothing here passes or fails.
suppressMessages(library(honestmargin))
source("bench/scenarios.R")
seconds <- function(code) unname(system.time(code)[["elapsed"]])
best_of <- function(n, f) min(vapply(seq_len(n), function(i) seconds(f()), 1))
said <- function(what, measured, aim) cat(sprintf("%-56s %14s   aim %s\n", what, measured, aim))

cat("honestmargin", as.character(packageVersion("honestmargin")), "on", R.version.string, "\n\nSpeed\n")

x <- rep(simulate_frames(2000, mean_ms = 7, seed = 1), length.out = 1e7)
in_base <- function() {
  s <- sort(x)
  c(
    mean(x), quantile(x, c(.5, .95, .99, .999)), mean(tail(s, 1e5)), mean(tail(s, 1e4)), median(abs(diff(x))),
    sum(x >= 2 * runmed(x, 61))
  )
}
base <- best_of(1, in_base)
ours <- best_of(3, function() frame_summary(x))
said("frame_summary, 10 million frames: base R over ours", sprintf("%.1f x", base / ours), "15 x or more")
invisible(gc(reset = TRUE))
before <- sum(gc()[, 2])
invisible(frame_summary(x))
said(
  "R memory on top of the data, peak", sprintf("%.2f x data", (sum(gc()[, 6]) - before) / (8e7 / 2^20)),
  "1 x or less"
)
rm(x)

log <- tempfile(fileext = ".csv")
frames <- simulate_frames(1500, mean_ms = 7, seed = 2)
data.table::fwrite(data.frame(frame = seq_len(1e7), frame_time_ms = round(rep(frames, length.out = 1e7), 3)), log)
invisible(data.table::fread(log, showProgress = FALSE))
plain <- best_of(3, function() data.table::fread(log, showProgress = FALSE))
imported <- best_of(3, function() read_frames(log))
read <- best_of(3, function() frame_summary(read_frames(log)$frame_time_ms))
both <- best_of(3, function() data.table::fread(log, showProgress = FALSE, nThread = parallel::detectCores()))
said("import 10 million frames: ours over fread", sprintf("%.2f x", imported / plain), "1.3 x or less")
said(
  sprintf("read and summarise a log of %.0f MB: ours over fread", file.size(log) / 1e6),
  sprintf("%.2f x", read / plain), "1.5 x or less"
)
said("  that over fread told to use every core", sprintf("%.2f x", read / both), "(no aim)")
unlink(log)

set.seed(1)
table <- expand.grid(
  arm = letters[1:4], block = 1:10, workload = paste0("w", 1:5), metric = paste0("m", 1:3), stringsAsFactors = FALSE
)
table$value <- exp(rnorm(nrow(table), sd = 0.01))
table$better <- "higher"
table$pass <- paste(table$arm, table$block, table$workload)
table$order <- ave(seq_len(nrow(table)), table$workload, table$metric, FUN = function(i) sample(length(i)))
for (i in 1:5) invisible(weigh(table, baseline = "a")) # R compiles a function on its second call
said(
  "weigh, 4 arms x 10 passes x 5 workloads x 3 metrics",
  sprintf("%.0f ms", 1000 * median(replicate(9, seconds(weigh(table, baseline = "a"))))), "60 ms or less"
)
# from what is dropped on the desk to its answer, over the wire
first_answer <- function(path, said) {
  desk <- processx::process$new("honestmargin", c("open", path), stdout = "|", stderr = "|", cleanup_tree = TRUE)
  on.exit(desk$kill_tree())
  desk$poll_io(20000)
  address <- desk$read_output_lines()[1]
  get <- function(where) readLines(url(where), warn = FALSE)
  seconds({
    read <- get(address)
    answer <- get(paste0(sub("read$", "answer", address), said))
    stopifnot(any(grepl("Keep in mind|Take it along", answer)))
  })
}
small <- file.path(tempdir(), "small.csv")
writeLines(c("arm,score", paste0(rep(c("off", "on"), 5), ",", 100 + 1:10)), small)
said("the desk: read and answer a table of ten passes", sprintf("%.1f s", first_answer(small, "?baseline=off")), "2 s")
said("the desk: read and answer the demo's 124 logs", sprintf("%.1f s", first_answer(demo_study(), "")), "10 s")
# growth: the cost of one comparison must not rise with how many there are
many <- function(arms, workloads, metrics, blocks) {
  rows <- expand.grid(
    arm = sprintf("a%04d", seq_len(arms)), workload = sprintf("w%02d", seq_len(workloads)),
    metric = sprintf("m%02d", seq_len(metrics)), block = seq_len(blocks), stringsAsFactors = FALSE
  )
  rows$value <- exp(rnorm(nrow(rows), sd = 0.01))
  rows$better <- "higher"
  rows
}
each <- function(rows, times = 1) {
  best <- best_of(times, function() weigh(rows, baseline = "a0001", worth = 1))
  1000 * best / ((length(unique(rows$arm)) - 1) * nrow(unique(rows[c("workload", "metric")])))
}
few <- each(many(10, 2, 2, 5), 3)
arms <- each(many(1000, 1, 1, 5))
crossed <- each(many(50, 20, 20, 3))
said("a comparison, 1000 arms", sprintf("%.2f ms, %.1f x of 10", arms, arms / few), "1 ms or less")
said("a comparison, 50 arms x 20 workloads x 20 metrics", sprintf("%.2f ms, %.1f x", crossed, crossed / few),
  "1 ms or less")
comment <- tempfile(fileext = ".csv")
numbers <- sprintf("%.3f", rep(simulate_frames(600, mean_ms = 8, seed = 3), length.out = 3e6))
writeLines(c("frame_time_ms", numbers), comment)
bare <- best_of(2, function() read_frames(comment))
writeLines(c("frame_time_ms", numbers[1:1e6], "# a comment", numbers[-(1:1e6)]), comment)
said("3 million frames with a comment among them", sprintf("%.1f x without", best_of(2,
  function() read_frames(comment)) / bare), "10 x or less")
unlink(comment)

small <- tempfile(fileext = ".csv")
writeLines(
  c("arm,score", paste0(rep(c("off", "on"), 5), ",", c(100, 104, 101, 104, 99, 103, 100, 104, 100, 103))), small
)
start <- best_of(
  5, function() system2("honestmargin", c("weigh", small, "--baseline", "off"), stdout = FALSE, stderr = FALSE)
)
bare <- best_of(5, function() system2("Rscript", c("-e", "1"), stdout = FALSE))
said(
  "honestmargin weigh on a small CSV, start to end", sprintf("%.2f s", start),
  sprintf("0.25 s beyond R alone (%.2f s)", bare)
)

# read anew, and after another command has read the same logs
local({
  folder <- tempfile("demo-")
  dir.create(folder)
  file.copy(demo_study(), folder, recursive = TRUE)
  study <- list.files(folder, full.names = TRUE)
  page <- file.path(folder, "report.html")
  verb <- function(cache, ...) {
    best_of(3, function() system2("honestmargin", c(...), stdout = FALSE, stderr = FALSE, env = c(
      "HONESTMARGIN_NOISE=off", paste0("HONESTMARGIN_CACHE=", cache)
    ))) - bare
  }
  kept <- file.path(folder, "kept")
  aims <- c(weigh = "1 s", report = "4 s")
  for (name in names(aims)) {
    words <- c(name, study, if (name == "report") c("--file", page))
    said(
      paste0("the demo study: ", name, ", beyond R; again"),
      sprintf("%.1f s; %.1f s", verb("off", words), verb(kept, words)), aims[[name]]
    )
  }
  unlink(folder, recursive = TRUE)
})

passes <- expand.grid(arm = paste0("a", 1:50), block = 1:5, workload = paste0("w", 1:20), stringsAsFactors = FALSE)
passes$outcome <- ifelse(runif(nrow(passes)) < 0.1, "crash", "ok")
passes$metric <- "deep_drops"
passes$value <- ifelse(passes$outcome == "ok", rpois(nrow(passes), 1), NA)
said(
  "outcomes and counts of 50 arms x 20 workloads, weighed",
  sprintf("%.0f ms", 1000 * best_of(3, function() weigh(passes, baseline = "a1"))), "200 ms"
)
profiles <- lapply(1:20, function(i) exp(rnorm(1e5, 2, 0.2)))
at_once <- function() {
  p <- t(vapply(profiles, function(x) log(honestmargin:::frame_profile(x)), honestmargin:::profile_shares()))
  d <- p[1:10, ] - p[11:20, ]
  honestmargin:::turned_maxima(d, matrix(sample(c(-1, 1), 1e5, TRUE), ncol = 10))
}
band <- best_of(3, at_once)
said("10 000 turns of a band, 20 passes of 100 000 frames", sprintf("%.2f s", band), "2 s or less")
if (requireNamespace("boot", quietly = TRUE)) {
  d <- matrix(rnorm(10 * length(honestmargin:::profile_shares())), 10)
  most <- function(rows, at) max(abs(colMeans(rows[at, ])) / apply(rows[at, ], 2, sd))
  slow <- seconds(boot::boot(d, most, 200)) * 50
  quick <- best_of(3, function() honestmargin:::turned_maxima(d, matrix(sample(c(-1, 1), 1e5, TRUE), ncol = 10)))
  said("  as many resamples by boot::boot over ours", sprintf("%.0f x", slow / quick), "50 x or more")
}
all_asked <- function() {
  v <- weigh(table, baseline = "a", against = "all")
  weigh_overall(v)
  how_firm(v)
}
said(
  "the same 4 x 10 x 5 x 3 with pairs, best, overall, firmness",
  sprintf("%.0f ms", 1000 * median(replicate(5, seconds(all_asked())))), "150 ms or less"
)
said("10 000 claims", sprintf(
  "%.0f ms", 1000 * best_of(3, function() weigh_claims(runif(1e4, 50, 100), runif(1e4, 50, 100)))
), "1 s")
Sys.setenv(HONESTMARGIN_NOISE = tempfile(fileext = ".sqlite"))
invisible(honestmargin:::write_memory(data.frame(
  machine = "m", label = "x", study = rep(1:100, each = 1000), workload = paste0("w", 1:1000), context = NA,
  metric = "score", unit = "", scale = "percent", within = 1, df_within = 5, total = 1, df_total = 5, passes = 6L,
  boots = NA_real_, df_boots = NA_real_,
  day = "2026-01-01", setting = "s", arm = "a", work = "w", level = 100, level_passes = 5L
)))
said("noise of one workload out of a memory of 100 000 rows", sprintf(
  "%.0f ms", 1000 * best_of(3, function() honestmargin:::pool_noise(noise_memory("m", "w7")))
), "50 ms")
Sys.setenv(HONESTMARGIN_NOISE = "off")

source("bench/climbs.R")
local({
  # a ladder of 500 values, 1000 passes behind it
  steps <- list(
    rung = rep(1:500, each = 2), test = rep(1:2, 500), held = rep(TRUE, 1000), seconds = rep(60, 1000),
    soak = rep(FALSE, 1000)
  )
  rules <- honestmargin:::climb_rules(600, 2)
  said("next step of a search, 1000 passes behind it", sprintf(
    "%.2f ms", best_of(5, function() for (i in 1:100) honestmargin:::climb_next(steps, rules)) * 10
  ), "50 ms")
  spread <- function(i) climb_many(250, 5)
  took <- seconds(parallel::mclapply(1:4, spread, mc.cores = parallel::detectCores()))
  said("10 000 simulated searches, by 1000 of them", sprintf("%.0f s", 10 * took), "60 s on 2 cores")
})
source("bench/road.R")
source("bench/ledger.R")
source("bench/capture.R")
cat("\nCalibration, 100 studies a line (make calibrate: 4000)\n")
RNGkind("L'Ecuyer-CMRG")
set.seed(20)
spread <- function(x, f) parallel::mclapply(x, f, mc.cores = parallel::detectCores())
print_calibration(do.call(rbind, lapply(calibration_cells(), run_cell, studies = 100, apply = spread)))
