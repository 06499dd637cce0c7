# The runner is killed at random moments, from the birth of its ledger on.
# `make trials` asks for twenty
kills <- as.integer(Sys.getenv("HONESTMARGIN_KILLS", "8"))

test_that("kills at random moments lose no pass that was reported as stored", {
  plan <- c(
    sub("blocks: 3", "blocks: 300", quick),
    "    command: \"printf '8\\\\n9\\\\n8.{arm}\\\\n' > {log}; echo score 5{arm}\"",
    score
  )
  folders <- c(local_plan(plan), local_plan(plan))
  reported <- list(integer(), integer())
  # from before the seal to some passes on, however slow this machine is now
  spare <- start_run(local_plan(plan))
  first <- system.time(spare$poll_io(60000))[["elapsed"]]
  spare$kill()
  moments <- split(first * withr::with_seed(7, runif(kills, 0.7, 2.2)), rep(seq_len(kills / 2), each = 2))
  ended <- "[0-9]+(?=/[0-9]+  (block|warm))"
  for (round in seq_along(moments)) {
    runners <- lapply(folders, start_run)
    began <- Sys.time()
    for (i in order(moments[[round]])) {
      Sys.sleep(max(0, moments[[round]][i] - as.numeric(difftime(Sys.time(), began, units = "secs"))))
      e <- ""
      # a machine that has become slower since is waited for
      while (round > kills / 4 && !grepl(ended, e, perl = TRUE) && runners[[i]]$is_alive()) {
        runners[[i]]$poll_io(1000)
        e <- paste0(e, runners[[i]]$read_error())
      }
      runners[[i]]$signal(9)
      runners[[i]]$wait(5000)
      e <- paste0(e, runners[[i]]$read_all_error())
      reported[[i]] <- c(reported[[i]], as.integer(regmatches(e, gregexpr(ended, e, perl = TRUE))[[1]]))
    }
  }
  expect_gt(length(unlist(reported)), kills / 4)
  for (i in 1:2) {
    study <- read_study(folders[i])
    # the number told with a pass is how many had ended by then
    expect_gte(nrow(study$passes), max(reported[[i]]))
    kept <- study$passes$pass[study$passes$outcome == "ok"]
    expect_setequal(study$traces$pass[study$traces$kind == "frames"], kept)
    expect_every(vapply(kept, function(p) nrow(pass_trace(study, p)), 1L) == 3)
    scored <- study$readings[study$readings$metric == "score" & !is.na(study$readings$value), ]
    expect_setequal(scored$pass, kept)
    expect_identical(run_study(folders[i], most = 2)$state, "paused")
  }
})

test_that("a process that got the number of a runner that is gone holds nothing up", {
  skip_on_os(c("mac", "windows", "solaris"))
  folder <- local_plan(
    "setting: {name: level, baseline: a}", "arms: [{value: a}, {value: b}]", "blocks: 2",
    "workloads: [{id: w, command: 'echo $$ >> pids; sleep ${NAP:-0}; echo score 5',",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]}]"
  )
  runner <- processx::process$new(file.path(R.home("bin"), "Rscript"),
    c("-e", paste0("honestmargin::run_study(", deparse(folder), ")")), env = c("current", NAP = "60")
  )
  pids <- file.path(folder, "pids")
  for (i in 1:400) if (file.exists(pids) && length(readLines(pids))) break else Sys.sleep(0.05)
  runner$signal(9)
  runner$wait(5000)
  Sys.sleep(3)
  later <- processx::process$new("sleep", "60")
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
  guard <- DBI::dbGetQuery(con, "SELECT name FROM sqlite_master WHERE type = 'trigger' AND tbl_name = 'begun'")$name
  for (name in guard) DBI::dbExecute(con, paste("DROP TRIGGER", name))
  DBI::dbExecute(con, "UPDATE begun SET pid = ?", params = list(later$get_pid()))
  DBI::dbDisconnect(con)
  expect_identical(run_study(folder)$state, "done")
  expect_true(later$is_alive())
  later$kill()
})
