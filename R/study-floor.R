# The first arm that is good enough everywhere.

#' Which arms stay above a floor, and which is the first of them
#'
#' For each arm and workload: does the mean pass stay above the floor (below it, for a metric of which less is better),
#' and, where asked, the next single pass. All intervals of one call hold together (Sidak over arms, workloads and
#' metrics). The choice is the first arm, in the order of preference, that stays there in every workload and never
#' failed.
#'
#' @param x A study or readings.
#' @param floor Named numeric: the level by metric, in the metric's unit.
#' @param ... Not used.
#' @param next_pass `TRUE`: the next single pass must stay there too, not the mean alone.
#' @param prefer Order of preference: `NULL`: as the arms are listed; an attribute of the arms that is a number
#'   (`"price"`: the smallest first), or the arms themselves, the preferred first.
#' @param confidence Over all intervals; `NULL`: the plan's, else 0.95.
#' @return An object of class `honestmargin_floors`, a data frame, one row per workload (segment, context), metric and
#'   arm: `passes`, `value` (mean), `lower`, `upper`, `next_lower`, `next_upper`, `floor`, `stays` (`yes`, `no`,
#'   `unclear`), `next_stays`, `failed` (passes of that arm that did not hold), `more_passes` (of a fresh batch that
#'   would tell, if the estimates are right). Attributes: `choice` (the arm, `NA` where none is known to stay),
#'   `decides` (the row of the choice that is nearest to its floor), `order` (arms as preferred).
#' @section Errors: `honestmargin_error_input` for a metric that nobody measured or an unknown attribute.
#' @references Sidak (1967), Journal of the American Statistical Association 62, 626-633; Hahn and Meeker (1991),
#'   Statistical Intervals.
#' @export
#' @examples
#' weigh_floors(read_study(demo_study()), c(low1_quantile = 60))
weigh_floors <- function(x, floor, ..., next_pass = FALSE, prefer = NULL, confidence = NULL) {
  assert_no_dots(...)
  checkmate::assert_numeric(floor, finite = TRUE, any.missing = FALSE, min.len = 1, names = "unique")
  checkmate::assert_flag(next_pass)
  readings <- readings_of(x)
  plan <- if (is_study(x)) x$plan
  confidence <- empty_to(confidence, empty_to(plan$confidence, 0.95))
  checkmate::assert_number(confidence, lower = 0.5, upper = 0.9999)
  assert_metrics(names(floor), readings, "floor")
  order <- preferred_arms(x, prefer)
  rows <- plain_table(readings)
  rows <- rows[is_counted(rows) & rows$metric %in% names(floor) & is.na(rows$segment), , drop = FALSE]
  if (!nrow(rows)) abort_input(paste0("no counted pass has a value of ", names(floor)[1]), todo = "see the outcomes")
  cells <- split_in_order(seq_len(nrow(rows)), rows$workload, rows$context, rows$metric, rows$arm)
  alpha <- family_alpha(confidence, length(cells) * (1 + next_pass))
  out <- stack_rows(lapply(cells, function(at) floor_row(take_rows(rows, at), floor, alpha)))
  out$failed <- failures_of(x, out)
  failed <- failed_arms(x)
  place <- paste(out$workload, out$context, out$metric)
  out <- out[order(match(place, unique(place)), match(out$arm, order)), , drop = FALSE]
  rownames(out) <- NULL
  chosen <- first_that_stays(out, setdiff(order, failed$arm), next_pass)
  structure(out,
    class = c("honestmargin_floors", "data.frame"), labels = plan_labels(plan), confidence = confidence,
    next_pass = next_pass, choice = chosen, order = order, failed = failed,
    decides = deciding_row(out, chosen, next_pass)
  )
}

