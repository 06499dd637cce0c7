# The readings of a pass, of each of its segments and of each flip inside it, from
# its frames, marks and sensors; the same for a pass that was just captured and for
# one that lies in a study folder.

#' What is known of a pass, on one time
#'
#' @param captured A list: `frames` (data frame `frame_time_ms`, maybe `start_s`), `marks`,
#'   `sensors`; any may be `NULL`.
#' @return A list: `plan`, `pass`, `frames`, `marks`, `places` (see `frame_places()`), `sensors`, `series`,
#'   `toggled` (the setting was flipped inside this pass).
#' @noRd
about_pass <- function(plan, pass, captured, metrics = list()) {
  frames <- captured$frames
  if (!is.null(frames) && is.null(frames$start_s)) {
    frames$start_s <- (cumsum(frames$frame_time_ms) - frames$frame_time_ms) / 1000
  }
  marks <- empty_to(captured$marks, no_marks())
  workload <- Filter(function(w) w$id == pass$workload, plan$workloads)
  toggle <- if (length(workload)) workload[[1]]$toggle
  places <- if (!is.null(frames)) {
    frame_places(frames$start_s, frames$frame_time_ms, marks, settle_s = empty_to(toggle$settle, 0))
  }
  list(
    plan = plan, pass = pass, frames = frames, marks = marks, metrics = metrics, places = places,
    toggled = !is.null(toggle) && any(places$flip > 0), sensors = captured$sensors,
    series = if (!is.null(captured$sensors)) sensor_series(captured$sensors)
  )
}

#' Readings and piles of the whole pass and its segments
#' @noRd
pass_readings <- function(about) {
  whole <- about$pass$workload
  counts <- if (is.null(about$places)) TRUE else about$places$counts # TRUE: all of them
  readings <- rbind(span_readings(about, whole, counts), each_segment(about, span_readings))
  list(
    readings = readings,
    pile = if (!is.null(about$frames)) {
      data.frame(pass = about$pass$pass, t(pile_of_pass(about$frames$frame_time_ms[counts])))
    },
    segment_piles = each_segment(about, function(about, place, inside) {
      data.frame(pass = about$pass$pass, workload = place, t(pile_of_pass(about$frames$frame_time_ms[inside])))
    })
  )
}

# Readings of those frames of a pass that `inside` says, and of the sensors meanwhile
span_readings <- function(about, place, inside) {
  frames <- about$frames
  values <- numeric()
  series <- about$series
  if (!is.null(frames)) {
    x <- if (isTRUE(inside)) frames$frame_time_ms else frames$frame_time_ms[inside]
    loop <- if (nrow(about$marks)) about$places$loop[inside]
    held <- held_level(x, loop)
    values <- c(frame_summary(x, metrics = about$metrics), held[!is.na(held)])
    if (!is.null(series)) series <- series_within(series, frames$start_s[inside], x)
  }
  if (!is.null(series)) {
    shown <- if (is.null(frames)) 0 else length(x)
    seconds <- if (shown > 0) sum(x) / 1000
    values <- c(values, sensor_readings(series, shown, asked_clock(about), about$plan$sensors$limits, seconds))
  }
  if (length(values)) {
    n <- length(values)
    list2DF(list(
      pass = rep(about$pass$pass, n), workload = rep(place, n), metric = names(values), value = unname(values),
      unit = rep(NA_character_, n), better = rep(NA_character_, n)
    ))
  }
}

#' Was one of these frames shown at that time?
#' @noRd
shown_at <- function(time_s, start_s, frame_time_ms) {
  at <- findInterval(time_s, start_s)
  inside <- at > 0
  inside[inside] <- time_s[inside] <= start_s[at[inside]] + frame_time_ms[at[inside]] / 1000
  inside
}

# samples taken while one of these frames was shown, and which of them stand together
series_within <- function(series, start_s, frame_time_ms) {
  inside <- shown_at(series$time_s, start_s, frame_time_ms)
  out <- series[inside, , drop = FALSE]
  out$stretch <- cumsum(c(TRUE, diff(which(inside)) > 1))[seq_len(nrow(out))]
  out
}

asked_clock <- function(about) {
  of <- about$plan$sensors$asked_clock
  if (is.null(of)) {
    return(NULL)
  }
  arm <- Filter(function(a) as.character(a$value) == about$pass$arm, about$plan$arms)
  asked <- if (length(arm)) suppressWarnings(as.numeric(empty_to(arm[[1]]$expect, arm[[1]]$value))) else NA
  if (is.finite(asked)) list(series = paste0(of, "_clock"), MHz = asked)
}

each_segment <- function(about, of) {
  if (!nrow(about$marks)) {
    return(NULL)
  }
  segments <- unique(stats::na.omit(about$places$segment))
  do.call(rbind, lapply(segments, function(segment) {
    inside <- about$places$counts & about$places$segment %in% segment
    if (any(inside)) of(about, segment_place(about$pass$workload, segment), inside)
  }))
}

# Each flip is a pass of its own, with its part of the traces: same boot, in the order
# flipped, one round of flips a block.
toggled_passes <- function(about) {
  parts <- toggled_parts(about$places)
  arms <- flipped_arms(about, parts$arm)
  counts <- which(about$places$counts)
  frames_of <- split(counts, about$places$flip[counts])
  rows <- lapply(which(!is.na(arms)), function(k) {
    inside <- frames_of[[as.character(parts$flip[k])]]
    if (is.null(inside)) {
      return(NULL)
    }
    one <- about
    one$pass$pass <- paste0(about$pass$pass, ".", k)
    x <- about$frames$frame_time_ms[inside]
    list(
      pass = one$pass$pass, arm = arms[k], block = paste0(about$pass$block, ".", parts$block[k]),
      seconds = sum(x) / 1000, frames = from_start(about$frames[inside, c("frame_time_ms", "start_s")]),
      sensors = flip_sensors(about, about$frames[inside, ]),
      readings = span_readings(one, about$pass$workload, inside),
      pile = data.frame(pass = one$pass$pass, t(pile_of_pass(x)))
    )
  })
  Filter(length, rows)
}

# on the time of the flip, as a pass of its own would have it
from_start <- function(frames) {
  frames$start_s <- frames$start_s - frames$start_s[1]
  frames
}

flip_sensors <- function(about, frames) {
  if (is.null(about$sensors)) {
    return(NULL)
  }
  rows <- about$sensors[shown_at(about$sensors$time_s, frames$start_s, frames$frame_time_ms), , drop = FALSE]
  rows$time_s <- rows$time_s - frames$start_s[1]
  if (nrow(rows)) rows
}

# "arm 1000 Hz" and "arm 1000" are the same; `NA` for what is no arm
flipped_arms <- function(about, told) {
  known <- plan_arms(about$plan)
  unit <- empty_to(about$plan$setting$unit, "")
  bare <- ifelse(nzchar(unit) & endsWith(told, unit), trimws(substr(told, 1, nchar(told) - nchar(unit))), told)
  ifelse(told %in% known, told, ifelse(bare %in% known, bare, NA_character_))
}

strange_flips <- function(about) {
  told <- toggled_parts(about$places)$arm
  strange <- unique(told[is.na(flipped_arms(about, told))])
  if (length(strange)) paste0("flips to ", some_of(strange), " are left out: none of the arms")
}
