# Every option of the shell does what the argument of the same name does in R.
same_as <- function(args, verdicts) {
  run <- do.call(run_cli, as.list(c("weigh", args, "--format", "json")))
  expect_identical(run$status, 0L, info = run$stderr)
  got <- jsonlite::fromJSON(run$stdout)$verdicts
  shared <- c("arm", "metric", "verdict", "reason", "role", "family_size", "confidence")
  expect_identical(got[shared], as.data.frame(verdicts)[shared])
  expect_equal(got$lower, verdicts$lower)
}
two_metrics <- c(
  "arm,block,order,load time (s),score", "off,1,1,10.1,100", "on,1,2,9.2,104.1", "on,2,3,9.0,104.4", "off,2,4,10.3,101",
  "off,3,5,10.0,99.5", "on,3,6,9.1,103.9", "on,4,7,9.3,104", "off,4,8,10.2,100.2"
)

test_that("what is said to weigh in the shell is what is said to it in R", {
  file <- write_lines(two_metrics)
  x <- read_readings(file)
  base <- c(file, "--baseline", "off")
  same_as(c(base, "--worth", "2"), weigh(x, "off", 2))
  same_as(c(base, "--primary", "score"), weigh(x, "off", primary = "score"))
  same_as(c(base, "--confidence", "0.9"), weigh(x, "off", confidence = 0.9))
  same_as(c(base, "--confidence", "90%"), weigh(x, "off", confidence = 0.9))
  expect_identical(run_cli("weigh", base[1], "-b", "off", "--confidence", "95")$status, 2L)
  odd <- write_lines("arm,wobble", "off,1", "on,2", "off,1.1", "on,2.2", "off,0.9", "on,2.1")
  expect_match(run_cli("weigh", odd, "-b", "off")$stderr, "is a higher or a lower 'wobble' better")
  same_as(
    c(odd, "-b", "off", "--better", "wobble=lower"), weigh(read_readings(odd, better = c(wobble = "lower")), "off")
  )
})

test_that("steadiness, known noise, excluded passes and a limiter that was none can be declared", {
  stints <- write_lines(
    "arm,order,score", paste0("off,", 1:5, ",", 100 + c(1, -1, 0, 2, -2)), paste0("on,", 6:10, ",", 110 + 1:5)
  )
  expect_identical(weigh(read_readings(stints), "off")$verdict, "no basis")
  same_as(c(stints, "-b", "off", "--steady"), weigh(read_readings(stints), "off", steady = TRUE))
  single <- write_lines("arm,score", "off,100", "on,110")
  noise <- write_lines("metric,noise,df,source", "score,1,9,spring series")
  known <- data.frame(workload = "main", metric = "score", noise = 1, df = 9, source = "spring series")
  same_as(c(single, "-b", "off", "--noise", noise), weigh(read_readings(single), "off", noise = known))
  excluded <- write_lines(
    "arm,score,role,reason", paste0("off,", 100:104, ",counted,"), paste0(
      "on,", 105:108, ",counted,"
    ), "on,150,excluded,pop-up"
  )
  same_as(c(excluded, "-b", "off", "--with-excluded"), weigh(read_readings(excluded), "off", with_excluded = TRUE))
  tunnel <- subset(weigh(read_study(demo_study()), no_limiter = TRUE), workload == "tunnel" & role == "primary")
  run <- run_cli("weigh", demo_study(), "--no-limiter", "--format", "csv")
  shell <- subset(read.csv(text = run$stdout), workload == "tunnel" & role == "primary")
  expect_identical(shell$verdict, tunnel$verdict)
  expect_false("blocked" %in% shell$verdict)
})

test_that("exploratory rows are shown when asked for, and a fault shows where it arose", {
  file <- write_lines(two_metrics)
  short <- run_cli("weigh", file, "-b", "off", "--primary", "score", "--long")$stdout
  expect_match(short, "1 of 1 exploratory\\s+comparison\\s+moved; expect about 0 by chance; not\\s+shown")
  more <- run_cli("weigh", file, "-b", "off", "--primary", "score", "--exploratory")
  expect_match(more$stdout, "\n  load time [(]s[)] +10")
  expect_match(run_cli("weigh", "no-such.csv", "-b", "off", "--debug")$stderr, "open_text")
})

