local_ledger <- function(env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  writeLines(
    c("setting: {name: lid, baseline: a}", "arms: [{value: a}, {value: b}]", "blocks: 2", "workloads: [{id: w}]"),
    file.path(folder, "study.yml")
  )
  add_pass(folder, arm = "a", values = c(score = 10))
  folder
}
in_ledger <- function(folder, code) {
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
  on.exit(DBI::dbDisconnect(con))
  code(con)
}

test_that("a ledger of a newer version is not touched", {
  folder <- local_ledger()
  in_ledger(folder, function(con) DBI::dbExecute(con, "PRAGMA user_version = 99"))
  expect_message_of(read_study(folder), "honestmargin_error_input", "version 99, newer than this program knows")
})

test_that("an act that fails in the middle leaves nothing behind", {
  folder <- local_ledger()
  honestmargin:::with_store(folder, function(store) {
    honestmargin:::store_begin(store, "p002", list(boot = "b", host = "h"))
    twice <- data.frame(segment = NA, metric = "score", value = 1:2, unit = "", better = "higher", origin = "typed")
    expect_error(honestmargin:::store_end(store, list(pass = "p002", outcome = "ok", readings = twice)), "UNIQUE")
    nobody <- list(pass = "nobody", outcome = "ok")
    expect_error(honestmargin:::store_end(store, nobody), "FOREIGN KEY")
  })
  in_ledger(folder, function(con) {
    expect_identical(DBI::dbGetQuery(con, "SELECT count(*) AS n FROM ended")$n, 1L)
    expect_identical(DBI::dbGetQuery(con, "SELECT count(*) AS n FROM reading WHERE pass = 'p002'")$n, 0L)
  })
})

test_that("frames held to the nanosecond go to Parquet and back to the last bit, and leave no part behind", {
  folder <- local_ledger()
  x <- round(simulate_frames(5, 7, seed = 3), 6)
  pass <- add_pass(folder, arm = "b", frames = x)$pass
  expect_identical(pass_trace(read_study(folder), pass)$frame_time_ms, x)
  expect_identical(
    list.files(file.path(folder, "frames"), all.files = TRUE, no.. = TRUE), paste0(pass, ".parquet")
  )
})

test_that("files are written whole or not at all", {
  folder <- withr::local_tempdir()
  path <- file.path(folder, "kept.txt")
  writeLines("before", path)
  expect_error(honestmargin:::write_whole(path, function(to) {
    writeLines("half", to)
    stop("no space")
  }), class = "honestmargin_error_stuck")
  expect_identical(readLines(path), "before")
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), "kept.txt")
  expect_error(honestmargin:::write_whole(folder, identity), class = "honestmargin_error_stuck")
})

test_that("cells that a spreadsheet would run are guarded, numbers are not", {
  lines <- honestmargin:::csv_lines(data.frame(a = c("=1+1", "-5", "@x", "plain", "+cmd"), b = c(-1, 2, NA, 4, 5)))
  expect_identical(lines[-1], c("\"'=1+1\",-1", "\"-5\",2", "\"'@x\",", "\"plain\",4", "\"'+cmd\",5"))
})

test_that("a snapshot of this machine says what it is and in what state", {
  seen <- honestmargin:::machine_snapshot("LANG", c(tool = "1.2"))
  expect_every(c("host", "system", "variable LANG", "version tool") %in% names(seen))
  if (file.exists("/proc/meminfo")) expect_gt(as.numeric(seen[["memory MB"]]), 100)
  withr::local_envvar(HONESTMARGIN_BOOT = "named")
  expect_identical(honestmargin:::machine_identity()$boot, "named")
})

test_that("what a pass left running is found by its mark and ended", {
  skip_if(!file.exists("/proc/self/environ"), "no /proc here")
  p <- processx::process$new("sleep", "60", env = c("current", HONESTMARGIN_MARK = "/some/where#p001"))
  for (i in 1:50) if (p$is_alive()) break else Sys.sleep(0.02)
  Sys.sleep(0.2)
  expect_identical(honestmargin:::end_leftovers("/some/where#p002"), 0L)
  expect_identical(honestmargin:::end_leftovers("/some/where#p001"), 1L)
  p$wait(2000)
  expect_false(p$is_alive())
})

