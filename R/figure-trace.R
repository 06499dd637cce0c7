# Frame times over time: the numbers, and which pass of an arm is shown.

trace_data <- function(x, workload = NULL, metric = NULL, context = NULL, ..., pass = NULL, slices = 600) {
  study <- traced_study(x, ...)
  shown <- if (is.null(pass)) {
    typical_passes(study, workload, context, "frames", "frame log")
  } else {
    named_passes(study, pass)
  }
  by <- attr(shown, "by")
  captures <- lapply(seq_len(nrow(shown)), function(i) study_capture(study, shown[i, ], c("frames", "marks")))
  shown <- with_a_trace(shown, vapply(captures, function(c) is.null(c$frames), NA), "frame log")
  captures <- Filter(function(c) !is.null(c$frames), captures)
  rows <- lapply(seq_along(captures), function(i) {
    thin <- thin_trace(captures[[i]]$frames$frame_time_ms, slices)
    cbind(shown[rep(i, nrow(thin)), ], thin, row.names = NULL)
  })
  drops <- lapply(seq_along(captures), function(i) {
    found <- deep_drops(captures[[i]]$frames$frame_time_ms)
    cbind(shown[rep(i, nrow(found)), ], found, row.names = NULL)
  })
  structure(stack_rows(rows),
    labels = plan_labels(study$plan), segments = segment_starts(shown, captures), drops = stack_rows(drops),
    loads = odd_starts(study, shown), by = by
  )
}

# how long each begins unlike its rest, where a check saw that
odd_starts <- function(study, shown) {
  found <- if (is_study(study)) study$findings[study$findings$code == "loads", , drop = FALSE]
  at <- match(shown$pass, found$pass)
  seconds <- vapply(found$values[stats::na.omit(at)], function(v) as.numeric(v$seconds), 1)
  cbind(shown[!is.na(at), , drop = FALSE], seconds = seconds, row.names = NULL)
}

#' Passes by their ids, in the order in which they were named
#' @noRd
named_passes <- function(study, pass) {
  traced <- if (is_study(study)) study$passes[has_trace(study, study$passes, "frames"), , drop = FALSE]
  if (!NROW(traced)) abort_input("no frame logs to show", todo = "this needs a study whose passes have a frame log")
  unknown <- setdiff(pass, traced$pass)
  if (length(unknown)) {
    abort_input(paste0("no frame log of pass '", unknown[1], "'"), todo = did_you_mean(unknown[1], unique(traced$pass)))
  }
  traced[match(pass, traced$pass), c("workload", "context", "arm", "pass", "part")]
}

register("figure", "trace", rank = 3, data = trace_data, about = "frame times over time", of_passes = TRUE)

# the passes that have the deepest drops, one or two an arm, the deepest first
drops_data <- function(x, workload = NULL, metric = NULL, context = NULL, ..., slices = 600) {
  study <- traced_study(x, ...)
  drops <- moments_of_study(study)$drops
  if (NROW(drops)) drops <- drops[chosen_places(drops, workload, context), , drop = FALSE]
  if (!NROW(drops)) {
    abort_input("no pass has a deep drop to show", todo = "frame times over time are drawn by --of trace")
  }
  drops <- drops[!duplicated(drops$pass), , drop = FALSE]
  drops <- drops[stats::ave(seq_along(drops$arm), drops$arm, FUN = seq_along) <= 2, , drop = FALSE]
  trace_data(study, pass = utils::head(drops$pass, 4), slices = slices)
}

register("figure", "drops",
  rank = 3.5, data = drops_data, about = "the passes that have the deepest drops, over time", takes = character()
)

# one that was damaged or lost is left out; the findings say so
with_a_trace <- function(shown, gone, what) {
  if (all(gone)) {
    abort_input(
      paste0("no ", what, " can be read any more"),
      todo = "see the findings: honestmargin weigh STUDY"
    )
  }
  shown[!gone, , drop = FALSE]
}

#' The study behind what a figure is asked of
#' @noRd
traced_study <- function(x, ...) {
  if (inherits(x, "honestmargin_verdicts")) what_was_weighed(x) else x
}

# where segments begin, on the clock of the frames one after the other
segment_starts <- function(shown, captures) {
  stack_rows(lapply(seq_along(captures), function(i) {
    marks <- captures[[i]]$marks
    marks <- marks[marks$word == "segment" & nzchar(marks$value), , drop = FALSE]
    at <- time_among_frames(marks$time_s, captures[[i]]$frames)
    cbind(shown[rep(i, nrow(marks)), ], time_s = at, segment = marks$value, row.names = NULL)
  }))
}

time_among_frames <- function(time_s, frames) {
  n <- nrow(frames)
  if (n < 2 || !length(time_s)) {
    return(time_s)
  }
  x <- frames$frame_time_ms
  ends <- c(frames$start_s, frames$start_s[n] + x[n] / 1000)
  stats::approxfun(ends, c(0, cumsum(x)) / 1000, rule = 2, ties = "ordered")(time_s)
}

#' One pass per arm of a workload in one context, of those that have a trace of a kind
#' @noRd
typical_passes <- function(study, workload, context, kind, what) {
  if (!is_study(study) || !any(study$traces$kind == kind)) {
    abort_input(paste0("no ", what, "s to show"), todo = paste0("this needs a study whose passes have a ", what))
  }
  traced <- study$passes[has_trace(study, study$passes, kind), ]
  traced <- traced[traced$role == "counted" & traced$outcome == "ok", ]
  # arms are compared on one workload in one context: a mixture would show the contexts, not the arms
  for (column in c("workload", "context")) {
    wanted <- empty_to(list(workload = workload, context = context)[[column]], traced[[column]][1])[1]
    if (!wanted %in% traced[[column]]) {
      abort_input(
        paste0("no ", what, " of ", column, " '", wanted, "'"),
        todo = did_you_mean(wanted, unique(stats::na.omit(traced[[column]])))
      )
    }
    traced <- traced[traced[[column]] %in% wanted, ]
  }
  arms <- intersect(arm_order(traced$arm, plan_arms(study$plan)), traced$arm)
  # by its rate, or else by the first number that is judged
  rows <- study$readings[is.na(study$readings$segment) & !is.na(study$readings$value), ]
  rows <- rows[pass_key(rows) %in% pass_key(traced), ]
  by <- intersect(c("fps_avg", plan_primary(study$plan)), rows$metric)[1]
  rows <- rows[rows$metric %in% by, ]
  value <- rows$value[match(pass_key(traced), pass_key(rows))]
  at <- vapply(arms, function(arm) typical_pass(value, which(traced$arm == arm)), 1L)
  structure(traced[at, c("workload", "context", "arm", "pass", "part")], by = by)
}

# the pass in the middle of its arm: neither its best nor its worst
typical_pass <- function(value, among) {
  value <- value[among]
  if (all(is.na(value))) {
    return(among[1])
  }
  among[order(value)][(sum(!is.na(value)) + 1) %/% 2]
}
