printing <- c(
  quick, "    command: echo \"the score is {arm}00.5 points\"",
  "    scores: [{metric: score, pattern: 'score is ([0-9.]+)'}]"
)

test_that("a study is sealed, run, weighed and goes on where it stopped", {
  folder <- local_plan(printing)
  first <- run_study(folder, most = 3)
  expect_identical(first$state, "paused")
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  expect_identical(nrow(study$passes), 7L)
  expect_equal(study$readings$value, as.numeric(paste0(study$readings$arm, "00.5")))
  # alike to the last digit is rounding, not precision
  v <- weigh(study)
  expect_identical(v$n_arm, 3L)
  expect_identical(study_history(folder)$kind, c("sealed", rep("pass", 7)))
  expect_match(study$sealed$hash, "^[0-9a-f]{64}$")
})

test_that("frame logs and JSON scores are collected, and traces come back whole", {
  folder <- local_plan(
    quick, "    command: |", "      printf '8\\n9\\n10\\n8.5\\n' > {log}",
    "      echo '{\"runs\": [{\"score\": {arm}7}]}' > out.json",
    "    scores: [{metric: score, file: out.json, json: 'runs[0].score'}]"
  )
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  expect_setequal(study$readings$value[study$readings$metric == "score"], c(17, 27))
  expect_equal(unique(study$readings$value[study$readings$metric == "fps_avg"]), 1000 / mean(c(8, 9, 10, 8.5)))
  expect_identical(pass_trace(study, study$passes$pass[1])$frame_time_ms, c(8, 9, 10, 8.5))
})

test_that("every way to end is an outcome of that arm", {
  outcome <- function(command, ..., extra = NULL) {
    folder <- local_plan("setting:", "  name: level", "  baseline: 1", ...,
      "arms: [{value: 1}, {value: 2}]", "blocks: 1", "workloads:", "  - id: w",
      paste("    command:", command), extra,
      env = parent.frame()
    )
    run_study(folder, most = 1)
    ended_as(folder)
  }
  expect_identical(outcome("exit 3"), "crash")
  expect_identical(outcome("kill -SEGV $$"), "crash")
  expect_identical(outcome("sleep 20", extra = "    time_limit: 0.3"), "timeout")
  expect_identical(
    outcome("echo nothing", extra = "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"), "lost"
  )
  expect_identical(outcome("echo 1", "  command: echo cannot >&2; exit 1"), "no_start")
  expect_identical(outcome("echo 1", "  read_back: {command: echo 7}"), "wrong_setting")
  expect_identical(
    outcome("echo 1", "  read_back: {command: 'echo rate: {arm}000', pattern: 'rate: ([0-9]+)', factor: 0.001}"),
    "ok"
  )
  expect_identical(outcome("\"printf '8\\\\n8.1\\\\n8.2\\\\n' > {log}\"", extra = "    seconds: 10"), "interrupted")
})

test_that("values of the plan are words of the shell, not commands", {
  folder <- local_plan(
    "setting: {name: level, baseline: \"a; touch owned\"}",
    "arms: [{value: \"a; touch owned\"}, {value: \"$(touch owned)\"}]", "blocks: 1",
    "workloads: [{id: w, command: 'echo score 5 \"{arm}\"', scores: [{metric: score, pattern: 'score ([0-9]+)'}]}]"
  )
  run_study(folder)
  expect_false(file.exists(file.path(folder, "owned")))
})

