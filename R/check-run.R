# A check is a value: its name, its scope, and a function that gives findings. Each
# stands in a file of its own and registers itself: `scope` is `study` (the function takes a
# list `plan`, `passes`, `readings`, `ceilings`, `sensors`, `captured`: what those of scope `capture` found), `capture`
# (takes a pass and the frame times of it that count, in ms), `plan` (takes a plan) or `verdicts` (takes
# verdicts and a plan); `words` are those for its codes, where they do not stand in `tell-codes.R`.

run_checks <- function(scope, ...) {
  checks <- Filter(function(check) check$scope == scope, registered("check"))
  do.call(bind_findings, unname(lapply(checks, function(check) check$run(...))))
}
