# What goes wrong while a study runs: nothing that was reported as stored may be lost.
test_that("a full disk stops the run with 4; the pass is lost, all others are kept, and it goes on", {
  shell <- c("unshare", "-Urm", "sh", "-e", "-c")
  skip_if(processx::run(shell[1], c("-Urm", "true"), error_on_status = FALSE)$status != 0, "no name spaces here")
  folder <- local_plan(
    quick, "    command: \"echo score 5{arm}; if [ -f full ]; then cat /dev/zero > filler; fi\"", score
  )
  out <- withr::local_tempdir()
  run <- paste(launcher, "run small")
  script <- c(
    "cd $1; mkdir small; mount -t tmpfs -o size=2m none small; cp $0/study.yml small",
    paste(run, "--most 2; touch small/full"), paste0("if ", run, "; then exit 9; else echo \"status $?\"; fi"),
    "rm small/full small/filler", run, "cp -r small kept"
  )
  run <- processx::run(shell[1], c(shell[-1], paste(script, collapse = "\n"), folder, out), error_on_status = FALSE)
  expect_identical(run$status, 0L)
  expect_match(run$stdout, "status 4")
  expect_match(run$stderr, "could not be written: .*full")
  expect_identical(ended_as(file.path(out, "kept")), c("ok", "ok", "lost", rep("ok", 5)))
})

test_that("workloads that hang, leave children behind, flood or print rubbish are told as what they are", {
  outcomes <- function(command, extra = NULL) {
    folder <- local_plan(quick, paste("    command:", command), extra, score, env = parent.frame())
    run_study(folder, most = 1)
    list(outcome = ended_as(folder), folder = folder)
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
    "mount --bind $0 $0; mount -o remount,bind,ro $0;", launcher,
    "run $0; echo \"status $?\""
  )
  run <- processx::run("unshare", c("-Urm", "sh", "-c", script, folder), error_on_status = FALSE)
  expect_match(run$stdout, "status 4")
  expect_match(run$stderr, "cannot be written")
  expect_identical(nrow(read_study(folder)$passes), 3L)
  expect_identical(run_study(folder)$state, "done")
})

test_that("what a kill left of a ledger that was being made is made anew, never fatal", {
  leftovers <- list(raw(), charToRaw("SQLite format 3"), c(charToRaw("SQLite format 3"), raw(4081)))
  for (left in leftovers) {
    folder <- local_plan(quick, "    command: echo score 5{arm}", score)
    writeBin(left, file.path(folder, "ledger.sqlite"))
    file.create(file.path(folder, "ledger.sqlite-wal"))
    expect_message_of(read_study(folder), "honestmargin_error_input", "no pass yet.*honestmargin run")
    expect_identical(run_study(folder)$state, "done")
  }
  # killed while it is being made: nothing that is half a ledger gets its name
  code <- paste0(
    "trace(honestmargin:::create_ledger, quote(tools::pskill(Sys.getpid(), 9)), at = 2, print = FALSE, ",
    "where = asNamespace('honestmargin')); honestmargin::run_study('"
  )
  folder <- local_plan(quick, "    command: echo score 5{arm}", score)
  processx::run(rscript, c("-e", paste0(code, folder, "')")), error_on_status = FALSE)
  expect_false(file.exists(file.path(folder, "ledger.sqlite")))
  expect_identical(run_study(folder)$state, "done")
})

test_that("a workload, its children and a setting's command end with a runner that is told to end or killed", {
  skip_if(!nzchar(honestmargin:::helper_path("holder")), "no holder here")
  for (number in c(tools::SIGTERM, tools::SIGHUP, tools::SIGKILL)) {
    folder <- local_plan(
      quick, "    command: '(setsid sleep 61 & echo $! >> pids; wait) & sleep 62 & echo $! >> pids; sleep 63'", score
    )
    # under nohup a hang-up is ignored, by all that is started there: not by this run
    runner <- start_run(folder, through = c("env", "--default-signal=HUP"))
    pids <- file.path(folder, "pids")
    for (i in 1:400) if (file.exists(pids) && length(readLines(pids)) > 1) break else Sys.sleep(0.05)
    children <- as.integer(readLines(pids))
    expect_length(children, 2)
    runner$signal(number)
    alive <- function() vapply(children, honestmargin:::process_lives, NA)
    for (i in 1:100) if (any(alive())) Sys.sleep(0.05) else break
    expect_identical(alive(), c(FALSE, FALSE), info = paste("signal", number))
    runner$kill()
  }
})

