# Why a verdict is what it is, in words.

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
    "one pass per arm does not show the noise; run each three times or more, interleaved, or add --noise memory"
  ),
  one_pass = paste(
    "one pass of {arm} does not show its noise; run each three times or more, interleaved, or add --noise memory"
  ),
  one_group = paste(
    "one {unit} of {arm}: its passes are not repetitions of the setting; set each arm again in at least three",
    "{unit}s"
  ),
  one_shared_block = "{arm} and {baseline} share one block only; run both in at least three blocks",
  moderated = "{alone} by its own noise alone: that of the other cells decides (--own-noise)",
  few_signs = paste(
    "{have} for {family|comparison|comparisons} leave too much to chance: the interval is as wide as this",
    "metric swings by itself; more {more} narrow it"
  ),
  only_excluded = "with the excluded passes counted: {then}",
  one_stint = paste(
    "one stint per arm: setting and time are not separable; alternate at least twice (A B A B)"
  ),
  one_stint_one_way = paste(
    "one stint per arm, and the old state cannot come back: setting and time are not separable; only a workload that",
    "the setting cannot touch would separate them (anchor: true, run before and after)"
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
      "same order in every block: an order effect of ", show_noise(v), " would bring the interval to 0 (tipping point)"
    )
  },
  steady = "steadiness declared, straight drift taken out",
  not_in_both = "not measured both before and now",
  one_before = paste(
    "one study before and one now: whatever else changed in between would count; add an anchor to both (a workload",
    "that the change cannot touch), name two earlier studies or more, weigh studies of this machine of other days, so",
    "that the noise memory knows how far days lie apart, or declare that nothing else changed (--steady)"
  ),
  against_days = "weighed against how much {n} earlier studies differ among themselves",
  against_memory = paste(
    "weighed against how far {levels} of this machine lie apart, whatever was changed between them"
  ),
  against_anchor = "what the anchor moved by over the same time is taken out, as if both moved alike",
  against_anchor_memory = paste(
    "what the anchor moved by over the same time is taken out; how far both move apart by themselves is known from",
    "{levels} of this machine"
  ),
  steady_days = "declared: nothing but the change was different on the two days",
  stored_noise = "noise not measured here but taken from {source}",
  baseline_noise = "{arm} ran once: its noise is taken from the {n|pass|passes} of {baseline}, as declared",
  baseline_once = "{baseline} ran once too, so its repeats cannot stand for the noise; run it several times in between",
  baseline_apart = paste(
    "the passes of {baseline} do not lie around that of {arm}, so setting and time are not separable; run",
    "{baseline} before and after it"
  ),
  break_even = function(v) {
    paste0(
      "the gap exceeds the noise only if one pass varies by less than ", show_noise(v), " (break-even noise)"
    )
  },
  anchor = function(v) {
    paste0(
      "what the anchor ", v$workload, " showed over the same time (", show_exact(signif(v$moved, 2)),
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
      "both arms are limited to ", paste(unique(paste(show_number(v$fps), "fps")), collapse = " and "),
      ", which hides any difference"
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
      paste0(series_words(id), " ", show_exact(round(v$means[[id]])), " ", series_about(id)$unit)
    }, "")
    paste(
      c(means, if (length(v$missing)) paste("no sensor of", paste(series_words(v$missing), collapse = ", "))),
      collapse = ", "
    )
  }
)
