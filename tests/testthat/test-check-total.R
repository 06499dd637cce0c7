parts <- function(seed = 8, gain = 1.08, loss = 0.943) {
  set.seed(seed)
  rows <- data.frame(arm = rep(c("off", "on"), each = 5), run = rep(1:5, 2))
  up <- round(rnorm(10, 5000 * ifelse(rows$arm == "on", gain, 1), 20))
  down <- round(rnorm(10, 7000 * ifelse(rows$arm == "on", loss, 1), 25))
  cbind(rows, total = up + down, `processor score` = up, `graphics score` = down)
}
higher <- c(total = "higher", `processor score` = "higher", `graphics score` = "higher")
said_of <- function(rows, better = higher) findings(weigh(read_readings(rows, better = better), "off", 2))

test_that("a total is recognised by arithmetic, and parts that move apart behind it are told", {
  said <- said_of(parts())
  expect_match(said$message[said$check == "total"], "total is the sum of processor score, graphics score")
  expect_match(
    said$message[said$check == "parts_apart"], "total of on is negligible, but processor score gains and graphics score"
  )
  still <- said_of(parts(gain = 1, loss = 1))
  expect_false("parts_apart" %in% still$check)
  other <- parts()
  other$total <- round(rnorm(10, 12000, 30))
  expect_false("total" %in% said_of(other)$check)
  # a mean and a geometric mean, of scenes
  scenes <- do.call(rbind, lapply(1:3, function(run) {
    a <- 100 + run + c(0, 4)
    b <- 64 + run / 2 + c(0, 2)
    data.frame(
      arm = c("off", "on"), scene = rep(c("quay", "tower", "overall"), each = 2), run = run,
      fps = c(a, b, (a + b) / 2)
    )
  }))
  said <- findings(weigh(read_readings(scenes, baseline = "off"), "off", 2))
  expect_match(said$message[said$check == "total"], "overall is the mean of quay, tower")
  rows <- parts()
  rows$total <- round(sqrt(rows[[4]] * rows[[5]]))
  expect_match(paste(said_of(rows)$message, collapse = " "), "total is the geometric mean of")
})

test_that("numbers without a total are rarely taken for one", {
  set.seed(1)
  found <- replicate(300, {
    rows <- data.frame(arm = rep(c("off", "on"), each = 2), run = rep(1:2, 2))
    for (m in c("a", "b", "c")) rows[[m]] <- sample(20:60, 4, TRUE)
    "total" %in% said_of(rows, c(a = "higher", b = "higher", c = "higher"))$check
  })
  expect_lte(sum(found), 1)
})

test_that("the best value again and again is told as what a limit may have made", {
  cap <- data.frame(arm = rep(c("off", "on"), each = 3), fps = c(60, 60, 60, 60, 60, 59))
  said <- findings(weigh(read_readings(cap), "off", 2))
  expect_match(said$message[said$check == "equal_tops"], "5 of 6 passes are exactly 60.00 fps, the best value")
  free <- data.frame(arm = rep(c("off", "on"), each = 3), fps = c(60, 61, 60, 62, 60, 59))
  expect_false("equal_tops" %in% findings(weigh(read_readings(free), "off", 2))$check)
  whole <- data.frame(arm = rep(c("off", "on"), each = 3), value = c(100, 100, 100, 100, 100, 99), unit = "%")
  whole <- read_readings(cbind(whole, metric = "level", better = "higher"))
  expect_false("equal_tops" %in% findings(weigh(whole, "off", 2))$check)
  # where less is better the lowest is
  loads <- data.frame(arm = rep(c("off", "on"), each = 3), load = c(12, 12, 12, 12, 13, 12))
  names(loads)[2] <- "load time (s)"
  expect_true("equal_tops" %in% findings(weigh(read_readings(loads), "off", 2))$check)
})
