# The one place that makes words of codes. A code has one or two texts: what was
# seen, and what to do. `{x}` stands for the value x of the code, `{n|pass|passes}` for
# a count with its noun. A function takes the values and gives the texts.

copy_again <- "copy the file again if the source still has it"
shuffle <- "shuffle or mirror the order within blocks"

# what readers of files noticed
words_of_files <- list(
  cut_short = c("{file} is cut short: what could be read is kept", copy_again),
  empty_bytes = c("{file} ends in {bytes} empty bytes, as after a power cut: they are left out", copy_again),
  line_cut = c("{file} ends in the middle of a line: that frame is left out", copy_again),
  mixed_marks = c(
    "{file} mixes decimal points and commas (line {lines}): both are read as decimal marks", "check those lines"
  ),
  heading_again = c(
    "{file} has its heading again in line {lines}: two runs in one file are read as one pass",
    "split the file if they are two passes"
  ),
  headings_taken = c("columns are taken by their headings: {taken}", "say otherwise: --columns arm=HEADING"),
  columns_left_out = c("left out of {file}: {columns}", "map them in a layout if they matter"),
  clock_times = "'{metric}': times typed as m:ss are read as seconds",
  guessed_number = c(
    "'{metric}': {typed} is read as {read}, its point as a decimal point", "if thousands were meant, write them without"
  ),
  rates_converted = "{file} is headed '{heading}': each number is read as a rate, and its frame time is 1000 over it",
  grouped_number = "'{metric}': {typed} is read as {read}",
  direction = c("'{metric}': {direction} taken as better, from its {from}", "give a column better if that is wrong"),
  long_pass = c("a pass took {hours} hours", "is its time in seconds?"),
  order_unknown = c(
    "the order in which the passes ran is not known, so effects of order (warming, practice) cannot be checked",
    "record a column order"
  ),
  from_names = function(v) {
    paste0(
      count_of(v$logs, "frame log"), ": ", some_of(v$arms, 8), " (from ",
      if (v$from == "names") "the names" else paste("names like", v$from), ")"
    )
  },
  from_report = c(
    "read back from the report {file}: without its traces, and nothing proves that it was not altered",
    "ask for the study itself: honestmargin export"
  ),
  order_in_times = "the order in which they ran is that of the files' times",
  unreadable = function(v) c(paste0("pass ", v$pass, " is not summarised: ", v$what), v$remedy)
)

# what stands in the record of a pass
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
  with_excluded = function(v) {
    if (!length(v$changes)) {
      return("with the excluded passes every primary verdict would be the same")
    }
    paste0("with the excluded passes it would be ", some_of(v$changes, 6))
  },
  empty = c(
    "recorded as ok but has neither a frame log nor a score",
    "add its log, or record what happened in the column outcome"
  )
)

