# the same scene in every pass, and what is added to some of them
scene <- function(seed, seconds = 30, ms = 10) {
  x <- plain_frames(seconds, ms, seed)
  x * exp(0.15 * sin(9 * cumsum(x) / sum(x)))
}
from_then_on <- function(x, share, factor) ifelse(cumsum(x) / sum(x) > share, factor * x, x)

test_that("a pass that leaves the pace of its fellows is found, with its moment and its size", {
  folder <- made_study(function(arm, i) {
    switch(as.character(i), `5` = from_then_on(scene(i), 0.6, 1.08), `8` = from_then_on(scene(i), 0.3, 0.94), scene(i))
  }, blocks = 6)
  seen <- findings(read_study(folder))
  seen <- seen[seen$check == "shifted", ]
  expect_setequal(seen$pass, c("p05", "p08"))
  number <- function(pass, pattern) as.numeric(sub(pattern, "\\1", seen$message[seen$pass == pass]))
  expect_equal(number("p05", ".*from ([0-9.]+) s on.*"), 18, tolerance = 0.1)
  expect_equal(number("p05", ".*take ([0-9.]+) % longer.*"), 8, tolerance = 0.25)
  expect_equal(number("p08", ".*take ([0-9.]+) % less long.*"), 6.2, tolerance = 0.25)
  drawn <- withr::local_tempfile(fileext = ".svg")
  expect_identical(run_cli("figure", folder, "--of", "check", "--file", drawn)$status, 0L)
  text <- paste(xml2::xml_text(xml2::xml_find_all(xml2::read_xml(drawn), "//*[local-name()='text']")), collapse = " ")
  expect_match(text, "pass p05 \\(a, w\\): from 1[789] s on its frames take")
  expect_match(text, "Orange: how the other passes of its arm move along")
  # cut short it shows the beginning of its scene only, and that it is short is told
  short <- findings(read_study(made_study(function(arm, i) if (i == 5) utils::head(scene(i), 2000) else scene(i))))
  expect_true("odd_length" %in% short$check)
  expect_false("shifted" %in% short$check)
  none <- made_study(function(arm, i) scene(i))
  expect_false("shifted" %in% findings(read_study(none))$check)
  expect_match(run_cli("figure", none, "--of", "check", "--file", drawn)$stderr, "the checks saw nothing in a pass")
  expect_identical(run_cli("figure", none, "--of", "check", "--pass", "p03", "--file", drawn)$status, 0L)
})

test_that("two states of the machine are told where half of the passes are in each, and no pass is called odd", {
  state <- function(slow, faded = character()) {
    function(arm, i) {
      x <- scene(i)
      if (i %in% slow) x <- from_then_on(x, 0.4, 1.1)
      if (arm %in% faded) x <- from_then_on(x, 0.5, 1.1)
      x
    }
  }
  folder <- made_study(state(c(1, 2, 5, 6, 9, 10)), blocks = 6)
  seen <- findings(read_study(folder))
  two <- seen[seen$check == "two_paces", ]
  expect_false("shifted" %in% seen$check)
  expect_identical(nrow(two), 1L)
  slow <- sprintf("p%02d", c(1, 2, 5, 6, 9, 10))
  named <- unlist(regmatches(two$message, gregexpr("p[0-9]{2}", two$message)))
  # each arm by itself; one of them may be missed
  expect_true(all(named %in% slow) && length(named) >= 3)
  marked <- check_passes(read_study(folder))$passes
  expect_identical(marked$pass[marked$gravest %in% "warning"], sort(named))
  drawn <- withr::local_tempfile(fileext = ".svg")
  expect_identical(run_cli("figure", folder, "--of", "check", "--pass", named[1], "--file", drawn)$status, 0L)
  expect_match(paste(readLines(drawn), collapse = " "), "two paces: from")
  expect_equal(as.numeric(sub(".*take ([0-9.]+) % longer.*", "\\1", two$message)), rep(10, nrow(two)), tolerance = 0.25)
  expect_equal(as.numeric(sub(".*from ([0-9.]+) s on.*", "\\1", two$message)), rep(12, nrow(two)), tolerance = 0.25)
  # an arm that is slower from its middle on in every pass is no state of the machine
  expect_false("two_paces" %in% findings(read_study(made_study(state(integer(), "b"), blocks = 3)))$check)
  expect_false("two_paces" %in% findings(read_study(made_study(state(integer()), blocks = 3)))$check)
})

test_that("an arm that fades over its passes is said to, since the answer then hangs on their length", {
  folder <- made_study(function(arm, i) {
    x <- scene(i)
    if (arm == "b") x * (1 + 0.12 * cumsum(x) / sum(x)) else x
  })
  seen <- findings(read_study(folder))
  # the thirds lie two thirds of a pass apart
  lost <- as.numeric(sub(".*last b loses ([0-9.]+) % against a.*", "\\1", seen$message[seen$check == "fades"]))
  expect_equal(lost, 100 * (1.1 / 1.02 - 1), tolerance = 0.25)
})

