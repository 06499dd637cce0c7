test_that("a version that changes with the arm is told, and one that is the setting is not", {
  ran <- function(setting, version) {
    folder <- withr::local_tempdir(.local_envir = parent.frame())
    writeLines(c(
      paste0("setting: {name: ", setting, ", baseline: one, command: 'echo {arm} > now'}"),
      "arms: [{value: one}, {value: two}]", "blocks: 3", "sensors: {rate: 0}",
      paste0("versions: {", version, ": 'if grep -q two now; then echo 5.1; else echo 5.0; fi'}"),
      "metrics: [{id: score, worth: 2, primary: true}]", "workloads:", "  - id: count", "    command: echo score 1",
      "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
    ), file.path(folder, "study.yml"))
    run_study(folder)
    folder
  }
  folder <- ran("curve", "driver")
  seen <- findings(read_study(folder))
  expect_match(
    seen$message[seen$check == "tied"],
    "beside the setting differs between the arms: version driver \\(one: 5.0; two: 5.1\\)"
  )
  expect_identical(seen$severity[seen$check == "tied"], "warning")
  expect_match(run_cli("weigh", folder)$stdout, "version driver")
  copy <- file.path(withr::local_tempdir(), "copy")
  write_study(read_study(folder), copy)
  expect_identical(findings(read_study(copy))$message, seen$message)
  expect_match(run_cli("ask", copy, "conditions")$stdout, "version driver")
  expect_match(run_cli("ask", demo_study(), "conditions")$stderr, "no conditions recorded")
  own <- findings(read_study(ran("driver", "driver")))
  expect_false("tied" %in% own$check)
})

test_that("arms whose passes begin at another heat are told apart from those that do not", {
  warm <- function(arm, i) {
    set.seed(i)
    start <- if (arm == "b") 55 else 47
    data.frame(
      time_s = 0:12, `temperature processor [C]` = round(start + 0:12 + stats::runif(13)), check.names = FALSE
    )
  }
  frames <- function(arm, i) plain_frames(12, 10, i)
  seen <- findings(read_study(made_study(frames, sensors = warm)))
  expect_match(
    seen$message[seen$check == "heat_apart"], "passes begin with the processor at 5[56.]+ C in b, at 4[78.]+ C in a"
  )
  alike <- findings(read_study(made_study(frames, sensors = function(arm, i) warm("a", i))))
  expect_false("heat_apart" %in% alike$check)
})
