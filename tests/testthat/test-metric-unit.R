test_that("direction comes from the metric, its unit, its name, and is asked for all at once where nothing tells", {
  r <- read_readings(write_lines("arm,load time (s),fps,Punkte", "a,3.2,100,900", "b,2.7,110,950"))
  direction <- function(id) unique(r$better[r$metric == id])
  expect_identical(c(direction("load time"), direction("fps"), direction("Punkte")), c("lower", "higher", "higher"))
  expect_identical(unique(r$unit[r$metric == "fps"]), "fps")
  told <- subset(findings(r), check == "direction")
  expect_setequal(told$message, c(
    "lower taken as better, from its name: 'load time'", "higher taken as better, from its unit: 'fps'",
    "higher taken as better, from its name: 'Punkte'"
  ))
  open <- write_lines("arm,gloss,wobble,heft", "a,1.5,2.5,3.5", "b,1.6,2.6,3.6")
  expect_message_of(
    read_readings(open), "honestmargin_error_asked", "gloss=lower.*wobble=lower.*heft=lower"
  )
})

test_that("a unit that says otherwise than the default stops instead of turning the answer upside down", {
  latency <- write_lines("arm,value,unit", "a,80,ns", "a,81,ns", "b,90,ns", "b,91,ns")
  expect_message_of(read_readings(latency), "honestmargin_error_needed", "the unit ns says lower")
  said <- weigh(read_readings(latency, better = c(score = "lower")), "a")
  expect_identical(said$verdict, "loss")
})

test_that("start takes a latency for better when it is lower, and says so", {
  folder <- file.path(withr::local_tempdir(), "new")
  answers <- function(...) {
    input <- paste(c(...), collapse = "\n")
    processx::run("sh", c("-c", paste0(
      "printf '%s\\n' ", shQuote(input), " | ", launcher, " start ", folder
    )), error_on_status = FALSE)
  }
  run <- answers("driver", "old, new", "echo {arm} 12", "latency", "2")
  expect_identical(run$status, 0L, info = run$stderr)
  expect_match(run$stderr, "a lower latency is better; the plan says so")
  expect_identical(plan_study(folder)$plan$metrics[[1]]$better, "lower")
  unlink(folder, recursive = TRUE)
  asked <- answers("driver", "old, new", "echo {arm} 12", "gloss", "2", "-2")
  expect_match(asked$stderr, "a number with \\+ or - before it")
  expect_identical(plan_study(folder)$plan$metrics[[1]]$better, "lower")
})

test_that("a metric that no workload gives is refused where it is named, and where it is judged", {
  plan <- function(id) {
    local_plan(
      "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads:", "  - id: w",
      "    command: echo 8 > {log}", paste0("metrics: [{id: ", id, ", better: higher, primary: true}]"),
      env = parent.frame()
    )
  }
  expect_message_of(
    plan_study(plan("fps_avgg")), "honestmargin_error_input", "no workload gives.*did you mean 'fps_avg'"
  )
  expect_message_of(run_study(plan("nonsense_metric")), "honestmargin_error_input", "no workload gives")
  # the share of time below any rate is worked out
  folder <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads: [{id: w}]", "blocks: 2",
    "metrics: [{id: below_24, worth: 1, primary: true}]"
  )
  for (arm in c("a", "b", "a", "b")) add_pass(folder, arm, frames = rep(c(10, 50), c(250, 50)))
  study <- read_study(folder)
  expect_equal(study$readings$value[study$readings$metric == "below_24"], rep(50, 4))
  other <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads: [{id: w}]",
    "metrics: [{id: fun, better: higher, primary: true}, {id: score}]"
  )
  for (arm in c("a", "b")) add_pass(other, arm, values = c(score = 5))
  expect_message_of(
    weigh(read_study(other)), "honestmargin_error_input", "no pass has a value of the primary metric 'fun'"
  )
})

test_that("a spread is not taken for what it is a spread of, and a table of means is told from one of passes", {
  means <- data.frame(arm = c("stock", "tuned"), fps = c(100, 104), `fps sd` = c(2, 1.5), check.names = FALSE)
  expect_message_of(
    read_readings(means), "honestmargin_error_asked", "'fps sd' better.*no pass.*claim.*--better 'fps sd=lower'"
  )
  each <- rbind(means, means)
  each$`fps sd` <- each$`fps sd` + c(0, 0, 0.3, 0.4)
  asked <- expect_error(read_readings(each), "'fps sd' better", class = "honestmargin_error_needed")
  expect_no_match(conditionMessage(asked), "claim")
  readings <- read_readings(each, better = c(`fps sd` = "lower"))
  expect_identical(unique(readings$better[readings$metric == "fps"]), "higher")
})
