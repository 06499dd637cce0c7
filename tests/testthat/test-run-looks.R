# Runs that look after every block and stop when all is settled.
growing <- function(step, noise = 3, ...) {
  local_plan(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 3", "seed: 4", ...,
    "metrics: [{id: score, worth: 3, primary: true}]", "workloads:", "  - id: lap",
    # the noise is the pass's own number, so that the same study comes out each time
    paste0(
      "    command: \"awk -v n=$(ls logs | wc -l) 'BEGIN {srand(n * 7919); rand(); print \\\"score\\\", 100 + {arm} * ",
      step, " + ", noise, " * rand()}'\""
    ),
    "    scores: [{metric: score, pattern: 'score ([0-9.]+)'}]",
    env = parent.frame()
  )
}

test_that("a clear difference ends the run early, and the study is judged as looked at", {
  folder <- growing(12)
  ran <- run_cli("run", folder, "--until-settled", "--most-blocks", "20")
  expect_identical(ran$status, 0L)
  expect_match(ran$stderr, "look after block 3: 1 open")
  expect_match(ran$stderr, "stopped: settled after [4-9] blocks: 1 of 1 primary comparisons")
  study <- read_study(folder)
  blocks <- length(unique(study$passes$block[study$passes$role == "counted"]))
  v <- weigh(study)
  expect_identical(v$verdict, "clear gain")
  y <- study$readings[study$readings$role == "counted", ]
  table <- y[c("arm", "block", "value")]
  expect_equal(v$lower, weigh(table, baseline = "1", looks = TRUE)$lower)
  expect_lt(v$lower, weigh(table, baseline = "1")$lower)
  looked <- subset(findings(study), check == "looked")
  expect_match(looked$message, paste0("\\(", blocks, " looks so far\\)"))
  expect_match(sentences(v), "2 clearly gains")
  # nothing more is run, and nothing is counted as another look
  again <- run_cli("run", folder, "--until-settled", "--most-blocks", "20")
  expect_match(again$stderr, "stopped: settled after")
  expect_identical(sum(study_history(folder)$kind == "look"), blocks)
  # an export is judged alike
  out <- file.path(withr::local_tempdir(), "x")
  write_study(study, out)
  expect_equal(weigh(read_study(out))$lower, v$lower)
})

test_that("what cannot be settled within the blocks ends there, and says so", {
  folder <- growing(4, noise = 40)
  result <- run_study(folder, until_settled = TRUE, most_blocks = 6)
  expect_identical(result$state, "settled")
  expect_match(result$message, "6 blocks are done, as many as may be run|cannot be within the")
  expect_lte(length(unique(stats::na.omit(read_study(folder)$passes$block))), 6)
})

test_that("a run that was stopped between looks goes on with them", {
  folder <- growing(12)
  run_study(folder, until_settled = TRUE, most = 6)
  expect_identical(run_study(folder, until_settled = TRUE, most_blocks = 20)$state, "settled")
  expect_gt(sum(study_history(folder)$kind == "look"), 2)
})

test_that("an extended study is judged as looked at, a fresh batch is not", {
  folder <- growing(6)
  run_study(folder)
  first <- weigh(read_study(folder))
  extend_study(folder, 4)
  run_study(folder)
  longer <- weigh(read_study(folder))
  expect_true(attr(longer, "looks"))
  expect_match(paste(findings(longer)$message, collapse = " "), "hold however often one looks")
  expect_identical(run_cli("repeat", folder, "--blocks", "4")$status, 0L)
  run_study(folder)
  fresh <- read_study(folder, batch = 2)
  expect_identical(length(unique(fresh$passes$block[fresh$passes$role == "counted"])), 4L)
  expect_identical(fresh$plan$blocks, 4L)
  expect_false(attr(weigh(fresh), "looks"))
  out <- file.path(withr::local_tempdir(), "x")
  write_study(fresh, out)
  expect_identical(read_plan(out)$blocks, 4L)
})

test_that("what does not go together is said", {
  folder <- growing(1)
  expect_match(run_cli("run", folder, "--most-blocks", "3")$stderr, "add --until-settled")
  way <- local_plan(
    "setting: {name: os, baseline: old, one_way: true}", "arms: [{value: old}, {value: new}]",
    "workloads: [{id: lap, command: echo 1}]"
  )
  expect_message_of(run_study(way, until_settled = TRUE), "honestmargin_error_usage", "no blocks to look after")
})

test_that("an arm that is settled is left out of later blocks where the plan says so", {
  folder <- growing(12, noise = 6, "drop_settled: true")
  lines <- readLines(file.path(folder, "study.yml"))
  lines <- sub("{value: 2}]", "{value: 2}, {value: 1.1}]", lines, fixed = TRUE)
  writeLines(lines, file.path(folder, "study.yml"))
  result <- run_study(folder, until_settled = TRUE, most_blocks = 30)
  expect_identical(result$state, "settled")
  study <- read_study(folder)
  counted <- table(study$passes$arm[study$passes$role == "counted"])
  # 11 % is plain early, 1 % takes longer; the baseline goes on with it
  expect_lt(counted[["2"]], counted[["1.1"]])
  expect_identical(counted[["1"]], counted[["1.1"]])
  told <- findings(study)
  expect_match(told$message[told$check == "arm_settled"][1], "left out of later blocks, as planned")
  v <- weigh(study)
  expect_identical(unique(v$family_size[v$role == "primary"]), 2L)
  expect_match(v$verdict[v$arm == "2"], "gain")
  # nothing is left to run, and nothing says so
  expect_false("unfinished" %in% told$check)
})

test_that("in a terminal, where a bar shows how far it is, blocks are added all the same", {
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  folder <- growing(12, noise = 6)
  command <- paste0(launcher, " run ", folder, " --until-settled")
  ran <- processx::run("script", c("-qefc", command, "/dev/null"), error_on_status = FALSE, stdin = "")
  expect_identical(ran$status, 0L)
  expect_no_match(ran$stdout, "nternal error")
  expect_match(ran$stdout, "stopped: settled after [4-9] blocks|stopped: settled after 1[0-9] blocks")
})
