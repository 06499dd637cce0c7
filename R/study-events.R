# Rare events of a study: deep drops in some passes of some arms.

#' In how many passes an event came, and how often
#'
#' A drop in one pass of four is no average: it is counted, and never removed as an outlier.
#'
#' @param x A study, a readings table, or what [weigh()] returned.
#' @param ... Not used.
#' @param metric A metric that counts events in a pass, `deep_drops` by default.
#' @param by Name of an attribute of the arms: passes of all arms that share its value are pooled. `NULL`: by arm.
#' @return A data frame, one row per workload, context and arm (or value of the attribute, in `group`): `passes`, `with`
#'   (passes with an event), `with_lower`, `with_upper` (what share may have one, in percent, at 95 %; one-sided
#'   where none or all had), `events`, `minutes`, `per_minute`, `per_minute_lower`, `per_minute_upper`; by arm also
#'   `difference`, `difference_lower`, `difference_upper` (of the share of passes with an event against the plan's
#'   baseline, in percent points, each at 95 % on its own). Counted passes only; `NULL` where nothing counts this
#'   metric.
#' @section Errors: `honestmargin_error_input` for an attribute that no arm has.
#' @export
#' @examples
#' event_table(read_study(demo_study()))
event_table <- function(x, ..., metric = "deep_drops", by = NULL) {
  assert_no_dots(...)
  x <- what_was_weighed(x)
  all <- plain_table(readings_of(x))
  rows <- all[is_counted(all) & all$metric == metric & is.na(all$segment), , drop = FALSE]
  if (!nrow(rows)) {
    return(NULL)
  }
  # the time of the frames that count, where they tell it
  long <- all[all$metric == "seconds" & is.na(all$segment), , drop = FALSE]
  framed <- long$value[match(pass_key(rows), pass_key(long))]
  rows$seconds <- ifelse(is.na(framed), rows$seconds, framed)
  rows$group <- if (is.null(by)) rows$arm else attribute_of(x, by)[rows$arm]
  rows <- rows[!is.na(rows$group), , drop = FALSE]
  planned <- if (is_study(x)) plan_arms(x$plan)
  if (is.null(by)) rows <- rows[order(match(rows$arm, arm_order(rows$arm, planned))), , drop = FALSE]
  out <- count_events(rows)
  if (is.null(by) && is_study(x)) with_difference(out, x$plan$setting$baseline) else out
}

with_difference <- function(table, baseline) {
  base <- table[table$group == baseline, , drop = FALSE]
  at <- match(paste(table$workload, table$context), paste(base$workload, base$context))
  at[table$group == baseline] <- NA
  limits <- share_difference(table$with, table$passes, base$with[at], base$passes[at], 0.05)
  table$difference <- 100 * (table$with / table$passes - base$with[at] / base$passes[at])
  table[c("difference_lower", "difference_upper")] <- lapply(limits, function(v) 100 * v)
  table
}

attribute_of <- function(x, by) {
  described <- arms_described(x)
  arms <- described$arms
  known <- unique(unlist(lapply(arms, function(a) names(a$attributes))))
  if (!by %in% known) {
    abort_input(
      paste0("no arm has the attribute '", by, "'"),
      todo = if (length(known)) {
        did_you_mean(by, known)
      } else {
        "attributes stand with the arms in the plan, or in columns of a table (--columns attribute=HEADING)"
      }
    )
  }
  value <- lapply(arms, function(a) empty_to(a$attributes[[by]], NA))
  stats::setNames(vapply(value, function(v) as.character(v)[1], ""), plan_arms(described))
}

#' Events that go with an attribute, arms pooled over it
#'
#' Exploratory: every attribute is looked at, so one in twenty would be found by chance.
#' @return Data frame: `attribute` and the columns of [event_table()], of attributes whose values differ (exact test,
#'   p below 0.05, in that workload and context).
#' @references Fisher (1935), Journal of the Royal Statistical Society 98, 39-82.
#' @noRd
events_by_attribute <- function(x, metric = "deep_drops") {
  x <- what_was_weighed(x)
  names <- if (is_study(x)) unique(unlist(lapply(x$plan$arms, function(a) names(a$attributes))))
  stack_rows(lapply(names, function(by) {
    table <- event_table(x, metric = metric, by = by)
    if (is.null(table)) {
      return(NULL)
    }
    place <- paste(table$workload, table$context, sep = "\r")
    stack_rows(lapply(split(table, factor(place, unique(place))), function(t) {
      if (nrow(t) > 1 && any(t$with > 0) && any(t$with < t$passes)) {
        p <- stats::fisher.test(rbind(t$with, t$passes - t$with))$p.value
        if (p < 0.05) cbind(attribute = by, p_value = p, t)
      }
    }))
  }))
}

#' Each deep drop of each pass, and the parts of passes that sit at half the rate of the rest
#' @return A list of data frames: `drops` (`workload`, `context`, `arm`, `pass`, `start_s`, `seconds`, `rate`, `usual`
#'   (frames per second), `slowest_ms`, the deepest first) and `stretches` (from `half_rate_stretches()`).
#' @noRd
moments_of_study <- function(study) {
  if (!is_study(study)) {
    return(NULL)
  }
  passes <- study$passes[ran_well(study$passes), , drop = FALSE]
  passes <- passes[has_trace(study, passes, "frames"), , drop = FALSE]
  each <- lapply(seq_len(nrow(passes)), function(i) {
    frames <- study_capture(study, passes[i, ], c("frames", "marks"))$frames$frame_time_ms
    if (length(frames) < 2) {
      return(NULL)
    }
    about <- function(n) passes[rep(i, n), c("workload", "context", "arm", "pass"), drop = FALSE]
    drops <- deep_drops(frames)
    stretches <- half_rate_stretches(frames)
    rate <- drops$frames / drops$seconds
    list(
      drops = cbind(about(nrow(drops)), drops[c("start_s", "seconds")],
        rate = rate, usual = rate * drops$depth, slowest_ms = drops$slowest_ms, row.names = NULL
      ),
      stretches = cbind(about(nrow(stretches)), stretches, row.names = NULL)
    )
  })
  drops <- stack_rows(lapply(each, `[[`, "drops"))
  if (NROW(drops)) drops <- drops[order(drops$rate / drops$usual), , drop = FALSE]
  list(drops = drops, stretches = stack_rows(lapply(each, `[[`, "stretches")))
}
