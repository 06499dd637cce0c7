# What goes wrong while a study runs: nothing that was reported as stored may be lost.
start_run <- function(folder) {
  processx::process$new(rscript, c("-e", "honestmargin::main()", "run", folder), stderr = "|")
}
score <- "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
ledger_of <- function(folder) honestmargin:::read_ledger(folder)

test_that("fifty kills at random moments lose no pass that was reported as stored", {
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
  for (moments in split(first * withr::with_seed(7, runif(50, 0.7, 2.2)), rep(1:25, each = 2))) {
    runners <- lapply(folders, start_run)
    began <- Sys.time()
    for (i in order(moments)) {
      Sys.sleep(max(0, moments[i] - as.numeric(difftime(Sys.time(), began, units = "secs"))))
      runners[[i]]$signal(9)
      runners[[i]]$wait(5000)
      told <- regmatches(
        e <- runners[[i]]$read_all_error(), gregexpr("[0-9]+(?=/[0-9]+  (block|warm))", e, perl = TRUE)
      )
      reported[[i]] <- c(reported[[i]], as.integer(told[[1]]))
    }
  }
  expect_gt(length(unlist(reported)), 5)
  for (i in 1:2) {
    ledger <- ledger_of(folders[i])
    # the number told with a pass is how many had ended by then
    expect_gte(nrow(ledger$passes), max(reported[[i]]))
    kept <- ledger$passes$pass[ledger$passes$outcome == "ok"]
    expect_setequal(names(ledger$traces), kept)
    expect_every(vapply(ledger$traces, function(f) nrow(honestmargin:::read_trace(f)), 1L) == 3)
    expect_setequal(ledger$scores$pass[ledger$scores$metric == "score"], kept)
    expect_identical(run_study(folders[i], most = 2)$state, "paused")
  }
})

test_that("a full disk stops the run with 4; the pass is lost, all others are kept, and it goes on", {
  shell <- c("unshare", "-Urm", "sh", "-e", "-c")
  skip_if(processx::run(shell[1], c("-Urm", "true"), error_on_status = FALSE)$status != 0, "no name spaces here")
  folder <- local_plan(
    quick, "    command: \"echo score 5{arm}; if [ -f full ]; then cat /dev/zero > filler; fi\"", score
  )
  out <- withr::local_tempdir()
  run <- paste(rscript, "-e 'honestmargin::main()' run small")
  script <- c(
    "cd $1; mkdir small; mount -t tmpfs -o size=2m none small; cp $0/study.yml small",
    paste(run, "--most 2; touch small/full"), paste0("if ", run, "; then exit 9; else echo \"status $?\"; fi"),
    "rm small/full small/filler", run, "cp -r small kept"
  )
  run <- processx::run(shell[1], c(shell[-1], paste(script, collapse = "\n"), folder, out), error_on_status = FALSE)
  expect_identical(run$status, 0L)
  expect_match(run$stdout, "status 4")
  expect_match(run$stderr, "could not be written: .*full")
  expect_identical(ledger_of(file.path(out, "kept"))$passes$outcome, c("ok", "ok", "lost", rep("ok", 5)))
})

test_that("workloads that hang, leave children behind, flood or print rubbish are told as what they are", {
  outcomes <- function(command, extra = NULL) {
    folder <- local_plan(quick, paste("    command:", command), extra, score, env = parent.frame())
    run_study(folder, most = 1)
    list(outcome = ledger_of(folder)$passes$outcome, folder = folder)
  }
  expect_identical(outcomes("sleep 30", "    time_limit: 0.3")$outcome, "timeout")
  forks <- outcomes("'(sleep 45 & echo $! > child); echo score 51'")
  expect_identical(forks$outcome, "ok")
  expect_false(honestmargin:::process_lives(as.integer(readLines(file.path(forks$folder, "child")))))
  expect_identical(outcomes("'yes 0123456789 | head -c 100000000; echo; echo score 77'")$outcome, "ok")
  expect_identical(outcomes("'head -c 300000 /dev/urandom; printf \"\\n\\000score 8\\n\"'")$outcome, "ok")
  expect_identical(outcomes("'head -c 300000 /dev/urandom'")$outcome, "lost")
})

test_that("a store that cannot be written is told, and what it holds can still be read", {
  skip_if(processx::run("unshare", c("-Urm", "true"), error_on_status = FALSE)$status != 0, "no name spaces here")
  folder <- local_plan(quick, "    command: echo score 5{arm}", score)
  run_study(folder, most = 3)
  script <- paste(
    "mount --bind $0 $0; mount -o remount,bind,ro $0;", rscript,
    "-e 'honestmargin::main()' run $0; echo \"status $?\""
  )
  run <- processx::run("unshare", c("-Urm", "sh", "-c", script, folder), error_on_status = FALSE)
  expect_match(run$stdout, "status 4")
  expect_match(run$stderr, "cannot be written")
  expect_identical(nrow(read_study(folder)$passes), 3L)
  expect_identical(run_study(folder)$state, "done")
})