# what checks saw in a study or a plan
words_of_studies <- list(
  ceiling = function(v) {
    c(
      paste0(
        held_words(v$arms, v$fps), " (", v$held, " of ", v$of,
        " passes): the average and the median are hidden there, the lows are not"
      ),
      "lift the limiter or the display's limit, or take a heavier scene, and run again"
    )
  },
  artefacts = c(
    "{n} of {of|pass|passes} of {arm} showed artefacts; their values count",
    "an arm that shows artefacts does not hold: exclude them with a reason, or judge the outcomes"
  ),
  tail = function(v) {
    c(
      paste0(
        "only about ", count_of(v$frames, "frame"), " of a pass ", if (v$frames == 1) "lies" else "lie", " behind ",
        some_of(v$metrics, 9), "; fewer than 10 make it jump between passes"
      ),
      "run longer passes, or judge by a metric that rests on more frames"
    )
  },
  firm_trimmed = "the first {seconds} s of each pass of {workload} trimmed",
  loading = function(v) {
    speed <- if (v$factor > 1) {
      paste0("frames take ", show_number(v$factor, 2), " times as long as later")
    } else {
      paste0("frames come ", show_number(1 / v$factor, 2), " times as fast as later")
    }
    span <- unique(show_number(c(v$from, v$to), 2))
    c(
      paste0(
        v$n, " of ", count_of(v$of, "pass", "passes"), " begin unlike the rest: for ", paste(span, collapse = " to "),
        " s ", speed, if (isTRUE(v$uneven)) ", in some arms more than in others"
      ),
      paste0(
        "start the capture later, or declare for the next study: trim: ", v$trim, " (`firm` shows what it would change)"
      )
    )
  },
  loads = "begins unlike the rest for {seconds} s",
  coarse = "its times are written in steps of {step_ms} ms",
  resolution = c(
    "times of {n|pass|passes} are written in steps of {step_ms} ms, {percent} % of a usual frame: lows and pacing jump",
    "let the capture write microseconds, or judge the average only"
  ),
  others = function(v) {
    paste0(
      "other programs kept ", show_number(v$share, 2), " processors busy",
      if (length(v$names)) paste0(" (", some_of(v$names), ")")
    )
  },
  others_at_work = function(v) {
    span <- paste(unique(show_number(c(v$from, v$to), 2)), collapse = " to ")
    c(
      paste0(
        "beside ", v$n, " of ", count_of(v$of, "pass", "passes"), " other programs kept ", span,
        " processors busy", if (length(v$names)) paste0(", most of it ", paste(v$names, collapse = " and "))
      ),
      "end them, or wait until they are done, and run those passes again"
    )
  },
  odd_length = c(
    "it took {seconds} s where its fellows took {usual} s",
    "was it cut short, or recorded too long? exclude it with a reason, or say that it is right"
  ),
  copied = c(
    "{passes} have the same frames: they are copies of one pass",
    "leave one of them out, and find the log that is missing"
  ),
  odd_pass = function(v) {
    c(
      paste0(
        v$metric, " ", number_words(v$value, v$unit), " where other passes of ", v$arm_said, " gave ",
        number_words(v$usual, v$unit), " (", show_number(v$off, 2), " times the noise away)"
      ),
      "look at its trace and its notes; `firm` shows what the verdict is without it"
    )
  },
  segment_never = c(
    "the segment {segment_name} is missing in every pass",
    "was its mark set while the pass ran? what is missing is in no verdict"
  ),
  segment_missing = c(
    "the segment {segment_name} is missing in {n} of {of|pass|passes} ({passes})",
    "was its mark set while the pass ran? what is missing is in no verdict"
  ),
  no_sensor = function(v) {
    c(
      paste0("no sensor of ", paste(v$sensors, collapse = ", ")),
      "a command that tells it can be named in the plan: sensors: {commands: {\"load graphics [%]\": ...}}"
    )
  },
  unplanned_arm = c("arm {arms} is not in the plan", "add it to the plan, or mend passes.csv"),
  unplanned_workload = c("workload {workloads} is not in the plan", "add it to the plan, or mend passes.csv"),
  other_machine = c(
    "the earlier passes ran on another machine, so the machine may be all of the difference", "run both on one machine"
  ),
  unusual_noise = function(v) {
    paste0(
      "'", v$metric_said, "' is ", show_number(v$ratio, 2), " times ", if (v$noisier) "noisier" else "quieter",
      " than this machine usually is (",
      show_noise(list(noise = v$now, scale = v$scale)), " against ", show_noise(list(noise = v$usual, scale = v$scale)),
      " over ", count_of(v$studies, "study", "studies"), ")"
    )
  },
  memory_unused = "{what}",
  rescued = c(
    "the ledger that this was saved from was damaged; not whole: {tables}",
    "what was excluded, corrected or noted there may be missing: look at a copy of before"
  ),
  batch_meant = c("this is batch {batch} of {of}", "another: --batch N; each alone, side by side: --batch all"),
  extended = c(
    paste(
      "{blocks|block} were added to the plan when {after|pass|passes} of it had been seen: from then on it is judged",
      "by intervals that hold however often one looks, which are wider"
    ),
    "a fresh batch judged alone has the narrower ones: honestmargin repeat"
  ),
  looked = paste(
    "looked at after every block ({looks|look} so far): judged by intervals that hold however often one looks"
  ),
  looks = "judged by intervals that hold however often one looked",
  untouched = function(v) {
    still <- show_number(100 * max(v$possible), 2)
    paste0("none in any pass of either arm; up to ", still, " % of passes may still have some")
  },
  rare_unseen = function(v) {
    paste0("a loss that comes in less than ", show_number(v$share, 2), " % of passes may not have been seen")
  },
  order_not_known = function(v) {
    paste0(
      "the order in which the passes ran is not known: an effect of the place alone of ", show_noise(v),
      " would undo it (tipping point)"
    )
  },
  looks_begin = "with looks after every {unit}, nothing can be settled before number {n} of them; there are {have}",
  firm_counted = "excluded pass {pass} counted",
  firm_left_out = "flagged pass {pass} left out",
  firm_first_block = "the first block left out",
  firm_no_blocks = "the blocks not used",
  firm_definition = "{other} instead of {metric}",
  hopeless = "less than 1 chance in 20 to be settled within {most|block}",
  no_looks = "no intervals that allow for looks: passes of this kind have no differences that one could follow",

  extra_passes = c(
    paste(
      "passes beyond the plan: {arms}; since they may have been added because of what was seen, it is judged by",
      "intervals that hold however often one looks, which are wider"
    ),
    "plan as many blocks as you mean to run; a fresh batch judged alone: honestmargin repeat"
  ),
  plan_changed = function(v) {
    on <- if (length(v$at)) paste0(" on ", sub("T", " ", substr(v$at, 1, 16)), " UTC")
    c(
      paste0("the plan was changed", on, ", after the seal (", some_of(v$changes, 6), ")"),
      "the verdicts stand on the sealed plan; what the changed one would say is told as after the fact"
    )
  },
  no_effect = c(
    "the passes to run were sealed with the plan, so this has no effect: {changes}",
    "seal it as a fresh batch, honestmargin repeat, or start a new study folder"
  ),
  settled_early = "{left|pass|passes} of the plan were not run: every comparison was settled, or could not be, before",
  arm_settled = "settled after block {block} and left out of later blocks, as planned",
  unfinished = c("{left|pass|passes} of the plan not run yet", "go on with: honestmargin run"),
  scale = c(
    "'{metric}' has values at or below 0, so its changes are told as differences in its unit, and worth is read so too",
    "name its worth in that unit"
  ),
  parts = c("the total '{total}' hides that {better} gained and {worse} lost", "judge the parts, not their total"),
  order_fixed = c("the arms ran in the same order in every block; a small drift would count as the setting", shuffle),
  order_drift = function(v) {
    c(
      paste0(
        "the arms ran in the same order in every block, and the blocks drift over the session",
        if (length(v$metrics)) paste0(" (", some_of(v$metrics), ")")
      ),
      "run it again with the order shuffled or mirrored within blocks"
    )
  },
  falls_short = function(v) {
    amount <- function(x) paste0(show_number(x, 2), if (v$scale == "percent") " %")
    instead <- c(
      if (is.finite(v$one_metric)) {
        paste0("one primary metric instead of ", v$metrics, " (then ", amount(v$one_metric), ")")
      },
      if (is.finite(v$two_arms)) paste0("two arms instead of ", v$arms, " (then ", amount(v$two_arms), ")"),
      paste0("passes that vary by less than ", amount(v$noise))
    )
    c(
      paste0(
        v$id, ": ", count_of(v$blocks, "block"), " would find a change of ", amount(v$detectable), ", where ",
        amount(v$worth), " is worth having"
      ),
      paste0(
        if (is.finite(v$needed)) paste0(count_of(v$needed, "block"), " would see it; or take ") else "take ",
        paste(instead, collapse = ", or ")
      )
    )
  },
  few_blocks = c("{blocks|block} can hardly tell the noise", "plan at least three, better five"),
  one_way = c(
    "the old state cannot come back, so time and setting are one thing",
    "add a workload that the setting cannot touch, with anchor: true"
  ),
  one_way_anchored = c(
    "the old state cannot come back, so time and setting are one thing",
    "what the anchor workload shows over the same time is taken out"
  ),
  planned_fixed = c(
    "a fixed order lets warming and practice fall on the later arms", "take order: shuffled or mirrored"
  ),
  boot_is_unit = c(
    "passes of one boot are not repetitions of the setting: the boot is the unit",
    "more blocks tell more than more passes per boot"
  ),
  attributes = function(v) attribute_words(v),
  attributes_touch = function(v) attribute_words(v)
)

