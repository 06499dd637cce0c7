# Weighing: from readings, or from a study with its plan, to verdicts.

#' Weigh arms against a baseline
#'
#' Answers for every workload and metric whether an arm differs from the
#' baseline by more than the passes differ among themselves. The design is
#' recognised from the passes (blocks, one session, boots, one stint per arm, one
#' reading each), the pass or the boot is the unit, and the intervals hold for
#' the whole family of primary comparisons (Sidak).
#'
#' @param x A readings table (see [read_readings()]; a plain data frame with
#'   `arm` and `value` will do), or a study from [read_study()].
#' @param baseline The arm that the others are compared with. A study's plan
#'   names it; otherwise it must be given.
#' @param worth Smallest change worth having: one number, or named by metric
#'   (`c(fps_avg = 2, low1_mean = 5)`); in percent, or in the metric's unit for
#'   metrics told as differences. One number alone is for the metrics told in
#'   percent. `NULL`: the plan's, or none.
#' @param ... Not used.
#' @param primary Metrics whose comparisons form the family; the others are
#'   exploratory. `NULL`: the plan's, or all.
#' @param confidence Confidence over the family, default the plan's or 0.95.
#' @param steady `TRUE` when you declare that nothing but the setting changed
#'   over the session; lets one stint per arm be weighed, with a straight drift
#'   taken out. It is told in `reason`.
#' @param noise Noise known from the same machine: a data frame with `workload`,
#'   `metric`, `noise` (standard deviation of one pass, in percent or the
#'   metric's unit), `df`, `source`; or `"baseline"`, which declares that the repeats of the baseline,
#'   run before and after, stand for the noise of arms that ran once (prediction interval); or `"memory"`, what
#'   earlier studies on the same machine left (see [noise_memory()]). Used where an arm has one pass.
#' @param with_excluded `TRUE` weighs excluded passes as if they counted.
#' @param no_limiter `TRUE` when you know that no limiter held the passes.
#' @param setting_limits `TRUE` when the setting is itself a limiter (a cap, a sync to the display): what it holds back
#'   is its effect and is weighed as it is. A plan says so by `setting: {limits: true}`.
#' @param against What each arm is compared with: the `"baseline"`, `"all"` others, those that differ from it in
#'   exactly one of the plan's `"attributes"`, or the arm `"previous"` to it (and the last with the first; the order is
#'   the plan's, that of numbers, or the one in which a table names them throughout). Several arms: these steps, in this
#'   order. However many there are, they form one family.
#' @param own_noise `TRUE` to judge each comparison by the noise of its own cell alone. Otherwise, where three arms or
#'   more ran in complete blocks in eight cells or more (workloads and primary metrics; two arms: fifteen), the variance
#'   of each comparison is moderated by that of the other cells (Smyth 2004); so it is of boots of one arm each, over
#'   fifteen cells. Where `noise` knows every cell, each is taken relative to that, which must only be right up to a
#'   factor that they share. A study that was sealed before this method was known is judged without it.
#' @param looks `TRUE` where somebody looked before all passes had run, and went on because of what was seen: the
#'   intervals then hold however often one looks (see Details). A study that was extended, or run until settled, is
#'   weighed so whether or not it is said.
#' @details With `looks`, each value that the change might have is tested by an e-value (Lai 1976; Wang and
#'   Ramdas 2023), with the within-block differences, or in a session the differences of k-th and k-th pass. The
#'   interval holds those values that none of the looks, however many, could rule out at the confidence of the
#'   family (Bonferroni). Outcomes spend `1 / (n (n + 1))` of their level at n passes. Such intervals are wider.
#' @return A data frame of class `honestmargin_verdicts`, one row per workload, segment,
#'   context, metric and arm other than the baseline. Columns: `workload`, `segment`,
#'   `context`, `metric`, `unit`, `better`, `arm`, `baseline`, `n_arm`,
#'   `n_baseline` (passes), `baseline_value`, `arm_value` (geometric means on the
#'   percent scale, else means), `scale`, `change`, `lower`, `upper`,
#'   `confidence`, `differs`, `verdict`, `reason`, `worth`, `ruled_out`, `noise`
#'   (standard deviation of one unit within an arm), `detectable` (found with
#'   80 % power), `more_passes` (units per arm of a fresh batch, weighed
#'   alone, that would give an answer four times in five if the estimate is true; with `looks`, further units),
#'   `p_value`, `p_adjusted`, `unit_of_replication`, `family_size`, `role`, `codes` (why, as a list of codes with their
#'   values; `reason` is made of it). Changes are arm against baseline, never flipped. What is
#'   cut out of it (`[`, `subset()`) still knows its [findings()], units and names.
#' @section Errors: `honestmargin_error_needed` when no baseline is known,
#'   `honestmargin_error_input` for an unknown baseline or metric.
#' @references Smyth (2004), Statistical Applications in Genetics and Molecular Biology 3, article 3;
#'   Welch (1947), Biometrika 34, 28-35; Satterthwaite (1946),
#'   Biometrics Bulletin 2, 110-114; Sidak (1967), Journal of the American
#'   Statistical Association 62, 626-633.
#' @export
#' @examples
#' passes <- data.frame(
#'   arm = rep(c("off", "on"), 5), block = rep(1:5, each = 2),
#'   value = c(100, 104, 101, 105, 99, 104, 100, 103, 102, 106)
#' )
#' weigh(passes, baseline = "off", worth = 2)
weigh <- function(x, baseline = NULL, worth = NULL, ..., primary = NULL, confidence = NULL,
                  steady = FALSE, noise = NULL, with_excluded = FALSE, no_limiter = FALSE, looks = FALSE,
                  against = "baseline", setting_limits = FALSE, own_noise = FALSE) {
  assert_no_dots(...)
  if (!is.list(x)) {
    abort_input(
      "weigh() takes a readings table or a study",
      todo = "read the file first: weigh(read_readings(path)) or weigh(read_study(path))"
    )
  }
  checkmate::assert_flag(steady)
  assert_compares(x)
  if (is_study(x) && is_together(x$plan)) {
    abort_input(
      "every pass of this study changes several options at once, so no arm alone is compared", x$folder,
      paste("see what each option does: honestmargin screen", x$folder)
    )
  }
  if (is.character(noise)) checkmate::assert_choice(noise, c("baseline", "memory"))
  if (identical(noise, "memory")) noise <- if (is_study(x)) remembered_noise(x) else noise_here()
  checkmate::assert_flag(with_excluded)
  checkmate::assert_flag(no_limiter)
  checkmate::assert_flag(setting_limits)
  checkmate::assert_flag(own_noise)
  checkmate::assert_flag(looks)
  if (length(against) > 1) {
    checkmate::assert_character(against, any.missing = FALSE, unique = TRUE)
  } else {
    checkmate::assert_choice(against, against_words)
  }
  how <- fill_carried(x, list(
    baseline = baseline, worth = worth, primary = primary, confidence = confidence, steady = steady, noise = noise,
    with_excluded = with_excluded, no_limiter = no_limiter, looks = looks, against = against,
    setting_limits = setting_limits, own_noise = own_noise
  ))
  structure(weigh_as_asked(x, how), how = how)
}

