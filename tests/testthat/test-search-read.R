# Searches that really run.
motor <- function(..., search = "{from: 0, to: 300, step: 50}", limit = 220, env = parent.frame()) {
  local_plan(
    "setting: {name: offset, unit: MHz}", paste("search:", search), "blocks: 0", "sensors: {rate: 0}", "workloads:",
    "  - id: pull", paste0("    command: test {arm} -lt ", limit, " && echo score $((1000 + {arm}))"),
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]", ..., env = env
  )
}
arms_of <- function(folder) read_search(folder)$steps$arm

test_that("a search finds the highest value that holds, and compares it with the start", {
  folder <- motor("metrics: [{id: score, worth: 2, primary: true}]")
  lines <- readLines(file.path(folder, "study.yml"))
  writeLines(sub("blocks: 0", "blocks: 3", lines), file.path(folder, "study.yml"))
  out <- run_cli("run", folder)
  expect_identical(out$status, 0L)
  expect_match(out$stderr, "try 250 MHz (last good 200 MHz)", fixed = TRUE)
  expect_match(out$stderr, "200 MHz holds: the highest that did, 50 MHz away from 250 MHz, which failed", fixed = TRUE)
  table <- search_table(folder)
  expect_identical(table$arm[table$state == "found"], "200")
  expect_identical(table$how[table$state == "failed"], "crash")
  expect_identical(sum(table$arm == "300"), 0L)
  verdicts <- weigh(read_study(folder))
  expect_identical(verdicts$arm, "200")
  expect_equal(verdicts$change, 20)
  shown <- run_cli("search", folder)
  expect_match(shown$stdout, "found  +5 of 5")
  expect_match(run_cli("search", folder, "--format", "json")$stdout, "\"why\": \"found\"")
  # before its comparison it has a page, but nothing for Markdown
  bare <- motor()
  run_study(bare)
  refused <- run_cli("report", bare, "--file", withr::local_tempfile(fileext = ".md"))
  expect_identical(refused$status, 3L)
  expect_match(refused$stderr, "no report in Markdown")
  # the export says the same
  copy <- file.path(withr::local_tempdir(), "copy")
  write_study(read_study(folder), copy)
  expect_equal(search_table(copy), table)
  expect_equal(weigh(read_study(copy))$change, verdicts$change)
})

test_that("a run killed at any moment goes on where it stood", {
  folder <- motor(limit = "220 && sleep 0.1")
  whole <- motor()
  run_study(whole)
  for (i in 1:30) {
    run <- processx::process$new("sh", c(launcher_file, "run", folder), stderr = "|", stdout = NULL)
    told <- character()
    while (run$is_alive() && sum(grepl("  ok  |crash", told)) < 2) {
      run$poll_io(5000)
      told <- c(told, run$read_error_lines())
    }
    Sys.sleep(stats::runif(1, 0, 0.15))
    if (!run$is_alive()) break
    run$kill()
  }
  expect_gt(i, 2)
  run_study(folder)
  steps <- read_search(folder)$steps
  # what was lost is run again; the way is the same
  expect_identical(steps$arm[!is.na(steps$held)], arms_of(whole))
  expect_identical(search_sentences(read_search(folder))[1], search_sentences(read_search(whole))[1])
})

test_that("a value that takes the machine down has failed, and the step after it is said", {
  dies <- "kill -9 $(sed 's/.*\"pid\":\\([0-9]*\\).*/\\1/' run.lock)"
  folder <- motor("    time_limit: 20", limit = paste0("400 && { test {arm} -lt 120 || ", dies, "; }"))
  first <- run_cli("run", folder, env = c(HONESTMARGIN_BOOT = "one"), anew = TRUE)
  expect_false(first$status == 0)
  second <- run_cli("run", folder, env = c(HONESTMARGIN_BOOT = "two"))
  expect_match(second$stderr, "recorded as down")
  expect_match(second$stderr, "try 100 MHz (last good 100 MHz, failed 150 MHz)", fixed = TRUE)
  expect_identical(read_search(folder)$now$arm, "100")
  expect_identical(ended_as(folder), c("ok", "ok", "ok", "ok", "down", "ok"))
})

