frames <- function(arm, i) plain_frames(10, 10, i)
samples <- function(...) data.frame(time_s = 0:10, ..., check.names = FALSE)

test_that("full graphics memory and swapping are told, with the arms they came with", {
  folder <- made_study(frames, sensors = function(arm, i) {
    samples(
      `memory graphics [MB]` = if (arm == "b") 8100 else 5000, `memory graphics total [MB]` = 8192,
      `memory swap [MB]` = if (i == 3) seq(0, 900, by = 90) else 20 # its last sample comes after the frames
    )
  })
  seen <- findings(read_study(folder))
  expect_match(seen$message[seen$check == "memory_full"], "graphics memory was full in 4 of 8 passes, all of b")
  expect_match(seen$message[seen$check == "swapped"], "swapped out in 1 of 8 passes, all of b, up to 810 MB")
})

test_that("a second device that stays idle is named, and one alone is not", {
  two <- made_study(frames, sensors = function(arm, i) {
    samples(`load graphics [%]` = 97, `load graphics 1 [%]` = 1)
  })
  seen <- findings(read_study(two))
  expect_match(seen$message[seen$check == "idle_device"], "graphics 1 stayed idle while graphics was at 97 % load")
  one <- findings(read_study(made_study(frames, sensors = function(arm, i) samples(`load graphics [%]` = 1))))
  expect_false("idle_device" %in% one$check)
})
