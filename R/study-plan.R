# Looking at a plan before anything runs.

#' Check a plan and see what it can show
#'
#' @param x Path of the plan (YAML), or of a study folder that holds `study.yml`.
#' @param ... Not used.
#' @param noise Named numeric: noise of one pass by metric, in percent (or the
#'   metric's unit); where neither this nor the plan says it, that of the passes that this study has, else that of
#'   earlier studies on this machine (see [noise_memory()]), else 1 % is assumed.
#' @param memory `FALSE`: nothing is taken from earlier studies.
#' @param minutes The time that there is; `NULL`: what the plan itself takes.
#' @return An object of class `honestmargin_forecast`, a list: `plan`, `schedule` (data
#'   frame, one row per pass in running order; of a search: the way it takes if nothing fails), `seconds` (how long it
#'   will take),
#'   `power` (per primary metric: `detectable` change with 80 % power and the blocks
#'   needed to see the worth, or to rule it out), `alternatives` (data frame: what the time would buy, spent otherwise:
#'   `what`, `blocks`, `passes`, `seconds`, `finds`, `metric`, `scale`; or `NULL`), `findings` (attributes that
#'   change together, orders that cannot be trusted; see [findings()]), `commands` (data frame:
#'   every command that a run would run, and where it stands).
#' @section Errors: `honestmargin_error_input` with line and nearest known key.
#' @export
#' @examples
#' plan_study(file.path(demo_study(), "study.yml"))
plan_study <- function(x, ..., noise = NULL, memory = TRUE, minutes = NULL) {
  assert_no_dots(...)
  checkmate::assert_number(minutes, lower = 1, finite = TRUE, null.ok = TRUE)
  checkmate::assert_flag(memory)
  plan <- read_plan(x)
  searching <- is_search(plan)
  schedule <- if (searching) climb_schedule(plan) else plan_schedule(plan)
  if (is_blind(plan)) schedule <- hide_arms(schedule)
  known <- planning_noise(x, plan, memory)
  # a search ends with what was found against the start
  compared <- if (searching) compared_plan(plan, plan_arms(plan)[2]) else plan
  power <- if (compared$blocks > 0) plan_power(compared, noise, remembered = known)
  ways <- if (is_screen(plan)) screen_ways(plan, power)
  # together no arm is compared by itself
  if (is_together(plan)) power <- NULL
  seconds <- schedule_seconds(plan, schedule)
  alternatives <- if (!is.null(power)) {
    planned <- list(passes = nrow(schedule), seconds = seconds, power = power)
    plan_alternatives(plan, planned, if (length(minutes)) 60 * minutes, noise, known)
  }
  structure(
    list(
      plan = plan, schedule = schedule, seconds = seconds,
      power = power, ways = ways, alternatives = alternatives, findings = bind_findings(
        if (searching) back_off_finding(plan),
        command_findings(plan, if (dir.exists(x)) x else dirname(x)), run_checks("plan", compared),
          if (!is.null(power)) plan_shortfall(compared, power)
      ),
      commands = plan_commands(plan)[c("place", "command")]
    ),
    class = "honestmargin_forecast"
  )
}

# measured in this study, or before on this machine; the larger where workloads differ
planning_noise <- function(x, plan, memory) {
  own <- if (dir.exists(x)) {
    tryCatch(noise_of_study(read_study(x)$readings), honestmargin_error = function(e) NULL)
  }
  if (NROW(own)) {
    own <- cbind(own, study = "own", day = "", stringsAsFactors = FALSE)
    rows <- pool_noise(own, "within")
    rows$from <- "this study"
  } else {
    here <- function() noise_here("within", plan_workloads(plan))
    rows <- if (memory) tryCatch(here(), honestmargin_error = function(e) NULL)
    if (NROW(rows)) rows$from <- paste(count_of(max(rows$studies), "study", "studies"), "here")
  }
  if (!NROW(rows)) {
    return(NULL)
  }
  rows <- rows[order(-rows$noise), , drop = FALSE]
  rows[!duplicated(rows$metric), c("metric", "noise", "boots", "from")]
}

# both ways of a screening, for the first metric that is judged
screen_ways <- function(plan, power) {
  alpha <- family_alpha(plan$confidence, length(screen_names(plan)) * length(plan$workloads))
  noise <- to_analysis_noise(power$noise[1], power$scale[1])
  cbind(screen_power(plan, noise, alpha), scale = power$scale[1], noise = power$noise[1])
}

# a distance that is no whole number of steps is taken as the next larger one
back_off_finding <- function(plan) {
  back <- plan$search$back_off
  ladder <- if (length(plan$search$ladders) == 1) ladder_numbers(plan$search$ladders[[1]])
  if (is.null(back) || length(ladder) < 2) {
    return(NULL)
  }
  steps <- abs(outer(ladder, ladder, "-"))
  if (!any(abs(steps - back) < 1e-9 * max(1, back))) {
    further <- steps[steps > back]
    new_finding("note", "back_off_between", back = back, taken = if (length(further)) min(further) else max(steps))
  }
}

# what a run would stumble over at its first pass
command_findings <- function(plan, folder) {
  odd <- unknown_placeholders(plan)
  commands <- plan_commands(plan)
  lacking <- which(!vapply(commands$words, can_start, NA, wd = folder))
  do.call(bind_findings, c(
    lapply(seq_len(NROW(odd)), function(i) {
      new_finding("note", "no_placeholder", name = odd$name[i], place = odd$place[i])
    }),
    lapply(lacking, function(i) {
      new_finding("warning", "cannot_start", word = first_command_word(commands$words[[i]]), place = commands$place[i])
    })
  ))
}
