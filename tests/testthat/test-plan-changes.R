# A study sealed at a worth of 3 %, whose two arms differ by 41 %.
sealed_study <- function(env = parent.frame()) {
  folder <- local_plan(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 3",
    "metrics: [{id: score, worth: 3, primary: true}, {id: other, better: higher}]", "workloads: [{id: w}]",
    env = env
  )
  for (i in 1:6) {
    add_pass(
      folder, c("1", "2")[(i + 1) %% 2 + 1],
      values = c(score = 100 * 1.41^(i %% 2 == 0) + c(0.3, -0.2, 0.1, 0.4, -0.3, 0)[i], other = 50 + i)
    )
  }
  folder
}
edit <- function(folder, from, to) {
  path <- file.path(folder, "study.yml")
  writeLines(sub(from, to, readLines(path), fixed = TRUE), path)
}

test_that("the verdict stands on the sealed plan, whatever the plan says now", {
  folder <- sealed_study()
  before <- weigh(read_study(folder))
  expect_identical(before$verdict[1], "clear gain")
  expect_null(after_the_fact(before))
  edit(folder, "worth: 3", "worth: 50")
  now <- weigh(read_study(folder))
  expect_identical(as.data.frame(now), as.data.frame(before))
  later <- after_the_fact(now)
  expect_identical(unlist(later$changes[1, ]), c(key = "metrics/score/worth", from = "3", to = "50", by = "plan"))
  expect_identical(later$verdicts$verdict[1], "negligible")
  expect_every(vapply(later$verdicts$codes, function(codes) "after_the_fact" %in% vapply(codes, `[[`, "", "code"), NA))
  shell <- run_cli("weigh", folder)$stdout
  expect_match(shell, "clear gain.*After the fact.*metrics/score/worth: 3 -> 50 \\(the plan was edited\\).*negligible")
  json <- jsonlite::fromJSON(run_cli("weigh", folder, "--format", "json")$stdout)
  expect_identical(json$verdicts$verdict[1], "clear gain")
  expect_identical(json$after_the_fact$verdicts$verdict[1], "negligible")
  csv <- read.csv(text = run_cli("weigh", folder, "--format", "csv")$stdout)
  expect_identical(grepl("after_the_fact", csv$codes), rep(c(FALSE, TRUE), each = 2))
  page <- withr::local_tempfile(fileext = ".html")
  write_report(now, page)
  text <- xml2::xml_text(xml2::read_html(page))
  expect_match(text, "the verdicts stand on the sealed one.*metrics/score/worth.*50")
  expect_match(text, "worth score 3", fixed = TRUE)
})

test_that("an option on a sealed study is told as after the fact, and does not move --fail-on", {
  folder <- sealed_study()
  asked <- weigh(read_study(folder), worth = 1, baseline = "2")
  expect_identical(asked$baseline[1], "1")
  expect_identical(after_the_fact(asked)$changes$key, c("baseline", "worth of score"))
  expect_identical(after_the_fact(asked)$verdicts$baseline[1], "2")
  # what is asked for as it was sealed is no change
  expect_null(after_the_fact(weigh(read_study(folder), worth = c(score = 3), baseline = "1")))
  run <- run_cli("weigh", folder, "--worth", "60", "--fail-on", "gain")
  expect_identical(run$status, 1L)
  expect_match(run$stdout, "worth of score: 3 -> 60 \\(asked for now\\)")
  with <- local({
    exclude_pass(folder, read_study(folder)$passes$pass[1], "a pop-up")
    weigh(read_study(folder), with_excluded = TRUE)
  })
  expect_identical(after_the_fact(with)$changes$key, "excluded passes")
})

test_that("arms and blocks that are added after the seal are told to have no effect", {
  folder <- sealed_study()
  edit(folder, "arms: [{value: 1}, {value: 2}]", "arms: [{value: 1}, {value: 2}, {value: 3}]")
  edit(folder, "blocks: 3", "blocks: 9")
  told <- subset(findings(read_study(folder)), check == "no_effect")
  expect_match(told$message, "blocks: 3 -> 9")
  expect_match(told$message, "arms/3/value: none -> 3")
  expect_match(told$todo, "honestmargin repeat")
  # a plan that cannot be read any more does not take the study along
  writeLines("arms: [", file.path(folder, "study.yml"))
  expect_identical(weigh(read_study(folder))$verdict[1], "clear gain")
})