# "4 of 5 passes of 350 failed, 0 of 5 of 125"
counts_words <- function(v) {
  grouped <- v$unit != "pass"
  paste0(
    v$failed[1], " of ", count_of(v$of[1], "pass", "passes"), " of ", v$arm, " failed, ", v$failed[2], " of ", v$of[2],
    " of ", v$baseline,
    if (grouped) {
      paste0(
        "; counted by ", v$unit, "s with a failure (", v$groups_failed[1], " of ", v$groups[1], ", ",
        v$groups_failed[2],
        " of ", v$groups[2], "), since passes of one ", v$unit, " fail together"
      )
    }
  )
}

# "125, 500 held near 120 fps, 1000 near 60 fps (half of it)"
held_words <- function(arms, fps) {
  level <- factor(signif(fps, 2), unique(signif(fps, 2)))
  said <- vapply(split(seq_along(arms), level), function(at) {
    paste0(
      paste(arms[at], collapse = ", "), " held near ", show_number(mean(fps[at])), " fps",
      part_of_rate(fps[at[1]], max(fps))
    )
  }, "")
  paste(said, collapse = ", ")
}

part_of_rate <- function(fps, whole) {
  parts <- c(` (half of it)` = 1 / 2, ` (a third of it)` = 1 / 3, ` (a quarter of it)` = 1 / 4)
  hit <- abs(fps / whole / parts - 1) < 0.02
  if (any(hit)) names(parts)[hit] else ""
}

