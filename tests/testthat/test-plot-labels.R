# Names beside points: nothing covers a name where there is room elsewhere.

test_that("names take corners in which they cover neither each other nor what is drawn", {
  corners <- honestmargin:::corner_labels
  none <- NA_real_
  two <- data.frame(
    x = c(0, 0.001, 1), y = c(0.5, 0.5, 0.5), x_lower = none, x_upper = none, y_lower = none, y_upper = none,
    name = c("first arm", "second arm", "far")
  )
  at <- corners(two)
  expect_false(identical(at[1, ], at[2, ]))
  # below to the right is where a name stands if nothing is there; an interval drives it to another corner
  free <- data.frame(
    x = c(0.1, 0, 1), y = c(0.5, 0, 1), x_lower = none, x_upper = none, y_lower = none, y_upper = none,
    name = c("first", "b", "c")
  )
  expect_identical(unlist(corners(free)[1, ]), c(hjust = -0.15, vjust = 1.5))
  barred <- rbind(free, data.frame(
    x = 0.5, y = 0.46, x_lower = 0.12, x_upper = 0.9, y_lower = none, y_upper = none, name = "d"
  ))
  expect_false(identical(corners(barred)[1, ], corners(free)[1, ]))
})
