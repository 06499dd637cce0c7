kits <- c(
  "kit,capacity,ranks,run,fps", "alpha,16 GB,1,1,100.2", "alpha,16 GB,1,2,100.9", "alpha,16 GB,1,3,99.8",
  "beta,32 GB,2,1,104.2", "beta,32 GB,2,2,103.7", "beta,32 GB,2,3,104.4", "gamma,16 GB,2,1,103.2",
  "gamma,16 GB,2,2,103.5", "gamma,16 GB,2,3,102.9"
)
typed <- c(arm = "kit", attribute = "capacity", attribute = "ranks")

test_that("facts of arms that stand in a table are asked for, and weighed as those of a plan", {
  path <- write_lines(kits)
  ask <- run_cli("weigh", path, "-b", "alpha", "-w", "2")
  expect_match(ask$stderr, "--columns attribute=capacity: a fact of the arm")
  read <- read_readings(path, baseline = "alpha", columns = typed)
  expect_identical(unique(read$metric), "fps")
  pairs <- weigh(read, "alpha", 2, against = "attributes")
  expect_identical(pairs$arm, c("gamma", "gamma"))
  expect_identical(pairs$baseline, c("alpha", "beta"))
  said <- findings(weigh(read, "alpha", 2))
  expect_match(said$message[said$check == "arms_differ"], "capacity [(]16 GB, 32 GB[)], ranks [(]1, 2[)]")
  expect_false(any(grepl("^attributes", said$check)))
})

test_that("what changes together is not separable, in a table as in a plan", {
  two <- read_readings(write_lines(kits[!grepl("gamma", kits)]), baseline = "alpha", columns = typed)
  said <- findings(weigh(two, "alpha", 2))
  expect_match(said$message[said$check == "attributes_touch"], "capacity and ranks change together")
  # devices whose driver is typed: what differs beside the setting is said
  devices <- write_lines(
    "device,driver,run,score", "one,1.2,1,500", "one,1.2,2,503", "other,1.3,1,510", "other,1.3,2,512"
  )
  said <- run_cli("weigh", devices, "-b", "one", "-w", "2", "--columns", "arm=device,attribute=driver")$stdout
  expect_match(said, "beside their names the arms differ in driver [(]1.2, 1.3[)]")
})

test_that("a fact that is not the same in all passes of an arm is none, and a price is a cost", {
  torn <- write_lines("kit,price,fps", "a,100 EUR,50", "a,120 EUR,51", "b,200 EUR,60", "b,200 EUR,61")
  expect_error(
    read_readings(torn, columns = c(arm = "kit", attribute = "price")),
    "'price' is 100 EUR, 120 EUR in passes of arm 'a'"
  )
  even <- write_lines("kit,price,fps", "a,100 EUR,50", "a,100 EUR,51", "b,200 EUR,60", "b,200 EUR,61")
  read <- read_readings(even, columns = c(arm = "kit", attribute = "price"))
  cost <- as.data.frame(weigh_cost(read, "fps", "price", baseline = "a", worth = 2))
  expect_equal(cost$cost, c(100, 200))
  expect_equal(cost$per, c(exp(mean(log(c(50, 51)))) / 100, exp(mean(log(c(60, 61)))) / 200), tolerance = 1e-3)
})
