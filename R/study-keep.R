# From what a pass captured to its readings and stored traces: the whole pass,
# each segment of it, and each flip where the setting was toggled inside.

#' @param captured A list: `frames` (data frame `frame_time_ms`, maybe `start_s`), `marks`,
#'   `sensors`; any may be `NULL`.
#' @return A list: `readings`, `traces`, `pile` (rows for the ledger), `parts` (one per
#'   flip of a toggled pass), `notes`, `frames_seconds`.
#' @noRd
keep_capture <- function(folder, plan, pass, captured) {
  workload <- workload_of(plan, pass$workload)
  frames <- captured$frames
  if (!is.null(frames) && is.null(frames$start_s)) {
    frames$start_s <- cumsum(frames$frame_time_ms) - frames$frame_time_ms
  }
  marks <- empty_to(captured$marks, no_marks())
  places <- if (!is.null(frames)) {
    frame_places(frames$start_s, frames$frame_time_ms, marks, settle_s = empty_to(workload$toggle$settle, 0))
  }
  series <- if (!is.null(captured$sensors)) sensor_series(captured$sensors)
  about <- list(plan = plan, pass = pass, frames = frames, places = places, series = series)
  out <- list(notes = captured$notes, frames_seconds = if (!is.null(frames)) sum(frames$frame_time_ms) / 1000)
  out$traces <- rbind(
    if (!is.null(frames)) store_trace(folder, pass$pass, "frames", frames_to_store(frames, captured)),
    if (nrow(marks)) store_trace(folder, pass$pass, "marks", marks),
    if (!is.null(captured$sensors)) store_trace(folder, pass$pass, "sensors", captured$sensors)
  )
  if (!is.null(places) && !any(places$counts)) {
    out$notes <- c(out$notes, "no frame counts: all of them were in a pause or a gap")
    return(out)
  }
  if (!is.null(places)) out$notes <- c(out$notes, left_out_words(frames, places))
  if (!is.null(workload$toggle) && any(places$flip > 0)) {
    out$parts <- toggled_passes(about)
    return(out)
  }
  out$readings <- rbind(span_readings(about, pass$workload, empty_to(places$counts, TRUE)), segment_readings(about))
  if (!is.null(frames)) {
    out$pile <- data.frame(pass = pass$pass, t(pile_of_pass(frames$frame_time_ms[places$counts])))
    out$segment_piles <- segment_piles(about)
  }
  out
}

frames_to_store <- function(frames, captured) {
  if (is.null(captured$frames$start_s)) frames["frame_time_ms"] else frames[c("frame_time_ms", "start_s")]
}

left_out_words <- function(frames, places) {
  out <- places$why_not %in% c("pause", "gap")
  if (any(out)) {
    paste0(show_number(sum(frames$frame_time_ms[out]) / 1000), " s in ", paste(
      unique(places$why_not[out]), collapse = " and "
    ), " do not count")
  }
}

# Readings of those frames of a pass that `inside` says, and of the sensors meanwhile
span_readings <- function(about, place, inside) {
  frames <- about$frames
  values <- numeric()
  series <- about$series
  if (!is.null(frames)) {
    x <- frames$frame_time_ms[inside]
    values <- c(frame_summary(x), held_level(x, about$places$loop[inside]))
    values <- values[!(is.na(values) & names(values) %in% c("level_held", "slope_per_loop"))]
    if (!is.null(series)) series <- series_within(series, frames$start_s[inside], x)
  }
  if (!is.null(series)) {
    limits <- lapply(about$plan$sensors$limits, function(l) l)
    values <- c(values, sensor_readings(series, if (is.null(frames)) 0 else sum(inside), asked_clock(about), limits))
  }
  if (length(values)) {
    data.frame(
      pass = about$pass$pass, workload = place, metric = names(values), value = unname(values),
      unit = NA_character_, better = NA_character_
    )
  }
}

# samples taken while one of these frames was shown
series_within <- function(series, start_s, frame_time_ms) {
  at <- findInterval(series$time_s, start_s)
  inside <- at > 0
  inside[inside] <- series$time_s[inside] <= start_s[at[inside]] + frame_time_ms[at[inside]] / 1000 + 0.5
  series[inside, , drop = FALSE]
}

asked_clock <- function(about) {
  of <- about$plan$sensors$asked_clock
  if (is.null(of)) {
    return(NULL)
  }
  arm <- arm_of(about$plan, about$pass$arm)
  asked <- suppressWarnings(as.numeric(empty_to(arm$expect, arm$value)))
  if (is.finite(asked)) list(series = paste0(of, "_clock"), MHz = asked)
}

each_segment <- function(about, of) {
  segments <- unique(stats::na.omit(about$places$segment))
  do.call(rbind, lapply(segments, function(segment) {
    inside <- about$places$counts & about$places$segment %in% segment
    if (any(inside)) of(segment_place(about$pass$workload, segment), inside)
  }))
}
segment_readings <- function(about) each_segment(about, function(place, inside) span_readings(about, place, inside))
segment_piles <- function(about) {
  each_segment(about, function(place, inside) {
    data.frame(pass = about$pass$pass, workload = place, t(pile_of_pass(about$frames$frame_time_ms[inside])))
  })
}

# Each flip is a pass of its own: same boot, in the order flipped, one round of
# flips a block.
toggled_passes <- function(about) {
  parts <- toggled_parts(about$places)
  known <- plan_arms(about$plan)
  rows <- lapply(seq_len(nrow(parts)), function(k) {
    inside <- about$places$counts & about$places$flip == parts$flip[k]
    unit <- empty_to(about$plan$setting$unit, "")
    # "arm 1000 Hz" and "arm 1000" are the same
    arm <- if (parts$arm[k] %in% known) parts$arm[k] else trimws(sub(
      paste0("\\Q", unit, "\\E$"), "", parts$arm[k], perl = TRUE
    ))
    if (!any(inside) || !arm %in% known) {
      return(NULL)
    }
    one <- about
    one$pass$pass <- paste0(about$pass$pass, ".", k)
    x <- about$frames$frame_time_ms[inside]
    list(
      pass = one$pass$pass, arm = arm, block = paste0(about$pass$block, ".", parts$block[k]), seconds = sum(x) / 1000,
      readings = span_readings(one, about$pass$workload, inside),
      pile = data.frame(pass = one$pass$pass, t(pile_of_pass(x)))
    )
  })
  Filter(length, rows)
}