test_that("killed in the middle: the pass is lost, its program ended, and the run goes on", {
  folder <- local_plan(
    quick, "    command: 'echo $$ >> pids; sleep ${NAP:-0.1}; echo score 5{arm}'",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  )
  code <- paste0("honestmargin::run_study(", deparse(folder), ")")
  runner <- processx::process$new(file.path(R.home("bin"), "Rscript"), c("-e", code), env = c("current", NAP = "60"))
  pids <- file.path(folder, "pids")
  for (i in 1:200) if (file.exists(pids) && length(readLines(pids))) break else Sys.sleep(0.05)
  again <- tryCatch(run_study(folder), honestmargin_error_stuck = function(e) conditionMessage(e))
  expect_match(again, "another process \\([0-9]+\\) is running this study")
  runner$signal(9)
  runner$wait(5000)
  child <- as.integer(readLines(pids)[1])
  # nothing outlives a runner, however it ended
  for (i in 1:100) if (honestmargin:::process_lives(child)) Sys.sleep(0.05) else break
  expect_false(honestmargin:::process_lives(child))
  expect_identical(run_study(folder)$state, "done")
  expect_false(honestmargin:::process_lives(child))
  expect_identical(ended_as(folder), c("lost", rep("ok", 7)))
  passes <- read_study(folder)$passes
  expect_identical(passes$attempt, c(1L, 2L, rep(1L, 6)))
  expect_identical(anyDuplicated(passes$pass), 0L)
})

test_that("Ctrl-C ends the pass as interrupted, keeps everything and says how to go on", {
  folder <- local_plan(
    quick, "    command: 'echo $$ > pid; sleep ${NAP:-0.05}; echo score 5{arm}'",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  )
  runner <- processx::process$new(file.path(R.home("bin"), "Rscript"), c("-e", "honestmargin::main()", "run", folder),
    env = c("current", NAP = "60"), stderr = "|"
  )
  pid <- file.path(folder, "pid")
  for (i in 1:200) if (file.exists(pid) && length(readLines(pid))) break else Sys.sleep(0.05)
  child <- as.integer(readLines(pid))
  tools::pskill(runner$get_pid(), tools::SIGINT)
  runner$wait(8000)
  expect_identical(runner$get_exit_status(), 130L)
  expect_match(runner$read_all_error(), "go on with: honestmargin run")
  expect_false(honestmargin:::process_lives(child))
  expect_identical(run_study(folder)$state, "done")
  expect_identical(ended_as(folder)[1:2], c("interrupted", "ok"))
})

test_that("a setting that needs a restart stops for it, and knows the new start", {
  folder <- local_plan(
    "setting: {name: timing, baseline: slow, restart: machine, by_hand: the memory page of the firmware}",
    "arms: [{value: slow}, {value: fast}]", "blocks: 2",
    "workloads:", "  - id: w", "    command: echo score $((500 + RANDOM_PART))",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  )
  withr::local_envvar(RANDOM_PART = "3", HONESTMARGIN_BOOT = "start-0")
  stops <- 0
  for (start in 1:6) {
    result <- run_study(folder)
    if (result$state == "done") break
    expect_identical(result$state, "waiting")
    expect_match(
      result$message, "set timing to (slow|fast) \\(the memory page of the firmware\\), restart the machine"
    )
    # the same start of the machine does not do
    expect_identical(run_study(folder)$state, "waiting")
    Sys.setenv(HONESTMARGIN_BOOT = paste0("start-", start))
    stops <- stops + 1
  }
  expect_identical(stops, 4)
  passes <- read_study(folder)$passes
  expect_identical(passes$boot, paste0("b", 1:4))
  expect_identical(weigh(read_study(folder))$unit_of_replication, "boot")
})

