# Failures through the public doors: tables, plans, runs, the command line.
stress <- function() {
  rows <- expand.grid(arm = c("0", "350"), workload = c("light", "heavy"), block = 1:5, stringsAsFactors = FALSE)
  rows$order <- c(rbind(seq(1, 20, 2), seq(2, 20, 2)))[order(runif(20))]
  fell <- rows$arm == "350" & rows$workload == "heavy"
  rows$outcome <- ifelse(fell, "crash", "ok")
  rows$score <- ifelse(rows$workload == "light", 100 + 4 * (rows$arm == "350") + rows$block / 10 + runif(20) / 50, NA)
  rows$seconds <- ifelse(fell, 40, 600)
  rows
}
as_file <- function(rows) {
  path <- withr::local_tempfile(fileext = ".csv", .local_envir = parent.frame())
  write.csv(rows, path, row.names = FALSE, na = "")
  path
}

test_that("an arm that always crashes is told so wherever it is named, and fails a build", {
  set.seed(1)
  path <- as_file(stress())
  out <- run_cli("weigh", path, "--baseline", "0", "--worth", "2", "--fail-on", "loss", "--long")
  expect_identical(out$status, 1L)
  text <- gsub("\\s+", " ", out$stdout)
  expect_match(text, "light, against 0: 350 clearly gains: score .* but failed in 5 of 5 passes of heavy")
  expect_match(text, "heavy, against 0: 350 does not hold: 5 of 5 passes failed, of the baseline 0 of 5")
  json <- jsonlite::fromJSON(run_cli("weigh", path, "--baseline", "0", "--format", "json")$stdout)$verdicts
  expect_true("failed_elsewhere" %in% unlist(json$codes[json$workload == "light"]))
})

test_that("an arm without one reading is an answer beside arms that have some", {
  rows <- data.frame(
    arm = rep(c("a", "b", "c"), 4), block = rep(1:4, each = 3), value = c(10, 11, NA) + rep(1:4 / 50, each = 3),
    outcome = c("ok", "ok", "no_start")
  )
  v <- weigh(rows, baseline = "a")
  expect_identical(v$verdict[v$arm == "c" & v$metric == "score"], "does not hold")
  stopped <- transform(rows, outcome = ifelse(outcome == "no_start", "interrupted", outcome))
  v <- weigh(stopped, baseline = "a")
  expect_identical(v$verdict[v$arm == "c"], "no basis")
})

test_that("a soak without scores is planned, run, weighed, drawn and reported", {
  folder <- local_plan(c(
    "question: Does it hold?", "setting: {name: offset, unit: MHz, baseline: \"0\"}",
    "arms: [{value: \"0\"}, {value: \"300\"}]", "workloads:",
    "  - {id: burn, command: \"if [ {arm} = 300 ]; then exit 3; fi\"}", "blocks: 4"
  ))
  plan <- run_cli("plan", folder)
  expect_match(gsub("\\s+", " ", plan$stdout), "an arm that fails in [0-9]+ % of its passes would be separated")
  expect_identical(run_cli("run", folder)$status, 0L)
  out <- run_cli("weigh", folder)
  expect_identical(out$status, 0L)
  expect_match(gsub("\\s+", " ", out$stdout), "300 MHz does not hold: all 4 passes crashed[.]")
  expect_no_match(out$stdout, "neither a frame log nor a score")
  data <- figure_data(read_study(folder), "outcomes")
  expect_identical(sum(!data$held), 4L)
  expect_s3_class(plot_outcomes(read_study(folder)), "ggplot")
  page <- file.path(folder, "r.html")
  expect_identical(run_cli("report", folder, "--file", page)$status, 0L)
  expect_match(xml2::xml_text(xml2::xml_find_first(xml2::read_html(page), "//header")), "does not hold")
})

