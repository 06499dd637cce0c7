# Every check that is registered, asked for its findings. Here, below the checks, so that whoever has what a check
# looks at can ask, and no check need be known to it.

run_checks <- function(scope, ...) {
  checks <- Filter(function(check) check$scope == scope, registered("check"))
  do.call(bind_findings, unname(lapply(checks, function(check) check$run(...))))
}
