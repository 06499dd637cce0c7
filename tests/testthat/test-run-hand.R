by_hand <- c(
  "setting: {name: lid, baseline: open, by_hand: with care}", "arms: [{value: open}, {value: shut}]", "blocks: 2",
  "order: mirrored", "metrics: [{id: score, worth: 2, primary: true}]",
  "workloads: [{id: lap, by_hand: drive one lap, seconds: 4}]"
)
local_folder <- function(env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  writeLines(by_hand, file.path(folder, "study.yml"))
  folder
}

# types the answers, one by one, at a pseudo-terminal in which the study runs
run_typed <- function(folder, answers) {
  input <- withr::local_tempfile()
  writeLines(answers, input)
  command <- paste0("sleep 1; while read -r a; do echo \"$a\"; sleep 0.15; done < ", shQuote(input), "; sleep 1")
  processx::run("sh", c("-c", paste0(
    "(", command, ") | script -qefc \"", launcher, " run ", folder, "\" /dev/null"
  )), error_on_status = FALSE, timeout = 90)
}

test_that("a person is led through a study at a terminal", {
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  folder <- local_folder()
  # step; play; a word for a number; the score; the note - then a value far off that is kept
  answers <- c("y", "", "much", "1,200", "", "y", "", "1210", "loud", "", "1205", "", "y", "", "12", "n", "1199", "")
  run <- run_typed(folder, answers)
  expect_match(run$stdout, "NEXT STEP: set lid to")
  expect_match(run$stdout, "a number, please")
  expect_match(run$stdout, "drive one lap")
  study <- read_study(folder)
  expect_identical(study$readings$value, c(1200, 1210, 1205, 1199))
  expect_match(study_history(folder)$reason, "loud", all = FALSE)
})

test_that("at a terminal a log belongs to one pass, and what its reader warns of is kept", {
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  folder <- local_folder()
  writeLines(sub("seconds: 4", "frames: log.csv", sub("metrics:.*", "metrics: [{id: fps_avg, primary: true}]", sub(
    "blocks: 2", "blocks: 1", by_hand, fixed = TRUE
  ))), file.path(folder, "study.yml"))
  first <- write_lines("ms", rep(c(8, 8.5), 300))
  # no line break at its end: whoever wrote it was cut off
  second <- withr::local_tempfile(fileext = ".csv")
  cat("n,ms\n", paste0(1:600, ",", rep(c(9, 9.5), 300), "\n"), "601", sep = "", file = second)
  run <- run_typed(folder, c("y", "", "nowhere.csv", first, "", "y", "", first, second, ""))
  expect_match(run$stdout, "this is no frame log")
  expect_match(run$stdout, "stored already, as pass p001")
  study <- read_study(folder)
  averages <- study$readings$value[study$readings$metric == "fps_avg"]
  expect_equal(averages, c(1000 / 8.25, 1000 / 9.25), tolerance = 1e-3)
  expect_match(findings(study)$message, "ends in the middle of a line", all = FALSE)
  # known again by every other way in; who asks in another way than the terminal is told afterwards
  more <- local_folder()
  file.copy(file.path(folder, "study.yml"), more, overwrite = TRUE)
  run_study(more, ask = function(kind, facts) switch(kind, step = TRUE, play = "ok", frames = first, note = NA))
  expect_match(findings(read_study(more))$message, "stored already, as pass p001", all = FALSE)
  expect_identical(unique(read_study(more)$traces$pass[read_study(more)$traces$kind == "frames"]), "p001")
  expect_error(add_pass(folder, "open", frames = first), "as pass p001", class = "honestmargin_error_input")
})

