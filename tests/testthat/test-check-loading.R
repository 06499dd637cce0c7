start_of <- honestmargin:::find_loading

test_that("a start unlike the rest is found with its length, and nothing where there is none", {
  for (ms in c(1, 7, 33)) {
    steady <- plain_frames(40, ms, 1)
    expect_null(start_of(steady))
    for (seconds in c(1, 4, 15)) {
      found <- start_of(c(plain_frames(seconds, 2.5 * ms, 2, 0.2), steady))
      expect_equal(found$seconds, seconds, tolerance = 0.25)
      expect_equal(found$factor, 2.5, tolerance = 0.2)
    }
    expect_lt(start_of(c(plain_frames(3, ms / 4, 2), steady))$factor, 0.3)
  }
  # no frames, few frames, all alike, one long stutter, half of a pass
  late <- plain_frames(60, 10, 5) * exp(0.15 * sin(seq(0, 9, length.out = length(plain_frames(60, 10, 5)))))
  late <- ifelse(cumsum(late) / sum(late) > 0.7, 1.25 * late, late)
  for (x in list(late, numeric(), 5, c(5, 6, 7), rep(7, 5000), c(900, steady), c(plain_frames(60, 66, 3), steady))) {
    expect_null(start_of(x))
  }
})

test_that("one finding speaks for a workload, and more gravely where some arms begin so", {
  all <- made_study(function(arm, i) c(plain_frames(2, 25, i), plain_frames(20, 10, 100 + i)))
  seen <- findings(read_study(all))
  seen <- seen[seen$check == "loading", ]
  expect_identical(seen$severity, "note")
  expect_match(seen$message, "slow start in 8 of 8 passes: frames take 2\\.5 times as long for (1\\.9|2\\.[012])")
  one <- made_study(function(arm, i) c(if (arm == "b") plain_frames(2, 25, i), plain_frames(20, 10, 100 + i)))
  seen <- findings(read_study(one))
  expect_identical(seen$severity[seen$check == "loading"], "warning")
  expect_match(seen$message, "in some arms more than in others", all = FALSE)
  expect_identical(run_cli("check", one, "--fail-on", "warning")$status, 1L)
  none <- made_study(function(arm, i) plain_frames(20, 10, i))
  expect_false("loading" %in% findings(read_study(none))$check)
  expect_identical(run_cli("check", none, "--fail-on", "warning")$status, 0L)
})

test_that("a declared trim takes it off, and firm shows what that would be", {
  # the loading alone differs: 1 s in a, 4 s in b
  frames <- function(arm, i) c(plain_frames(if (arm == "b") 4 else 1, 30, i), plain_frames(20, 10, 100 + i))
  folder <- made_study(frames)
  whole <- weigh(read_study(folder))
  expect_match(whole$verdict[whole$metric == "fps_avg"], "loss")
  firm <- how_firm(whole)
  trimmed <- firm[grepl("trimmed", firm$choice), ]
  expect_identical(trimmed$then, "negligible")
  trim <- as.numeric(sub("the first ([0-9.]+) s.*", "\\1", trimmed$choice))
  expect_gte(trim, 4)
  declared <- weigh(read_study(made_study(frames, extra = paste0(", trim: ", trim))))
  expect_identical(declared$verdict[declared$metric == "fps_avg"], "negligible")
  x <- frames("a", 1)
  kept <- x[c(0, cumsum(x)[-length(x)]) / 1000 >= trim]
  study <- read_study(made_study(frames, extra = paste0(", trim: ", trim)))
  average <- study$readings$value[study$readings$metric == "fps_avg" & study$readings$pass == "p01"]
  expect_equal(average, 1000 / mean(kept), tolerance = 1e-6)
})

test_that("a trim that is declared after the seal changes no pass of that batch", {
  plan <- function(trim) {
    c(
      "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "blocks: 2",
      "metrics: [{id: fps_avg, worth: 2, primary: true}]", paste0("workloads: [{id: w, trim: ", trim, "}]")
    )
  }
  folder <- withr::local_tempdir()
  writeLines(plan(0), file.path(folder, "study.yml"))
  x <- c(plain_frames(2, 25, 1), plain_frames(20, 10, 2))
  add_pass(folder, arm = "a", frames = x)
  writeLines(plan(3), file.path(folder, "study.yml"))
  add_pass(folder, arm = "b", frames = x)
  study <- read_study(folder)
  expect_equal(study$readings$value[study$readings$metric == "fps_avg"], rep(1000 / mean(x), 2), tolerance = 1e-6)
  expect_match(findings(study)$message, "after the seal \\(workloads/w/trim: 0 -> 3\\)", all = FALSE)
})

