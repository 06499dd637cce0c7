# Writes docs/answers.md: eleven made-up studies, what is typed and what comes back. Run by `make docs` and, with a
# folder as argument, by the test that holds the page to what the program says now.
suppressMessages(library(honestmargin))
to <- c(commandArgs(TRUE), "docs")[1]
shots <- file.path(to, "screenshots")
dir.create(shots, showWarnings = FALSE, recursive = TRUE)
Sys.setenv(HONESTMARGIN_NOISE = "off", TZ = "UTC")
set.seed(11)
home <- file.path(tempdir(), "answers")
dir.create(home)
setwd_home <- setwd(home)
to <- if (startsWith(to, "/")) to else file.path(setwd_home, to)
shots <- if (startsWith(shots, "/")) shots else file.path(setwd_home, shots)

study <- function(name, plan, passes = NULL) {
  dir.create(name)
  writeLines(plan, file.path(name, "study.yml"))
  if (!is.null(passes)) utils::write.csv(passes, file.path(name, "passes.csv"), row.names = FALSE, na = "")
}
shuffled <- function(arms, blocks, workloads) {
  rows <- do.call(rbind, lapply(seq_len(blocks), function(b) {
    expand.grid(workload = workloads, arm = sample(arms), block = b, stringsAsFactors = FALSE)
  }))
  cbind(pass = sprintf("p%03d", seq_len(nrow(rows))), rows, order = seq_len(nrow(rows)))
}

# 1: one arm always fails under load
p <- shuffled(c("0", "150", "300"), 5, c("light", "heavy"))
fell <- p$arm == "300" & p$workload == "heavy"
p$outcome <- ifelse(fell, sample(c("crash", "freeze"), nrow(p), TRUE), "ok")
p$seconds <- ifelse(fell, round(runif(nrow(p), 20, 200)), ifelse(p$workload == "heavy", 600, 60))
gain <- c(`0` = 0, `150` = 0.021, `300` = 0.043)[p$arm]
p$score <- ifelse(p$workload == "light", round(8000 * exp(gain + rnorm(nrow(p), sd = 0.004))), NA)
study("stress", c(
  "question: How far does the core of the Oddlantern go?",
  "setting: {name: core offset, unit: MHz, ordered: true, baseline: \"0\"}",
  "arms: [{value: \"0\"}, {value: \"150\"}, {value: \"300\"}]",
  "workloads: [{id: light}, {id: heavy, outcome_only: true}]", "metrics: [{id: score, worth: 1, primary: true}]",
    "blocks: 5"
), p)

# 2: a soak without scores
p <- shuffled(c("stock", "eco"), 6, "burn")
p$outcome <- "ok"
p$outcome[p$arm == "eco"][4] <- "down"
p$seconds <- ifelse(p$outcome == "ok", 7200, 3310)
study("soak", c(
  "question: Does the eco profile hold for an evening?", "setting: {name: profile, baseline: stock}",
  "arms: [{value: stock}, {value: eco}]", "workloads: [{id: burn, outcome_only: true}]",
  "metrics: [{id: failures_per_hour, primary: true}]", "blocks: 6"
), p)

# 3: two laptops, one pass each
writeLines(c("arm,workload,score", "Finch,render,812", "Wren,render,861", "Finch,pack,5240", "Wren,pack,5262"),
  "two.csv")

# 4: a suite of scores of one machine
p <- shuffled("Finch", 5, c("render", "pack", "sort"))
p$score <- round(c(render = 812, pack = 5240, sort = 143)[p$workload] * exp(rnorm(nrow(p), sd = 0.012)))
study("finch", c(
  "question: How fast is the Finch?", "setting: {name: machine}",
  "arms: [{value: Finch, attributes: {memory: 16 GB, price: 899}}]",
    "workloads: [{id: render}, {id: pack}, {id: sort}]",
  "machine: {processor: Oddlantern K6, system: Lanternix 4}", "conditions: {power: mains}"
), p)
p$arm <- "Wren"
p$score <- round(c(render = 861, pack = 5262, sort = 171)[p$workload] * exp(rnorm(nrow(p), sd = 0.012)))
study("wren", c(
  "question: How fast is the Wren?", "setting: {name: machine}",
  "arms: [{value: Wren, attributes: {memory: 32 GB, price: 1049}}]",
    "workloads: [{id: render}, {id: pack}, {id: sort}]",
  "machine: {processor: Oddlantern K8, system: Lanternix 4}", "conditions: {power: mains}"
), p)

