minimal <- c("setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads: [{id: w}]")

test_that("a plan has every default that the table of keys names, and nothing is asked for later", {
  plan <- plan_study(local_plan(minimal))$plan
  keys <- subset(plan_keys(), nzchar(default) & !grepl("/", key))
  expect_gte(nrow(keys), 6)
  # yes and no are written in small letters in a plan
  written <- function(value) if (is.logical(value)) tolower(format(value)) else format(value)
  for (i in seq_len(nrow(keys))) expect_equal(written(plan[[keys$key[i]]]), keys$default[i], info = keys$key[i])
  expect_identical(
    plan$workloads[[1]][c("probe", "beacon", "anchor")], list(probe = FALSE, beacon = FALSE, anchor = FALSE)
  )
  expect_identical(plan$sensors$rate, 5)
})

test_that("each key's example is one that the key takes, and the reference page shows every key", {
  keys <- plan_keys()
  page <- paste(readLines(file.path(source_root(), "docs", "plan.md")), collapse = "\n")
  for (i in which(nzchar(keys$example))) {
    value <- yaml::yaml.load(keys$example[i])
    expect_null(
      honestmargin:::assert_key(value, keys$key[i], keys$key[i], list(line = integer(), source = "plan")),
      label = keys$key[i]
    )
    row <- paste0("`", keys$key[i], "`")
    expect_true(grepl(row, page, fixed = TRUE) && grepl(keys$about[i], page, fixed = TRUE), info = row)
  }
})

test_that("a plan of another encoding is the same plan to look at and to run", {
  folder <- local_plan(minimal)
  path <- file.path(folder, "study.yml")
  text <- c("question: Does it cost smoothness \u2014 r\u00e9ally?", minimal)
  writeBin(iconv(paste(text, collapse = "\n"), "UTF-8", "UTF-16", toRaw = TRUE)[[1]], path)
  expect_match(plan_study(path)$plan$question, "\u2014 r\u00e9ally")
  expect_identical(add_pass(folder, "a", values = c(score = 5))$arm, "a")
  expect_match(read_study(folder)$plan$question, "r\u00e9ally")
})

test_that("an arm with a name for people is told by it", {
  scores <- c(10, 11, 10.1, 11.2, 9.9, 11.1)
  folder <- local_plan(
    "setting: {name: s, unit: Hz, baseline: 125}", "arms: [{value: 125}, {value: 2000, label: two thousand}]",
    "workloads: [{id: w}]", "blocks: 3", "metrics: [{id: score, worth: 2}]"
  )
  for (i in 1:6) add_pass(folder, c("125", "2000")[(i + 1) %% 2 + 1], values = c(score = scores[i]))
  expect_match(sentences(read_study(folder)), "against 125 Hz: two thousand clearly gains")
})
