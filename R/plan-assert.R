# A plan against the table of its keys.

#' @param value Nested list, as parsed. @param line Named integer vector, key path -> line.
#' @param source File name for messages.
#' @noRd
assert_plan_keys <- function(value, line, source) {
  at <- list(line = line, source = source)
  assert_map(value, "", "", at)
}

# `path` is where it stands (arms/2/value), `place` which row of the table it is (arms/*/value)
assert_map <- function(value, path, place, at) {
  if (!is.list(value) || is.null(names(value))) {
    fail_key(path, at, "must hold 'key: value' lines", "indent the keys below it")
  }
  known <- plan_children(place)
  unknown <- setdiff(names(value), known)
  if (length(unknown)) {
    abort_input(
      paste0("unknown key '", unknown[1], "'"), plan_place(join_path(path, unknown[1]), at$line, at$source),
      did_you_mean(unknown[1], known)
    )
  }
  needed <- Filter(function(key) plan_key_at(place, key)$required, known)
  missing <- setdiff(needed, names(value))
  if (length(missing)) {
    fail_key(path, at, paste0("needs the key '", missing[1], "'"), paste0("add '", missing[1], ":'"))
  }
  for (key in names(value)) assert_key(value[[key]], join_path(path, key), join_path(place, key), at)
}

assert_key <- function(value, path, place, at) {
  key <- registered("plan key", place)
  fail <- function(what, todo) fail_key(path, at, what, todo)
  is_list <- length(value) && is.null(names(value))
  switch(key$type,
    map = assert_map(value, path, place, at),
    maps = {
      if (!is_list || !is.list(value)) fail("must be a list", "start each entry with '- '")
      for (i in seq_along(value)) assert_map(value[[i]], join_path(path, i), join_path(place, "*"), at)
    },
    free = if (!is.list(value) || is.null(names(value))) {
      fail("must hold 'key: value' lines", "indent the keys below it")
    },
    texts = if (!is_list || any(lengths(value) != 1)) fail("must be a list of words", "write [one, two]"),
    command = if (!is_list || any(lengths(value) != 1) || anyNA(value)) {
      fail("must be a line for the shell, or a list of words", "write it on one line, or as [program, word, word]")
    },
    assert_scalar(value, key, fail)
  )
  invisible()
}

assert_scalar <- function(value, key, fail) {
  shown <- format(value)[1]
  if (key$type %in% c("number", "count")) value <- number_of_plan(value)
  switch(key$type,
    text = if (length(value) != 1 || is.list(value)) fail("must be one value", "write it on the same line"),
    word = if (!isTRUE(value %in% key_words(key))) {
      fail(paste0("cannot be '", shown, "'"), did_you_mean(shown, key_words(key)))
    },
    flag = if (!isTRUE(value) && !isFALSE(value)) fail("must be true or false", "write true or false"),
    number = if (!checkmate::test_number(value, lower = 0, finite = TRUE)) {
      fail("must be a number that is not negative", "write digits, without a unit, and a point before decimals (1.5)")
    },
    count = if (!checkmate::test_count(value)) fail("must be a whole number", "write digits, without a unit")
  )
}

key_words <- function(key) if (is.function(key$words)) key$words() else key$words

fail_key <- function(path, at, what, todo) {
  abort_input(paste0(if (nzchar(path)) paste0("'", path, "' "), what), plan_place(path, at$line, at$source), todo)
}

plan_place <- function(path, line, source) {
  while (nzchar(path) && !path %in% names(line)) path <- if (grepl("/", path)) sub("/[^/]*$", "", path) else ""
  c(source, if (nzchar(path)) paste("line", line[[path]]))
}

