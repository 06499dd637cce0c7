# What checks saw in a study or a plan, in words.

shuffle <- "shuffle or mirror the order within blocks"

words_of_studies <- list(
  ceiling = function(v) {
    c(
      paste0(
        held_words(v$arms, v$fps), " (", v$held, " of ", v$of,
        " passes): average and median are not comparable, lows are"
      ),
      paste(
        "lift the limiter or the display's limit, or take a heavier scene, and run again; where the setting itself is",
        "the limiter, weigh it with --setting-limits, or put limits: true into the plan"
      )
    )
  },
  artefacts = c(
    "{n} of {of|pass|passes} of {arm} showed artefacts; their values count",
    "an arm that shows artefacts does not hold: exclude them with a reason, or judge the outcomes"
  ),
  tail = function(v) {
    c(
      paste0(
        "only about ", list_words(paste(vapply(v$frames, count_of, "", one = "frame"), "behind",
          v$metrics)), " in a pass; fewer than 10 make it jump between passes"
      ),
      "run longer passes, or judge by a metric that rests on more frames"
    )
  },
  firm_trimmed = "the first {seconds} s of each pass of {workload} trimmed",
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
  unplanned_arm = c("arm {arms} is not in the plan", "add it to the plan, or fix passes.csv"),
  unplanned_workload = c("workload {workloads} is not in the plan", "add it to the plan, or fix passes.csv"),
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
  unusual_level = function(v) {
    c(
      paste0(
        "'", v$metric_said, "' of ", v$arm_said, " is ", show_value(v$now), ", ", show_change(v$away, v$scale, v$unit),
        " from what it usually is on this machine (", show_value(v$usual), " over ",
        v$days, " days)"
      ),
      "what else is not as it was? All arms may be held back by it"
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
    "looked at after every block ({looks|look} so far): the intervals are valid at any look"
  ),
  looks = "results were seen early: the intervals are valid at any look",
  untouched = function(v) {
    still <- show_number(100 * max(v$possible), 2)
    paste0("none in any pass of either arm; up to ", still, " % of passes may still have some")
  },
  rare_unseen = function(v) {
    paste0("a loss in fewer than ", show_number(v$share, 2), " % of passes could be missed (95 %)")
  },
  order_not_known = function(v) {
    paste0(
      "run order unknown: an order effect of ", show_noise(v), " would bring the interval to 0 (tipping point)"
    )
  },
  too_few_mirrored = paste(
    "there and back, the arms in the middle never run first: three blocks or more tell what being first does;",
    "take order: balanced"
  ),
  looks_begin = "with looks after every {unit}, nothing can be settled before number {n} of them; there are {have}",
  firm_counted = "excluded pass {pass} counted",
  firm_left_out = "flagged pass {pass} left out",
  firm_first_block = "the first block left out",
  firm_no_blocks = "the blocks not used", firm_own_noise = "each comparison with its own noise alone",
  older_method = function(v) {
    paste0(
      "this study was sealed before comparisons were steadied by the noise of other cells, and is judged as it was ",
      "sealed; by the newer method ", if (length(v$then)) some_of(v$then, 4) else "every verdict is the same"
    )
  },
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
      "the verdicts are those of the sealed plan; those of the changed plan are marked as after the fact"
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
        paste0("one primary metric (", amount(v$one_metric), ")")
      },
      if (is.finite(v$two_arms)) paste0("two arms (", amount(v$two_arms), ")"),
      paste0("noise under ", amount(v$noise))
    )
    c(
      paste0(
        v$id, ": ", count_of(v$blocks, "block"), if (v$blocks == 1) " finds " else " find ", amount(v$detectable),
        "; the worth is ", amount(v$worth)
      ),
      paste0(
        "plan ", paste(c(if (is.finite(v$needed)) count_of(v$needed, "block"), instead), collapse = ", or ")
      )
    )
  },
  few_blocks = c("{blocks|block} can hardly tell the noise", "plan at least three, better five"),
  one_way = c(
    "the old state cannot come back, so setting and time are not separable",
    "add a workload that the setting cannot touch, with anchor: true"
  ),
  one_way_anchored = c(
    "the old state cannot come back, so setting and time are not separable",
    "what the anchor workload shows over the same time is taken out"
  ),
  planned_fixed = c(
    "a fixed order lets warming and practice fall on the later arms", "take order: shuffled or mirrored"
  ),
  back_off_between = c(
    "back_off {back} lies between two values: after a failure the search steps back by {taken}",
    "put the value itself on the ladder where it shall be tried: values, or --add"
  ),
  no_placeholder = function(v) {
    c(
      paste0(v$place, ": nothing is called {", v$name, "}, so it goes to the command as it stands"),
      paste0("the values of a pass are ", paste0("{", command_names, "}", collapse = ", "), " and the settings of arms")
    )
  },
  cannot_start = c(
    "{place}: '{word}' cannot be started here", "check its name and where it lies; paths count from the study folder"
  ),
  planned_mirrored = c(
    "there and back, the arms in the middle never run first in a block, where passes are often slower",
    "take order: balanced or shuffled"
  ),
  boot_is_unit = c(
    "passes of one boot are not repetitions of the setting: the boot is the unit",
    "more blocks tell more than more passes per boot"
  ),
  attributes = function(v) attribute_words(v),
  arms_differ = "beside their names the arms differ in {attributes}",
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
      paste(arms[at], collapse = ", "), " limited to about ", show_number(mean(fps[at])), " fps",
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
      paste(v$attributes, collapse = " and "), " change together: their effects are not separable",
      if (length(v$touched)) paste0("; this touches the verdict on ", some_of(v$touched))
    ),
    paste0(
      if (length(v$pairs)) paste0("these differ in one thing only: ", some_of(v$pairs, 6), "; beyond them "),
      "an arm, where one can be had, with ", paste(v$extra, collapse = "; and one with "), " would tell them apart"
    )
  )
}
