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

test_that("several large logs are read in processes of their own, none of which waits without end", {
  skip_if(honestmargin:::count_cores() < 2)
  folder <- withr::local_tempdir()
  rates <- sprintf("%.2f", 8 + ((seq_len(1000) * 7919) %% 100) / 100)
  for (name in c("mild_run1", "mild_run2", "wild_run1", "wild_run2")) {
    writeLines(c("frame_time_ms", rep(rates, 260)), file.path(folder, paste0(name, ".csv")))
  }
  expect_gt(min(file.size(list.files(folder, full.names = TRUE))), 1e6)
  # in a process of its own, which has read none yet
  run <- processx::run("Rscript", c("-e", sprintf(
    "suppressMessages(library(honestmargin)); cat(nrow(read_logs('%s', baseline = 'mild')$passes))", folder
  )), timeout = 120)
  expect_identical(run$stdout, "4")
})