test_that("a reboot between the arms is waited for at the terminal", {
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  folder <- local_folder()
  plan <- sub(
    "by_hand: with care", "by_hand: with care, restart: machine",
    sub("blocks: 2", "blocks: 1", by_hand, fixed = TRUE)
  )
  writeLines(plan, file.path(folder, "study.yml"))
  # the first start is confirmed; at the second the tester stops to restart this machine
  first <- run_typed(folder, c("y", "", "1200", "", "q"))
  expect_match(first$stdout, "set lid to open \\(with care\\), restart the machine")
  expect_match(first$stdout, "waiting for you")
  withr::local_envvar(HONESTMARGIN_BOOT = "the next start")
  second <- run_typed(folder, c("", "1190", ""))
  expect_match(second$stdout, "going on: 1 of 2 passes are done")
  study <- read_study(folder)
  expect_identical(study$readings$value, c(1200, 1190))
  expect_identical(study$passes$boot, c("b1", "b2"))
})

test_that("without a terminal it says what to do and stops with 5", {
  folder <- local_folder()
  run <- run_cli("run", folder)
  expect_identical(run$status, 5L)
  expect_match(run$stderr, "set lid to (open|shut) \\(with care\\)")
})

test_that("typed numbers, outcomes, files and tables become passes", {
  folder <- local_folder()
  expect_identical(run_cli("add", folder, "--arm", "open", "score=1,204", "--note", "quiet")$status, 0L)
  expect_identical(run_cli("add", folder, "--arm", "shut", "--outcome", "freeze")$status, 0L)
  proof <- write_lines("not really a picture", ext = ".png")
  expect_identical(
    run_cli("add", folder, "--arm", "shut", "--metric", "score", "--value", "1180", "--proof", proof)$status, 0L
  )
  expect_identical(readLines(list.files(file.path(folder, "proof"), full.names = TRUE)), "not really a picture")
  wide <- write_lines("arm,score", "open,1201", "open,1199")
  extra <- run_cli("add", folder, "--from", wide)
  expect_match(extra$stderr, "2 passes stored")
  study <- read_study(folder)
  expect_identical(sum(study$passes$outcome == "freeze"), 1L)
  expect_match(findings(study)$message, "passes beyond the plan: open 1", all = FALSE)
  wrong <- run_cli("add", folder, "--arm", "opn", "score=1")
  expect_identical(wrong$status, 3L)
  expect_match(wrong$stderr, "did you mean 'open'")
  expect_identical(run_cli("add", folder, "--arm", "open", "score=high")$status, 2L)
  expect_identical(run_cli("exclude", folder, "p001")$status, 2L)
  expect_identical(run_cli("exclude", folder, "p001", "--reason", "a call came in")$status, 0L)
  history <- run_cli("history", folder, "--format", "csv")
  expect_every(c("exclude", "extra pass", "proof") %in% read.csv(text = history$stdout)$kind)
})

test_that("the inbox matches new logs in their order and takes each once", {
  folder <- local_folder()
  inbox <- withr::local_tempdir()
  for (i in 1:3) {
    path <- file.path(inbox, paste0("log", 4 - i, ".csv"))
    writeLines(c("ms", simulate_frames(4, 10 - i, seed = i)), path)
    Sys.setFileTime(path, as.POSIXct("2026-01-01 10:00:00", tz = "UTC") + 60 * i)
  }
  writeLines("not a log", file.path(inbox, "readme.txt"))
  writeLines(c("ms", 8, 9, 8), file.path(inbox, "too short.csv"))
  seen <- run_cli("take", folder, inbox)
  expect_match(seen$stdout, "log3.csv.*p001")
  expect_match(seen$stderr, "nothing stored")
  expect_match(seen$stderr, "not taken: too short.csv: holds 0 s; a pass takes 4 s")
  expect_match(run_cli("take", folder, inbox, "--yes")$stderr, "3 logs stored")
  study <- read_study(folder)
  expect_equal(
    pass_trace(study, "p001")$frame_time_ms, simulate_frames(4, 9, seed = 1),
    tolerance = 1e-6
  )
  file.copy(file.path(inbox, "log1.csv"), file.path(inbox, "log1 again.csv"))
  expect_false(any(grepl("again", run_cli("take", folder, inbox, "--yes")$stdout)))
})

