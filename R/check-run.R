# A check is a value: its name, its scope, and a function that gives findings. Each
# stands in a file of its own and registers itself: `scope` is `study` (the function takes a
# list `plan`, `passes`, `readings`, `ceilings`, `sensors`), `plan` (takes a plan) or `verdicts` (takes
# verdicts and a plan); `words` are those for its codes, where they do not stand in `tell-codes.R`.

run_checks <- function(scope, ...) {
  checks <- Filter(function(check) check$scope == scope, registered("check"))
  do.call(bind_findings, unname(lapply(checks, function(check) check$run(...))))
}