# made by the code before version 4: segments, a pause, flips of a toggled session, a
# killed pass that was run again, a workload with a stroke in its id, a second batch
local_before <- function(env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  file.copy(test_path("ledger-v3", c("study.yml", "ledger.sqlite", "frames", "marks")), folder, recursive = TRUE)
  folder
}

test_that("a ledger of before segments and parts were columns gives the same readings, and what was lost in names", {
  folder <- local_before()
  for (batch in 1:2) {
    then <- utils::read.csv(
      gzfile(test_path("ledger-v3", sprintf("readings-%d.csv.gz", batch))),
      colClasses = "character", na.strings = ""
    )
    study <- read_study(folder, batch = batch)
    now <- study$readings
    # a flip was called p003.2, a segment lap/harbour, a workload may have a stroke of its own
    name <- ifelse(is.na(now$part), now$pass, paste0(now$pass, ".", now$part))
    place <- ifelse(is.na(now$segment), now$workload, paste0(now$workload, "/", now$segment))
    at <- match(paste(then$pass, then$workload, then$metric), paste(name, place, now$metric))
    expect_identical(nrow(then), nrow(now))
    expect_false(anyNA(at))
    expect_equal(now$value[at], as.numeric(then$value), tolerance = 1e-15)
    # its frames were made without chance: some of its passes are copies of others, which count once now
    now$role <- ifelse(now$role == "copy", "counted", now$role)
    for (column in c("arm", "role", "outcome")) expect_identical(now[[column]][at], then[[column]])
    expect_identical(now$order[at], as.numeric(then$order))
    expect_identical(unique(now$batch), batch)
    expect_setequal(now$segment, c(NA, "harbour", "tunnel"))
    # before, this workload was taken for a segment and told as exploratory
    expect_identical(subset(weigh(study), workload == "disk/copy")$role, "primary")
    expect_false("unplanned_workload" %in% findings(study)$check)
  }
  expect_setequal(now$block, c(NA, "NA.1", "NA.2", "NA.3", "1", "2", paste0(rep(1:2, each = 3), ".", 1:3)))
  first <- read_study(folder)$passes
  expect_identical(first$attempt[1:2], 1:2)
  expect_identical(first$reason[first$pass == "p003" & first$part == 2], "a call came")
  expect_identical(subset(read_study(folder)$readings, pass == "p005")$value, 520)
  expect_identical(run_study(folder)$state, "done")
  expect_identical(pass_trace(read_study(folder), "p006", part = 2)$start_s[1], 0)
})

test_that("of a ledger that knows of a pile only that it is one, held arms are held", {
  folder <- local_plan(
    "setting: {name: cap, baseline: a}", "arms: [{value: a}, {value: b}]", "blocks: 2", "sensors: {rate: 0}",
    "metrics: [{id: fps_avg, worth: 2}]", "workloads: [{id: lap, command: 'cp {arm}.csv log.csv', frames: log.csv}]"
  )
  for (arm in c("a", "b")) {
    frames <- simulate_frames(10, mean_ms = 5, limit_ms = 1000 / 120, seed = match(arm, letters))
    writeLines(c("ms", format(frames, digits = 8)), file.path(folder, paste0(arm, ".csv")))
  }
  run_study(folder)
  held <- read_study(folder)$ceilings
  expect_identical(held$passes_held, c(2L, 2L))
  in_ledger(folder, function(con) {
    DBI::dbExecute(con, "DROP TRIGGER keep_pile_update")
    for (column in c("frames", "near", "mean_ms", "jitter", "memory", "wander")) {
      DBI::dbExecute(con, sprintf("UPDATE pile SET %s = NULL", column))
    }
  })
  expect_identical(read_study(folder)$ceilings, held)
})