test_that("the tester may skip, add, try, stop and mark afterwards", {
  folder <- motor()
  run_study(folder, most = 2)
  steer_search(folder, skip = "100", add = 210)
  expect_identical(run_cli("search", folder, "--stop")$status, 0L)
  stopped <- run_study(folder)
  expect_identical(stopped[c("state", "ran")], list(state = "done", ran = 0))
  expect_match(search_sentences(read_search(folder))[1], "Stopped by the tester: the highest that held so far is 0 MHz")
  run_cli("search", folder, "--go-on")
  run_study(folder)
  expect_identical(unique(arms_of(folder)), c("0", "50", "150", "200", "210", "250"))
  expect_identical(read_search(folder)$now$arm, "210")
  # told to, it tries what lies beyond a failure; what failed stays failed
  steer_search(folder, try = "300")
  run_study(folder)
  expect_identical(utils::tail(arms_of(folder), 1), "300")
  expect_identical(read_search(folder)$now$arm, "210")
  last <- utils::tail(read_search(folder)$steps$pass[arms_of(folder) == "210"], 1)
  correct_outcome(folder, last, "freeze", reason = "the picture stood still, seen later")
  expect_identical(read_search(folder)$now[c("do", "arm")], list(do = "try", arm = "200"))
  expect_match(paste(study_history(folder)$detail, collapse = "\n"), "\"say\":\"skip\",\"value\":\"100\"", fixed = TRUE)
  expect_match(run_cli("history", folder)$stdout, "search: skip 100")
  expect_message_of(steer_search(folder, skip = "20"), "honestmargin_error_input", "no value of this search")
  expect_message_of(steer_search(folder, add = "-5"), "honestmargin_error_input", "other side of the start")
})

test_that("a fall of the score, a limit and a number that is missing are failures", {
  folder <- motor(search = "{from: 0, to: 300, step: 50, fails: [{metric: score, above: 1120}]}")
  # that it ran to its end does not make it "ok"
  said <- run_cli("run", folder)$stderr
  expect_match(said, "try  150  pull  failed  score 1150  \\(.*does not hold: score 1150 points is above 1120 ")
  table <- search_table(folder)
  expect_identical(table$arm[table$state == "found"], "100")
  expect_identical(table$how[table$failed > 0], "score")
  # of what is said twice the last counts: the score falls by 5 % a step
  falling <- motor(
    search = "{from: 0, to: 300, step: 50, fails: [{metric: score, falls: 8}]}",
    limit = "900 && ! true || echo score $((1000 - {arm})) #"
  )
  run_study(falling)
  expect_identical(read_search(falling)$now$arm, "50")
  silent <- motor(search = "{from: 0, to: 300, step: 50, fails: [{metric: errors, above: 0}]}")
  run_study(silent)
  expect_identical(read_search(silent)$now$why, "start_fails")
})