# what arms may be compared with
against_words <- c("baseline", "all", "attributes", "previous")

#' @param how The arguments of [weigh()] after the first.
#' @noRd
weigh_as_asked <- function(x, how) {
  asked <- how[c("baseline", "worth", "primary", "confidence")]
  declared <- how[c("steady", "noise", "no_limiter", "against", "setting_limits", "own_noise")]
  declared$looks <- how$looks || (is_study(x) && looked_at(x))
  with_excluded <- how$with_excluded
  sealed <- if (is_study(x)) x$sealed
  if (is.null(sealed)) {
    return(weigh_once(x, if (is_study(x)) x$plan, asked, declared, with_excluded))
  }
  verdicts <- weigh_once(x, x$plan, list(), declared)
  if (isTRUE(sealed$method < judging_method)) verdicts <- with_newer_method(verdicts, x, declared)
  otherwise <- after_the_seal(x, asked, with_excluded)
  if (nrow(otherwise)) {
    plan <- empty_to(sealed$now, x$plan)
    later <- weigh_once(x, plan, asked, declared, with_excluded)
    later$codes <- new_codes(lapply(later$codes, function(row) c(row, list(new_code("after_the_fact")))))
    attr(verdicts, "otherwise") <- list(changes = otherwise, verdicts = later)
  }
  verdicts
}

