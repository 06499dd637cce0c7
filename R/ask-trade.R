# The question: what does an arm give up, and what does it bring? A cap, a power limit, a sync: frames against heat,
# watts and failures.

#' What each arm gives up and what it brings
#'
#' All that was measured, in one table: the primary metrics, the sensors (temperature, power, fan) and how passes ended.
#' Where the setting is itself a limiter, say so (`setting_limits`), or what it holds back is taken for hidden.
#' @param x A study, readings, or what [weigh()] returned.
#' @param ... Passed to [weigh()] where `x` is not weighed yet.
#' @return An answer ([ask_study()]), a data frame, one row per comparison that is a gain or a loss, and one for the
#'   failures of each arm: `workload`, `segment`, `context`, `arm`, `baseline`, `side` (`gives up`, `brings`, `not
#'   clear`), `metric`, `unit`, `scale`, `role`, `baseline_value`, `arm_value`, `change`, `lower`, `upper`, `verdict`.
#' @section Errors: As [weigh()].
#' @export
#' @examples
#' weigh_trade(read_study(demo_study()))
weigh_trade <- function(x, ...) {
  verdicts <- weighed(x, ...)
  rows <- plain_table(verdicts)
  side <- ifelse(is_won(rows$verdict), "brings", ifelse(is_lost(rows$verdict), "gives up", NA))
  failures <- rows$metric == "failed" & (rows$arm_value > 0 | rows$baseline_value > 0) %in% TRUE
  side[failures & is.na(side)] <- "not clear"
  side[never_held(rows)] <- "gives up"
  # of each sensor its mean stands for it
  parts <- grepl("_(max|min|p95)$", rows$metric) & rows$metric %in% names(known_sensor_metrics())
  side[rows$role != "primary" & parts] <- NA
  found <- rows[!is.na(side), c(
    "workload", "segment", "context", "arm", "baseline", "metric", "unit", "scale", "role", "baseline_value",
    "arm_value", "change", "lower", "upper", "verdict"
  )]
  found$side <- side[!is.na(side)]
  blocked <- unique(rows$arm[rows$verdict == "blocked" & rows$role == "primary"])
  new_answer("trade", found, what_was_weighed(verdicts),
    rows = rows[!is.na(side), , drop = FALSE], arms = unique(rows$arm), blocked = blocked, failed = failed_arms(x),
    place = unique(place_names(rows)), confidence = verdicts$confidence[1]
  )
}

trade_words <- function(x) {
  labels <- labels_of(x)
  rows <- attr(x, "rows")
  rows$side <- x$side
  said <- unlist(lapply(attr(x, "arms"), function(arm) {
    mine <- rows[rows$arm == arm, , drop = FALSE]
    of <- function(side) {
      here <- mine[mine$side == side, , drop = FALSE]
      if (!nrow(here)) {
        return(NULL)
      }
      # what is judged comes first, then the largest
      here <- here[order(here$role != "primary", -abs(here$change)), , drop = FALSE]
      each <- paste0(
        ifelse(length(attr(x, "place")) > 1, paste0(place_names(here), " "), ""),
        short_labels(here$metric, labels), " ", trade_amount(here)
      )
      paste0(" ", side, if (side == "not clear") ": " else " ", some_of(each, 5))
    }
    parts <- c(of("gives up"), of("brings"), of("not clear"))
    paste0(
      arm_names(arm, labels), if (length(parts)) paste(parts, collapse = ";") else " changes nothing that is shown", "."
    )
  }))
  blocked <- attr(x, "blocked")
  c(said, if (length(blocked)) {
    paste0(
      "A limiter hides what ", arm_list(blocked, labels), " changes. Where the setting is itself the limiter, what it ",
      "holds back is its effect: --setting-limits."
    )
  })
}

trade_amount <- function(rows) {
  ifelse(rows$metric == "failed", paste0(
    show_exact(signif(rows$baseline_value, 3)), " -> ", show_exact(signif(rows$arm_value, 3)), " %"
  ), ifelse(is.na(rows$change), rows$verdict, shown_change(rows)))
}

trade_shown <- function(x) {
  labels <- labels_of(x)
  rows <- attr(x, "rows")
  if (!nrow(rows)) {
    return(shown_table(NULL))
  }
  rows$side <- x$side
  rows <- rows[order(match(rows$arm, attr(x, "arms")), match(rows$side, c("gives up", "brings", "not clear")),
    rows$role != "primary"
  ), , drop = FALSE]
  out <- data.frame(
    arm = arm_names(rows$arm, labels), side = rows$side, workload = place_names(rows),
    metric = metric_labels(rows$metric, labels),
    value = ifelse(is.na(rows$arm_value), "", paste(
      four_digits(rows$baseline_value), "->", four_digits(rows$arm_value)
    )),
    change = shown_change(rows), interval = shown_interval(rows),
    by = ifelse(rows$role == "primary", "judged", "beside")
  )
  if (length(attr(x, "place")) == 1) out$workload <- NULL
  shown_table(out, "change", whole = "interval", group = c("arm", "side"))
}

register("question", "trade",
  rank = 3.5, title = "Given up and gained",
  about = "what each arm gives up, and what it brings: frames, heat, watts, failures",
  answer = weigh_trade, takes = "weighing", lines = trade_words, line = function(x) trade_words(x)[1],
  tables = function(x) list(trade_shown(x)),
  footing = function(x) {
    paste0(
      "judged: intervals of all of them hold together at ", show_share(attr(x, "confidence")),
      ". beside: each by itself, so that of twenty one is shown by chance."
    )
  }
)
