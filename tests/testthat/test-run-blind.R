blind_plan <- function(..., blocks = 6, env = parent.frame()) {
  local_plan(
    "setting: {name: rate, unit: Hz, baseline: slowest, command: 'echo {arm} >> set.txt'}",
    "arms: [{value: slowest}, {value: quickest}]", paste("blocks:", blocks), "sensors: {rate: 0}", ...,
    "workloads:", "  - id: lap",
    "    command: [sh, -c, 'cat set.txt | tail -1; echo score $(tail -1 set.txt | wc -c)']",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]", "    judge: blind", env = env
  )
}
# somebody who chooses by what really ran, as one who feels it would
feels <- function(folder, better = "quickest", but = character()) {
  heard <- list()
  function(kind, facts) {
    heard[[length(heard) + 1]] <<- facts
    if (kind != "pair") {
      return(NULL)
    }
    ran <- utils::tail(readLines(file.path(folder, "set.txt")), 2)
    if (facts$pair %in% but) list(choice = "none") else list(choice = c("first", "second")[match(better, ran)])
  }
}
# in a process of its own, with what a person types
typed_run <- function(folder, ...) {
  answers <- write_lines(..., ext = ".txt")
  processx::run("sh", c("-c", paste("sh", launcher_file, "run", folder, "<", answers)),
    env = c("current", HONESTMARGIN_ASK = "yes"), error_on_status = FALSE, stderr_to_stdout = TRUE
  )
}

test_that("as many pairs are needed as the tables of paired preference say, and a test of one half agrees", {
  # Roessler et al. 1978, two-sided, 5 %
  known <- c("8" = 8, "10" = 9, "12" = 10, "15" = 12, "20" = 15, "25" = 18, "30" = 21, "40" = 27, "50" = 33)
  expect_identical(vapply(as.integer(names(known)), pairs_needed, 1), unname(known))
  expect_identical(pairs_needed(5), Inf)
  for (n in c(7, 20)) {
    for (arm in 0:n) {
      whole <- judge_pairs(arm, n - arm, 0)
      reference <- stats::binom.test(arm, n)
      expect_equal(whole$p, reference$p.value)
      expect_equal(c(whole$lower, whole$upper), as.numeric(reference$conf.int))
    }
  }
  # half a pair goes to the side that is behind
  expect_equal(judge_pairs(7, 0, 1)$p, stats::binom.test(7, 8)$p.value)
  expect_identical(judge_pairs(8, 0, 0)$verdict, "preferred")
  expect_identical(judge_pairs(0, 9, 0)$verdict, "baseline preferred")
  # the power is that of the binomial, and so is what would settle it
  expect_equal(pairs_power(10, 0.9), sum(stats::dbinom(9:10, 10, 0.9)))
  settles <- pairs_to_settle(0.8)
  expect_gte(pairs_power(settles, 0.8), 0.8)
  expect_every(pairs_power(seq_len(settles - 1), 0.8) < 0.8)
  expect_identical(pairs_to_settle(0.5), Inf)
})

test_that("somebody who cannot tell them apart is told so, however often the two seem the same", {
  set.seed(11)
  studies <- simulated(2000)
  for (none in c(0, 0.4)) {
    wrong <- mean(replicate(studies, {
      said <- sample(c("arm", "baseline", "none"), 12, TRUE, c((1 - none) / 2, (1 - none) / 2, none))
      judge_pairs(sum(said == "arm"), sum(said == "baseline"), sum(said == "none"))$verdict != "unclear"
    }))
    expect_lte(wrong, at_most(0.05, studies))
  }
})

