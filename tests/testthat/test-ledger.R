local_ledger <- function(env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  writeLines(
    c("setting: {name: lid, baseline: a}", "arms: [{value: a}, {value: b}]", "blocks: 2", "workloads: [{id: w}]"),
    file.path(folder, "study.yml")
  )
  add_pass(folder, arm = "a", values = c(score = 10))
  folder
}

test_that("a ledger of a newer version is not touched", {
  folder <- local_ledger()
  honestmargin:::with_ledger(folder, function(con) DBI::dbExecute(con, "PRAGMA user_version = 99"))
  expect_message_of(read_study(folder), "honestmargin_error_input", "version 99, newer than this program knows")
})

test_that("an act that fails in the middle leaves nothing behind", {
  folder <- local_ledger()
  honestmargin:::with_ledger(folder, function(con) {
    honestmargin:::begin_pass(con, "p002", list(boot = "b", host = "h"))
    twice <- data.frame(pass = "p002", workload = "w", metric = "score", value = 1:2, unit = "", better = "higher")
    expect_error(honestmargin:::end_pass(con, list(pass = "p002", outcome = "ok", readings = twice)), "UNIQUE")
    expect_identical(nrow(honestmargin:::ledger_table(con, "ended")), 1L)
    expect_identical(sum(honestmargin:::ledger_table(con, "reading")$pass == "p002"), 0L)
    expect_error(
      honestmargin:::append_rows(con, "ended", data.frame(pass = "nobody", ended = "", outcome = "ok")),
      "FOREIGN KEY"
    )
  })
})

test_that("traces go to Parquet and back to the last bit, and leave no part behind", {
  folder <- withr::local_tempdir()
  x <- simulate_frames(5, 7, seed = 3)
  row <- honestmargin:::store_trace(folder, "p001", "frames", data.frame(frame_time_ms = x))
  expect_identical(honestmargin:::read_trace(file.path(folder, row$file))$frame_time_ms, x)
  expect_identical(list.files(file.path(folder, "frames"), all.files = TRUE, no.. = TRUE), "p001.parquet")
  expect_identical(row$length, length(x))
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

test_that("an older ledger is brought up to date step by step, and keeps what it holds", {
  folder <- withr::local_tempdir()
  version <- function(con) DBI::dbGetQuery(con, "PRAGMA user_version")[[1]]
  # as the first version wrote it
  honestmargin:::with_ledger(folder, create = TRUE, code = function(con) {
    honestmargin:::append_event(con, "note", reason = "kept")
    for (sql in c("DROP TABLE segment_pile", "ALTER TABLE ended DROP COLUMN played", "PRAGMA user_version = 1")) {
      DBI::dbExecute(con, sql)
    }
  })
  for (time in 1:2) {
    honestmargin:::with_ledger(folder, function(con) {
      expect_identical(version(con), 3L)
      expect_identical(DBI::dbListFields(con, "ended")[7], "played")
      expect_true(DBI::dbExistsTable(con, "segment_pile"))
      expect_identical(honestmargin:::ledger_table(con, "event")$reason, "kept")
    })
  }
  steps <- list(
    `4` = function(con) DBI::dbExecute(con, "ALTER TABLE event ADD COLUMN author TEXT"),
    `5` = function(con) {
      DBI::dbExecute(con, "ALTER TABLE event ADD COLUMN place TEXT")
      stop("half way")
    }
  )
  honestmargin:::with_ledger(folder, function(con) {
    expect_error(honestmargin:::migrate_ledger(con, "here", 5L, steps), "half way")
    expect_identical(version(con), 4L)
    expect_false("place" %in% DBI::dbListFields(con, "event"))
    expect_identical(honestmargin:::ledger_table(con, "event")$reason, "kept")
  })
})