# beside what was sealed, what the newer method would say
with_newer_method <- function(verdicts, x, declared) {
  x$sealed$method <- judging_method
  newer <- weigh_once(x, x$plan, list(), declared)
  if (is.null(attr(newer, "moderated"))) {
    return(verdicts)
  }
  other <- which(newer$verdict != verdicts$verdict)
  then <- paste0(
    place_names(newer)[other], " ", newer$metric[other], " ", newer$arm[other], ": ", newer$verdict[other],
    recycle0 = TRUE
  )
  found <- new_finding("note", "older_method", then = then)
  attr(verdicts, "findings") <- bind_findings(attr(verdicts, "findings"), found)
  verdicts
}

#' @param plan The plan, or `NULL` for a table of readings.
#' @param asked A list of what was asked for otherwise than planned: `baseline`, `worth`, `primary`, `confidence`.
#' @param declared A list: `steady`, `noise`, `no_limiter`, `setting_limits`, `own_noise`, `looks`, `against`,
#'   `most_units` where
#'   there is such a limit.
#' @noRd
weigh_once <- function(x, plan, asked, declared, with_excluded = FALSE) {
  given <- if (is_study(x)) x else readings_of(x, asked$primary, asked$baseline)
  x <- if (with_excluded) counting_excluded(given) else given
  readings <- readings_of(x)
  spec <- contrast_spec(x, plan, readings, asked, declared)
  readings <- rescale_nonpositive(readings)
  passes <- passes_of(x)
  assert_judged(spec$primary, readings)
  cells <- weigh_all(readings, passes, spec)
  if (is.null(cells$verdicts)) {
    abort_input("no two arms ran in the same context", todo = "a comparison needs the baseline and another arm there")
  }
  excluded <- if (!with_excluded) with_exclusions(readings, passes, cells$verdicts, spec)
  judged <- judged_rows(readings, cells$verdicts)
  new_verdicts(
    empty_to(excluded$verdicts, cells$verdicts),
    bind_findings(
      cells$findings,
      if (with_excluded) counted_findings(given) else excluded$findings,
      if (!is.null(plan)) run_checks("verdicts", cells$verdicts, plan),
      if (is_study(x)) x$findings else table_findings(judged),
      total_findings(judged, cells$verdicts),
      if (!is_study(x)) typed_attributes(arms_described(given), spec$baseline),
      attr(readings, "findings"),
      if (spec$looks && !(is_study(x) && looked_at(x))) new_finding("note", "looks")
    ),
    labels = plan_labels(plan), of = given, looks = spec$looks, moderated = cells$moderated
  )
}

#' Readings and outcomes, of one family
#' @noRd
weigh_all <- function(readings, passes, spec, endings = outcome_cells(passes, readings, spec)) {
  if (is.null(endings)) {
    return(weigh_cells(readings, spec))
  }
  compared <- compared_arms(
    passes[tried(passes), , drop = FALSE], split(endings, seq_len(nrow(endings))), spec
  )
  primary <- endings$role == "primary"
  spec$beyond <- count_contrasts(compared[primary])
  # where outcomes stand for a place that gave no number, there is nothing else to weigh
  silent <- paste(endings$workload, endings$context)[primary & endings$metric == "failed"]
  valued <- paste(readings$workload, readings$context)
  valued <- valued %in% valued[!is.na(readings$value)] | !valued %in% silent
  cells <- weigh_cells(readings[valued, , drop = FALSE], spec)
  ended <- weigh_outcomes(passes, endings, compared, spec, cells$family)
  cells$verdicts <- stack_verdicts(cells$verdicts, ended)
  if (is.null(cells$verdicts)) {
    return(cells)
  }
  cells$verdicts <- add_failures_elsewhere(cells$verdicts, count_outcomes(passes, if (spec$planned) spec$arms))
  cells
}