test_that("who feels a difference is believed, whoever does not is not, and the arms are told at the end", {
  folder <- blind_plan(blocks = 8)
  expect_identical(run_study(folder)$state, "waiting")
  expect_identical(run_study(folder, ask = feels(folder, but = 3))$state, "done")
  study <- read_study(folder)
  found <- weigh_pairs(study)
  expect_identical(c(found$for_arm, found$for_baseline, found$none), c(7L, 0L, 1L))
  expect_equal(found$p, stats::binom.test(7, 8)$p.value)
  # what was shown beforehand is what was run, and a later change shows
  expect_true(attr(found, "kept"))
  order <- "SELECT pass, arm FROM pass ORDER BY position"
  shown <- with_store(folder, function(store) DBI::dbGetQuery(store$con, order))
  line <- paste(c(attr(found, "secret"), paste(shown$pass, shown$arm)), collapse = "\n")
  expect_identical(attr(found, "hash"), cli::hash_sha256(line))
  said <- gsub("\\s+", " ", run_cli("ask", folder, "blind")$stdout)
  expect_match(said, "of 8 pairs 7 went to quickest Hz, 0 to slowest Hz, 1 to neither, counted half for each")
  expect_match(said, "Measured in the same passes: score")
  expect_match(run_cli("history", folder)$stdout, "pair 3, lap: no difference")
  page <- file.path(withr::local_tempdir(), "r.html")
  write_report(study, page)
  expect_match(paste(readLines(page), collapse = " "), "<h2>Blind pairs</h2>.*7 went to quickest Hz")
  # the plain folder keeps what was said
  plain <- write_study(study, file.path(withr::local_tempdir(), "plain"))
  expect_identical(as.data.frame(weigh_pairs(read_study(plain))), as.data.frame(found))
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "ledger.sqlite"))
  # a ledger only grows; who means to may take that from it
  guards <- DBI::dbGetQuery(con, "SELECT name FROM sqlite_master WHERE type = 'trigger'")$name
  for (guard in guards) DBI::dbExecute(con, paste0("DROP TRIGGER \"", guard, "\""))
  DBI::dbExecute(con, "UPDATE pass SET arm = CASE arm WHEN 'slowest' THEN 'quickest' ELSE 'slowest' END")
  DBI::dbDisconnect(con)
  expect_match(run_cli("ask", folder, "blind")$stdout, "The order that was run is not the one that was")
})

test_that("until then no verb, no question, no news and no page tells an arm, a reading or a command", {
  secret <- "slowest|quickest|score [0-9]"
  folder <- blind_plan()
  news <- character()
  watch <- function(kind, facts) {
    if (kind != "begin") news <<- c(news, unlist(lapply(facts[setdiff(names(facts), "plan")], as.character)))
  }
  paused <- run_study(folder, ask = feels(folder), tell = watch, most = 5)
  expect_identical(paused$state, "paused")
  expect_no_match(c(news, paused$message), secret)
  out <- typed_run(folder, "q")
  expect_no_match(out$stdout, secret)
  expect_match(out$stdout, "PAIR 3 of 6")
  # every verb that reads a study says why not; these tell no arm, or are the run itself
  verbs <- Filter(function(v) grepl("STUDY", v$takes), registered("verb"))
  more <- list(exclude = "p001", include = "p001", correct = "p001", undo = "p001", note = "warm", mark = "pause",
    export = withr::local_tempdir(), against = "other", figure = c("--file", "x.png"), report = c("--out", "x.html"),
    extend = c("--blocks", "2"), choose = c("--near-best", "2"), `re-read` = "x", take = withr::local_tempdir())
  free <- c("plan", "run", "board", "open", "demo", "start", "rescue", "login", "completion")
  tried <- setdiff(names(verbs), free)
  for (verb in tried) {
    reason <- if (verb %in% c("exclude", "include", "correct", "undo")) c("--reason", "x")
    said <- run_cli(verb, folder, more[[verb]], reason)
    expect_no_match(paste(said$stdout, said$stderr), secret, info = verb)
  }
  for (question in names(registered("question"))) {
    said <- run_cli("ask", folder, question)$stderr
    expect_match(said, "withheld until its pairs are judged \\(2 of 6\\)", info = question)
  }
  expect_message_of(read_study(folder), "honestmargin_error_stuck", "withheld")
  # the page, from what it is made of
  pulse <- read_pulse(folder)
  expect_no_match(unlist(board_parts(pulse, list(may = FALSE, folder = folder))), "slowest|quickest|[0-9] Hz")
  # the desk
  folder_of_desk <- withr::local_tempdir()
  desk <- list2env(list(key = "k", share = FALSE, folder = folder_of_desk, opening = open_input, trays = list()))
  tray <- tray_of_paths(desk, folder)
  for (page in c("read", "answer", "board/now", "board/")) {
    where <- paste0("/k/tray/", tray$id, "/", page)
    told <- respond_at_desk(desk, list(PATH_INFO = where, REQUEST_METHOD = "GET", QUERY_STRING = ""))
    expect_identical(told$status, 200L, info = page)
    expect_no_match(told$body, secret, info = page)
  }
  expect_no_match(run_cli("plan", folder, "--card")$stdout, "set rate to (slowest|quickest)")
  expect_no_match(run_cli("plan", folder, "--format", "csv")$stdout, "slowest|quickest")
  expect_no_match(list.files(folder, recursive = TRUE), "slowest|quickest")
  # a note may be made all the same
  expect_identical(run_cli("note", folder, "my eyes are tired")$status, 0L)
})