test_that("copies, lengths and coarse times are seen, in the shell and in the report", {
  frames <- function(arm, i) plain_frames(if (i == 5) 12 else 20, 10, if (i == 8) 2 else i)
  folder <- made_study(frames, blocks = 5)
  seen <- findings(read_study(folder))
  expect_match(seen$message[seen$check == "copied"], "p02, p08: identical frames")
  expect_match(seen$message[seen$check == "odd_length"], "pass p05: it took 12.0 s; other passes took 20.0 s")
  coarse <- made_study(function(arm, i) diff(round(cumsum(c(0, plain_frames(20, 10, i))))))
  seen <- findings(read_study(coarse))
  expect_match(seen$message[seen$check == "resolution"], "steps of 1 ms, 10 % of a usual frame")
  told <- run_cli("check", folder)
  expect_match(told$stdout, "w, a +\\.\\.!o\\.")
  expect_match(told$stdout, "w, b +o\\.\\.\\.\\.")
  json <- jsonlite::fromJSON(run_cli("check", folder, "--format", "json")$stdout)
  expect_identical(json$passes$pass[grepl("copied", json$passes$seen)], c("p02", "p08"))
  page <- write_report(read_study(folder), withr::local_tempfile(fileext = ".html"))
  marked <- function(class) {
    marks <- xml2::xml_find_all(xml2::read_html(page), paste0("//table[@class='strips']//span[@class='", class, "']"))
    sub(":.*", "", xml2::xml_attr(marks, "title"))
  }
  expect_identical(marked("warned"), "p05")
  # of two arms: nobody knows which of them it is
  expect_setequal(marked("out"), c("p02", "p08"))
})

test_that("an odd pass is told as the shift of one pass in a linear model would be", {
  set.seed(5)
  arm <- rep(c("a", "b", "c"), 5)
  block <- rep(as.character(1:5), each = 3)
  y <- rnorm(15) + rep(rnorm(5, sd = 3), each = 3)
  y[4] <- y[4] + 15
  # the mean-shift model: a term of its own for the pass, and its t test
  by_hand <- vapply(seq_along(y), function(i) {
    shift <- as.numeric(seq_along(y) == i)
    summary(lm(y ~ arm + block + shift))$coefficients["shift", "Pr(>|t|)"]
  }, 1)
  expect_equal(honestmargin:::outlying(y, arm, block)$p, by_hand)
  folder <- made_study(function(arm, i) plain_frames(10, if (i == 6) 14 else 10 * exp(0.002 * i %% 3), i), blocks = 5)
  checked <- check_passes(read_study(folder))
  found <- findings(checked)
  expect_identical(found$pass[found$check == "odd_pass"], "p06")
  told <- capture.output(print(checked))
  expect_no_match(told, "ms_p999", all = TRUE)
  expect_match(run_cli("check", folder, "--exploratory")$stdout, "behind ms_p99, 1 frame behind ms_p999")
  expect_match(told, "p06: fps_avg .* where other passes of b gave", all = FALSE)
  # shown, not taken out; firm says what it does
  expect_identical(sum(read_study(folder)$passes$role == "counted"), 10L)
  expect_match(how_firm(read_study(folder))$choice, "flagged pass p06 left out", all = FALSE)
})

test_that("a busy neighbour is seen and named, and quiet passes are not suspected", {
  skip_if(!file.exists("/proc/stat"), "no /proc here")
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 2", "sensors: {rate: 0}",
    "metrics: [{id: score, worth: 2, primary: true}]", "workloads:", "  - id: count",
    "    command: sleep 2; echo score 1{arm}", "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  ), file.path(folder, "study.yml"))
  # no child of ours: its parent ends at once
  hog <- as.integer(system("setsid timeout 60 sh -c 'while :; do :; done' > /dev/null 2>&1 & echo $!", intern = TRUE))
  withr::defer(system(paste("pkill -g", hog)))
  run_study(folder, most = 2)
  seen <- findings(read_study(folder))
  expect_match(seen$message[seen$check == "others_at_work"], "beside 2 of 2 passes other programs kept .*sh")
  # what the workload itself uses is not somebody else's
  own <- honestmargin:::busy_and_own()
  processx::run("sh", c("-c", "i=0; while [ $i -lt 400000 ]; do i=$((i+1)); done"))
  used <- honestmargin:::busy_and_own() - own
  expect_gt(used[["own"]], 0.1)
})

test_that("a check of one's own is run like those that are built in", {
  withr::defer(assign("check", Filter(function(c) c$name != "first_frame", honestmargin:::registry$check),
    envir = honestmargin:::registry
  ))
  new_check("first_frame", "capture", function(pass, frames) {
    if (pass$arm == "b") new_note("warning", "first_frame", ms = frames[1], pass = pass$pass)
  }, words = list(first_frame = c("its first frame took {ms} ms", "start later")))
  seen <- findings(read_study(made_study(function(arm, i) plain_frames(10, 10, i))))
  expect_match(seen$message, "pass p02: its first frame took .* ms \\(and the like in 3 more passes\\)", all = FALSE)
  expect_identical(seen$todo[seen$check == "first_frame"], "start later")
  expect_error(new_check("Bad Name", "capture", identity), "name")
})