test_that("a ledger only grows; corrections and exclusions stand beside it", {
  folder <- local_plan(printing)
  run_study(folder)
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
  expect_error(DBI::dbExecute(con, "DELETE FROM reading"), "only grows")
  expect_error(DBI::dbExecute(con, "UPDATE ended SET outcome = 'ok'"), "only grows")
  DBI::dbDisconnect(con)
  exclude_pass(folder, "p003", "a pop-up")
  corrected <- run_cli("correct", folder, "p004", "score=1:05.5", "--reason", "misread")
  expect_identical(corrected$status, 0L)
  correct_reading(folder, "p004", "score", 555, "misread again")
  correct_outcome(folder, "p005", "freeze", "it hung at the end")
  study <- read_study(folder)
  expect_identical(study$passes$outcome[study$passes$pass == "p005"], "freeze")
  told <- findings(study)
  expect_identical(told$message[grepl("corrected", told$check)], c(
    "pass p004: score corrected from 100.5 to 65.5 (misread)",
    "pass p004: score corrected from 100.5 to 555 (misread again)",
    "pass p005: outcome corrected to freeze (it hung at the end)"
  ))
  expect_identical(run_cli("correct", folder, "p004", "--reason", "x")$status, 2L)
  expect_message_of(correct_reading(folder, "p004", "scor", 5, "x"), "honestmargin_error_input", "no 'scor'.*score")
  expect_identical(study$passes$role[study$passes$pass == "p003"], "excluded")
  expect_identical(study$readings$value[study$readings$pass == "p004"], 555)
  include_pass(folder, "p003", "it was not")
  expect_identical(read_study(folder)$passes$role[3], "counted")
  expect_message_of(exclude_pass(folder, "p099", "why"), "honestmargin_error_input", "no pass 'p099'")
  expect_message_of(exclude_pass(folder, "p003", ""), "honestmargin_error_needed", "no reason")
})

test_that("a metric with a stroke in its name is corrected as itself", {
  folder <- local_plan(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 2",
    "workloads: [{id: copy, by_hand: copy it}]", "metrics: [{id: MB/s, better: higher, worth: 2, primary: true}]"
  )
  pass <- add_pass(folder, "1", values = c("MB/s" = 512))$pass
  correct_reading(folder, pass, "MB/s", 521, "turned about")
  study <- read_study(folder)
  expect_identical(study$readings$value, 521)
  said <- findings(study)
  told <- paste0("pass ", pass, ": MB/s corrected from 512 to 521 (turned about)")
  expect_identical(said$message[said$check == "corrected"], told)
})

test_that("a plan changed after the seal is told, and a repeat is a batch of its own", {
  folder <- local_plan(printing)
  run_study(folder)
  writeLines(sub("worth: 2", "worth: 5", readLines(file.path(folder, "study.yml"))), file.path(folder, "study.yml"))
  expect_identical(repeat_study(folder), 2L)
  expect_identical(run_study(folder)$ran, 7)
  expect_match(findings(read_study(folder))$message, "changed on .* after the seal", all = FALSE)
  second <- read_study(folder, batch = 2)
  expect_identical(nrow(second$passes), 7L)
  expect_identical(unique(second$passes$batch), 2L)
  expect_false(any(second$passes$pass %in% read_study(folder)$passes$pass))
  page <- withr::local_tempfile(fileext = ".html")
  write_report(read_study(folder), page)
  expect_match(paste(readLines(page), collapse = " "), "the plan was changed on")
})

test_that("one process weighs while another runs", {
  folder <- local_plan(printing)
  run_study(folder, most = 5)
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
  DBI::dbExecute(con, "BEGIN IMMEDIATE")
  expect_identical(nrow(read_study(folder)$passes), 5L)
  DBI::dbExecute(con, "ROLLBACK")
  DBI::dbDisconnect(con)
  writeBin(charToRaw("rubbish that is no ledger, long enough to be read as one"), file.path(folder, "ledger.sqlite"))
  unlink(file.path(folder, c("ledger.sqlite-wal", "ledger.sqlite-shm")))
  expect_message_of(read_study(folder), "honestmargin_error_input", "ledger cannot be")
})

test_that("the stand-in game runs as a study of its own", {
  folder <- withr::local_tempdir()
  plan <- readLines(system.file("stand-in", "dial.yml", package = "honestmargin"))
  plan <- sub("Rscript", rscript, plan, fixed = TRUE)
  writeLines(sub("seconds: 20", "seconds: 6", sub("blocks: 4", "blocks: 2", plan)), file.path(folder, "study.yml"))
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  expect_identical(unique(study$passes$outcome), "ok")
  expect_s3_class(plot_trace(study), "ggplot")
  expect_lt(weigh(study)$change[1], 0)
})

