batch_plan <- c(
  "setting: {name: lid, baseline: open}", "arms: [{value: open}, {value: shut}]", "blocks: 2", "order: fixed",
  "metrics: [{id: score, worth: 2, primary: true}]", "workloads: [{id: lap}]"
)
# a study by hand, whose numbers are given
play <- function(folder, open, shut) {
  for (i in seq_along(open)) {
    for (arm in if (i %% 2) c("open", "shut") else c("shut", "open")) {
      add_pass(folder, arm, values = c(score = if (arm == "open") open[i] else shut[i]))
    }
  }
}

test_that("passes beyond the plan make further blocks, and are weighed as such", {
  folder <- local_plan(batch_plan)
  open <- c(100, 101, 102, 100.5, 99.6)
  shut <- c(104, 104.5, 107, 103.9, 104.4)
  play(folder, open, shut)
  study <- read_study(folder)
  expect_identical(study$passes$block, rep(as.character(1:5), each = 2))
  v <- weigh(study)
  expect_identical(c(v$n_arm, v$n_baseline), c(5L, 5L))
  # the same as all five blocks weighed as a table that was looked at
  blocks <- data.frame(arm = rep(c("open", "shut"), each = 5), block = rep(1:5, 2), value = c(open, shut))
  expect_equal(v$lower, weigh(blocks, baseline = "open", looks = TRUE)$lower, tolerance = 1e-8)
  expect_match(findings(study)$message, "passes beyond the plan: open 3, shut 3", all = FALSE)
})

test_that("a table has no batches to ask for, and is weighed", {
  file <- write_lines("arm,score", "a,1", "b,2", "a,1.1", "b,2.1")
  expect_identical(run_cli("weigh", file, "-b", "a", "--batch", "all")$status, 0L)
})

test_that("which batch is meant is said, and all of them stand side by side", {
  folder <- local_plan(batch_plan)
  play(folder, c(100, 101), c(110, 111.2))
  expect_false(any(findings(read_study(folder))$check == "batch_meant"))
  expect_equal(repeat_study(folder), 2)
  play(folder, c(100, 101), c(100.4, 100.7))
  one <- run_cli("weigh", folder, "--long")
  expect_match(gsub("\\s+", " ", one$stdout), "this is batch 1 of 2 -> another: --batch N")
  all <- weigh_batches(folder)
  table <- attr(all, "batches")
  expect_identical(table$batch, 1:2)
  alone <- lapply(1:2, function(b) weigh(read_study(folder, batch = b)))
  expect_equal(table$change, vapply(alone, `[[`, 1, "change"))
  shown <- run_cli("weigh", folder, "--batch", "all")
  expect_match(shown$stdout, "batch 1 +batch 2")
  expect_match(shown$stdout, "[+]10[.]05 % clear gain +[+]0[.]1 % unclear")
  json <- jsonlite::fromJSON(run_cli("weigh", folder, "--batch", "all", "--format", "json")$stdout)
  expect_identical(json$batches$batch, 1:2)
  page <- withr::local_tempfile(fileext = ".html")
  expect_identical(run_cli("report", folder, "--batch", "all", "-o", page)$status, 0L)
  expect_match(xml2::xml_text(xml2::read_html(page)), "Each batch weighed alone")
  out <- file.path(withr::local_tempdir(), "x")
  expect_identical(run_cli("export", folder, out, "--batch", "all")$status, 0L)
  expect_equal(weigh(read_study(file.path(out, "batch-2")))$change, alone[[2]]$change)
  expect_match(run_cli("figure", folder, "--batch", "all", "-o", "x.png")$stderr, "one batch at a time")
})

test_that("further blocks come with a command and are told as an extension", {
  folder <- local_plan(
    quick, "    command: echo score {arm}0.{seconds}1", "    scores: [{metric: score, pattern: 'score ([0-9.]+)'}]"
  )
  expect_identical(run_study(folder)$state, "done")
  before <- read_study(folder)
  expect_identical(run_cli("extend", folder)$status, 2L)
  expect_match(run_cli("extend", folder, "--blocks", "2")$stderr, "4 passes added")
  ran <- run_study(folder)
  expect_identical(c(ran$state, ran$ran), c("done", "4"))
  passes <- read_study(folder)$passes
  expect_identical(sort(unique(passes$block)), as.character(1:5))
  expect_every(table(passes$arm[passes$role == "counted"]) == 5)
  told <- subset(findings(read_study(folder)), check == "extended")
  expect_match(told$message, "2 blocks were added to the plan when 7 passes of it had been seen")
  expect_identical(told$severity, "warning")
  expect_match(run_cli("extend", folder, "--blocks", "1e9")$stderr, "passes are planned")
  # the sentence that asks for more comes with the command
  unclear <- local_plan(batch_plan)
  play(unclear, c(100, 103), c(101, 100))
  expect_match(run_cli("weigh", unclear)$stdout, paste0("honestmargin repeat ", unclear, " --blocks [0-9]+"))
})

test_that("what a verdict advises can be done, and no plain folder is told to repeat", {
  folder <- local_plan(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 2",
    "metrics: [{id: score, worth: 2, primary: true}]", "workloads:", "  - id: w", "    settle: 0",
    "    command: echo score 5$(( 1$(echo {pass} | tr -dc 0-9) * 7 % 10 ))",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]", "sensors: {rate: 0}"
  )
  run_study(folder)
  told <- gsub("\\s+", " ", run_cli("weigh", folder)$stdout)
  expect_match(told, paste0("honestmargin repeat ", folder, " --blocks [0-9]+"))
  expect_identical(run_cli("repeat", folder, "--blocks", "2")$status, 0L)
  expect_identical(run_study(folder)$state, "done")
  expect_identical(run_cli("weigh", folder, "--batch", "2")$status, 0L)
  plain <- file.path(withr::local_tempdir(), "plain")
  write_study(read_study(folder), plain)
  expect_no_match(gsub("\\s+", " ", run_cli("weigh", plain)$stdout), "honestmargin repeat")
  refused <- run_cli("repeat", plain)
  expect_identical(refused$status, 3L)
  expect_match(refused$stderr, "keeps no 'repeat'")
})