test_that("two runners never measure at once, and a lock that nobody holds is taken over", {
  folder <- local_plan(quick, "    command: sleep 0.3; echo score 5{arm}", score)
  runners <- list(start_run(folder), start_run(folder), start_run(folder))
  for (r in runners) r$wait(60000)
  status <- vapply(runners, function(r) r$get_exit_status(), 1L)
  expect_identical(sort(status), c(0L, 4L, 4L))
  said <- paste(vapply(runners, function(r) r$read_all_error(), ""), collapse = " ")
  expect_match(said, "another process \\([0-9]+\\) is running this study since")
  expect_identical(ended_as(folder), rep("ok", 7))
  expect_false(file.exists(file.path(folder, "run.lock")))
  # this number belongs to another process now; of another machine nothing is known
  lock <- function(...) writeLines(jsonlite::toJSON(list(...), auto_unbox = TRUE), file.path(folder, "run.lock"))
  here <- honestmargin:::machine_identity()
  repeat_study(folder)
  lock(host = here$host, boot = here$boot, pid = 1, started = "1 tick", since = "then")
  expect_identical(run_study(folder, most = 1)$state, "paused")
  lock(host = "elsewhere", boot = "b", pid = 1, started = "1", since = "then")
  expect_message_of(run_study(folder), "honestmargin_error_stuck", "on elsewhere.*take over by removing")
})

# the clock of the day goes back by an hour when the file named by JUMP appears
clock_shim <- c(
  "#define _GNU_SOURCE", "#include <stdlib.h>", "#include <sys/syscall.h>", "#include <sys/time.h>",
  "#include <time.h>",
  "#include <unistd.h>",
  "static long jump(void) { const char *f = getenv(\"JUMP\"); return f && access(f, F_OK) == 0 ? 3600 : 0; }",
  "int clock_gettime(clockid_t c, struct timespec *t) { int r = syscall(SYS_clock_gettime, c, t);",
  "  if (c == CLOCK_REALTIME) t->tv_sec -= jump(); return r; }",
  "int gettimeofday(struct timeval *restrict t, void *restrict z) { struct timespec n; (void)z;",
  "  clock_gettime(CLOCK_REALTIME, &n); t->tv_sec = n.tv_sec; t->tv_usec = n.tv_nsec / 1000; return 0; }"
)

test_that("a step of the clock of the day does not change how long a pass took", {
  skip_if(!nzchar(Sys.which("gcc")), "no compiler here")
  place <- withr::local_tempdir()
  writeLines(clock_shim, file.path(place, "shim.c"))
  built <- processx::run("gcc", c("-shared", "-fPIC", "-o", "shim.so", "shim.c"), wd = place, error_on_status = FALSE)
  skip_if(built$status != 0, "the shim could not be built")
  folder <- local_plan(
    sub("id: score", "id: time, unit: s", quick), "    command: 'sleep 0.3; touch $JUMP; sleep 0.3'",
    "    scores: [{metric: time, from: clock}]"
  )
  jump <- file.path(place, "jump")
  run <- run_cli("run", folder, "--most", "1", env = c(LD_PRELOAD = file.path(place, "shim.so"), JUMP = jump))
  expect_identical(run$status, 0L, info = run$stderr)
  expect_true(file.exists(jump))
  pass <- read_study(folder)$passes
  expect_identical(pass$outcome, "ok")
  expect_true(pass$seconds > 0.5 && pass$seconds < 30)
})

test_that("a bad pattern, a plan nested without end and endless numbers are refused before anything runs", {
  bad <- local_plan(quick, "    command: touch ran", "    scores: [{metric: score, pattern: 'score ([0-9]+'}]")
  expect_message_of(run_study(bad), "honestmargin_error_input", "is no regular expression")
  expect_false(file.exists(file.path(bad, "ran")))
  deep <- local_plan(paste0("setting: ", strrep("[", 20000)))
  expect_message_of(plan_study(deep), "honestmargin_error_input", "nested [0-9]+ levels deep")
  folder <- local_plan(quick, "    by_hand: play it")
  expect_identical(run_cli("add", folder, "--arm", "1", "score=1e400")$status, 2L)
  expect_identical(run_cli("weigh", demo_study(), "--worth", "1e999")$status, 2L)
})