test_that("a soak that holds is reported with what is still possible", {
  rows <- data.frame(arm = rep(c("a", "b"), 3), block = rep(1:3, each = 2), outcome = "ok", seconds = 7200)
  v <- weigh(rows, baseline = "a")
  expect_match(sentences(v), "b held all 3 passes (up to 63 % may still fail)", fixed = TRUE)
  rate <- weigh(rows, baseline = "a", primary = "failures_per_hour")
  # 3.0 over six hours
  expect_match(
    sentences(rate)[["main"]], "held all 3 passes in 6.00 h (up to 0.50 failures an hour still possible)",
    fixed = TRUE
  )
})

test_that("odd outcomes give defined results or classed errors", {
  rows <- data.frame(arm = rep(c("a", "b"), 3), outcome = "ok", seconds = c(0, 10, 10, NA, 10, 10))
  v <- weigh(rows, baseline = "a", primary = c("failed", "failures_per_hour"))
  expect_identical(v$verdict[v$metric == "failures_per_hour"], "no basis")
  expect_match(v$reason[v$metric == "failures_per_hour"], "record seconds")
  all_stopped <- transform(rows, outcome = "interrupted")
  expect_identical(weigh(all_stopped, baseline = "a")$verdict, "no basis")
  both <- data.frame(arm = rep(c("a", "b"), 3), outcome = "crash")
  expect_identical(unique(weigh(both, baseline = "a")$verdict), "does not hold")
  own <- data.frame(arm = c("a", "b"), metric = "failed", value = c(1, 2))
  expect_error(weigh(own, baseline = "a"), "worked out from the column outcome", class = "honestmargin_error_input")
  expect_error(weigh(data.frame(arm = "a", outcome = "burst"), baseline = "a"), class = "honestmargin_error_input")
})

test_that("an arm that failed anywhere is named with it by every question, and chosen by none", {
  rows <- rbind(
    data.frame(workload = "w1", arm = rep(c("low", "max"), 4), value = c(100, 110, 101, 111, 99, 110, 100, 112),
      outcome = "ok"),
    data.frame(workload = "w2", arm = rep(c("low", "max"), 4), value = c(50, NA), outcome = c("ok", "crash"))
  )
  rows <- rbind(cbind(rows, metric = "score", unit = "points", better = "higher"), transform(
    rows, metric = "power", unit = "W", better = "lower", value = ifelse(is.na(rows$value), NA, rep(c(60, 61, 59,
      60), 4))
  ))
  rows$pass <- rep(1:8, 4)[seq_len(nrow(rows))]
  expect_identical(attr(weigh_floors(rows, c(score = 20), prefer = c("max", "low")), "choice"), "low")
  near <- weigh_near(rows, c(score = 50, power = 50), prefer = c("max", "low"))
  expect_identical(attr(near, "choice"), "low")
  said <- function(x) gsub("\\s+", " ", paste(capture.output(print(x)), collapse = " "))
  told <- list(
    weigh_floors(rows, c(score = 20), prefer = c("max", "low")), near,
    weigh_together(rows, c(score = "better"), baseline = "low"), weigh_overall(rows, baseline = "low"),
    weigh_cost(rows, "score", "power", baseline = "low")
  )
  for (x in told) expect_match(said(x), "failed in 4 of [48] passes of w2")
  expect_match(headline(weigh(rows, baseline = "low", worth = 2)), "max does not hold in w2")
})

test_that("fewer failures are asked for only where there were any", {
  rows <- data.frame(
    workload = rep(c("calm", "hot"), each = 24), arm = rep(c("old", "new"), 24), value = 100 + 1:48 / 100,
    outcome = c(rep("ok", 24), rep(c("crash", "ok"), 12))
  )
  found <- weigh_together(rows, c(score = "as_good", failed = "better"), baseline = "old", worth = 2)
  expect_identical(unique(found$workload[found$metric == "failed"]), "hot")
})

test_that("failures an hour are judged where only ends are, and passes are not alike long", {
  rows <- data.frame(arm = rep(c("stock", "tuned"), 3), outcome = rep(c("ok", "crash"), 3), seconds = rep(c(1500,
    26), 3))
  v <- weigh(rows, baseline = "stock")
  expect_identical(v$role[v$metric == "failures_per_hour"], "primary")
})