#' What the keys say together
#' @noRd
assert_plan_sense <- function(plan, where) {
  arms <- plan_arms(plan)
  if (anyDuplicated(arms)) {
    abort_input(
      paste0("arm '", arms[duplicated(arms)][1], "' is given twice"), where("arms"),
      "each value of the setting once"
    )
  }
  if (is.null(plan$setting$baseline)) {
    abort_needed(
      paste0(paste(c(where("setting")), collapse = ", "), ": which arm is the baseline?"),
      todo = "add baseline: VALUE below setting: the arm that the others are compared with"
    )
  }
  if (!plan$setting$baseline %in% arms) {
    abort_input(
      paste0("baseline '", plan$setting$baseline, "' is none of the arms"), where("setting/baseline"),
      did_you_mean(plan$setting$baseline, arms)
    )
  }
  twice <- plan_workloads(plan)[duplicated(plan_workloads(plan))]
  if (length(twice)) {
    abort_input(paste0("workload '", twice[1], "' is given twice"), where("workloads"), "give each its own id")
  }
  for (i in seq_along(plan$workloads)) assert_workload(plan$workloads[[i]], where(paste0("workloads/", i)))
  assert_plan_sensors(plan$sensors, where("sensors"))
  if (plan$blocks < 1 && !is_search(plan)) {
    abort_input("no block, no pass", where("blocks"), "blocks: 5 is the usual choice")
  }
  assert_plan_commands(plan, where)
  assert_blind(plan, where)
  assert_placeholders(plan, where)
  assert_primary(plan, where)
  assert_patterns(plan, where)
  if (plan$confidence <= 0.5 || plan$confidence >= 1) {
    abort_input("confidence must lie between 0.5 and 1", where("confidence"), "0.95 is the usual choice")
  }
}

# what can be checked is checked before anything runs
assert_patterns <- function(plan, where) {
  each <- function(pattern, path) {
    if (!is.null(pattern) && !is_pattern(pattern)) {
      abort_input(
        paste0("the pattern '", pattern, "' is no regular expression"), where(path), "close its brackets"
      )
    }
  }
  each(plan$setting$read_back$pattern, "setting/read_back/pattern")
  for (i in seq_along(plan$gates)) each(plan$gates[[i]]$pattern, paste0("gates/", i, "/pattern"))
  for (i in seq_along(plan$workloads)) {
    for (k in seq_along(plan$workloads[[i]]$scores)) {
      each(plan$workloads[[i]]$scores[[k]]$pattern, paste0("workloads/", i, "/scores/", k, "/pattern"))
    }
  }
}

# A metric that is to be judged and that no workload gives would vanish without a word.
assert_primary <- function(plan, where) {
  # what a person types, or a table brings, is not known before
  open <- vapply(plan$workloads, function(w) is.null(w$command) && !length(w$scores), NA)
  if (any(open)) {
    return(invisible())
  }
  framed <- any(vapply(plan$workloads, gives_frames, NA))
  given <- c(
    unlist(lapply(plan$workloads, function(w) vapply(w$scores, `[[`, "", "metric"))),
    if (framed) c(names(known_frame_metrics()), names(by_id(held_metrics())), paste0("below_", plan_floors(plan))),
    names(known_sensor_metrics()), names(known_outcome_metrics()), vapply(plan$sensors$limits, limit_id, "")
  )
  ids <- vapply(plan$metrics, `[[`, "", "id")
  missing <- setdiff(ids, given)
  if (length(missing)) {
    abort_input(
      paste0("no workload gives the metric '", missing[1], "'"),
      where(paste0("metrics/", match(missing[1], ids))),
      paste0(did_you_mean(missing[1], given), ", or name it in scores: of a workload")
    )
  }
}

assert_workload <- function(workload, place) {
  named <- unlist(lapply(workload$scores, `[[`, "segment"))
  unknown <- setdiff(named, workload$segments)
  if (length(unknown)) {
    abort_input(
      paste0("a score of workload '", workload$id, "' names the segment '", unknown[1], "', which it does not have"),
      place,
      if (length(workload$segments)) did_you_mean(unknown[1], workload$segments) else "add segments: [...] to it"
    )
  }
  if (!is.null(workload$toggle) && !workload$beacon) {
    abort_input(
      paste0("workload '", workload$id, "' is toggled, but nothing tells when"), place,
      "add beacon: true; each flip is reported by a line 'arm VALUE' (docs/beacon.md)"
    )
  }
}

assert_plan_sensors <- function(sensors, place) {
  for (name in names(sensors$commands)) {
    if (!is_our_heading(name)) {
      abort_input(
        paste0("'", name, "' does not say which sensor it is"), place,
        paste0("call it \"quantity part [unit]\": ", paste0(names(our_units), " [", our_units, "]", collapse = ", "))
      )
    }
  }
  for (limit in sensors$limits) {
    if (is.null(limit$above) == is.null(limit$below)) {
      abort_input(
        paste0("the limit of ", limit$series, " needs above: or below:"), place, "give one of them, with a number"
      )
    }
  }
}