# what a study is checked for when it is read
table_findings <- function(rows) {
  amounts <- amounts(rows)
  bind_findings(odd_passes(amounts), unequal_arms(amounts), equal_tops(rows))
}

# the counted readings behind the primary verdicts
judged_rows <- function(readings, verdicts) {
  judged <- verdicts[verdicts$role == "primary", , drop = FALSE]
  rows <- plain_table(readings)
  rows[is_counted(rows) & cell_key(rows) %in% cell_key(judged), , drop = FALSE]
}

# passes that were excluded, and count here because somebody asked for it
counted_findings <- function(given) {
  passes <- passes_of(given)
  pass <- unique(passes$pass[passes$role == "excluded"])
  if (length(pass)) new_finding("note", "excluded_counted", passes = pass)
}

# what the excluded passes would have said, where there are any: the verdicts carry it
with_exclusions <- function(readings, passes, verdicts, spec) {
  if (!any(passes$role == "excluded")) {
    return(list(verdicts = verdicts, findings = NULL))
  }
  primary <- which(verdicts$role == "primary")
  readings <- counting_excluded(readings)
  passes <- counting_excluded(passes)
  endings <- outcome_cells(passes, readings, spec)
  judged <- readings$metric %in% verdicts$metric[primary]
  with <- weigh_all(readings[judged, , drop = FALSE], passes, spec, endings)$verdicts
  key <- function(v) paste(cell_key(v), v$arm, v$baseline, sep = "\r")
  now <- with$verdict[match(key(verdicts), key(with))]
  moved <- primary[which((now != verdicts$verdict)[primary])]
  codes <- unclass(verdicts$codes)
  codes[moved] <- Map(function(row, then) c(row, list(new_code("only_excluded", then = then))), codes[moved],
    now[moved])
  verdicts$codes <- new_codes(codes)
  list(verdicts = verdicts, findings = new_finding("note", "with_excluded", changes = if (length(moved)) {
    told <- verdicts[moved, ]
    paste0(told$workload, " ", told$metric, " ", told$arm, ": ", now[moved], " (now ", told$verdict, ")")
  }))
}

#' Was a study looked at before its passes were done, and gone on with?
#'
#' Passes beyond the plan may have been added because of what was seen; nothing tells that they were not.
#' @noRd
looked_at <- function(study) any(study$findings$code %in% c("extended", "looked", "extra_passes"))

no_segments <- function() data.frame(workload = character(), segment = character())

#' Verdicts as they are, or weighed from a study or a table of readings
#'
#' For all that tells of verdicts: a study is weighed once and handed on.
#' @param ... For [weigh()], where `x` is not weighed yet.
#' @noRd
weighed <- function(x, ...) {
  if (!inherits(x, "honestmargin_verdicts")) {
    return(weigh(x, ...))
  }
  if (...length()) abort_usage("this is weighed already", todo = "say it to weigh(), or give the study")
  x
}

# Logarithms need positive values. A rate of 0 is no measurement; a metric of
# the tester's own is then told as a difference, and that is said.
rescale_nonpositive <- function(readings) {
  low <- is_counted(readings) & readings$scale == "percent" & readings$value <= 0
  for (id in unique(readings$metric[low])) {
    at <- which(low & readings$metric == id)[1]
    known <- c(known_frame_metrics(), list(score = score_metric()))[[id]]
    if (!is.null(known) && !known$zero) {
      abort_input(
        paste0(
          "'", id, "' is ", readings$value[at], " in pass ", readings$pass[at],
          "; a change in percent needs one above 0"
        ),
        todo = "record what happened to that pass in the column outcome, or exclude it with a reason"
      )
    }
    readings$scale[readings$metric == id] <- "absolute"
    attr(readings, "findings") <- bind_findings(
      attr(readings, "findings"), new_finding("warning", "scale", metric = id)
    )
  }
  readings
}