test_that("going on at login is asked, shown and taken back", {
  folder <- local_folder()
  home <- withr::local_tempdir()
  withr::local_envvar(XDG_CONFIG_HOME = home)
  expect_match(run_cli("login", folder)$stderr, "nothing written")
  run_cli("login", folder, "--yes")
  file <- list.files(file.path(home, "autostart"), full.names = TRUE)
  expect_match(readLines(file), "^Exec=honestmargin run ", all = FALSE)
  run_cli("login", folder, "--off")
  expect_length(list.files(file.path(home, "autostart")), 0)
})

test_that("conditions that differ between arms or drift are found", {
  snaps <- expand.grid(pass = sprintf("p%d", 1:12), key = c("governor", "heat", "load"), stringsAsFactors = FALSE)
  snaps$at <- "before"
  arm <- rep(c("a", "b"), 6)
  snaps$value <- c(ifelse(arm == "a", "fast", "slow"), 40 + 1:12, rep(c(1, 2, 1.5), 4))
  found <- honestmargin:::find_differences(snaps, data.frame(pass = sprintf("p%d", 1:12), arm = arm, order = 1:12))
  expect_identical(found$condition, c("governor", "heat"))
  expect_identical(found$seen, c("differs between arms", "drifted"))
})

test_that("a busy machine is never steady", {
  snaps <- data.frame(pass = paste0("p", 1:6), at = "before", key = "processors busy", value = "1.4")
  passes <- data.frame(pass = paste0("p", 1:6), arm = c("a", "b"), order = 1:6)
  seen <- function(value, key) {
    snaps[c("value", "key")] <- list(as.character(value), key)
    honestmargin:::find_differences(snaps, passes, all = TRUE)$seen
  }
  expect_identical(seen(1.4, "processors busy"), "busy")
  expect_identical(seen(c(0.9, 1.1, 1, 0.8, 1, 1.2), "processors busy"), "busy")
  expect_identical(seen(c(0, 0.1, 0, 0, 0.5, 0), "processors busy"), "steady")
  expect_identical(seen(c(2.1, 2, 1.8, 2.2, 2, 2.1), "load 1 min"), "busy")
  # our own passes leave their trace in the load of the last minute
  expect_identical(seen(c(0.1, 1, 1, 1.1, 0.9, 1), "load 1 min"), "steady")
  spin <- processx::process$new("sh", c("-c", "while :; do :; done"))
  withr::defer(spin$kill())
  skip_if(!file.exists("/proc/stat"), "no /proc here")
  taken <- replicate(8, as.numeric(honestmargin:::busy_processors(0)))
  expect_gt(max(taken), 1 / 3)
})

test_that("by hand, slips of the finger, arms that do not start and crashes are met at the question", {
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: lid, baseline: open, by_hand: with care, read_back: {typed: true}}",
    "arms: [{value: open}, {value: shut}]", "blocks: 2", "order: fixed",
    "metrics: [{id: score, worth: 2, primary: true}, {id: graphics_power_mean, worth: 2, primary: true}]",
    "workloads: [{id: lap}, {id: jump}]"
  ), file.path(folder, "study.yml"))
  run <- run_typed(folder, c(
    # open, lap: mistyped and typed again; a number with all its digits
    "y", "opne", "open", "", "38388", "",
    # open, jump: it crashed, so the same arm is set again for the next pass
    "open", "crash", "",
    # shut: does not start so, twice
    "x", "x",
    # open again, as after a crash; no number, and why
    "y", "open", "", "none", "no display", "", "open", "", "38391", "", "q"
  ))
  passes <- read_study(folder)$passes
  expect_identical(passes$outcome, c("ok", "crash", "no_start", "no_start", "ok", "ok"))
  expect_match(run$stdout, "that is not open. Once more")
  expect_match(run$stdout, "ok  score 38388")
  expect_no_match(run$stdout, "graphics_power_mean \\(")
  expect_match(study_history(folder)$reason[study_history(folder)$pass %in% "p005"], "no score: no display")
  # another pass of the same arm after a crash: the step is asked again
  again <- withr::local_tempdir()
  writeLines(readLines(file.path(folder, "study.yml")), file.path(again, "study.yml"))
  run <- run_typed(again, c("y", "open", "crash", "", "y", "open", "", "9", "", "q"))
  expect_length(gregexpr("NEXT STEP: set lid to open", run$stdout)[[1]], 2)
  # what is usual is so for an arm: nothing is odd about the first number of another
  store <- honestmargin:::open_store(folder)
  withr::defer(honestmargin:::close_store(store))
  usual <- function(arm) {
    honestmargin:::store_values(
      store, list(workload = "lap", arm = arm, context = NA), NA, "score"
    )
  }
  expect_identical(usual("open")[1], 38388)
  expect_length(usual("shut"), 0)
  expect_identical(honestmargin:::store_values(
    store, list(workload = "lap", arm = "shut", context = NA), NA, "score",
    any_arm = TRUE
  )[1], 38388)
  expect_true(honestmargin:::looks_odd(12, 38388))
  expect_false(honestmargin:::looks_odd(30000, 38388))
})