test_that("a score that is low by chance is tried again before it counts as fallen", {
  folder <- local_plan(
    "setting: {name: offset}", "search: {from: 0, to: 150, step: 50, fails: [{metric: score, falls: 3}]}", "blocks: 0",
    "sensors: {rate: 0}", "workloads:", "  - id: pull",
    "    command: \"sed -n 's/^/score /;1p' values.txt; sed -i 1d values.txt\"",
    "    scores: [{metric: score, pattern: 'score ([0-9.]+)'}]"
  )
  # the start twice; 50 low, and well when it is tried again; 100 far below all that passes vary by; 50 once more
  writeLines(c("100", "102", "97", "101", "60", "100"), file.path(folder, "values.txt"))
  said <- gsub("\\s+", " ", run_cli("run", folder)$stderr)
  expect_match(said, "not clear: score is 97.00 points on average so far, too far from the start's 101", fixed = TRUE)
  expect_match(said, "does not hold: score 60")
  expect_identical(arms_of(folder), c("0", "0", "50", "50", "100", "50"))
  expect_match(gsub("\\s+", " ", run_cli("search", folder)$stdout), "1 pass (50) fell short of the start", fixed = TRUE)
  # nor is it failed on the board
  latest <- as.character(honestmargin:::board_latest(honestmargin:::read_pulse(folder)))
  expect_match(paste(latest, collapse = ""), "failed +score 60 .*ok +score 97 +\\(not clear")
  # what is low by chance and over a limit has failed, in whichever order the plan names them
  plan <- readLines(file.path(folder, "study.yml"))
  both <- local_plan(sub("falls: 3}", "falls: 3}, {metric: score, below: 98}", plan))
  writeLines(c("100", "102", "97"), file.path(both, "values.txt"))
  run_study(both, most = 3)
  expect_identical(read_search(both)$steps$by[3], "below")
  # a terminal tears no word at its edge
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  again <- local_plan(plan)
  writeLines(c("100", "102", "97", "101", "60", "100"), file.path(again, "values.txt"))
  seen <- processx::run("script", c(
    "-qefc", paste0("stty cols 60; ", launcher, " run ", again), "/dev/null"
  ), timeout = 60)$stdout
  expect_match(seen, "  3  try  50  pull  ok  score 97\r\n", fixed = TRUE)
  # the bar above it is wiped by an escape, or by blanks where the terminal is not known to have any
  expect_match(seen, "(K|\r *\r)       not clear: score is 97.00 points on average so far,\r\n")
  expect_identical(read_search(folder)$now$arm, "50")
})

test_that("a value is held against the start whenever that ran, and against nothing where it did not", {
  fallen <- honestmargin:::fallen
  w <- rep("w", 4)
  # tried first: 20 % below the start, which passes vary by far less
  seen <- fallen(c("9", "0", "0", "9"), w, c(80, 100, 100.1, 80.1), "0", 5)
  expect_identical(seen$fallen, c(NA, FALSE, FALSE, TRUE))
  expect_equal(seen$start[c(1, 4)], c(100.05, 100.05))
  expect_identical(fallen(c("9", "9"), w[1:2], c(80, 90), "0", 5)$fallen, c(FALSE, FALSE))
  # lower is better; a start of nothing; no passes
  expect_identical(fallen(c("0", "0", "1", "1"), w, c(10, 10, 12, 12), "0", 5, lower = TRUE)$fallen[3:4], c(TRUE, TRUE))
  expect_identical(fallen(c("0", "0", "1"), w[1:3], c(0, 0, 3), "0", 5)$fallen, c(FALSE, FALSE, FALSE))
  expect_length(fallen(character(), character(), numeric(), "0", 5)$fallen, 0)
})

test_that("noise alone seldom ends a climb, and what has fallen is found", {
  # five values above a start that ran twice, a limit of two times the noise; a glance at single passes stops 19 %
  climbs <- function(drop, noise = 0.01) {
    arm <- c("0", "0")
    value <- 100 + 100 * noise * stats::rnorm(2)
    for (rung in 1:5) {
      repeat {
        arm <- c(arm, as.character(rung))
        value <- c(value, 100 * (1 - drop * (rung == 5)) * (1 + noise * stats::rnorm(1)))
        fell <- honestmargin:::fallen(arm, rep("w", length(arm)), value, "0", 2)$fallen[length(arm)]
        if (!is.na(fell)) break
      }
      if (fell) break
    }
    c(fell = fell, rung = rung, most = max(table(arm)))
  }
  set.seed(91)
  level <- replicate(simulated(400), climbs(0))
  expect_lte(mean(level["fell", ]), 0.05)
  expect_lte(max(level["most", ]), 4)
  lower <- replicate(simulated(400), climbs(0.06))
  expect_gte(mean(lower["fell", ] & lower["rung", ] == 5), 0.9)
})

