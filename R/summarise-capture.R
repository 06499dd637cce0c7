# The only road from what was captured to readings: for a pass that has just run, a
# number that was added, a log that was taken in, a folder and an export read back.

#' Readings of a pass, of each of its segments and of each flip inside it
#'
#' @param capture From `new_capture()`. @param plan The plan.
#' @param metrics List of further metrics of the tester's that carry `compute`.
#' @return An object of class `honestmargin_summary`, a list: `readings` (data frame `part`,
#'   `segment`, `metric`, `value`, `unit`, `better`), `piles` (data frame `part`, `segment` and
#'   what `pile_of_frames()` says), `limits` (data frame `part`, `limiting`, `share`, `evidence`: what held
#'   the pass or the flip back, by its sensors), `parts` (data frame `part`, `arm`, `round`, `seconds`: the flips of a
#'   toggled pass), `pace` (from `find_pace()`), `findings`, `seconds`.
#' @noRd
summarise_capture <- function(capture, plan, metrics = list()) {
  laid <- lay_out(capture, plan, metrics)
  places <- laid$places
  counts <- if (is.null(places)) capture$frames$frame_time_ms else capture$frames$frame_time_ms[places$counts]
  loading <- find_loading(counts)
  series <- laid$about$series
  structure(list(
    readings = laid_readings(laid),
    piles = if (!is.null(capture$frames)) stack_rows(lapply(laid$spans, span_pile, frames = capture$frames)),
    parts = span_parts(laid$spans, capture$frames),
    limits = if (!is.null(series)) stack_rows(lapply(laid$spans, span_limits, about = laid$about)),
    pace = find_pace(counts, empty_to(loading$seconds, 0)),
    findings = bind_findings(
      capture$findings, left_out_findings(capture, places), strange_flips(capture, places, laid$toggle, plan),
      if (!is.null(loading)) do.call(new_finding, c("note", "loads", loading, pass = capture$pass$pass)),
      if (!is.null(capture$sensors)) vanished_sensors(capture$sensors, capture$pass$pass),
      if (!is.null(capture$frames)) run_checks("capture", capture$pass, counts)
    ),
    seconds = capture_seconds(capture)
  ), class = "honestmargin_summary")
}

#' Its readings alone, for a choice that only they are asked under
#' @noRd
readings_of_capture <- function(capture, plan) laid_readings(lay_out(capture, plan))

laid_readings <- function(laid) stack_rows(lapply(laid$spans, span_readings, about = laid$about))

# the stretches of a capture that have readings, and what those are made from
lay_out <- function(capture, plan, metrics = list()) {
  # a number may be added of a workload that is in no plan
  known <- Filter(function(w) w$id == capture$pass$workload, plan$workloads)
  workload <- if (length(known)) known[[1]]
  toggle <- workload$toggle
  places <- capture_places(capture, workload)
  about <- list(
    frames = capture$frames, loop = places$loop,
    series = if (!is.null(capture$sensors)) sensor_series(capture$sensors), metrics = metrics,
    floors = plan_floors(plan), limits = plan$sensors$limits, asked = asked_clock(capture$pass, plan)
  )
  list(
    places = places, toggle = toggle, about = about,
    spans = capture_spans(capture, places, if (!is.null(toggle)) plan)
  )
}

# where each frame belongs; what settles after a flip and what is trimmed does not count
capture_places <- function(capture, workload) {
  if (!is.null(capture$frames)) {
    frame_places(
      capture$frames, capture$marks, empty_to(workload$toggle$settle, 0),
      trim_s = empty_to(workload$trim, 0)
    )
  }
}

# The stretches of a pass that have readings of their own: all of it, its segments,
# or its flips and their segments. `inside` is TRUE for all frames.
capture_spans <- function(capture, places, toggled_in = NULL) {
  whole <- list(part = NA_integer_, segment = NA_character_, arm = NA_character_, round = NA_integer_)
  if (is.null(places)) {
    return(list(c(whole, list(inside = TRUE))))
  }
  flips <- if (!is.null(toggled_in)) flips_of(places, toggled_in)
  stretches <- if (is.null(flips)) {
    list(c(whole, list(inside = which(places$counts))))
  } else {
    frames_of <- split(which(places$counts), places$flip[places$counts])
    lapply(seq_len(nrow(flips)), function(k) {
      list(
        part = flips$part[k], segment = NA_character_, arm = flips$arm[k], round = flips$round[k],
        inside = as.integer(frames_of[[as.character(flips$flip[k])]])
      )
    })
  }
  stretches <- Filter(function(s) length(s$inside) > 0, stretches)
  unlist(lapply(stretches, function(one) c(list(one), segment_spans(one, places$segment))), recursive = FALSE)
}

segment_spans <- function(one, segment) {
  named <- segment[one$inside]
  lapply(unique(stats::na.omit(named)), function(s) {
    utils::modifyList(one, list(segment = s, inside = one$inside[named %in% s]))
  })
}