test_that("a ledger keeps the pace, and its export says the same", {
  folder <- made_study(function(arm, i) if (i == 5) from_then_on(scene(i), 0.5, 1.1) else scene(i), blocks = 5)
  ledger <- withr::local_tempdir()
  file.copy(file.path(folder, "study.yml"), ledger)
  passes <- read.csv(file.path(folder, "passes.csv"))
  for (i in seq_len(nrow(passes))) {
    x <- utils::read.csv(file.path(folder, "frames", paste0(passes$pass[i], ".csv")))$ms
    add_pass(ledger, arm = passes$arm[i], frames = x)
  }
  copy <- file.path(withr::local_tempdir(), "copy")
  write_study(read_study(ledger), copy)
  said <- lapply(c(folder, ledger, copy), function(place) {
    seen <- findings(read_study(place))
    sub("^pass [^:]*", "", seen$message[seen$check == "shifted"])
  })
  expect_length(said[[1]], 1)
  expect_identical(said[[2]], said[[1]])
  expect_identical(said[[3]], said[[1]])
})

test_that("captures of no, few or equal frames, and an hour of them, give defined results", {
  verdict_of <- function(frames, ...) {
    verdicts <- weigh(read_study(made_study(frames, ..., env = parent.frame())))
    numbers <- unlist(verdicts[vapply(verdicts, is.numeric, NA)])
    expect_false(any(is.nan(numbers)))
    expect_s3_class(check_passes(verdicts), "honestmargin_answer")
    verdicts
  }
  for (n in c(0, 1, 3)) {
    seen <- findings(verdict_of(function(arm, i) if (i == 3) rep(10, n) else scene(i, 5)))
    expect_match(seen$message, "p03", all = FALSE)
  }
  # three frames of a kind are no limiter, two thousand of a kind look like one
  few <- verdict_of(function(arm, i) rep(10, 3))
  expect_false("ceiling" %in% findings(few)$check)
  many <- verdict_of(function(arm, i) rep(10, 2000))
  expect_true("ceiling" %in% findings(many)$check)
  # what nobody judges is no warning
  expect_false(any(grepl("pacing_ms", findings(few)$message)))
  hour <- verdict_of(function(arm, i) plain_frames(3600, 16, i), blocks = 1)
  expect_identical(unique(hour$verdict), "no basis")
  stuck <- function(arm, i) {
    data.frame(time_s = 0:5, `load graphics [%]` = 0, `temperature processor [C]` = c(40, NA, NA, NA, NA, 41),
      check.names = FALSE
    )
  }
  expect_gt(nrow(verdict_of(function(arm, i) scene(i, 5), sensors = stuck)), 20)
})

test_that("a log that was appended to is told from a copy, and neither counts as a pass of its own", {
  told <- function(verdicts) paste(findings(verdicts)$message, collapse = "; ")
  primary <- function(verdicts) {
    as.data.frame(verdicts)[verdicts$role == "primary", c("change", "lower", "upper", "n_arm", "n_baseline", "verdict")]
  }
  # p02 and p03 are of arm b, p04 is of arm a
  here <- environment()
  third <- function(frames) made_study(function(arm, i) if (i == 3) frames else scene(i, 10), env = here)
  folder <- third(scene(3, 10))
  passes <- utils::read.csv(file.path(folder, "passes.csv"))
  utils::write.csv(passes[passes$pass != "p03", ], file.path(folder, "passes.csv"), row.names = FALSE)
  unlink(file.path(folder, "frames", "p03.csv"))
  without <- primary(weigh(read_study(folder)))
  grown <- third(c(scene(2, 10), scene(3, 10)))
  added <- weigh(read_study(grown))
  expect_match(told(added), "p03 begins with the frames of p02: a log was appended to, .*; it does not count")
  expect_no_match(told(added), "copies")
  expect_equal(primary(added), without)
  twice <- weigh(read_study(third(scene(2, 10))))
  expect_match(told(twice), "p02, p03: identical frames, counted once")
  expect_no_match(told(twice), "appended")
  expect_equal(primary(twice), without)
  expect_match(run_cli("check", grown)$stdout, "w, b +\\.o\\.\\.")
  # of two arms nobody knows which it is
  both <- weigh(read_study(made_study(function(arm, i) scene(if (i == 4) 3 else i, 10))))
  expect_match(told(both), "p03, p04: identical frames, arm unknown; counted only where")
  expect_identical(c(both$n_arm, both$n_baseline)[both$role == "primary"], c(3L, 3L))
})

test_that("short passes of a log that only grows are one pass", {
  grown <- withr::local_tempdir()
  for (arm in c("a", "b")) {
    each <- lapply(1:4, function(i) scene(10 * i + match(arm, c("a", "b")), 2))
    for (i in 1:4) {
      writeLines(format(unlist(each[seq_len(i)]), digits = 8), file.path(grown, sprintf("%s_run%d.txt", arm, i)))
    }
  }
  verdicts <- weigh(suppressMessages(read_logs(grown, baseline = "a")), worth = 1)
  expect_setequal(verdicts$verdict[verdicts$role == "primary"], "no basis")
  expect_match(findings(verdicts)$message, "b_2, main_b_3, main_b_4 begin with the frames of main_b_1", all = FALSE)
})
