# What a search has found: read, steered, and as a table.

#' How far a search is
#'
#' A plan with a block `search` looks for the highest (or lowest) value of a setting that holds: it climbs from a value
#' that is known to hold, never tries a value at or beyond one that failed, steps back by a safety distance, repeats and
#' soaks there, and compares what it found with the start in interleaved blocks ([weigh()]). [run_study()] runs it.
#'
#' @param x Study folder with such a plan.
#' @param ... Not used.
#' @param skip,add,try Values to pass over, to put on the ladder, or to run next whatever is known of them (one round of
#'   all tests).
#' @param stop `TRUE` to end the search here, `FALSE` to go on.
#' @return An object of class `honestmargin_search`, a list: `plan`, `steps` (data frame, one row per pass: `pass`,
#'   `arm`, `workload`, `role`, `outcome`, `seconds`, `boot`, `held` (`NA`: says nothing, or is not clear), and
#'   `metric`, `value`, `by`, `limit` of a failure by a number), `now` (a list: `do`: `"try"`, `"soak"` or `"done"`;
#'   `arm`, `workload`; `why`: `"found"`, `"start_fails"` or `"spent"`; `good_arm`, `failed_arm`), `said` (what was
#'   skipped, added, stopped), `asked` (passes that --try asked for and that have not run).
#' @section Errors: `honestmargin_error_input` for a plan without a search, and for a value that is none of its own;
#'   `honestmargin_error_stuck` where the folder cannot be written.
#' @seealso [search_table()]
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: gear}", "search: {from: 1, to: 6, step: 1}", "blocks: 0", "sensors: {rate: 0}",
#'   "workloads:", "  - id: pull", "    command: test {arm} -lt 5", "    outcome_only: true"
#' ), file.path(folder, "study.yml"))
#' run_study(folder)$state
#' read_search(folder)
read_search <- function(x, ...) {
  assert_no_dots(...)
  checkmate::assert_string(x)
  with_store(x, write = FALSE, code = load_search)
}

#' @rdname read_search
#' @export
steer_search <- function(x, ..., skip = NULL, add = NULL, try = NULL, stop = NULL) {
  assert_no_dots(...)
  checkmate::assert_flag(stop, null.ok = TRUE)
  checkmate::assert_string(x)
  folder <- x
  with_store(folder, code = function(store) {
    search <- load_search(store)
    known <- function(values) assert_on_ladder(values, search$plan, folder)
    say <- function(kind, value = NULL) {
      store_event(store, "search", detail = c(list(batch = 1L, say = kind), list(value = value)[!is.null(value)]))
    }
    for (value in add) say("add", assert_may_add(value, search$plan, folder))
    if (length(add)) search <- load_search(store)
    for (value in known(skip)) say("skip", value)
    for (arm in known(try)) {
      for (test in search$plan$search$tests) {
        store_rung(store, list(batch = 1L, arm = arm, workload = test, role = "rung"), asked = TRUE)
      }
      say("try", arm)
    }
    if (!is.null(stop)) say(if (stop) "stop" else "go_on")
  })
  invisible(read_search(folder))
}

assert_on_ladder <- function(values, plan, folder) {
  values <- show_exact(values, 15)
  unknown <- setdiff(values, plan_arms(plan))
  if (length(unknown)) {
    abort_input(
      paste0("'", plain_text(unknown[1]), "' is no value of this search"), folder,
      paste0(did_you_mean(unknown[1], plan_arms(plan)), "; a new one is put on the ladder with --add")
    )
  }
  values
}

assert_may_add <- function(value, plan, folder) {
  value <- show_exact(value, 15)
  if (length(plan$search$ladders) > 1) {
    abort_input("a search of several knobs takes no further value", folder, "start another study with that value")
  }
  numbers <- !anyNA(ladder_numbers(plan$search$ladders[[1]]))
  number <- suppressWarnings(as.numeric(value))
  if (numbers && is.na(number)) abort_input(paste0("'", plain_text(value), "' is no number"), folder, "write digits")
  if (!grepl(plain_value, value)) {
    abort_input(paste0("'", plain_text(value), "' cannot stand in a command"), folder, "letters and digits only")
  }
  if (numbers) {
    start <- as.numeric(plan_arms(plan)[1])
    if (if (plan$search$goal == "lowest") number >= start else number <= start) {
      abort_input(
        paste0(value, " lies on the other side of the start ", start), folder, "start another study from there"
      )
    }
    value <- format_values(number)
  }
  value
}

