# What each verdict would be under every other reasonable choice, against weighing it so.
test_that("each choice is what weighing so would say", {
  study <- read_study(demo_study())
  v <- weigh(study)
  firm <- how_firm(v)
  pick <- function(v, metric = "low1_quantile") {
    v$verdict[v$workload == "harbour" & v$metric == metric & v$arm == "1000"]
  }
  then <- function(choice) {
    firm$then[firm$workload == "harbour" & firm$metric == "low1_quantile" & firm$arm == "1000" & firm$choice == choice]
  }
  expect_identical(then("excluded pass p016 counted"), pick(weigh(study, with_excluded = TRUE)))
  passes <- study$readings
  without <- plain <- as.data.frame(passes)
  without$block <- NA
  primary <- c("fps_avg", "low1_quantile", "score")
  worth <- c(fps_avg = 2, low1_quantile = 5, score = 2)
  weighed <- function(rows, primary, worth) pick(weigh(rows, "125", worth = worth, primary = primary), primary[2])
  expect_identical(then("the blocks not used"), weighed(without, primary, worth))
  first <- plain[!plain$block %in% "1", ]
  expect_identical(then("the first block left out"), weighed(first, primary, worth))
  other <- replace(primary, 2, "low1_mean")
  expect_identical(then("low1_mean instead of low1_quantile"), weighed(plain, other, c(worth, low1_mean = 5)))
  expect_identical(firm$agrees, sub("clear ", "", firm$then) == sub("clear ", "", firm$verdict))
})

test_that("the shell says which verdicts hang on a choice", {
  told <- gsub("\\s+", " ", run_cli("firm", demo_study())$stdout)
  expect_match(told, "1 % low \\(quantile\\), 1000 Hz: negligible under 0 of 6 other choices; unclear with excluded")
  expect_match(told, "The same under all of 3 to 6 other choices: .*harbour, average, 2000 Hz \\(clear loss\\)")
  scores <- data.frame(arm = c("off", "on"), value = c(100, 104, 101, 104.5, 99, 103))
  expect_identical(nrow(how_firm(scores, baseline = "off")), 0L)
  expect_output(print(how_firm(scores, baseline = "off")), "No choice was made")
})