test_that("knobs move together or in turn", {
  plan <- function(moves) {
    local_plan(
      "setting: {name: clocks}", "search:", "  knobs:", "    - {name: core, from: 0, to: 40, step: 10}",
      "    - {name: memory, from: 0, to: 400, step: 100}", paste("  moves:", moves), "  repeat: 1", "blocks: 0",
      "sensors: {rate: 0}", "workloads:", "  - id: pull",
      "    command: test {core} -lt 30 && test {memory} -lt 400 && test $(({core} * 10 + {memory})) -lt 450",
      "    outcome_only: true", env = parent.frame(2)
    )
  }
  together <- plan("together")
  run_study(together)
  expect_identical(read_search(together)$now$arm, "20,200")
  in_turn <- plan("in_turn")
  run_study(in_turn)
  # the first one as far as it goes, then the second on top of it
  expect_identical(read_search(in_turn)$now$arm, "20,200")
  expect_identical(unique(arms_of(in_turn)), c("0,0", "10,0", "20,0", "30,0", "20,100", "20,200", "20,300"))
  expect_match(search_sentences(read_search(in_turn))[1], "core 20, memory 200 holds")
})

test_that("after a failure of knobs that move together each is tried alone, and the one that failed is named", {
  search <- function(fails, more = NULL) {
    folder <- local_plan(
      "setting: {name: clocks}", "search:", "  knobs:", "    - {name: core, from: 0, to: 40, step: 10}",
      "    - {name: memory, from: 0, to: 400, step: 100}", "  moves: together", "  repeat: 2", more, "blocks: 0",
      "sensors: {rate: 0}", "workloads:", "  - {id: light, command: 'true', outcome_only: true}",
      paste0("  - {id: pull, command: 'C={core} M={memory} sh -c \"! { ", fails, "; }\"', outcome_only: true}"),
      env = parent.frame(2)
    )
    run_study(folder)
    list(folder = folder, said = search_sentences(read_search(folder)), arms = unique(arms_of(folder)))
  }
  core <- search("test {core} -ge 30")
  expect_said <- function(found, pattern) expect_match(found$said, pattern, all = FALSE)
  expect_said(core, "^The knob that failed is core[.] In pull core 30, memory 200 failed 1 of 1; core 20, memory 300")
  # at 95 % two of two allow 1 - sqrt(0.05) of passes to fail
  expect_said(core, paste0("memory 300 held 2 of 2 .up to ", round(100 * (1 - sqrt(0.05))), " %"))
  expect_identical(core$arms, c("0,0", "10,100", "20,200", "30,300", "30,200", "20,300"))
  expect_identical(read_search(core$folder)$now$arm, "20,200")
  expect_said(search("test {memory} -ge 200"), "The knob that failed is memory[.]")
  expect_said(search("test {core} -ge 20 || test {memory} -ge 200"), "Each knob fails alone[.]")
  expect_said(search("test {core} -ge 20 && test {memory} -ge 200"), "No knob failed alone: it takes them together")
  # not where the tester does not want it, and what is spent is spent
  for (more in c("  part: false", "  most_passes: 8")) {
    without <- search("test {core} -ge 20", more)
    expect_length(grep("knob", without$said), 1)
    expect_said(without, "Which knob failed at core 20, memory 200 was not tried out")
  }
  expect_identical(unique(plan_study(core$folder)$schedule$arm), c("0,0", "10,100", "20,200", "30,300", "40,400"))
})