#' The ladder of a search, value by value
#'
#' @param x A search from [read_search()], or a study folder.
#' @param ... Not used.
#' @param confidence Of `possible_per_hour`.
#' @return A data frame, one row per value and test that was run: `arm`, `workload`, `passes` (that say something),
#'   `held`, `failed`, `hours` (exposure), `soak_hours` (of these in soaks), `possible_per_hour` (the highest rate of
#'   failures that is still possible, one-sided), `possible_share` (the highest share of passes that may fail, in
#'   percent; both take failures to come at random), `state` of the value (`"found"`, `"held"`, `"failed"`,
#'   `"beyond"`: at or beyond a value that failed, `"skipped"`), `how` (outcomes, or metrics, by which it failed).
#' @references Garwood (1936), Biometrika 28, 437-442; Clopper and Pearson (1934), Biometrika 26, 404-413.
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: gear}", "search: {from: 1, to: 6, step: 1}", "blocks: 0", "sensors: {rate: 0}",
#'   "workloads:", "  - id: pull", "    command: test {arm} -lt 5", "    outcome_only: true"
#' ), file.path(folder, "study.yml"))
#' run_study(folder)$state
#' search_table(folder)
search_table <- function(x, ..., confidence = 0.95) {
  assert_no_dots(...)
  if (!inherits(x, "honestmargin_search")) x <- read_search(x)
  steps <- x$steps[!is.na(x$steps$held), , drop = FALSE]
  arms <- plan_arms(x$plan)
  tests <- unique(c(x$plan$search$tests, x$plan$search$soak$test))
  key <- paste(match(steps$arm, arms), match(steps$workload, tests), sep = "\r")
  cells <- lapply(split(steps, factor(key, unique(key))), function(rows) ladder_row(rows, confidence))
  out <- stack_rows(cells)
  if (is.null(out)) {
    return(data.frame())
  }
  out <- out[order(match(out$arm, arms), match(out$workload, tests)), ]
  out$state <- value_states(x, out)
  rownames(out) <- NULL
  out
}

#' The outcome or the metric by which a step failed, and that the metric gave nothing where that was why
#' @noRd
how_it_failed <- function(steps) {
  metric <- ifelse(steps$by %in% "silent", paste("no", steps$metric), steps$metric)
  ifelse(is.na(steps$metric), steps$outcome, metric)
}

ladder_row <- function(rows, confidence) {
  hours <- sum(rows$seconds) / 3600
  failed <- sum(!rows$held)
  how <- how_it_failed(rows)[!rows$held]
  data.frame(
    arm = rows$arm[1], workload = rows$workload[1], passes = nrow(rows), held = sum(rows$held), failed = failed,
    hours = hours, soak_hours = sum(rows$seconds[rows$role == "soak"]) / 3600,
    possible_per_hour = if (hours > 0) possible_rate(failed, hours, confidence)$upper else NA_real_,
    possible_share = 100 * possible_share(failed, nrow(rows), confidence)$upper,
    how = paste(unique(how), collapse = ", ")
  )
}

value_states <- function(x, table) {
  arms <- plan_arms(x$plan)
  fallen <- unique(table$arm[table$failed > x$plan$search$allowed])
  state <- ifelse(table$arm %in% fallen, "failed", "held")
  lowest <- match(x$now$failed_arm, arms)
  turns <- x$plan$search$moves == "in_turn" && length(x$plan$search$ladders) > 1
  if (!turns && !is.na(lowest)) state[state == "held" & match(table$arm, arms) > lowest] <- "beyond"
  state[table$arm %in% x$said$skip] <- "skipped"
  if (identical(x$now$why, "found")) state[table$arm == x$now$arm] <- "found"
  state
}