# 5: rare drops that go with an attribute
kits <- data.frame(arm = c("A", "B", "C", "D", "E"), capacity = c(8, 8, 32, 32, 32), rank = c(1, 2, 1, 2, 2))
p <- shuffled(kits$arm, 5, "harbour")
study("memory", c(
  "question: Does a larger kit run Brinewheel smoother?", "setting: {name: kit, baseline: A}", "arms:",
  sprintf("  - {value: %s, attributes: {capacity: %s GB, ranks: %s}}", kits$arm, kits$capacity, kits$rank),
  "workloads: [{id: harbour, frames: log.csv}]", "metrics: [{id: fps_avg, worth: 2, primary: true}]", "blocks: 5"
), p)
drops <- p
dir.create("memory/frames")
small <- which(p$arm %in% c("A", "B"))
hit <- c(sample(small[p$arm[small] == "A"], 2), sample(small[p$arm[small] == "B"], 3))
for (i in seq_len(nrow(p))) {
  x <- 8 * exp(rnorm(1, sd = 0.004)) * exp(rnorm(3000, sd = 0.05))
  if (i %in% hit) x[1200:1206] <- 8 * runif(7, 4, 9)
  writeLines(sprintf("%.3f", x), file.path("memory/frames", paste0(p$pass[i], ".csv")))
}

# 6: the same study before and after an update, with an anchor
visit <- function(name, level, day, driver) {
  p <- shuffled("it", 6, c("harbour", "still"))
  p$score <- round(c(harbour = 140, still = 300)[p$workload] * level[p$workload] * exp(rnorm(nrow(p), sd = 0.004)), 1)
  p$started <- paste0(day, "T19:0", p$block, ":00Z")
  study(name, c(
    "question: What did the update do?", "setting: {name: release, baseline: it}", "arms: [{value: it}]",
    "workloads: [{id: harbour}, {id: still, anchor: true}]", "metrics: [{id: score, worth: 2, unit: fps}]", "blocks: 6",
    paste0("machine: {processor: Oddlantern K6, driver: \"", driver, "\"}")
  ), p)
}
visit("spring", c(harbour = 1, still = 1), "2026-03-02", "4.1")
visit("autumn", c(harbour = 1.06, still = 1.02), "2026-09-14", "4.3")

# 7: one pass in which the machine throttles
p <- shuffled(c("bare", "padded"), 6, "canyon")
study("pad", c(
  "question: Does a pad under the Wren change the canyon?", "setting: {name: pad, baseline: bare}",
  "arms: [{value: bare}, {value: padded}]", "workloads: [{id: canyon}]",
  "metrics: [{id: fps_avg, worth: 2, primary: true}]", "blocks: 6"
), p)
dir.create("pad/frames")
for (i in seq_len(nrow(p))) {
  x <- 8 * exp(rnorm(1, sd = 0.004)) * exp(rnorm(4500, sd = 0.06))
  at <- seq_along(x) / length(x)
  x <- x * exp(0.1 * sin(7 * at) + 0.04 * sin(23 * at))
  if (i == 7) x[at > 0.6] <- 1.12 * x[at > 0.6]
  writeLines(sprintf("%.3f", x), file.path("pad/frames", paste0(p$pass[i], ".csv")))
}