attribute_words <- function(v) {
  c(
    paste0(
      paste(v$attributes, collapse = " and "), " change together and cannot be told apart",
      if (length(v$touched)) paste0("; this touches the verdict on ", some_of(v$touched))
    ),
    paste0(
      if (length(v$pairs)) paste0("these differ in one thing only: ", some_of(v$pairs, 6), "; beyond them "),
      "an arm, where one can be had, with ", paste(v$extra, collapse = "; and one with "), " would tell them apart"
    )
  )
}

# why a verdict is what it is
words_of_verdicts <- list(
  no_reading = "no counted reading of {arm}; run passes of this arm",
  no_reading_failed = "{arm} gave no reading: {n|pass|passes}, none held; find out why before it is run again",
  failed_elsewhere = function(v) paste0(v$arm, " failed in ", v$n, " of ", v$of, " passes of ", some_of(v$places, 3)),
  outcome_counts = function(v) counts_words(v),
  no_exposure = "how long the passes ran is not known of all of them: record seconds",
  clustered = paste(
    "failures of one {unit} are one piece of evidence, so a rate per hour would count them too often: see failed"
  ),
  one_pass_each = paste(
    "one pass per arm: noise not measured; run every arm at least three times, interleaved, or give noise known from",
    "the same machine and workload"
  ),
  one_pass = paste(
    "one pass of {arm}: its noise not measured; run every arm at least three times, interleaved, or give noise known",
    "from the same machine and workload"
  ),
  one_group = paste(
    "one {unit} of {arm}: its passes are not repetitions of the setting; set each arm again in at least three",
    "{unit}s"
  ),
  one_shared_block = "{arm} and {baseline} share one block only; run both in at least three blocks",
  one_stint = paste(
    "one stint per arm: time and setting cannot be told apart; go back to the first arm once more, or interleave the",
    "arms"
  ),
  one_stint_one_way = paste(
    "one stint per arm and the old state cannot come back: time and setting cannot be told apart; only a workload that",
    "the setting cannot touch would tell them apart (anchor: true, run before and after)"
  ),
  one_stint_anchored = paste(
    "one stint per arm and the old state cannot come back; the anchor does not have passes enough on both sides to",
    "take the time out: run it as often as the others"
  ),
  one_return = paste(
    "one return to the first arm: a step between stints would count as the setting; go back and forth at least twice,",
    "or declare that nothing else changed (--steady)"
  ),
  tipping = function(v) {
    paste0(
      "same order in every block: an effect of the place alone of ", show_noise(v), " would undo it (tipping point)"
    )
  },
  steady = "steadiness declared, straight drift taken out",
  not_in_both = "not measured both before and now",
  one_before = paste(
    "one study before and one now: whatever else changed in between would count; add an anchor to both (a workload",
    "that the change cannot touch), name two earlier studies or more, or declare that nothing else changed (--steady)"
  ),
  against_days = "weighed against how much {n} earlier studies differ among themselves",
  against_anchor = "what the anchor moved by over the same time is taken out, as if both moved alike",
  steady_days = "declared: nothing but the change was different on the two days",
  stored_noise = "noise not measured here but taken from {source}",
  baseline_noise = "{arm} ran once: its noise is taken from the {n|pass|passes} of {baseline}, as declared",
  baseline_once = "{baseline} ran once too, so its repeats cannot stand for the noise; run it several times in between",
  baseline_apart = paste(
    "the passes of {baseline} do not lie around that of {arm}, so time and setting cannot be told apart; run",
    "{baseline} before and after it"
  ),
  break_even = function(v) {
    paste0(
      "the gap would stand if one pass varied by less than ", show_noise(v), " (break-even noise)"
    )
  },
  anchor = function(v) {
    paste0(
      "what the anchor ", v$workload, " showed over the same time (", format(signif(v$moved, 2)),
      if (v$scale == "percent") " %", ") is taken out, as if both moved alike"
    )
  },
  rounded = function(v) {
    unit <- empty_na(empty_to(v$unit, ""))
    paste0(
      "values rounded to ", show_step(v$step), if (nzchar(unit)) paste0(" ", unit),
      if (isTRUE(v$longer)) ": that is what the instrument can tell of a pass of this length; run longer passes"
    )
  },
  two_lumps = function(v) {
    paste0(
      "in two lumps, the worse one rare: ", v$low[1], " of ", count_of(v$of[1], "pass", "passes"), " of ", v$arm, ", ",
      v$low[2], " of ", v$of[2], " of ", v$baseline, " lie in it; count those passes instead of averaging them"
    )
  },
  few_events = function(v) {
    paste0(if (v$n == 0) "no event" else count_of(v$n, "event"), " in all: the interval is what chance makes of so few")
  },
  too_coarse = "the instrument is too coarse to settle it: longer passes or finer readings would, more passes not",
  after_the_fact = "after the fact, not as sealed",
  no_noise = "passes are the same to the last digit, so they show no noise; are they copies of one pass?",
  both_held = function(v) {
    paste0(
      "both held at a ceiling (", paste(unique(paste0(show_number(v$fps), " fps")), collapse = ", "),
      "): the difference is hidden"
    )
  },
  two_ceilings = function(v) {
    paste0(
      "at least: ", v$arm, " held at ", show_number(v$fps[1]), " fps", part_of_rate(v$fps[1], max(v$fps)),
      ", ", v$baseline, " at ",
      show_number(v$fps[2]), " fps", part_of_rate(v$fps[2], max(v$fps))
    )
  },
  artefacts_in = "{n} of {of} passes of {arm} showed artefacts",
  at_least = function(v) paste0("at least: ", v$held, " held at ", show_number(v$fps[1]), " fps"),
  failed = function(v) {
    kinds <- v$kinds
    paste0(
      v$n, " of ", count_of(v$of, "pass", "passes"), " of ", v$arm, " failed (",
      paste0(names(kinds), if (length(kinds) > 1) paste0(" ", kinds), collapse = ", "), ")"
    )
  },
  no_sensors = "no sensors",
  frames_held = function(v) paste0("frames held at ", show_number(v$fps), " fps"),
  series = function(v) {
    means <- vapply(names(v$means), function(id) {
      paste0(series_words(id), " ", format(round(v$means[[id]])), " ", series_about(id)$unit)
    }, "")
    paste(
      c(means, if (length(v$missing)) paste("no sensor of", paste(series_words(v$missing), collapse = ", "))),
      collapse = ", "
    )
  }
)