test_that("what a menu shows is asked once at each start of the machine", {
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: memory, baseline: slow, restart: machine, read_back: {typed: true}}",
    "arms: [{value: slow}, {value: fast}]", "blocks: 2", "passes_per_block: 3",
    "metrics: [{id: score, worth: 2, primary: true}]", "workloads: [{id: lap}]"
  ), file.path(folder, "study.yml"))
  asked <- character()
  ask <- function(kind, facts) {
    asked <<- c(asked, kind)
    switch(kind,
      step = TRUE,
      read_back = facts$pass$arm,
      play = "ok",
      value = 100 + length(asked),
      note = NA_character_
    )
  }
  expect_identical(run_study(folder, ask = ask)$state, "done")
  expect_identical(sum(asked == "play"), 12L)
  expect_identical(sum(asked == "read_back"), 4L)
  passes <- read_study(folder)$passes
  expect_identical(passes$effective, passes$arm)
})

test_that("Ctrl-C is heard at a question", {
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  folder <- local_folder()
  run <- processx::run("sh", c("-c", paste0(
    "(sleep 3; printf '\\003'; sleep 8) | script -qefc \"", launcher, " run ", folder,
    "\" /dev/null; echo status $?"
  )), timeout = 60)
  expect_match(run$stdout, "interrupted; what was captured is kept")
  expect_match(run$stdout, "status 130")
})

test_that("the card has a blank for each number that is due", {
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: lid, baseline: open, by_hand: with care}", "arms: [{value: open}, {value: shut}]", "blocks: 1",
    "passes_per_block: 2",
    "metrics: [{id: score, worth: 2, primary: true}, {id: noise, unit: dB, better: lower, primary: true}]",
    "workloads: [{id: lap, segments: [hill, dale]}]"
  ), file.path(folder, "study.yml"))
  card <- run_cli("plan", folder, "--card")$stdout
  expect_length(gregexpr("____+", card)[[1]], 2 * 2 * 4)
  expect_match(card, "hill/noise ____")
  expect_lte(max(nchar(strsplit(card, "\n")[[1]])), 80)
})

test_that("a slip of the finger and an empty Enter at a read-back are asked again, a wrong value shown twice is one", {
  plan <- c(
    "setting: {name: rate, baseline: 1, by_hand: set it, read_back: {typed: true}}", "arms: [{value: 1}, {value: 2}]",
    "blocks: 1", "sensors: {rate: 0}", "metrics: [{id: score, worth: 2}]", "workloads: [{id: w, by_hand: play}]"
  )
  answers <- function(read_back) {
    said <- 0
    function(kind, facts) {
      switch(kind, step = TRUE, play = "ok", value = 5, note = NA, frames = NULL, read_back = {
        said <<- said + 1
        read_back[min(said, length(read_back))]
      })
    }
  }
  folder <- local_plan(plan)
  run_study(folder, ask = answers(c("11", "", "1")), most = 1)
  expect_identical(read_study(folder)$passes$outcome, "ok")
  wrong <- local_plan(plan)
  run_study(wrong, ask = answers(c("7", "7")), most = 1)
  expect_identical(read_study(wrong)$passes$outcome, "wrong_setting")
})