test_that("what is run finds the environment of whoever started the run, and nothing of R's own", {
  folder <- local_plan(
    quick, "    command: 'env > found; echo score 5{arm}'", "    scores: [{metric: score, pattern: '([0-9]+)'}]",
    "variables: [LD_LIBRARY_PATH, R_HOME]"
  )
  # R puts its libraries before those that a program brings along, and its tools beside EDITOR, SED and TAR
  own <- c(
    paste0("PATH=", Sys.getenv("PATH")), paste0("HOME=", withr::local_tempdir()), "LD_LIBRARY_PATH=/opt/game/lib",
    "EDITOR=ed", "SHOWN=a value with = in it", paste0("R_LIBS=", paste(.libPaths(), collapse = ":"))
  )
  # one whose bytes are no text is no reason to stop (processx writes such bytes as <ff>)
  script <- "ODD=$(printf '\\377\\376 x') && export ODD && exec sh \"$0\" run \"$1\""
  run <- processx::run("env", c("-i", own, "sh", "-c", script, launcher_file, folder), error_on_status = FALSE)
  expect_identical(run$status, 0L, info = run$stderr)
  found <- readLines(file.path(folder, "found"))
  ours <- grepl("^(HONESTMARGIN_|PROCESSX_|PWD=|SHLVL=|_=|ODD=)", found, useBytes = TRUE)
  expect_setequal(found[!ours], own)
  noted <- study_conditions(folder, all = TRUE)
  expect_identical(noted$values[noted$condition == "variable LD_LIBRARY_PATH"], "/opt/game/lib")
  expect_identical(noted$values[noted$condition == "variable R_HOME"], "")
})

test_that("a value means the same wherever it stands in a line for the shell", {
  said <- function(values, ...) {
    folder <- local_plan(
      paste0("setting: {name: rate, baseline: ", values[1], "}"), "arms:", paste0("  - value: ", values), "blocks: 1",
      "workloads:", "  - id: w", ...,
      env = parent.frame()
    )
    run_study(folder)
    # on a slow machine a pass lasts long enough for its sensors to speak too
    r <- read_study(folder)$readings
    r <- r[r$metric == "score", ]
    stats::setNames(r$value, r$arm)[as.character(values)]
  }
  number <- "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  numbers <- c(`125` = 12500, `250` = 25000)
  expect_identical(said(c(125, 250), "    command: echo score $((100 * {arm}))", number), numbers)
  expect_identical(
    said(c(125, 250), "    command: |", "      # it's {arm}, isn't it", "      echo score {arm}00", number), numbers
  )
  expect_identical(
    said(c(125, 250), "    command: |", "      cat <<END", "      score {arm}00 \"rate\"", "      END", number), numbers
  )
  expect_identical(said(c(125, 250), "    command: |", "      echo 'score {arm}00'", number), numbers)
  expect_identical(said(c(125, 250), "    command: [printf, 'score %s00\\n', '{arm}']", number), numbers)
})

test_that("a value that the shell would take apart or not see is refused before anything runs", {
  plan <- function(command, value) {
    folder <- local_plan(
      paste0("setting: {name: rate, baseline: \"", value, "\"}"), paste0(
        "arms: [{value: \"", value, "\"}, {value: b}]"
      ),
      "workloads:", "  - id: w", "    command: |", paste0("      ", command),
      env = parent.frame()
    )
    plan_study(folder)
  }
  expect_message_of(plan("echo 'score {arm}'", "$(id)"), "honestmargin_error_input", "inside single quotes")
  expect_message_of(plan("echo {arm}", "500 Hz"), "honestmargin_error_input", "take '500 Hz' apart")
  expect_message_of(plan("echo $((1 + {arm}))", "a[$(id)]"), "honestmargin_error_input", "apart|reckon")
  expect_s3_class(plan("echo \"{arm}\"", "500 Hz"), "honestmargin_forecast")
})