# 8: one thing after another was changed and kept
set.seed(21)
steps <- c("stock", "fast memory", "tight timings", "pinned cores")
p <- do.call(rbind, lapply(1:5, function(b) data.frame(setting = sample(steps), block = b)))
p$order <- seq_len(nrow(p))
gain <- stats::setNames(c(1, 1.05, 1.05, 1.09), steps)[p$setting]
p$fps <- round(100 * gain * exp(rnorm(nrow(p), sd = 0.004)), 1)
p$`graphics load (%)` <- round(85 + 80 * (gain - 1) + rnorm(nrow(p), sd = 0.5), 1)
utils::write.csv(p, "climb.csv", row.names = FALSE)

# 9: loops of stress runs, one device falls
p <- expand.grid(loop = 1:20, run = 1:3, device = c("Finch", "Wren"), stringsAsFactors = FALSE)
falls <- p$device == "Wren" & p$loop >= 8
p$score <- round(6000 * ifelse(falls, 0.87, 1) * exp(rnorm(nrow(p), sd = 0.004)))
utils::write.csv(p, "stress.csv", row.names = FALSE)

# 10: a cap that is the setting
p <- do.call(rbind, lapply(1:6, function(b) data.frame(cap = sample(c("none", "90", "60")), block = b)))
p$order <- seq_len(nrow(p))
p$fps <- round(c(none = 118, `90` = 90, `60` = 60)[p$cap] * exp(rnorm(nrow(p), sd = 0.004)), 1)
p$`power draw (W)` <- round(c(none = 310, `90` = 240, `60` = 170)[p$cap] * exp(rnorm(nrow(p), sd = 0.01)))
p$outcome <- ifelse(p$cap == "none" & p$block %in% c(2, 4), "crash", "ok")
p[p$outcome == "crash", c("fps", "power draw (W)")] <- NA
utils::write.csv(p, "caps.csv", row.names = FALSE, na = "")

# 11: pairs that were judged blind; the tester feels it in five of six
p <- do.call(rbind, lapply(1:12, function(b) data.frame(block = b, arm = sample(c("125", "1000")), workload = "harbour")))
p <- cbind(pass = sprintf("p%03d", seq_len(nrow(p))), p, order = seq_len(nrow(p)))
p$fps_avg <- round(141 * exp(rnorm(nrow(p), sd = 0.004)), 1)
study("feel", c(
  "question: Does a higher report rate feel smoother?",
  "setting: {name: report rate, unit: Hz, baseline: \"125\", command: \"rate-tool --set {arm}\"}",
  "arms: [{value: \"125\"}, {value: \"1000\"}]", "blocks: 12",
  "workloads: [{id: harbour, command: ./brinewheel --replay harbour, probe: true, judge: blind}]",
  "metrics: [{id: fps_avg, worth: 2, primary: true}]"
), p)
first <- p$arm[c(TRUE, FALSE)]
feels <- ifelse((seq_len(12) %% 6 != 0) == (first == "1000"), "first", "second")
feels[4] <- "none"
utils::write.csv(data.frame(
  batch = 1, block = 1:12, workload = "harbour", first = first, second = p$arm[c(FALSE, TRUE)],
  pass = p$pass[c(FALSE, TRUE)], whole = TRUE, choice = feels, note = "", hash = cli::hash_sha256(paste(first, collapse = " ")),
  given_up = FALSE
), "feel/pairs.csv", row.names = FALSE)

page <- c(
  "# Eleven studies and their answers", "",
  "Made up with known truth and a fixed seed, weighed by the program as it is now (`make docs`): what is typed, and what comes",
  "back.", ""
)
say <- function(...) page <<- c(page, ...)
show <- function(...) {
  args <- c(...)
  out <- utils::capture.output(status <- honestmargin:::run_command(args), type = "output")
  typed <- paste(vapply(args, honestmargin:::as_typed, ""), collapse = " ")
  say("```", paste("$ honestmargin", typed), sub("\\s+$", "", out), "```", "")
}
draw <- function(file, ...) {
  suppressMessages(honestmargin:::run_command(c("figure", ..., "--file", file.path(shots, file))))
  say(paste0("![", file, "](screenshots/", file, ")"), "")
}