# where a run stands, and what comes next
words_of_runs <- list(
  nothing_to_read = function(v) {
    paste0(
      "the warm-up gave nothing that can be read", if (length(v$patterns)) {
        paste0(
          " (looked for ", some_of(v$patterns), ")"
        )
      },
      "; what it said is in ", v$log, ". Mend the plan, then run again: the passes after it are not spent"
    )
  },
  run_done = "every pass of the plan is done",
  run_settled = "settled after {blocks|block}: {settled} of {of} primary comparisons",
  run_settled_in_part = paste(
    "{settled} of {of} primary comparisons are settled after {blocks|block}; the other {rest} cannot be within the",
    "blocks that may be run"
  ),
  run_not_settled = c(
    "{blocks|block} are done, as many as may be run: {settled} of {of} primary comparisons are settled",
    "run on with --most-blocks"
  ),
  search_done = "the search is over, and all that was asked for was run",
  search_stopped = c("the search was stopped by the tester", "go on with: honestmargin search STUDY --go-on"),
  run_next = function(v) paste("next:", pass_words(v)),
  run_stopped = function(v) {
    paste0(
      "stopped in pass ", v$pass,
      if (v$again) " - it will be run again" else " - it was tried often enough and is not run again"
    )
  },
  step = function(v) step_words(v),
  no_number = "a number, please (12.5, 1,234 or 1:05.2); none, if the pass gave none",
  far_off = "{typed} is far from the usual {usual}",
  no_such_word = "choose one of {known}",
  answered_before = "this was answered already", no_picture = "this is no picture",
  no_log = "this is no frame log: {what}",
  play_by_hand = function(v) {
    paste0(
      pass_words(v), ", is played by hand. Play it, then: honestmargin add ", v$folder, " --arm ", shQuote(v$arm),
      " --workload ", shQuote(v$workload), " METRIC=VALUE"
    )
  }
)