# made by the code of version 7: passes of commands and by hand, everything that can be said of a pass, an
# undone one, further blocks, a second batch
test_that("a ledger of before acts had numbers gives the same readings and history", {
  folder <- withr::local_tempdir()
  file.copy(test_path("ledger-v7", c("study.yml", "ledger.sqlite", "frames")), folder, recursive = TRUE)
  for (batch in 1:2) {
    then <- utils::read.csv(gzfile(test_path("ledger-v7", sprintf("readings-%d.csv.gz", batch))), na.strings = "",
      colClasses = c(value = "character", block = "character"))
    now <- read_study(folder, batch = batch)$readings
    expect_identical(sprintf("%.17g", now$value), then$value)
    for (column in c("pass", "arm", "role", "outcome", "block")) expect_identical(now[[column]], then[[column]])
  }
  then <- utils::read.csv(test_path("ledger-v7", "history.csv"))
  now <- study_history(folder)
  expect_identical(now$at, then$at)
  expect_identical(ifelse(is.na(now$pass), "", now$pass), then$pass)
  in_ledger(folder, function(con) {
    acts <- DBI::dbGetQuery(con, "SELECT * FROM act ORDER BY n")
    expect_identical(acts$n, seq_len(nrow(acts)))
    expect_identical(DBI::dbGetQuery(con, "SELECT n FROM turn")$n, nrow(acts))
    ended <- DBI::dbGetQuery(con, "SELECT ended.n, begun.n AS began FROM ended JOIN begun USING (pass)")
    expect_every(ended$began < ended$n)
    reading <- DBI::dbGetQuery(con, "SELECT reading.n, ended.n AS end FROM reading JOIN ended USING (pass)")
    expect_identical(reading$n, reading$end)
  })
  # it goes on from there
  pass <- add_pass(folder, "high", workload = "typed", values = c(score = 111))$pass
  expect_identical(utils::tail(study_history(folder), 1)$pass, pass)
})

test_that("what can be read of a damaged ledger of before is saved too", {
  folder <- withr::local_tempdir()
  file.copy(test_path("ledger-v7", c("study.yml", "ledger.sqlite", "frames")), folder, recursive = TRUE)
  in_ledger(folder, function(con) DBI::dbExecute(con, "DROP TABLE snapshot"))
  out <- file.path(withr::local_tempdir(), "saved")
  expect_match(run_cli("export", folder, out)$stderr, "not whole: snapshot")
  saved <- read_study(out)$readings
  then <- utils::read.csv(gzfile(test_path("ledger-v7", "readings-1.csv.gz")))
  expect_equal(saved$value[saved$metric == "score"], then$value[then$metric == "score"], tolerance = 1e-12)
})

test_that("acts of two programs at once have a number each, and one that was done is not done again", {
  folder <- local_ledger()
  note <- sprintf("for (i in 1:40) honestmargin::note_pass('%s', paste('%%s', i))", folder)
  writers <- lapply(c("one", "two"), function(who) {
    processx::process$new(file.path(R.home("bin"), "Rscript"), c("-e", sprintf(note, who)), stderr = "|")
  })
  for (writer in writers) writer$wait(60000)
  expect_identical(vapply(writers, function(w) w$get_exit_status(), 1L), c(0L, 0L))
  notes <- subset(study_history(folder), kind == "note")
  expect_identical(nrow(notes), 80L)
  for (who in c("one", "two")) expect_identical(notes$reason[startsWith(notes$reason, who)], paste(who, 1:40))
  in_ledger(folder, function(con) {
    acts <- DBI::dbGetQuery(con, "SELECT n FROM act ORDER BY n")$n
    expect_identical(acts, seq_along(acts))
    # as a clock that was set back in between would have written it
    DBI::dbExecute(con, "DROP TRIGGER keep_act_update")
    DBI::dbExecute(con, "UPDATE act SET at = '2001-01-01T00:00:00.000Z' WHERE reason = 'one 40'")
  })
  expect_identical(subset(study_history(folder), kind == "note")$reason, notes$reason)
  honestmargin:::with_store(folder, function(store) {
    ask <- function() honestmargin:::store_ask(store, "note", "p001", list(), list(boot = "b"))
    answer <- function(to, text) honestmargin:::store_answer(store, to, list(text = text), "here")
    expect_identical(c(ask(), ask()), 1:2)
    expect_identical(c(answer(2L, "first"), answer(2L, "second"), answer(1L, "other")), c(TRUE, FALSE, TRUE))
    expect_identical(honestmargin:::store_answered(store, 2L)$text, "first")
    expect_error(honestmargin:::store_end(store, list(pass = "p001", outcome = "crash")), "was ended before")
  })
  expect_identical(read_study(folder)$passes$outcome, "ok")
})