test_that("a plan is looked at with noise that one knows", {
  path <- write_lines(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]",
    "workloads: [{id: w, command: echo hello, scores: [{metric: score}]}]",
    "metrics: [{id: score, worth: 2}]",
    ext = ".yml"
  )
  run <- run_cli("plan", path, "--noise-level", "score=0.5", "--format", "json")
  power <- jsonlite::fromJSON(run$stdout)$power
  expect_equal(power$detectable, plan_study(path, noise = c(score = 0.5))$power$detectable)
  expect_identical(power$noise_from, "given")
  expect_match(run_cli("plan", path)$stdout, "What a run would start\n  workloads/1: echo hello")
})

test_that("passes are added where they are said to belong, corrected and excluded by part, and read by batch", {
  folder <- local_plan(
    "setting: {name: lid, baseline: open}", "arms: [{value: open}, {value: shut}]", "blocks: 2", "order: fixed",
    "context: {name: power, levels: [mains, battery]}", "workloads: [{id: lap}]",
    "metrics: [{id: score}, {id: fps_avg}]"
  )
  expect_cli <- function(...) {
    run <- run_cli(...)
    expect_identical(run$status, 0L, info = run$stderr)
    run
  }
  expect_cli("add", folder, "--arm", "shut", "--context", "battery", "--block", "2", "score=5")
  added <- read_study(folder)$passes
  expect_identical(c(added$arm, added$context, added$block), c("shut", "battery", "2"))
  log <- write_lines("ms", rep(c("8", "9", "8.5"), 100))
  expect_cli("add", folder, "--arm", "open", "--context", "mains", "--frames", log)
  study <- read_study(folder)
  expect_identical(nrow(pass_trace(study, study$passes$pass[2])), 300L)
  expect_cli("note", folder, "a warm day", "--pass", added$pass)
  told <- jsonlite::fromJSON(run_cli("history", folder, "--format", "json")$stdout)$rows
  expect_identical(told$pass[told$kind == "note"], added$pass)
  expect_match(expect_cli("ask", folder, "conditions", "--all", "--format", "csv")$stdout, "condition")
  expect_identical(run_cli("export", folder, file.path(withr::local_tempdir(), "x"), "--batch", "2")$status, 3L)
  expect_identical(run_cli("exclude", folder, added$pass, "--reason", "x", "--part", "half")$status, 2L)
})

test_that("a plain locale, long names and many passes change nothing", {
  file <- write_lines("arm,value", "gro\u00df,10", "gro\u00df,11", "\u0431,12", "\u0431,13")
  run <- run_cli("weigh", file, "-b", "gro\u00df", env = c(LC_ALL = "C", LANG = "C"))
  expect_identical(run$status, 0L)
  expect_match(run$stdout, "gro\u00df -> ")
  long <- strrep("a", 6000)
  rows <- data.frame(arm = rep(c(long, "b"), 1500), block = rep(1:1500, each = 2), value = rep(c(10, 11, 10, 12), 750))
  expect_identical(weigh(rows, baseline = "b", worth = 1)$verdict, "clear loss")
  wide <- write_lines("arm;temp;better", "a;61.25;lower", "a;61.5;lower", "b;63.25;lower", "b;63.75;lower")
  told <- weigh(read_readings(wide), baseline = "a", worth = 1)
  expect_identical(told$better, "lower")
  expect_equal(told$baseline_value, sqrt(61.25 * 61.5))
  plan <- write_lines(
    "setting: {name: mode, baseline: 010}", "arms: [{value: 010}, {value: 0x10}, {value: 1:30}]",
    "workloads: [{id: w}]",
    ext = ".yml"
  )
  expect_setequal(plan_study(plan)$schedule$arm, c("010", "0x10", "1:30"))
})

words_of_line <- function(line) scan(text = line, what = "", quote = "'\"", quiet = TRUE)

