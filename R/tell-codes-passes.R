# What stands in the record of a pass, in words.

words_of_passes <- list(
  pause = "{seconds} s in pause do not count",
  gap = c(
    "{seconds} s without a frame do not count",
    "a hidden window or a loading screen is no frame; if it was a freeze, record outcome freeze"
  ),
  nothing_counts = "no frame counts: all of them were in a pause or a gap",
  strange_flip = "flips to {arms} are left out: none of the arms",
  sensor_gone = function(v) {
    paste0("the sensor ", some_of(v$sensors, 3), " gave nothing any more after ", v$at_s, " s")
  },
  clock_of_day = c(
    "{file} goes by the clock of the day, and when its pass began is not written down: it begins with the pass",
    "where it began otherwise, write its times in seconds from the start of the pass"
  ),
  outside_pass = c(
    "no sample of {file} falls into its pass: its times run from {from} to {to} s, and the pass takes {seconds} s",
    "write its times in seconds from the start of the pass"
  ),
  gate_dumb = "the gate '{gate}' gave no number, so it held nothing back",
  gate_shut = "the gate '{gate}' was still at {at} after {wait} s, not below {below}",
  windows = "the window with most frames is taken ({presented}; others {others})",
  trace_missing = c("{file} is gone; what was read of it stands", "put it back from a copy, if there is one"),
  trace_damaged = c("{file} is not as it was stored, so it is not shown", "put it back from a copy, if there is one"),
  frames_lost = "{frames} frames came too fast to be noted",
  beacon_refused = "{lines|line} of the beacon said nothing that is known",
  last_said = "it last said: {said}",
  log_refused = "{what}",
  noted = "{text}",
  taken_from = "taken from {file}",
  stopped = "stopped by the tester",
  not_started = "not run: a command of the plan could not be started ({said})",
  time_limit = "ran into the time limit",
  signal = "ended by signal {signal}",
  exit_status = "exit status {status}",
  nothing_found = "no {missing} to be found after the pass",
  short_log = function(v) {
    paste0("frame log of ", round(v$seconds, 1), " s where ", v$planned, " s were planned")
  },
  not_set = "could not be set ({said})",
  mismatch = function(v) {
    paste0(
      "asked for ", v$asked, ", read back ", v$read, if (!identical(as.numeric(v$factor), 1)) paste0(" x ", v$factor)
    )
  },
  not_held = function(v) {
    if (v$by == "silent") {
      return(paste("does not hold: no", v$metric_said))
    }
    against <- c(above = "is above", below = "is below", falls = "is too far from the start,")
    seen <- number_words(c(v$value, v$limit), v$unit)
    paste("does not hold:", v$metric_said, seen[1], against[[v$by]], seen[2])
  },
  not_clear = function(v) {
    seen <- number_words(c(v$value, v$limit), v$unit)
    paste0(
      "not clear: ", v$metric_said, " is ", seen[1], " on average so far, too far from the start's ", seen[2],
      ", but by no more than passes vary; it is tried again"
    )
  },
  machine_restarted = "the machine was started anew in the meantime",
  runner_ended = "the runner was ended",
  corrected = function(v) {
    paste0(
      if (!is.na(empty_to(v$segment, NA))) paste0(v$segment, "/"), v$metric_said, " corrected ",
      if (length(v$was)) paste0("from ", v$was, " "), "to ",
      v$value, " (", v$reason,
      ")"
    )
  },
  would_not_start = "did not come up with this setting",
  none_given = "no {metric_said}: {why}",
  place_corrected = function(v) paste0("corrected: ", place_words(c(v$to, list(was = v$was))), " (", v$reason, ")"),
  undone = "taken back ({reason})",
  outcome_corrected = "outcome corrected to {outcome} ({reason})",
  alone = c(
    "pass {pass} ({arm}) has nothing to stand against in block {block}: {partner} does not count",
    "run that block again, or judge it with the excluded pass too (--with-excluded)"
  ),
  excluded_counted = "excluded, and counted here as asked: {passes}",
  with_excluded = function(v) {
    if (!length(v$changes)) {
      return("counting the excluded passes changes no primary verdict")
    }
    paste0(
      "counting the excluded passes changes ", count_of(length(v$changes), "verdict"), ": ",
      paste(utils::head(v$changes, 6), collapse = "; "), if (length(v$changes) > 6) "; ..."
    )
  },
  empty = c(
    "recorded as ok but has neither a frame log nor a score",
    "add its log, or record what happened in the column outcome"
  )
)