test_that("a folder that somebody sent runs nothing, and its names cannot drive the terminal", {
  skip_if(!nzchar(Sys.which("honestmargin")), "the command is not installed")
  folder <- withr::local_tempdir()
  writeLines("R_PROFILE_USER=./evil.R", file.path(folder, ".Renviron"))
  for (name in c("evil.R", ".Rprofile")) writeLines("file.create('owned')", file.path(folder, name))
  writeLines(c("arm,score", "a,10", "b,11"), file.path(folder, "s.csv"))
  run <- processx::run("honestmargin", c("weigh", "s.csv", "-b", "a"), wd = folder)
  expect_false(file.exists(file.path(folder, "owned")))
  escape <- run_cli("weigh", "no\u001b]0;such\u202efile.csv", "-b", "a")
  expect_no_match(escape$stderr, "[\u001b\u202e]")
  study <- local_plan(quick, "    by_hand: play it")
  add_pass(study, "1", values = c(score = 5), note = "red \u001b[31m \u202e alert")
  expect_no_match(run_cli("history", study, "--format", "csv")$stdout, "[\u001b\u202e]")
})

test_that("one endless frame is summed up at once, as its seconds would be one by one", {
  expect_identical(frame_summary(1e12)[["fps_min"]], 1000 / 1e12)
  expect_lt(system.time(frame_summary(c(1e12, 10)))[["elapsed"]], 1)
  x <- c(300, 7200, 400, 200, 100)
  counts <- diff(stats::approx(c(0, cumsum(x)), 0:5, seq(0, 8000, by = 1000))$y)
  expect_equal(frame_summary(x)[c("fps_min", "fps_max")], c(fps_min = min(counts), fps_max = max(counts)))
})

test_that("a trace that is lost or was changed is told, shown nowhere, and takes nothing else along", {
  folder <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "blocks: 3", "workloads: [{id: lap}]",
    "metrics: [{id: fps_avg, worth: 2}]"
  )
  for (i in 1:3) {
    for (arm in c("a", "b")) {
      add_pass(
        folder, arm,
        block = i, frames = simulate_frames(3, 8 + (arm == "b"), seed = i)
      )
    }
  }
  before <- weigh(read_study(folder))
  file <- function(pass) file.path(folder, "frames", paste0(pass, ".parquet"))
  unlink(file("p001"))
  doubled <- nanoparquet::read_parquet(file("p002"))
  doubled$frame_time_ms <- 2 * doubled$frame_time_ms
  nanoparquet::write_parquet(doubled, file("p002"))
  study <- read_study(folder)
  expect_identical(weigh(study)$change, before$change)
  expect_match(findings(study)$message, "p001: frames/p001.parquet is gone", all = FALSE)
  page <- withr::local_tempfile(fileext = ".html")
  write_report(study, page)
  expect_gt(file.size(page), 50000)
  expect_null(pass_trace(study, "p002"))
  out <- write_study(study, file.path(withr::local_tempdir(), "out"))
  expect_setequal(list.files(file.path(out, "frames")), c("layout.yml", paste0("p00", 3:6, ".csv.gz")))
  expect_identical(weigh(read_study(out))$change, before$change)
  expect_match(findings(read_study(out))$message, "p002: frames/p002.parquet is not as it was stored", all = FALSE)
})

test_that("a warm-up that gives nothing stops the run before the passes are spent, and says what was looked for", {
  folder <- local_plan(quick, "    command: echo points 7", "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]")
  run <- run_cli("run", folder)
  expect_identical(run$status, 4L)
  expect_match(run$stderr, "looked for score \\(\\[0-9\\]\\+\\)\\); what it said is in .*p001.log")
  expect_identical(ended_as(folder), "lost")
  writeLines(
    sub("'score (", "'points (", readLines(file.path(folder, "study.yml")), fixed = TRUE),
    file.path(folder, "study.yml")
  )
  expect_identical(run_study(folder)$state, "done")
  expect_identical(ended_as(folder), c("lost", rep("ok", 6)))
})