test_that("the report tells the value read back and what was recorded", {
  folder <- local_plan(
    "setting: {name: level, baseline: 1, read_back: {command: 'echo now {arm}.0 of 9', pattern: 'now ([0-9.]+)'}}",
    "arms: [{value: 1}, {value: 2}]", "blocks: 2", "versions: {tool: echo 4.5.6}", "workloads:", "  - id: w",
    "    command: echo score {arm}7", "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]",
    "gates: [{pause: 0.01}, {command: echo heat 20, pattern: 'heat ([0-9]+)', below: 30, wait: 1}]"
  )
  expect_identical(run_study(folder)$state, "done")
  expect_identical(read_study(folder)$passes$effective, paste0(read_study(folder)$passes$arm, ".0"))
  expect_true("version tool" %in% study_conditions(folder, all = TRUE)$condition)
  page <- withr::local_tempfile(fileext = ".html")
  write_report(read_study(folder), page)
  cells <- xml2::xml_text(xml2::xml_find_all(xml2::read_html(page), "//td"))
  expect_true("2.0" %in% cells)
})

test_that("a machine that falls back after a start that failed is told as that, until it is set anew", {
  # the third arm does not start; after it the machine shows 1 until a person sets it, two passes later
  folder <- local_plan(
    "setting: {name: speed, baseline: 1, read_back: {command: 'cat shows-{arm} 2> /dev/null || echo {arm}'}}",
    "arms: [{value: 1}, {value: 2}, {value: 3}]", "blocks: 2", "order: fixed", "sensors: {rate: 0}", "workloads:",
    "  - id: w",
    "    command: 'if [ {pass} = p003 ]; then echo 1 > shows-2; exit 139; fi; echo score 5'", score
  )
  run_study(folder)
  study <- read_study(folder)
  expect_identical(study$passes$outcome[3:5], c("crash", "ok", "wrong_setting"))
  told <- subset(findings(study), check == "fell_back")
  expect_match(told$message, "after pass p003 \\(crash\\) 1 pass \\(p005\\) read back 1 .*fell back")
  expect_identical(told$severity, "warning")
})

test_that("a read-back that is typed is checked, and a balanced order runs as it was planned", {
  folder <- local_plan(
    "setting: {name: rate, baseline: 1, read_back: {typed: true, factor: 2, tolerance: 0.1}}",
    "arms: [{value: 1}, {value: 2}, {value: 3}, {value: 4}]", "blocks: 4", "order: balanced",
    "workloads: [{id: w, command: echo score 5, scores: [{metric: score, pattern: 'score ([0-9]+)'}]}]"
  )
  typed <- function(kind, facts) {
    if (kind != "read_back") stop("asked for ", kind)
    if (facts$pass$pass == "p002") "9" else as.character(as.numeric(facts$pass$arm) / 2 + 0.01)
  }
  expect_identical(run_study(folder, ask = typed)$state, "done")
  passes <- read_study(folder)$passes
  expect_identical(passes$outcome, ifelse(passes$pass == "p002", "wrong_setting", "ok"))
  expect_identical(passes$effective[2], "9")
  # Williams: every arm follows every other arm once, and stands once in each place
  arms <- matrix(passes$arm, nrow = 4)
  expect_setequal(paste(arms[-4, ], arms[-1, ]), with(
    subset(expand.grid(a = 1:4, b = 1:4), a != b), paste(a, b)
  ))
  expect_every(apply(arms, 1, function(row) length(unique(row))) == 4)
})

test_that("a gate that stays shut, and one without a number, are told beside the verdicts", {
  folder <- local_plan(
    quick, "    command: echo score {arm}7", "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]",
    "gates: [{name: heat, command: echo 50, below: 30, wait: 0}, {command: echo cold, below: 30}]"
  )
  expect_identical(run_study(folder)$state, "done")
  said <- findings(read_study(folder))
  expect_match(said$message[said$check == "gate_shut"], "'heat' was still at 50 after 0 s, not below 30")
  expect_match(said$message[said$check == "gate_dumb"], "gave no number.*the like in 6 more passes")
})