test_that("a step of the migration that fails leaves the version before it", {
  folder <- local_before()
  in_ledger(folder, function(con) {
    steps <- list(`4` = function(con) {
      DBI::dbExecute(con, "ALTER TABLE event ADD COLUMN place TEXT")
      stop("half way")
    })
    expect_error(honestmargin:::migrate_ledger(con, "here", 4L, steps), "half way")
    expect_identical(DBI::dbGetQuery(con, "PRAGMA user_version")[[1]], 3L)
    expect_false("place" %in% DBI::dbListFields(con, "event"))
  })
  expect_identical(nrow(read_study(folder)$passes), 30L)
})

test_that("of a damaged ledger what can be read is saved, and what could not be is told", {
  folder <- local_plan(
    "setting: {name: lid, baseline: open}", "arms: [{value: open}, {value: shut}]", "blocks: 2", "order: fixed",
    "metrics: [{id: score, worth: 2, primary: true}]", "workloads: [{id: lap}]"
  )
  for (i in 1:2) {
    for (arm in c("open", "shut")) {
      add_pass(
        folder, arm,
        values = c(score = 100 + i + 10 * (arm == "shut"))
      )
    }
  }
  change <- weigh(read_study(folder))$change
  path <- file.path(folder, "ledger.sqlite")
  whole <- readBin(path, "raw", file.size(path))
  spoil <- function(bytes) {
    unlink(paste0(path, c("-wal", "-shm")))
    writeBin(bytes, path)
    shown <- run_cli("weigh", folder)
    expect_identical(shown$status, 3L)
    expect_match(shown$stderr, "honestmargin export .* NEW_FOLDER")
    out <- file.path(withr::local_tempdir(.local_envir = parent.frame()), "saved")
    list(out = out, run = run_cli("export", folder, out))
  }
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  DBI::dbExecute(con, "DROP TABLE act")
  DBI::dbDisconnect(con)
  saved <- spoil(readBin(path, "raw", file.size(path)))
  expect_identical(saved$run$status, 0L)
  expect_match(saved$run$stderr, "not whole: act")
  expect_equal(weigh(read_study(saved$out))$change, change)
  expect_match(findings(read_study(saved$out))$message, "was damaged; not whole: act", all = FALSE)
  # cut in the middle: nothing of a pass is left, which is said, and nothing is made up
  none <- spoil(whole[seq_len(length(whole) %/% 4)])
  expect_identical(none$run$status, 3L)
  expect_false(dir.exists(none$out))
})

local_ran <- function(env = parent.frame()) {
  folder <- local_plan(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 2",
    "metrics: [{id: score, worth: 2, primary: true}]", "workloads:", "  - id: w", "    command: echo score 5{arm}",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]", "    settle: 0", env = env
  )
  run_study(folder)
  folder
}
in_ledger <- function(folder, ...) {
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
  on.exit(DBI::dbDisconnect(con))
  for (trigger in DBI::dbGetQuery(con, "SELECT name FROM sqlite_master WHERE type = 'trigger'")$name) {
    DBI::dbExecute(con, paste("DROP TRIGGER", trigger))
  }
  for (sql in c(...)) DBI::dbExecute(con, sql)
}

test_that("a trace that lies outside of the study is none, and one bad row does not take the others along", {
  folder <- local_ran()
  in_ledger(folder, "INSERT INTO trace VALUES (90, 1, 'p001', 'frames', '../../etc/passwd', 10, NULL)")
  expect_match(paste(findings(read_study(folder))$message, collapse = " "), "etc/passwd")
  writeLines("no parquet", file.path(folder, "bad.parquet"))
  in_ledger(folder, "INSERT INTO trace VALUES (91, 1, 'p002', 'frames', 'bad.parquet', 10, NULL)")
  path <- withr::local_tempfile(fileext = ".html")
  expect_identical(run_cli("report", folder, "--file", path)$status, 0L)
  expect_true(file.exists(path))
})

test_that("a ledger whose plan or seal is gone is rescued by the plan that lies beside it", {
  for (gone in c("plan", "seal")) {
    folder <- local_ran()
    in_ledger(folder, "PRAGMA foreign_keys = OFF", paste("DELETE FROM", gone))
    to <- file.path(withr::local_tempdir(), "saved")
    suppressWarnings(rescue_study(folder, to))
    saved <- read_study(to)
    expect_identical(nrow(saved$passes), 4L)
    expect_identical(sort(saved$readings$value), c(51, 51, 52, 52))
  }
})