test_that("two runs of other orders look alike, and orders are drawn anew", {
  said <- lapply(1:2, function(i) {
    out <- typed_run(blind_plan(blocks = 5), rep(c("1", ""), 5))$stdout
    gsub("[0-9a-f]{64}|/tmp[^ ]*|[0-9.]+ s", "", out)
  })
  expect_identical(said[[1]], said[[2]])
  expect_match(said[[1]], "every pair is judged, and the arms are revealed")
  plan <- read_plan(blind_plan(blocks = 20))
  of <- function(secret) plan_schedule(plan, coin = coins_of(secret))$arm
  firsts <- vapply(1:200, function(i) mean(of(paste("s", i))[c(TRUE, FALSE)] == "slowest"), 1)
  # a fair coin each: the mean of 4000, and the spread of 20
  expect_lt(abs(mean(firsts) - 0.5), 4 * sqrt(0.25 / 4000))
  expect_lt(abs(stats::sd(firsts) / sqrt(0.25 / 20) - 1), 0.25)
  # each pair stands together, of every workload
  expect_every(vapply(split(of("x"), rep(1:20, each = 2)), function(a) length(unique(a)) == 2, NA))
})

test_that("a word that was not given is asked for first, and giving up reveals, and ends it", {
  folder <- blind_plan(blocks = 4)
  stops <- function(kind, facts) list(choice = "stop")
  first <- run_study(folder, ask = stops)
  expect_identical(first[c("state", "ran")], list(state = "interrupted", ran = 2))
  expect_match(first$message, "pair 1, lap, waits for your word")
  asked <- character()
  on <- function(kind, facts) {
    asked <<- c(asked, paste(kind, facts$pair))
    list(choice = "first", note = "smooth")
  }
  expect_identical(run_study(folder, ask = on, most = 1)$ran, 1)
  expect_identical(asked, "pair 1")
  expect_identical(run_cli("run", folder, "--give-up")$status, 0L)
  found <- weigh_pairs(read_study(folder))
  expect_identical(c(found$pairs, found$not_judged), c(1L, 3L))
  expect_match(run_cli("ask", folder, "blind")$stdout, "given up before every pair")
  expect_message_of(run_study(folder, ask = on), "honestmargin_error_input", "its arms are known")
  expect_message_of(run_study(folder, give_up = TRUE), "honestmargin_error_input", "no arms are withheld")
  # a fresh batch is blind again, and hides all of the study
  repeat_study(folder)
  expect_message_of(read_study(folder), "honestmargin_error_stuck", "withheld")
  expect_identical(run_study(folder, ask = on)$state, "done")
  expect_identical(weigh_pairs(read_study(folder, batch = 2))$pairs, 4L)
})

test_that("what would tell the arms is refused, and so is a plan that was changed to show them", {
  refused <- function(pattern, ...) {
    expect_message_of(read_plan(local_plan(..., env = parent.frame())), "honestmargin_error_input", pattern)
  }
  lap <- c("workloads:", "  - {id: lap, command: play, judge: blind}")
  two <- "arms: [{value: a}, {value: b}]"
  set <- "setting: {name: s, baseline: a, command: 'set {arm}'}"
  refused("two arms", set, "arms: [{value: a}, {value: b}, {value: c}]", lap)
  refused("a setting by hand", "setting: {name: s, baseline: a, by_hand: in the menu}", two, lap)
  refused("an order other than shuffled", set, two, "order: mirrored", lap)
  refused("passes_per_block", set, two, "passes_per_block: 2", lap)
  refused("nothing puts the setting in place", "setting: {name: s, baseline: a}", two, lap)
  refused("numbers that you type", set, two, lap, "  - {id: see, by_hand: look}")
  folder <- blind_plan()
  run_study(folder, ask = feels(folder), most = 2)
  plan <- readLines(file.path(folder, "study.yml"))
  writeLines(plan[!grepl("judge", plan)], file.path(folder, "study.yml"))
  again <- function() run_study(folder, ask = feels(folder))
  expect_message_of(again(), "honestmargin_error_input", "was taken out of the sealed plan")
  expect_message_of(weigh_pairs(read_study(demo_study())), "honestmargin_error_input", "no pairs were judged blind")
})
