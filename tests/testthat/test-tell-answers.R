test_that("where the baseline never ran, what the other arm did is shown", {
  table <- write_lines(
    "workload,arm,score", "main,off,100", "main,on,105", "main,off,101", "main,on,106", "alt,on,crash"
  )
  run <- run_cli("weigh", table, "--baseline", "off", "--answer", "lone=right")
  expect_identical(run$status, 0L)
  expect_match(run$stdout, "alt\n  failed passes +100[.]0 +does not hold")
})
