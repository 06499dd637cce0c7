# Looking at a plan before anything runs.

#' Check a plan and see what it can show
#'
#' @param path Path of the plan (YAML).
#' @param noise Named numeric: noise of one pass by metric, in percent (or the
#'   metric's unit); where neither this nor the plan says it, 1 % is assumed.
#' @return An object of class `honestmargin_plan`, a list: `plan`, `schedule` (data
#'   frame, one row per pass in running order), `seconds` (how long it will take),
#'   `power` (per primary metric: `detectable` change with 80 % power and the blocks
#'   needed to see the worth, or to rule it out), `findings` (attributes that
#'   change together, orders that cannot be trusted).
#' @section Errors: `honestmargin_error_input` with line and nearest known key.
#' @export
#' @examples
#' plan_study(file.path(demo_study(), "study.yml"))
plan_study <- function(path, noise = NULL) {
  parsed <- parse_yaml_file(path, "plan")
  plan <- check_plan(parsed$value, parsed$line, path)
  schedule <- plan_schedule(plan)
  structure(
    list(
      plan = plan, schedule = schedule, seconds = schedule_seconds(plan, schedule),
      power = plan_power(plan, noise), findings = plan_findings(plan)
    ),
    class = "honestmargin_plan"
  )
}

#' The plan of a study folder, as text and checked
#' @return A list: `text` (as it is sealed) and `plan`.
#' @noRd
study_plan <- function(folder) {
  path <- file.path(folder, "study.yml")
  if (!file.exists(path)) {
    abort_input("no study.yml in this folder", folder, "write the plan there: honestmargin start FOLDER")
  }
  text <- paste(first_lines(path, -1), collapse = "\n")
  list(text = text, plan = parse_plan(text, path))
}