test_that("a search by hand says each step, and stops at it", {
  folder <- local_plan(
    "setting: {name: voltage, unit: mV, by_hand: the firmware menu, restart: machine}",
    "search: {goal: lowest, from: 0, to: -60, step: 20, repeat: 1}", "blocks: 0", "sensors: {rate: 0}", "workloads:",
    "  - {id: boot, by_hand: let it start, outcome_only: true}"
  )
  asked <- character()
  person <- function(kind, facts) {
    if (kind == "step") {
      asked <<- c(asked, facts$words)
      return(if (facts$pass$arm == "-40") "no_start" else TRUE)
    }
    switch(kind, play = "ok", note = NA, NULL)
  }
  expect_identical(run_study(folder)$state, "waiting")
  expect_identical(run_study(folder, ask = person)$state, "done")
  expect_match(asked[1], "set voltage to 0 mV (the firmware menu), restart the machine", fixed = TRUE)
  expect_match(asked[length(asked)], "set voltage to -40 mV .*last good -20 mV")
  expect_identical(read_search(folder)$now$arm, "-20")
  card <- run_cli("plan", folder, "--card")
  expect_match(card$stdout, "set voltage to -60 mV", fixed = TRUE)
})

test_that("what cannot be a search is refused with what to do", {
  refused <- function(search, pattern, ...) {
    folder <- motor(..., search = search)
    expect_message_of(plan_study(folder), "honestmargin_error_input", pattern)
  }
  refused("{from: 0, to: 300}", "needs 'step'")
  refused("{from: 0, to: 310, step: 50}", "miss the end 310")
  refused("{from: 300, to: 0, step: 50}", "for the highest value, and goes from 300 to 0")
  refused("{from: 0, to: 300, step: 50, tests: [push]}", "'push' is none of the workloads")
  refused("{from: 0, to: 300, step: 50, fails: [{metric: score}]}", "when is score a failure")
  refused("{from: 0, to: 300, step: 50}", "no test of this search can fail", limit = "300 || true; true #")
  refused("{values: [a, b], back_off: 2}", "back_off needs values that are numbers")
  both <- motor("arms: [{value: 1}, {value: 2}]")
  expect_message_of(plan_study(both), "honestmargin_error_input", "arms or a search, not both")
  expect_message_of(read_search(demo_study()), "honestmargin_error_input", "looks for no value")
  expect_message_of(run_study(motor(), until_settled = TRUE), "honestmargin_error_usage", "a search ends by itself")
  # steps that the machine cannot write exactly
  fine <- motor(search = "{goal: lowest, from: 0.3, to: -0.2, step: 0.1}")
  expect_identical(unique(plan_study(fine)$schedule$arm), c("0.3", "0.2", "0.1", "0", "-0.1", "-0.2"))
  begun <- motor()
  run_study(begun, most = 1)
  expect_message_of(weigh(read_study(begun)), "honestmargin_error_input", "honestmargin search")
  expect_match(run_cli("weigh", begun)$stderr, "compares nothing yet")
  # it can be taken elsewhere all the same
  copy <- file.path(withr::local_tempdir(), "copy")
  expect_identical(run_cli("export", begun, copy)$status, 0L)
  expect_identical(read_search(copy)$now$arm, read_search(begun)$now$arm)
  # an edited ladder has no effect on a search that is sealed, and that is said
  plan <- file.path(begun, "study.yml")
  writeLines(sub("step: 50", "step: 100", readLines(plan)), plan)
  run_study(begun)
  expect_identical(arms_of(begun)[1:3], c("0", "0", "50"))
})

test_that("passes of a search come in by hand, and its comparison is extended", {
  folder <- local_plan(
    "setting: {name: clock, unit: MHz}", "search: {from: 0, to: 20, step: 10, repeat: 1}", "blocks: 2",
    "workloads: [{id: lap}]", "metrics: [{id: score, worth: 2}]"
  )
  expect_match(run_study(folder)$message, "set|play|by hand")
  for (arm in c("0", "10")) add_pass(folder, arm = arm, values = c(score = 100))
  add_pass(folder, arm = "20", outcome = "crash")
  search <- read_search(folder)
  expect_identical(search$steps$role, rep("rung", 3))
  expect_identical(search$now[c("why", "arm")], list(why = "found", arm = "10"))
  run_study(folder)
  for (i in 1:2) for (arm in c(0, 10)) add_pass(folder, arm = arm, values = c(score = 100 + arm + i / 10))
  expect_identical(unique(read_study(folder)$passes$role), "counted")
  expect_identical(extend_study(folder, 1), 2L)
  for (arm in c("0", "10")) add_pass(folder, arm = arm, values = c(score = 100 + as.numeric(arm)))
  expect_identical(nrow(read_study(folder)$passes), 6L)
  expect_message_of(repeat_study(folder), "honestmargin_error_input", "not repeated in the same study")
})