test_that("a command that is not found stops the run, spends no pass and says nothing of an arm", {
  folder <- local_plan(quick, "    command: nosuchbench --score {arm}", score)
  planned <- findings(plan_study(folder))
  expect_match(planned$message, "'nosuchbench' cannot be started here", all = FALSE)
  run <- run_cli("run", folder)
  expect_identical(run$status, 4L)
  expect_match(gsub("\\s+", " ", run$stderr), "could not be started in .*not found. Mend the plan")
  expect_identical(ended_as(folder), "interrupted")
  mended <- sub("nosuchbench --score", "echo score 5", readLines(file.path(folder, "study.yml")))
  writeLines(mended, file.path(folder, "study.yml"))
  expect_identical(run_study(folder)$state, "done")
  expect_identical(sum(read_study(folder)$passes$outcome == "ok"), 7L)
  # nor does the shell's own error line give a score
  wrong <- local_plan(quick, "    command: 'score{arm} 7; true'", sub("score [(]", "(", score))
  run_study(wrong, most = 1)
  expect_identical(ended_as(wrong), "lost")
})

test_that("a name in braces that is nearly one of the values is refused, another is told", {
  slip <- local_plan(quick, "    command: echo score 5{arn}", score)
  expect_message_of(plan_study(slip), "honestmargin_error_input", "no value is called \\{arn\\}.*\\{arm\\}")
  other <- local_plan(quick, "    command: echo score 5{arm} | awk '{print}'", score)
  expect_match(findings(plan_study(other))$message, "nothing is called \\{print\\}", all = FALSE)
  expect_identical(run_study(other, most = 1)$ran, 1)
})

test_that("a pass whose further try a kill took away is run again, and so is one that was undone", {
  folder <- local_plan(quick, "    command: echo score 5{arm}", score)
  run_study(folder, most = 3)
  # as a runner leaves it that is killed between both writes of a ledger of before
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
  open <- "SELECT pass FROM pass WHERE pass NOT IN (SELECT pass FROM begun) ORDER BY position"
  next_pass <- DBI::dbGetQuery(con, open)$pass[1]
  insert <- function(table, ...) DBI::dbAppendTable(con, table, data.frame(n = 90L, line = 1L, pass = next_pass, ...))
  insert("begun", started = "2026-01-01T00:00:00.000Z", pid = 1L, boot = "gone", host = "here")
  insert("ended", ended = "2026-01-01T00:01:00.000Z", outcome = "lost")
  insert("finding", severity = "note", code = "runner_ended")
  DBI::dbDisconnect(con)
  expect_identical(run_study(folder)$state, "done")
  expect_identical(sum(read_study(folder)$passes$outcome == "ok"), 7L)
  # a disk that fails between both writes leaves neither
  store <- honestmargin:::open_sqlite(folder)
  DBI::dbExecute(store$con, "CREATE TEMP TRIGGER no BEFORE INSERT ON pass BEGIN SELECT RAISE(ABORT, 'full'); END")
  before <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM act")$n
  pass <- DBI::dbGetQuery(store$con, "SELECT * FROM pass LIMIT 1")
  expect_error(honestmargin:::hold_turn(store, {
    honestmargin:::store_event(store, "undo", pass$pass)
    honestmargin:::store_again(store, pass, "undone", most = Inf)
  }), class = "honestmargin_error_stuck")
  expect_identical(DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM act")$n, before)
  honestmargin:::close_store(store)
})

test_that("what a killed writer left half written is swept by the next run, and the seed of the caller stays", {
  folder <- local_plan(quick, "    command: echo score 5{arm}", score)
  left <- file.path(folder, c(".part-999999-abc-x.csv", "run.lock-999999"))
  file.create(left)
  Sys.setFileTime(left, Sys.time() - 3600)
  set.seed(5)
  before <- .Random.seed
  run_study(folder, most = 1)
  expect_false(any(file.exists(left)))
  expect_identical(.Random.seed, before)
})