# small ones as drawings, which docs/screenshots/ need not hold
sketch <- function(file, ...) {
  dir.create(file.path(to, "pictures"), showWarnings = FALSE)
  path <- file.path(to, "pictures", file)
  suppressMessages(honestmargin:::run_command(c("figure", ..., "--file", path, "--size", "900x420")))
  say(paste0("![", file, "](pictures/", file, ")"), "")
}

say(
  "## One value of the setting always fails", "",
  "Truth: +150 MHz gains 2.1 % and holds; +300 MHz gains 4.3 % where it is light and never survives the heavy load.", ""
)
show("weigh", "stress")
draw("outcomes.png", "stress", "--of", "outcomes")
say("## A soak without scores", "", "Truth: one machine down in six evenings, which is what few hours leave open.", "")
show("weigh", "soak")
draw("soak.png", "soak", "--of", "outcomes")
say("## Two laptops, one pass each", "", "What was measured is shown, and how quiet passes must be for it to stand.",
  "")
show("weigh", "two.csv", "--baseline", "Finch", "--worth", "2")
sketch("two.svg", "two.csv", "--baseline", "Finch", "--worth", "2")
say("Somebody else's two figures are asked the same way:", "")
show("claim", "71.2", "73.0", "--passes", "3")
say("## One machine", "", "Nothing to compare, so no verdict: its numbers, and how well they are known.", "")
show("describe", "finch")
sketch("one.svg", "finch", "--of", "passes")
say("Two of them side by side:", "")
show("describe", "finch", "wren")
say(
  "## Rare drops", "",
  "Truth: kits of 8 GB drop deep in about half of the passes, those of 32 GB never; the averages do not differ.", ""
)
show("weigh", "memory")
draw("drops.png", "memory", "--of", "trace", "--pass", paste(c(drops$pass[hit[1]], drops$pass[drops$arm == "C"][1]),
  collapse = ","))
say(
  "## Before and after an update", "",
  "Truth: everything is 2 % quicker in autumn, and the update gives the harbour 4 % more.", ""
)
show("against", "autumn", "spring")
say("![levels.png](screenshots/levels.png)", "")
show("against", "autumn", "spring", "--anchor", "still", "--format", "line")
invisible(utils::capture.output(suppressMessages(
  honestmargin:::run_command(c("against", "autumn", "spring", "--file", file.path(shots, "levels.png")))
)))
say(
  "## A pass in which the machine throttles", "",
  "Truth: the pad changes nothing; in the seventh pass frames take 12 % longer from three fifths of its time on.", ""
)
show("check", "pad")
draw("check.png", "pad", "--of", "check")
say(
  "## Steps that were kept", "",
  "Truth: fast memory brings 5 %, tight timings nothing, pinned cores 3.8 % more.", ""
)
climbed <- c(
  "--against", paste(steps, collapse = ","), "--worth", "2", "--columns", "arm=setting", "--better",
  "fps=higher,graphics load=none"
)
show("ask", "climb.csv", "steps", climbed)
sketch("steps.svg", "climb.csv", "--of", "steps", climbed)
say("## Loops of stress runs", "", "Truth: the Wren loses 13 % from the eighth loop on, the Finch nothing.", "")
show("ask", "stress.csv", "loops", "--baseline", "Finch")
sketch("loops.svg", "stress.csv", "--of", "loops", "--baseline", "Finch")
say("## What a cap gives up and brings", "", "Truth: without a cap a third of the passes crash; each cap holds.", "")
show(
  "ask", "caps.csv", "trade", "--baseline", "none", "--worth", "2", "--columns", "arm=cap", "--setting-limits"
)
say(
  "## What is felt", "",
  "Truth: frames are the same; the tester feels the higher rate in five of six pairs, and nothing in one.", ""
)
show("ask", "feel", "blind")
writeLines(page, file.path(to, "answers.md"))