test_that("every verb has two examples in its help, and what they show works", {
  verbs <- honestmargin:::registered("verb")
  expect_identical(names(Filter(function(v) length(v$examples) != 2, verbs)), character())
  for (verb in verbs) for (line in verb$examples) {
    words <- words_of_line(line)
    expect_identical(words[1], verb$name)
    expect_silent(honestmargin:::parse_options(verb, words[-1]))
  }
  help <- run_cli("help", "exclude")$stdout
  expect_match(help, "Examples:\n  honestmargin exclude my-study p003 --reason 'an update ran'", fixed = TRUE)
  folder <- withr::local_tempdir()
  withr::local_dir(folder)
  # the demo study for those that read, its readings alone where that is enough, and a ledger for those that record
  study <- read_study(demo_study())
  few <- study$readings$metric %in% c("fps_avg", "low1_quantile", "score")
  for (name in c("my-study", "earlier-study")) {
    dir.create(name)
    file.copy(file.path(demo_study(), "study.yml"), name)
    utils::write.csv(as.data.frame(study$readings)[few, ], file.path(name, "readings.csv"), row.names = FALSE, na = "")
  }
  dir.create("ledger")
  writeLines(c(
    "setting: {name: report rate, baseline: 125}",
    "arms: [{value: 125}, {value: 500}, {value: 1000}, {value: 2000}]", "blocks: 5", "warm_up: 1",
    "sensors: {rate: 0}", "metrics: [{id: score, worth: 2, primary: true}]", "workloads:",
    paste0(
      "  - {id: ", c("pebblemark", "tunnel", "harbour"),
      ", command: 'echo score 1{arm}$$', scores: [{metric: score}]}"
    )
  ), file.path("ledger", "study.yml"))
  run_study("ledger")
  dir.create("inbox")
  recorded <- c(
    "add", "correct", "exclude", "include", "note", "history", "conditions", "extend", "repeat", "run", "take"
  )
  # these ask, serve, write where they should not in a test, or need a study of another kind
  apart <- c("board", "demo", "login", "mark", "open", "start", "screen", "search", "undo")
  status <- list()
  for (verb in verbs[setdiff(names(verbs), apart)]) for (line in verb$examples) {
    if (verb$name %in% recorded) line <- sub("my-study", "ledger", line)
    if (verb$name == "frames") line <- sub("my-study", demo_study(), line)
    # what was planned is finished before more is
    if (line == "repeat ledger") run_study("ledger")
    said <- utils::capture.output(code <- suppressMessages(honestmargin:::run_command(words_of_line(line))))
    status[[line]] <- code
  }
  expect_identical(names(Filter(function(code) code != 0, status)), character())
})

test_that("an option that would do nothing is refused", {
  table <- write_lines("arm,score", "a,1", "b,2")
  refused <- list(
    c(demo_study(), "--better", "fps_avg=lower"), c(demo_study(), "--columns", "arm=x"),
    c(demo_study(), "--sheet", "one"), c(demo_study(), "--names", "{arm}"),
    c(table, "--batch", "2"), c(table, "--names", "{arm}")
  )
  for (words in refused) {
    run <- run_cli("weigh", words)
    expect_identical(run$status, 2L)
    expect_match(run$stderr, paste(words[2], "is for"), fixed = TRUE)
  }
  refused <- function(pattern, ...) expect_match(run_cli(...)$stderr, pattern, fixed = TRUE)
  refused("--kwh is for machine, cost", "choose", demo_study(), "--near-best", "2", "--kwh", "0.3")
  refused("--next-pass is for floors", "choose", demo_study(), "--near-best", "2", "--next-pass")
  refused("name one criterion, not several", "choose", demo_study(), "--near-best", "2", "--floor", "fps_avg=60")
  refused("--cost is for --of cost", "figure", demo_study(), "--of", "passes", "--cost", "price", "-o", "x.png")
})

test_that("whatever opens logs takes what settles their names", {
  folder <- withr::local_tempdir()
  for (name in c("race_a_1", "race_a_2", "race_b_1", "race_b_2", "menu_a_1", "menu_a_2", "menu_b_1", "menu_b_2")) {
    writeLines(format(simulate_frames(5, mean_ms = 10, seed = nchar(name))), file.path(folder, paste0(name, ".csv")))
  }
  asked <- run_cli("ask", folder, "overall")
  expect_match(asked$stderr, "--names '{workload}_{arm}_{pass}.csv'", fixed = TRUE)
  named <- run_cli("ask", folder, "overall", "--baseline", "a", "--names", "{workload}_{arm}_{pass}.csv")
  expect_identical(named$status, 0L)
  expect_identical(run_cli("ask", folder, "overall", "--baseline", "a")$stdout, named$stdout)
})
