# A plan that looks for a value: the ladder it climbs, and what makes a value fail.

plan_key("search", "map", "a value is looked for; takes the place of `arms`")
plan_key("search/goal", "word", "the highest value that holds, or the lowest", "highest",
  words = c("highest", "lowest")
)
plan_key("search/from", "text", "where it starts: a value that is known to hold, and the baseline", example = "0")
plan_key("search/to", "text", "the furthest value that may be tried", example = "300")
plan_key("search/step", "number", "from one value to the next", example = "25")
plan_key("search/values", "texts", "the values in the order of the climb, instead of from, to and step",
  example = "[0, 100, 150, 175]"
)
plan_key("search/knobs", "maps", "several knobs, each with its own values; an arm is then all of them, `25,100`")
plan_key("search/knobs/*/name", "text", "its name; {NAME} stands for its value in commands", example = "core",
  required = TRUE
)
plan_key("search/knobs/*/unit", "text", "its unit", "", example = "MHz")
plan_key("search/knobs/*/from", "text", "where it starts", example = "0")
plan_key("search/knobs/*/to", "text", "its furthest value", example = "300")
plan_key("search/knobs/*/step", "number", "from one value to the next", example = "25")
plan_key("search/knobs/*/values", "texts", "its values in the order of the climb", example = "[0, 100, 150]")
plan_key("search/moves", "word", "knobs move together, or in turn: the second climbs where the first has ended",
  "together",
  words = c("together", "in_turn")
)
plan_key("search/part", "flag",
  "knobs move together: after a failure each is tried alone at the value that failed, to tell which it was", TRUE,
  example = "false"
)
plan_key("search/pace", "word", "one step at a time, or halving what is left (quicker, with more failures)", "step",
  words = c("step", "halve")
)
plan_key("search/tests", "texts", "workloads from light to heavy (default: all, in their order)",
  example = "[quick, heavy]"
)
plan_key("search/repeat", "count", "passes of each test before a value is believed", 2, example = "3")
plan_key("search/fails", "maps", "what is a failure beside a pass that crashes, freezes or is set wrong")
plan_key("search/fails/*/metric", "text", "of which metric", example = "score", required = TRUE)
plan_key("search/fails/*/test", "text", "in which workload (default: in all)", example = "heavy")
plan_key("search/fails/*/above", "number", "more than this is a failure", example = "0")
plan_key("search/fails/*/below", "number", "less than this is one", example = "30")
plan_key(
  "search/fails/*/falls", "number",
  "worse than at the start by more than this, in percent, and by more than passes vary", example = "2"
)
plan_key("search/allowed", "count",
  "failures that a value may have and still hold; with more of them, and a longer soak, chance decides less", 0,
  example = "1"
)
plan_key("search/back_off", "number", "how far below the lowest value that failed it steps back (default: one step)",
  example = "50"
)
plan_key("search/soak", "map", "a long test of the value that was found")
plan_key("search/soak/test", "text", "which workload (default: the heaviest)", example = "heavy")
plan_key("search/soak/minutes", "number", "for how long in all, in as many passes as that takes", required = TRUE,
  example = "30"
)
plan_key("search/at_most", "number", "failures an hour that would still do; `plan` says what soak shows that",
  example = "1"
)
plan_key("search/most_passes", "count", "passes that the search may take", example = "80")
plan_key("search/most_hours", "number", "hours under test that it may take", example = "4")

is_search <- function(plan) !is.null(plan$search)

#' The arms of a search, and what its keys say when they are not given
#' @param plan With its defaults filled in. @param where Function of a path: its place in messages.
#' @noRd
fill_search <- function(plan, where) {
  if (length(plan$arms)) {
    abort_input("a plan has arms or a search, not both", where("search"), "take one of them out")
  }
  knobs <- plan$search$knobs
  if (!length(knobs)) {
    keys <- plan$search[intersect(c("from", "to", "step", "values"), names(plan$search))]
    knobs <- list(c(list(name = plan$setting$name, unit = plan$setting$unit), keys))
    place <- function(i) where("search")
  } else {
    place <- function(i) where(paste0("search/knobs/", i))
  }
  ladders <- lapply(seq_along(knobs), function(i) knob_values(knobs[[i]], plan$search$goal, place(i)))
  plan$search$ladders <- ladders
  plan$search$tests <- if (length(plan$search$tests)) plan$search$tests else plan_workloads(plan)
  if (!is.null(plan$search$soak)) {
    plan$search$soak$test <- empty_to(plan$search$soak$test, utils::tail(plan$search$tests, 1))
  }
  plan$arms <- search_arms(ladders, knobs, plan$search, where("search"))
  plan$setting$baseline <- plan$arms[[1]]$value
  # what is found is weighed against the start in blocks, as ever
  plan$setting$ordered <- TRUE
  assert_search(plan, where)
  plan
}

