test_that("what a process that was killed did not bring is made again, and is no pass without numbers", {
  skip_if(honestmargin:::count_cores() < 2)
  here <- Sys.getpid()
  mortal <- new_metric("mortal", "frames seen", better = "none", compute = function(frame_time_ms) {
    if (Sys.getpid() != here) tools::pskill(Sys.getpid(), tools::SIGKILL)
    length(frame_time_ms)
  })
  study <- expect_silent(read_study(demo_study(), metrics = list(mortal)))
  told <- study$readings[study$readings$metric == "mortal", ]
  logs <- list.files(file.path(demo_study(), "frames"))
  expect_identical(nrow(told), length(logs))
  expect_false("empty" %in% findings(study)$check)
})

test_that("a report is whole where the process that found its words was killed", {
  skip_if(honestmargin:::count_cores() < 2)
  here <- Sys.getpid()
  made <- honestmargin:::meanwhile(function() {
    if (Sys.getpid() != here) tools::pskill(Sys.getpid(), tools::SIGKILL)
    "words"
  })
  expect_identical(made(), "words")
  failed <- honestmargin:::meanwhile(function() read_frames("nowhere.csv"))
  expect_error(failed(), "nowhere.csv", class = "honestmargin_error_input")
})
