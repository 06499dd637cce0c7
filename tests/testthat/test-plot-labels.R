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
  # a name on the right would lie on the interval that goes there
  barred <- data.frame(
    x = c(0.5, 0.9), y = c(0.5, 0.45), x_lower = c(none, 0.5), x_upper = c(none, 1), y_lower = none, y_upper = none,
    name = c("left", "b")
  )
  expect_false(corners(barred)$hjust[1] < 0 && corners(barred)$vjust[1] > 1)
})