floor_row <- function(rows, floor, alpha) {
  first <- lapply(rows[c("workload", "context", "metric", "unit", "better", "arm")], `[`, 1)
  level <- floor[[first$metric]]
  logs <- rows$scale[1] == "percent" && all(rows$value > 0) && level > 0
  scale <- if (logs) "percent" else "absolute"
  y <- to_analysis(rows$value, scale)
  found <- floor_limits(y, sharing_groups(rows$boot, rows$block), to_analysis(level, scale), alpha)
  # a share or a count lies at zero or above, and so do its limits
  back <- if (logs) exp else if (all(rows$value >= 0)) function(v) pmax(v, 0) else identity
  shown <- lapply(found[c("mean", "lower", "upper", "next_lower", "next_upper")], back)
  list2DF(c(first, list(
    passes = nrow(rows), value = shown$mean, lower = shown$lower, upper = shown$upper, next_lower = shown$next_lower,
    next_upper = shown$next_upper, floor = level,
    stays = side_of(shown$lower, shown$upper, level, first$better),
    next_stays = side_of(shown$next_lower, shown$next_upper, level, first$better), more_passes = found$more
  )))
}

failures_of <- function(x, rows) {
  table <- outcome_table(x)
  key <- function(t) paste(t$workload, empty_to(t$context, rep(NA, nrow(t))), t$arm, sep = "\r")
  failed <- table$failed[match(key(rows), key(table))]
  ifelse(is.na(failed), 0L, failed)
}

#' The arms in the order in which they are preferred
#' @noRd
preferred_arms <- function(x, prefer = NULL) {
  readings <- readings_of(x)
  arms <- arm_order(readings$arm, if (is_study(x)) plan_arms(x$plan))
  arms <- intersect(arms, readings$arm)
  if (is.null(prefer)) {
    return(arms)
  }
  if (length(prefer) == 1 && !prefer %in% arms) {
    cost <- amounts_of(x, prefer)
    return(arms[order(cost$amount[match(arms, cost$arm)])])
  }
  unknown <- setdiff(prefer, arms)
  if (length(unknown)) abort_input(paste0("no arm '", unknown[1], "'"), todo = did_you_mean(unknown[1], arms))
  c(prefer, setdiff(arms, prefer))
}

#' What each arm costs, from an attribute: a number with or without a currency
#' @return Data frame `arm`, `amount`, `unit`.
#' @noRd
amounts_of <- function(x, attribute) {
  if (!is_study(x)) {
    abort_input("a table of readings says nothing of its arms", todo = "take a study whose plan has attributes")
  }
  text <- trimws(attribute_of(x, attribute))
  number <- suppressWarnings(as.numeric(gsub("[^0-9.-]", "", gsub(",", ".", text, fixed = TRUE))))
  unit <- trimws(gsub("[0-9., -]", "", text))
  if (anyNA(number)) {
    arm <- names(text)[is.na(number)][1]
    abort_input(
      paste0("the ", attribute, " of arm ", arm, " is no number: '", text[[arm]], "'"),
      todo = paste0("write attributes: {", attribute, ": 250 EUR}")
    )
  }
  if (length(unique(unit)) > 1) {
    abort_input(
      paste0("the arms have their ", attribute, " in ", some_of(unique(unit))),
      todo = "turn them into one unit in the plan"
    )
  }
  data.frame(arm = names(text), amount = unname(number), unit = unname(unit)[1])
}

first_that_stays <- function(rows, order, next_pass) {
  places <- length(unique(paste(rows$workload, rows$context, rows$metric)))
  good <- vapply(order, function(arm) {
    mine <- rows[rows$arm == arm, , drop = FALSE]
    stays <- if (next_pass) mine$stays == "yes" & mine$next_stays == "yes" else mine$stays == "yes"
    all(stays) && nrow(mine) == places
  }, NA)
  if (any(good)) order[good][1] else NA_character_
}

# the cell in which the choice has least to spare, as a share of the floor
deciding_row <- function(rows, choice, next_pass) {
  mine <- rows[rows$arm %in% choice, , drop = FALSE]
  if (!nrow(mine)) {
    return(NULL)
  }
  near <- ifelse(mine$better == "lower", mine$floor - if (next_pass) mine$next_upper else mine$upper,
    (if (next_pass) mine$next_lower else mine$lower) - mine$floor
  )
  mine[which.min(near / pmax(abs(mine$floor), 1e-9)), , drop = FALSE]
}
