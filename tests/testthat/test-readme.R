# The examples of the README and of the pages that it leads to, as they stand there.
chunk <- function(name) {
  pages <- c("README.md", file.path("docs", c("logs.md", "running.md", "choosing.md")))
  lines <- unlist(lapply(file.path(source_root(), pages), readLines))
  from <- grep(paste0("^```.* ", name, "$"), lines)
  lines[seq(from + 1, from + which(lines[-seq_len(from)] == "```")[1] - 1)]
}
# as it stands there, in a shell that stops at the first thing that fails
run_chunk <- function(name, folder) {
  script <- c("set -e", paste("honestmargin() {", launcher, "\"$@\"; }"), chunk(name))
  writeLines(script, file.path(folder, "run.sh"))
  run <- processx::run("sh", "run.sh", wd = folder, error_on_status = FALSE)
  expect_identical(run$status, 0L, info = run$stderr)
  run
}

test_that("the shell example runs as written", {
  folder <- withr::local_tempdir()
  run <- run_chunk("shell-example", folder)
  expect_match(run$stdout, "on gains: score")
  expect_match(run$stdout, "outcomes +0 of 6 passes failed")
  expect_every(file.exists(file.path(folder, c("passes.png", "report.html"))))
})

test_that("the further questions run as written", {
  folder <- withr::local_tempdir()
  run <- run_chunk("more-example", folder)
  told <- c("Which could be best", "2000 +1000 +-3[.]3 %", "frame times are longer", "How firm")
  for (said in told) expect_match(run$stdout, said)
  expect_true(file.exists(file.path(folder, "overall.png")))
})

test_that("the walk-through runs as written", {
  folder <- withr::local_tempdir()
  run <- run_chunk("walk-through", folder)
  expect_match(run$stderr, "going on: 5 of 9 passes are done")
  expect_match(run$stdout, "  9 +[0-9.]+ -> [0-9.]+")
  expect_match(run$stdout, "the screen saver came on")
  report <- paste(readLines(file.path(folder, "my-report.html")), collapse = " ")
  expect_match(report, "was sealed at")
  expect_match(report, "the screen saver came on")
})

test_that("the search runs as written", {
  folder <- withr::local_tempdir()
  run <- run_chunk("search-example", folder)
  expect_match(run$stdout, "Not finished. Next: try 4 in squeeze\\s+\\(last good 3\\)")
  expect_match(run$stdout, "9 holds: the end of the range|[2-8] holds: the highest that did")
  expect_true(file.exists(file.path(folder, "search.png")))
})

test_that("the plans shown are plans", {
  for (name in c("plan-example", "blind-plan", "probe-plan")) {
    folder <- local_plan(chunk(name))
    expect_s3_class(plan_study(file.path(folder, "study.yml")), "honestmargin_forecast")
  }
  expect_true(plan_study(file.path(folder, "study.yml"))$plan$workloads[[1]]$probe)
})

test_that("the R example runs as written", {
  folder <- withr::local_tempdir()
  writeLines(chunk("r-example"), file.path(folder, "run.R"))
  run <- processx::run(file.path(R.home("bin"), "Rscript"), "run.R", wd = folder, error_on_status = FALSE)
  expect_identical(run$status, 0L, info = run$stderr)
  expect_match(run$stdout, "harbour +fps_avg +2000 +-3[^\n]+\n[0-9]+ +harbour +low1_quantile +2000")
  expect_match(run$stdout, "2000 Hz loses in harbour")
  expect_true(file.exists(file.path(folder, "report.html")))
})

test_that("the example plan is one", {
  folder <- withr::local_tempdir()
  writeLines(chunk("plan-example"), file.path(folder, "study.yml"))
  writeLines(
    c(
      "pass,workload,arm,block,fps_avg",
      paste0(1:6, ",harbour,", c("off", "on"), ",", rep(1:3, each = 2), ",", 100 + 1:6)
    ),
    file.path(folder, "passes.csv")
  )
  expect_identical(weigh(read_study(folder))$metric, "fps_avg")
})

