local_lids <- function(env = parent.frame()) {
  local_plan(
    "setting: {name: lid, baseline: open}", "arms: [{value: open}, {value: shut}]", "blocks: 3", "order: mirrored",
    "warm_up: 1", "workloads: [{id: lap}]", "metrics: [{id: load, unit: s, better: lower, worth: 2, primary: true}]",
    env = env
  )
}

test_that("a counted pass does not fill the slot of the warm-up, and a block beyond the plan is kept", {
  folder <- local_lids()
  first <- add_pass(folder, "open", values = c(load = 5))
  expect_identical(read_study(folder)$passes$role, "counted")
  warm <- add_pass(folder, "open", values = c(load = 9), role = "warm_up")
  passes <- read_study(folder)$passes
  expect_identical(passes$role[passes$pass == warm$pass], "warm_up")
  late <- add_pass(folder, "shut", block = 7, values = c(load = 5))
  expect_true(late$extra)
  expect_identical(subset(read_study(folder)$passes, pass == late$pass)$block, "7")
})

test_that("how long a failed pass ran is its exposure, and artefacts need no number", {
  folder <- local_lids()
  expect_identical(run_cli("add", folder, "--arm", "shut", "--outcome", "crash", "seconds=240")$status, 0L)
  expect_identical(run_cli("add", folder, "--arm", "shut", "--outcome", "artefact", "load=4.5")$status, 0L)
  add_pass(folder, "shut", outcome = "artefact")
  add_pass(folder, "open", values = c(load = 5))
  study <- read_study(folder)
  expect_identical(study$passes$seconds[1], 240)
  expect_false("seconds" %in% study$readings$metric)
  told <- subset(findings(study), check == "artefacts")
  expect_match(told$message, "2 of 3 passes of shut showed artefacts; their values count")
  verdict <- weigh(study)
  expect_match(verdict$reason[verdict$metric == "load"], "2 of 3 passes of shut showed artefacts")
  expect_match(run_cli("weigh", folder, "--long")$stdout, "lap +shut +1 of 3 +1 crash, 2 artefact")
})

test_that("a table goes in whole with all its columns, or not at all, and once", {
  folder <- local_lids()
  bad <- write_lines("arm,load", "open,5.1", "shut,4.2", "ajar,4.4")
  run <- run_cli("add", folder, "--from", bad)
  expect_identical(run$status, 3L)
  expect_match(run$stderr, "unknown arm 'ajar'")
  expect_false(file.exists(file.path(folder, "ledger.sqlite")))
  good <- write_lines(
    "arm,load,order,block,role,reason,outcome,seconds", "shut,4.2,2,1,counted,,ok,60", "open,5.1,1,1,counted,,ok,61",
    "open,9.9,3,2,excluded,a pop-up,ok,62", "shut,,4,2,counted,,crash,12", "open,8,0,,warm_up,,ok,63"
  )
  expect_match(run_cli("add", folder, "--from", good)$stderr, "5 passes stored")
  passes <- read_study(folder)$passes
  expect_identical(passes$arm, c("open", "open", "shut", "open", "shut"))
  expect_identical(passes$role, c("warm_up", "counted", "counted", "excluded", "counted"))
  expect_identical(passes$reason[4], "a pop-up")
  expect_identical(passes$seconds, c(63, 61, 60, 62, 12))
  expect_identical(passes$outcome[5], "crash")
  # unit and direction are the plan's
  expect_identical(unique(read_study(folder)$readings$better), "lower")
  expect_match(run_cli("add", folder, "--from", good)$stderr, "was added before")
})

test_that("an excluded pass that leaves its partner alone is told, with what it would have said", {
  folder <- local_lids()
  at <- c(open = 5, shut = 4)
  for (i in 1:3) for (arm in names(at)) add_pass(folder, arm, block = i, values = c(load = at[[arm]] + i / 50))
  first <- subset(read_study(folder)$passes, arm == "open" & block == "1")$pass
  exclude_pass(folder, first, "a call came in")
  told <- findings(weigh(read_study(folder)))
  expect_match(told$message[told$check == "alone"], paste0("nothing to stand against in block 1: pass ", first))
  expect_identical(sum(told$check == "with_excluded"), 1L)
})

test_that("the history says what was, what is and why, in the tester's time, and keeps the first value", {
  folder <- local_lids()
  pass <- add_pass(folder, "open", values = c(load = 5.5))$pass
  correct_reading(
    folder, pass, "load", 5.8, "misread by someone in a hurry, who looked at the wrong line of the screen"
  )
  withr::local_envvar(TZ = "Asia/Tokyo")
  lines <- strsplit(run_cli("history", folder)$stdout, "\n")[[1]]
  expect_lte(max(nchar(lines)), 80)
  text <- gsub("\\s+", " ", paste(lines, collapse = " "))
  expect_match(text, paste0("JST correct ", pass, ": load: 5.5 -> 5.8 - misread by someone .* of the screen"))
  expect_no_match(text, "\\{")
  data <- jsonlite::fromJSON(run_cli("history", folder, "--format", "json")$stdout)$rows
  expect_match(data$detail[data$kind == "correct"], "\"was\":5.5", fixed = TRUE)
})
