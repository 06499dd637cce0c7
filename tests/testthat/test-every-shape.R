test_that("every verb gives an answer or a classed refusal for every shape of study, and leaks no warning", {
  # the whole grid in `make trials`; here cells that change from day to day
  whole <- identical(Sys.getenv("HONESTMARGIN_GRID"), "all")
  set.seed(as.integer(Sys.Date()))
  for (name in if (whole) shape_names else sample(shape_names, 8)) {
    faults <- faults_of_shape(name, if (whole) seq_len else function(n) sample(n, 9))
    if (length(faults)) fail(paste(faults, collapse = "\n")) else succeed()
  }
})