# what was said and done, for the history
words_of_events <- list(
  event_sealed = "batch {batch} is sealed, plan {plan}",
  event_pass = function(v) paste0(v$workload, ", ", v$arm, ": ", v$outcome),
  event_exclude = "does not count", event_include = "counts again", event_note = "noted",
  event_correct = function(v) {
    paste0(typed_name(empty_to(v$segment, NA), v$metric), ": ", if (length(v$was)) paste0(v$was, " -> "), v$value)
  },
  event_outcome = function(v) paste0("outcome: ", if (length(v$was)) paste0(v$was, " -> "), v$outcome),
  event_place = function(v) place_words(v), event_undo = "taken back",
  event_extended = "{blocks|block} added after {after|pass|passes}",
  `event_arm settled` = "{arm} is settled after block {block} and left out of later ones",
  `event_block added` = "one block more: not settled yet",
  `event_fresh batch` = "batch {batch} has {blocks|block}",
  event_search = function(v) paste0("search: ", gsub("_", " ", v$say), if (length(v$value)) paste0(" ", v$value)),
  event_look = "looked at after block {block}: {settled} settled, {open} open",
  `event_run again` = "in place of {instead_of}",
  `event_extra pass` = function(v) paste0("beyond the plan: ", v$workload, ", ", v$arm),
  event_proof = "picture kept: {file}", `event_sensors added` = "sensors added",
  `event_plan changed` = "the plan was changed (version {version})"
)

# "arm: A -> B, block: 1 -> 2"
place_words <- function(v) {
  said <- v[intersect(c("arm", "workload", "block"), names(v))]
  was <- v$was[names(said)]
  was[lengths(was) == 0] <- NA
  paste0(names(said), ": ", said_or_none(empty_na(as.character(unlist(was)))), " -> ", said, collapse = ", ")
}

code_words <- c(words_of_events, words_of_files, words_of_passes, words_of_studies, words_of_verdicts, words_of_runs)

#' The texts of a code: what was seen, and what to do
#' @return Two texts, the second empty where there is nothing to do.
#' @noRd
words_of <- function(code, values) {
  texts <- code_words[[code]]
  if (is.null(texts)) texts <- unlist(lapply(registered("check"), function(check) check$words[code]), use.names = FALSE)
  if (is.null(texts)) texts <- code
  texts <- if (is.function(texts)) texts(values) else vapply(texts, fill_words, "", values = values, USE.NAMES = FALSE)
  c(texts, "")[1:2]
}

fill_words <- function(template, values) {
  marks <- unique(regmatches(template, gregexpr("[{][a-z_]+([|][^}]*)?[}]", template))[[1]])
  for (mark in marks) {
    name <- strsplit(gsub("[{}]", "", mark), "|", fixed = TRUE)[[1]]
    value <- values[[name[1]]]
    said <- if (length(name) > 1) do.call(count_of, as.list(c(value, name[-1]))) else show_value(value)
    template <- gsub(mark, said, template, fixed = TRUE)
  }
  template
}

show_step <- function(step) if (step == signif(step, 3)) format(step) else show_number(step)

show_value <- function(value) {
  if (is.character(value)) {
    return(some_of(value, 9))
  }
  whole <- is.numeric(value) && all(value == round(value), na.rm = TRUE) && all(abs(value) < 1e9, na.rm = TRUE)
  some_of(if (!is.numeric(value) || whole) as.character(value) else show_number(value))
}

#' @export
format.honestmargin_codes <- function(x, ...) {
  vapply(x, function(codes) {
    paste(vapply(codes, function(one) words_of(one$code, one$values)[1], ""), collapse = "; ")
  }, "")
}