test_that("the README is short, and what it leads to is there", {
  lines <- readLines(file.path(source_root(), "README.md"))
  expect_lt(length(lines), 100)
  pages <- c("README.md", file.path("docs", c("logs.md", "running.md", "choosing.md", "verbs.md")))
  for (page in pages) {
    text <- paste(readLines(file.path(source_root(), page)), collapse = " ")
    links <- regmatches(text, gregexpr("[]][(][^)#]+", text))[[1]]
    links <- grep("^http", sub("^..", "", links), invert = TRUE, value = TRUE)
    expect_every(file.exists(file.path(source_root(), dirname(page), links)))
  }
})

test_that("the installed command passes on words and status", {
  source_root()
  run <- processx::run("honestmargin", c("weigh", "no such file.csv", "-b", "a b"), error_on_status = FALSE)
  expect_identical(run$status, 3L)
  expect_match(run$stderr, "no such file.csv: no such readings file")
})

test_that("every screenshot is linked and small in number", {
  shots <- list.files(file.path(source_root(), "docs", "screenshots"))
  pages <- c("README.md", file.path("docs", c("logs.md", "running.md", "choosing.md")))
  text <- paste(unlist(lapply(file.path(source_root(), pages), readLines)), collapse = " ")
  expect_every(vapply(shots, grepl, NA, x = text, fixed = TRUE))
  expect_gt(length(shots), 3)
  expect_lt(length(shots), 20)
})

test_that("the eleven studies of docs/answers.md give what stands there", {
  root <- source_root()
  out <- withr::local_tempdir()
  done <- processx::run(rscript, c("--vanilla", file.path(root, "tools/make-answers.R"), out), error_on_status = FALSE)
  expect_identical(done$status, 0L, info = done$stderr)
  page <- readLines(file.path(root, "docs/answers.md"))
  expect_identical(readLines(file.path(out, "answers.md")), page)
  pictures <- sub(".*\\((.*)\\)", "\\1", grep("^!\\[", page, value = TRUE))
  expect_every(file.exists(file.path(root, "docs", pictures)))
})

test_that("what is shown of metrics, layouts, sensors and checks of one's own runs as written", {
  lines <- readLines(file.path(source_root(), "docs", "own.md"))
  from <- which(lines == "```r r-example")
  to <- vapply(from, function(i) i + which(lines[-seq_len(i)] == "```")[1], 1)
  file <- withr::local_tempfile(fileext = ".R")
  writeLines(unlist(Map(function(i, k) lines[(i + 1):(k - 1)], from, to)), file)
  run <- processx::run(file.path(R.home("bin"), "Rscript"), file, error_on_status = FALSE)
  expect_identical(run$status, 0L, info = run$stderr)
  expect_match(run$stdout, "harbour +2000 +-?[0-9.]+ +[a-z]+")
  expect_match(run$stdout, "[1] 16.9 17.1 16.4 16.8", fixed = TRUE)
  expect_match(run$stdout, "power processor [W]", fixed = TRUE)
  expect_match(run$stdout, "its first frame took [0-9.]+ ms")
})

test_that("what docs/logs.md shows of tables, questions and results is what comes back", {
  for (name in c("sheet", "ask", "across", "results")) {
    folder <- withr::local_tempdir()
    run <- run_chunk(paste0(name, "-example"), folder)
    flat <- gsub("[[:space:]]+", " ", paste(run$stdout, run$stderr))
    for (line in chunk(paste0(name, "-answer"))) expect_match(flat, gsub("[[:space:]]+", " ", line), fixed = TRUE)
  }
  # the layout shown is one
  layout <- write_lines(chunk("layout-example"), ext = ".yml")
  table <- write_lines("GPU;tester;score", "Old;Ada;1.204", "New;Bo;1.251")
  expect_identical(run_cli("describe", table, "--layout", layout)$status, 0L)
})
