# What `weigh --format json` prints, against the schema that comes with the package, by a validator of others.
validator <- "/usr/lib/python3/dist-packages/jsonschema"
wrong_in <- function(text) {
  schema <- system.file("schema", "weigh.json", package = "honestmargin")
  code <- paste(
    "import json, sys, jsonschema",
    "v = jsonschema.Draft7Validator(json.load(open(sys.argv[1])))",
    "for e in v.iter_errors(json.load(sys.stdin)): print(list(e.absolute_path), e.message[:200])",
    sep = "\n"
  )
  input <- withr::local_tempfile(lines = text)
  run <- processx::run("/usr/bin/python3", c("-c", code, schema), stdin = input, error_on_status = FALSE)
  expect_identical(run$status, 0L, info = run$stderr)
  run$stdout
}

test_that("the JSON of many kinds of study is what its schema says", {
  skip_if(!file.exists(validator), "python3-jsonschema is not here")
  sealed <- withr::local_tempdir()
  plan <- c(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "blocks: 2", "workloads: [{id: w}]",
    "metrics: [{id: score, worth: 2, primary: true}]"
  )
  writeLines(plan, file.path(sealed, "study.yml"))
  for (i in 1:2) for (arm in c("a", "b")) add_pass(sealed, arm = arm, values = c(score = 100 + i))
  writeLines(sub("worth: 2", "worth: 1", plan), file.path(sealed, "study.yml"))
  one <- write_lines("arm,score", "a,1", "b,2")
  failed <- write_lines("arm,outcome,score", "a,ok,100", "b,crash,", "a,ok,101", "b,freeze,", "a,ok,99", "b,crash,")
  for (args in list(
    demo_study(), sealed, c(one, "-b", "a"), c(failed, "-b", "a"), c(demo_study(), "--against", "all"),
    c(demo_study(), "--looks")
  )) {
    told <- do.call(run_cli, c(as.list(c("weigh", args, "--format", "json"))))
    expect_identical(wrong_in(told$stdout), "", info = paste(args, collapse = " "))
  }
  seen <- jsonlite::fromJSON(run_cli("weigh", failed, "-b", "a", "--format", "json")$stdout)
  expect_identical(seen$left_out$outcome, c("crash", "freeze", "crash"))
  # and the schema can say no
  expect_match(wrong_in(sub("\"unclear\"|\"does not hold\"|\"no basis\"", "\"maybe\"", told$stdout)), "maybe")
})
