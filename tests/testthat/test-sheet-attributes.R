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
  # of readings taken once nothing is crowned
  once <- read_readings(
    write_lines("kit,price,fps", "a,100 EUR,50", "b,200 EUR,60"), columns = c(arm = "kit", attribute = "price")
  )
  said <- paste(capture.output(print(weigh_cost(once, "fps", "price", baseline = "a"))), collapse = " ")
  expect_match(said, "most for its price was read of a, 0.500 fps/EUR [(]read once: no basis[)]")
  expect_equal(cost$per, c(exp(mean(log(c(50, 51)))) / 100, exp(mean(log(c(60, 61)))) / 200), tolerance = 1e-3)
})

test_that("a battery's level before and after is what a pass used, its resolution in the interval", {
  lines <- c(
    "update,device,run,minutes,start %,end %", "before,tall,1,60,100,88", "before,tall,2,60,88,76",
    "before,tall,3,30,76,70", "after,tall,1,60,100,90", "after,tall,2,60,90,81", "after,tall,3,60,81,71"
  )
  columns <- c(arm = "update", context = "device", battery_start = "start %", battery_end = "end %")
  read <- read_readings(write_lines(lines), baseline = "before", columns = columns)
  expect_equal(read$value, c(12, 12, 12, 10, 9, 10))
  expect_identical(unique(read$metric), "battery_per_hour")
  found <- weigh(read, "before", c(battery_per_hour = 1))
  # two readings of whole percent over an hour, or half of one: no finer than that, though passes agree to the digit
  expect_gt(found$upper - found$lower, 2)
  said <- paste(capture.output(print(machine_numbers(read))), collapse = "\n")
  expect_match(said, "a full one lasts [(]h[)] +8.33 +10.3")
  # text that ends in a percent sign, and minutes that are missing
  percent <- sub(",100,88", ",100 %,88 %", lines)
  expect_equal(read_readings(write_lines(percent), baseline = "before", columns = columns)$value[1], 12)
  expect_error(
    read_readings(write_lines(sub(",100,88", ",88,100", lines)), baseline = "before", columns = columns), "cannot rise"
  )
  bare <- sub("minutes", "room", sub(",60,", ",cold,", sub(",30,", ",cold,", lines)))
  expect_error(
    read_readings(write_lines(bare), baseline = "before", columns = c(columns, note = "room")),
    "a battery needs its level before and after, and how long it took"
  )
})

test_that("whether a change is the same in two contexts is known no better than the digits allow", {
  # an hour each: the level is known to 1 %, so a change to 2, and the difference of two changes to 4 %/h
  rows <- expand.grid(run = 1:4, update = c("before", "after"), device = c("tall", "wide"), stringsAsFactors = FALSE)
  rows$minutes <- 60
  rows$start <- 100
  rows$end <- 100 - ifelse(rows$device == "tall" & rows$update == "after", 10, 12) + (rows$run == 4)
  read <- read_readings(rows, baseline = "before", columns = c(
    arm = "update", context = "device", battery_start = "start", battery_end = "end"
  ))
  found <- as.data.frame(weigh_overall(read, baseline = "before", worth = c(battery_per_hour = 1)))
  found <- found[found$question == "contexts", ]
  expect_true(found$lower < 0 && found$upper > 0 && found$upper - found$lower > 4)
})