knob_values <- function(knob, goal, where) {
  if (length(knob$values)) {
    if (anyDuplicated(knob$values)) abort_input("a value of the search is given twice", where, "each value once")
    if (length(knob$values) < 2) abort_input("one value is no search", where, "give at least two values")
    return(knob$values)
  }
  gone <- setdiff(c("from", "to", "step"), names(Filter(Negate(is.null), knob)))
  if (length(gone)) {
    abort_input(
      paste0("a search needs '", gone[1], "'"), where,
      "give from, to and step, or the values themselves: values: [0, 25]"
    )
  }
  ends <- suppressWarnings(as.numeric(c(knob$from, knob$to)))
  if (anyNA(ends)) abort_input("from and to must be numbers", where, "write digits, or list the values: values: [a, b]")
  up <- goal == "highest"
  if (ends[1] == ends[2] || (ends[2] > ends[1]) != up) {
    abort_input(
      paste0("the search is for the ", goal, " value, and goes from ", knob$from, " to ", knob$to), where,
      "from is the value that is known to hold; swap them, or say the other goal"
    )
  }
  steps <- abs(ends[2] - ends[1]) / knob$step
  if (!is.finite(steps) || abs(steps - round(steps)) > 1e-6) {
    abort_input(
      paste0("steps of ", show_exact(knob$step), " from ", knob$from, " miss the end ", knob$to), where,
      "choose a step that divides the way, or list the values"
    )
  }
  if (steps > 1000) abort_input("more than 1000 steps", where, "choose a larger step")
  value <- ends[1] + sign(ends[2] - ends[1]) * knob$step * seq(0, round(steps))
  # 0.3 less three times 0.1 is 0, written with as many places as were given
  format_values(round(value, max(decimal_places(c(ends, knob$step)))) + 0)
}

decimal_places <- function(x) {
  nchar(sub("^[^.]*[.]?", "", vapply(x, format, "", digits = 12, scientific = FALSE, trim = TRUE)))
}

format_values <- function(x) {
  text <- sprintf("%.12g", x)
  odd <- grepl("e", text, fixed = TRUE)
  text[odd] <- vapply(x[odd], format, "", digits = 12, scientific = FALSE, trim = TRUE)
  text
}

with_unit_of <- function(value, unit) if (nzchar(empty_to(unit, ""))) paste(value, unit) else value

#' The arms of a search, each with the value of every knob: its name is made of them and never taken apart again
#'
#' together: the n-th value of each, and before it each knob alone at that value, the others one step back; in turn:
#' every pair, since where the first one ends is not known
#' @param search With `moves` and `part`.
#' @noRd
search_arms <- function(ladders, knobs, search, where) {
  if (length(ladders) == 1) {
    return(lapply(ladders[[1]], function(value) list(value = value)))
  }
  together <- search$moves == "together"
  if (together && length(unique(lengths(ladders))) > 1) {
    abort_input(
      paste0("knobs that move together have ", paste(lengths(ladders), collapse = " and "), " values"), where,
      "give them the same number of values, or moves: in_turn"
    )
  }
  if (prod(lengths(ladders)) > 10000) abort_input("more than 10000 values", where, "choose larger steps")
  each <- if (!together) as.matrix(rev(expand.grid(rev(ladders), stringsAsFactors = FALSE)))
  if (together) each <- if (search$part) with_parts(ladders) else do.call(cbind, ladders)
  name <- vapply(knobs, `[[`, "", "name")
  arms <- lapply(seq_len(nrow(each)), function(i) {
    values <- unname(each[i, ])
    label <- paste(name, mapply(with_unit_of, values, lapply(knobs, `[[`, "unit")), collapse = ", ")
    list(value = knobs_joined(values), label = label, settings = stats::setNames(as.list(values), name))
  })
  twice <- duplicated(vapply(arms, `[[`, "", "value"))
  if (any(twice)) {
    abort_input(
      paste0("two settings of the knobs are both written ", arms[twice][[1]]$value), where,
      "write the values so that no comma makes two of one"
    )
  }
  arms
}

