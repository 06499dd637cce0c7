stint <- function(heading, order = TRUE) {
  rows <- data.frame(arm = rep(c("A", "B"), each = 5), round = rep(1:5, 2), order = 1:10, score = c(1000:1004,
    1040:1044))
  names(rows)[2] <- heading
  if (!order) rows$order <- NULL
  path <- tempfile(fileext = ".csv")
  write.csv(rows, path, row.names = FALSE)
  path
}

test_that("a number that repeats within each arm makes no blocks of one stint per arm, whatever it is called", {
  for (heading in c("round", "block", "Runde")) {
    v <- weigh(read_readings(stint(heading)), baseline = "A", worth = 2)
    expect_identical(v$verdict, "no basis")
    expect_match(paste(findings(v)$message, collapse = " "), "blocks are numbers of repeats")
  }
  # blocks that run together stay, one that was gone back for too
  rows <- data.frame(arm = rep(c("A", "B"), 5), block = rep(1:5, each = 2), order = 1:10, value = rep(c(100, 104),
    5) + 1:10 / 10)
  expect_identical(weigh(rows, baseline = "A")$unit_of_replication, "pass")
  expect_false("blocks_apart" %in% findings(honestmargin:::complete_readings(rows))$check)
  rows$order[3] <- 11
  expect_false("blocks_apart" %in% findings(honestmargin:::complete_readings(rows))$check)
})

test_that("loops of one run are no passes", {
  rows <- data.frame(arm = rep(c("a", "b"), each = 5), loop = rep(1:5, 2), score = 100 + 1:10)
  path <- write_lines(c("arm,loop,score", do.call(paste, c(rows, sep = ","))))
  folded <- run_cli("weigh", path, "--baseline", "a", "--worth", "2")
  expect_match(folded$stdout, "No basis: one pass per arm")
  expect_match(folded$stdout, "10 rows are loops of 2 runs")
  expect_match(folded$stdout, "Read 10 values")
  own <- run_cli("weigh", path, "--baseline", "a", "--worth", "2", "--columns", "pass=loop")
  expect_match(own$stdout, "5 passes")
})

test_that("rows sorted by arm with numbered rounds and no order are asked about, and both answers end where they say", {
  path <- stint("round", order = FALSE)
  asked <- run_cli("weigh", path, "--baseline", "A")
  expect_identical(asked$status, 2L)
  remedies <- unique(regmatches(asked$stderr, gregexpr("--columns [a-z]+=round", asked$stderr))[[1]])
  expect_length(remedies, 2)
  units <- vapply(remedies, function(remedy) {
    words <- strsplit(remedy, " ")[[1]]
    out <- run_cli("weigh", path, "--baseline", "A", words, "--format", "json")
    expect_identical(out$status, 0L)
    design <- jsonlite::fromJSON(out$stdout)$verdicts
    paste(design$noise > 0.1, design$verdict)
  }, "")
  # within rounds the two arms rise together, so there is no noise; as single passes there is
  expect_identical(unname(units), c("FALSE gain", "TRUE gain")[order(grepl("pass=", remedies))])
})