test_that("a sensor over its limit fails a value, and one that shows nothing is said to", {
  skip_if(!nzchar(honestmargin:::helper_path("recorder")), "no recorder here")
  plan <- function(file) {
    c(
      "setting: {name: clock, unit: MHz}",
      "search: {from: 0, to: 40, step: 20, repeat: 1, fails: [{metric: processor_temperature_max, above: 85}]}",
      # a command of a sensor runs in the study folder, as all commands do
      paste0("sensors: {rate: 5, commands: {'temperature processor package [C]': 'cat ", file, "'}}"),
      "workloads:", "  - id: burn", "    command: echo $((60 + {arm})) > heat; sleep 2.2; rm heat",
      "    outcome_only: true", "blocks: 0"
    )
  }
  found <- local_plan(plan("heat"))
  run_study(found)
  table <- search_table(found)
  expect_identical(table$arm[table$state == "found"], "20")
  expect_identical(table$how[table$arm == "40"], "processor_temperature_max")
  none <- local_plan(plan("nothing"))
  run_study(none)
  expect_identical(search_table(none)$how, "no processor_temperature_max")
  expect_match(run_cli("search", none)$stdout, "Failed: 0 MHz \\(burn: no processor_temperature_max\\)")
})

test_that("knobs whose values hold commas are never taken apart, and a knob that failed is in the answer", {
  plan <- function(mem, moves, env = parent.frame()) {
    local_plan(
      "setting: {name: clocks}", "search:", "  goal: highest", paste("  moves:", moves), "  repeat: 1", "  knobs:",
      "  - {name: core, from: 0, to: 3, step: 1}", paste0("  - {name: mem, values: ", mem, "}"), "blocks: 0",
      "sensors: {rate: 0}", "workloads:", "- id: w",
      "  command: [sh, -c, 'test {core} -lt 3 && echo core {core} mem {mem}']", "  settle: 0", "  outcome_only: true",
      env = env
    )
  }
  folder <- plan("['16,18', '14,16', '12,14', '10,12']", "together")
  expect_identical(run_study(folder)$state, "done")
  expect_identical(readLines(file.path(folder, "logs", "p002.log")), "core 1 mem 14,16")
  turned <- plan("[0, 1, 2]", "in_turn")
  run_study(turned)
  said <- gsub("\\s+", " ", run_cli("search", turned)$stdout)
  expect_match(said, "^core 2, mem 2 holds: the highest that did; core 3, mem 0 failed[.]")
  expect_no_match(said, "nothing failed on the way")
})

test_that("in a search by hand what was put on the ladder can be added, and what was asked for comes next", {
  folder <- local_plan(
    "setting: {name: clock, unit: MHz, by_hand: type it}",
    "search: {goal: highest, from: 0, to: 300, step: 100, tests: [w], repeat: 1}",
    "workloads: [{id: w, seconds: 600, outcome_only: true}]"
  )
  add_pass(folder, arm = "0")
  expect_equal(search_table(folder)$hours, 1 / 6)
  steer_search(folder, add = "260")
  expect_identical(add_pass(folder, arm = "260", outcome = "crash")$arm, "260")
  steer_search(folder, try = "200")
  expect_match(run_cli("search", folder)$stdout, "Next: try 200 MHz in w, as it was asked for")
})