#' Flips of a toggled pass, those to no arm left out
#' @return Data frame `flip`, `part`, `arm`, `round` (the how-manieth time this arm is on); `NULL`
#'   where there was none.
#' @noRd
flips_of <- function(places, plan) {
  flips <- places[!duplicated(places$flip) & places$flip > 0, c("flip", "arm"), drop = FALSE]
  if (!nrow(flips)) {
    return(NULL)
  }
  flips$round <- stats::ave(seq_len(nrow(flips)), flips$arm, FUN = seq_along)
  flips$part <- seq_len(nrow(flips))
  flips$arm <- flipped_arms(plan, flips$arm)
  flips[!is.na(flips$arm), , drop = FALSE]
}

span_parts <- function(spans, frames) {
  spans <- Filter(function(s) !is.na(s$part) && is.na(s$segment), spans)
  stack_rows(lapply(spans, function(s) {
    list2DF(c(s[c("part", "arm", "round")], list(seconds = round_seconds(sum(frames$frame_time_ms[s$inside]) / 1000))))
  }))
}

# Readings of those frames of a pass that are inside, and of the sensors meanwhile
span_readings <- function(span, about) {
  values <- numeric()
  series <- about$series
  shown <- 0
  if (!is.null(about$frames)) {
    all <- isTRUE(span$inside)
    x <- if (all) about$frames$frame_time_ms else about$frames$frame_time_ms[span$inside]
    held <- held_level(x, if (!all) about$loop[span$inside])
    values <- c(frame_summary(x, floors = about$floors, metrics = about$metrics), held[!is.na(held)])
    shown <- length(x)
    if (!is.null(series)) {
      series <- series_within(series, if (all) about$frames$start_s else about$frames$start_s[span$inside], x)
    }
  }
  if (!is.null(series)) {
    seconds <- if (shown > 0) sum(x) / 1000
    values <- c(values, sensor_readings(series, shown, about$asked, about$limits, seconds))
  }
  if (length(values)) reading_rows(span, values)
}

# a series of a further device is in no list of metrics, so its readings say what they are
reading_rows <- function(span, values) {
  n <- length(values)
  rows <- list(
    part = rep(span$part, n), segment = rep(span$segment, n), metric = names(values), value = unname(values),
    unit = rep(NA_character_, n), better = rep(NA_character_, n)
  )
  for (i in which(!names(values) %in% captured_ids())) {
    series <- series_about(sub("_[^_]+$", "", names(values)[i]))
    if (!is.null(series)) {
      rows[c("unit", "better")] <- Map(
        replace, rows[c("unit", "better")], i, series[c("unit", "better")]
      )
    }
  }
  list2DF(rows)
}

span_pile <- function(span, frames) {
  x <- if (isTRUE(span$inside)) frames$frame_time_ms else frames$frame_time_ms[span$inside]
  list2DF(c(span[c("part", "segment")], as.list(pile_of_frames(x))))
}

#' The part of a capture that one flip of a toggled pass is, on its own time
#' @param part Number of the part; `NA` gives the capture itself.
#' @noRd
part_of_capture <- function(capture, plan, part) {
  if (is.na(part)) {
    return(capture)
  }
  places <- capture_places(capture, workload_of(plan, capture$pass$workload))
  span <- Filter(function(s) s$part %in% part && is.na(s$segment), capture_spans(capture, places, plan))[[1]]
  frames <- capture$frames[span$inside, , drop = FALSE]
  begins <- frames$start_s[1]
  sensors <- capture$sensors
  if (!is.null(sensors)) {
    sensors <- sensors[shown_at(sensors$time_s, frames$start_s, frames$frame_time_ms), , drop = FALSE]
    sensors$time_s <- sensors$time_s - begins
  }
  frames$start_s <- frames$start_s - begins
  new_capture(capture$pass, frames, sensors = sensors)
}

asked_clock <- function(pass, plan) {
  of <- plan$sensors$asked_clock
  arm <- if (!is.null(of)) Filter(function(a) a$value == pass$arm, plan$arms)
  asked <- if (length(arm)) suppressWarnings(as.numeric(empty_to(arm[[1]]$expect, arm[[1]]$value))) else NA
  if (is.finite(asked)) list(series = paste0(of, "_clock"), MHz = asked)
}

left_out_findings <- function(capture, places) {
  if (is.null(places)) {
    return(NULL)
  }
  pass <- capture$pass$pass
  if (!any(places$counts)) {
    return(new_finding("warning", "nothing_counts", pass = pass))
  }
  x <- capture$frames$frame_time_ms
  stretches <- lapply(c("pause", "gap"), function(why) {
    out <- places$why_not == why
    if (any(out)) {
      severity <- if (why == "gap") "warning" else "note"
      new_finding(severity, why, seconds = sum(x[out]) / 1000, pass = pass)
    }
  })
  do.call(bind_findings, stretches)
}

strange_flips <- function(capture, places, toggle, plan) {
  told <- as.character(if (!is.null(toggle) && !is.null(places)) unique(places$arm[places$flip > 0]))
  strange <- told[is.na(flipped_arms(plan, told))]
  if (length(strange)) new_finding("warning", "strange_flip", arms = strange, pass = capture$pass$pass)
}