# a row per arm: before each rung those that part its knobs, see `part_next()`
with_parts <- function(ladders) {
  rungs <- do.call(cbind, ladders)
  knobs <- seq_along(ladders)
  rows <- lapply(seq_len(nrow(rungs))[-1], function(i) {
    alone <- lapply(knobs, function(k) replace(rungs[i - 1, ], k, rungs[i, k]))
    do.call(rbind, c(alone, list(rungs[i, ])))
  })
  do.call(rbind, c(list(rungs[1, ]), rows))
}

knobs_joined <- function(values) paste(values, collapse = ",")

#' The arms that a search climbs: where knobs move together, without those that part them
#' @noRd
ladder_arms <- function(plan) {
  ladders <- plan$search$ladders
  if (length(ladders) < 2 || plan$search$moves != "together") {
    return(plan_arms(plan))
  }
  do.call(mapply, c(list(function(...) knobs_joined(c(...)), USE.NAMES = FALSE), ladders))
}

#' The plan of the comparison that a search ends with, or of any other two of its values
#' @noRd
compared_plan <- function(plan, arms) {
  plan$arms <- Filter(function(a) a$value %in% c(plan$setting$baseline, arms), plan$arms)
  plan$search <- NULL
  plan
}

#' The same plan with what a tester said of its values meanwhile
#' @param said A list: `add` (values; of one knob only).
#' @noRd
apply_decisions <- function(plan, said) {
  for (value in setdiff(said$add, plan_arms(plan))) {
    ladder <- c(plan$search$ladders[[1]], value)
    number <- ladder_numbers(ladder)
    if (!anyNA(number)) ladder <- ladder[order(number, decreasing = plan$search$goal == "lowest")]
    plan$search$ladders[[1]] <- ladder
    plan$arms <- lapply(ladder, function(arm) list(value = arm))
  }
  plan
}

#' What else commands may call by name: the knobs of a search, the options of a screening, settings of an arm
#' @return Named list.
#' @noRd
arm_settings <- function(plan, arm) {
  said <- lapply(arm_of(plan, arm)$settings, as.character)
  said[!names(said) %in% command_names]
}

assert_search <- function(plan, where) {
  search <- plan$search
  named <- list("search/tests" = search$tests, "search/soak/test" = search$soak$test)
  for (i in seq_along(search$fails)) named[[paste0("search/fails/", i, "/test")]] <- search$fails[[i]]$test
  for (key in names(named)) {
    unknown <- setdiff(named[[key]], plan_workloads(plan))
    if (length(unknown)) {
      abort_input(
        paste0("'", unknown[1], "' is none of the workloads"), where(key),
        did_you_mean(unknown[1], plan_workloads(plan))
      )
    }
  }
  for (i in seq_along(search$fails)) {
    if (!any(c("above", "below", "falls") %in% names(Filter(Negate(is.null), search$fails[[i]])))) {
      abort_input(
        paste0("when is ", search$fails[[i]]$metric, " a failure?"), where(paste0("search/fails/", i)),
        "add above:, below: or falls:"
      )
    }
  }
  assert_back_off(plan, where)
  if (search[["repeat"]] < 1) abort_input("repeat must be at least 1", where("search/repeat"), "one pass is the least")
  refused <- c(
    "one_way" = plan$setting$one_way, "a context" = !is.null(plan$context),
    "toggle" = length(toggled_workloads(plan)) > 0
  )
  if (any(refused)) {
    abort_input(
      paste0("a search cannot have ", names(refused)[refused][1]), where("search"), "compare given arms, or take it out"
    )
  }
  assert_can_fail(plan, where)
}

assert_back_off <- function(plan, where) {
  if (!is.null(plan$search$back_off) && anyNA(lapply(plan$search$ladders, ladder_numbers))) {
    abort_input(
      "back_off needs values that are numbers", where("search/back_off"), "leave it out: one step is taken back"
    )
  }
}

ladder_numbers <- function(ladder) {
  number <- suppressWarnings(as.numeric(ladder))
  if (anyNA(number)) NA else number
}

# A person sees what happens; a program ends well or not. What is neither could hold anything.
assert_can_fail <- function(plan, where) {
  silent <- vapply(plan$search$tests, function(w) {
    w <- workload_of(plan, w)
    !is.null(w$command) && any(grepl("(\\|\\||;) *(true|:|exit 0) *$", paste(w$command, collapse = " ")))
  }, NA)
  covered <- length(plan$search$fails) > 0 || !is.null(plan$setting$read_back)
  if (all(silent) && !covered) {
    abort_input(
      "no test of this search can fail: its commands end well whatever happens", where("search/tests"),
      "let the command's exit status through, or say what is a failure below fails:"
    )
  }
}
