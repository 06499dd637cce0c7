# The question: which is the first arm that is good enough everywhere?

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
#' @return An answer ([ask_study()]), a data frame, one row per workload (segment, context), metric and
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
  new_answer("floors", out, if (is_study(x)) x else readings,
    confidence = confidence, next_pass = next_pass, choice = chosen, order = order, failed = failed,
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
  if (is.null(arms_described(x))) {
    abort_input("nothing says what the arms are made of",
      todo = "take a study whose plan has attributes, or name their column: --columns attribute=HEADING"
    )
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

#' @param x From `weigh_floors()`.
#' @return Sentences: the choice, then each arm that is not known to stay.
#' @noRd
floor_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  rest <- lapply(attr(x, "order"), arm_floor_sentence, x = x, rows = rows, labels = labels)
  c(choice_sentence(x, rows, labels), unlist(rest))
}

floors_named <- function(rows, labels) {
  one <- rows[!duplicated(rows$metric), , drop = FALSE]
  list_words(paste(
    metric_labels(one$metric, labels), ifelse(one$better == "lower", "at most", "at least"),
    with_unit_each(show_exact(one$floor), one$unit)
  ))
}

choice_sentence <- function(x, rows, labels) {
  asked <- paste0(floors_named(rows, labels), if (attr(x, "next_pass")) ", in the next single pass too")
  chosen <- attr(x, "choice")
  if (is.na(chosen)) {
    unclear <- unique(rows$arm[stays_as_asked(x, rows) == "unclear"])
    return(paste0(
      "No arm is shown to keep ", asked, " everywhere",
      if (length(unclear)) paste0("; unclear for ", arm_list(unclear, labels)), "."
    ))
  }
  near <- attr(x, "decides")
  end <- if (near$better == "lower") near$upper else near$lower
  paste0(
    arm_names(chosen, labels), " is the first that keeps ", asked, " everywhere; ", place_names(near),
    " decides: ", show_number(near$value), " (at ", if (near$better == "lower") "most " else "least ",
    with_unit_each(show_number(end), near$unit), ")."
  )
}

# of the mean, or where it was asked of the next single pass too
stays_as_asked <- function(x, rows) {
  if (attr(x, "next_pass")) ifelse(rows$stays == "yes" & rows$next_stays != "yes", "unclear",
    rows$stays) else rows$stays
}

arm_floor_sentence <- function(arm, x, rows, labels) {
  if (identical(arm, unname(attr(x, "choice")))) {
    return(NULL)
  }
  mine <- rows[rows$arm == arm, , drop = FALSE]
  stays <- stays_as_asked(x, mine)
  where <- function(word) paste(unique(place_names(mine[stays == word, , drop = FALSE])), collapse = ", ")
  failed <- arm %in% attr(x, "failed")$arm
  said <- c(
    if (any(stays == "no")) paste("does not in", where("no")),
    if (any(stays == "unclear")) paste("unclear in", where("unclear")),
    if (all(stays == "yes")) if (failed) "keeps it, but failed" else "keeps it too"
  )
  more <- mine$more_passes[stays == "unclear"]
  more <- more[is.finite(more)]
  paste0(
    arms_with_failures(arm, labels, attr(x, "failed")), ": ", paste(said, collapse = "; "),
    if (length(more)) paste0(" (about ", max(more), " passes would tell)"), "."
  )
}

#' Floors as a table for people
#' @noRd
floors_shown <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  one <- length(unique(rows$metric)) == 1
  out <- data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, labels), arm = arm_names(rows$arm, labels),
    mean = show_number(rows$value), `lies in` = ends_shown(rows$lower, rows$upper),
    floor = show_exact(rows$floor), stays = stay_words(rows$stays), check.names = FALSE
  )
  if (one) out$metric <- NULL
  if (attr(x, "next_pass")) {
    out[["next pass"]] <- ends_shown(rows$next_lower, rows$next_upper)
    out[["next stays"]] <- stay_words(rows$next_stays)
  }
  if (any(rows$failed > 0)) out$failed <- rows$failed
  out
}

ends_shown <- function(lower, upper) {
  ifelse(is.na(lower), "", paste(show_number(lower), "to", show_number(upper)))
}

stay_words <- function(stays) c(yes = "yes", no = "no", unclear = "cannot tell")[stays]

floors_footing <- function(x) {
  paste0(
    "All intervals hold together at ", show_share(attr(x, "confidence")),
    if (attr(x, "next_pass")) {
      paste(
        "; that of the next pass takes passes to vary as a normal distribution does, and odd ones that were not seen",
        "are not in it"
      )
    }, ". Preferred in this order: ",
    some_of(arm_names(attr(x, "order"), labels_of(x)), 8), "."
  )
}

register("question", "floors",
  rank = 7, title = "Good enough everywhere", about = "the first arm that keeps a level in every workload",
  answer = weigh_floors, takes = "confidence", needs = "--floor METRIC=LEVEL",
  own = list(
    floor = list(
      meta = "M=L,M=L", help = "the first arm that keeps these levels in every workload",
      read = function(text) {
        level <- named_numbers(text, "floor")
        if (is.null(names(level))) abort_usage("--floor: expected METRIC=LEVEL", todo = "--floor low1_quantile=35")
        level
      }
    ),
    `next-pass` = list(help = "with --floor: the next single pass must keep them too, not the mean alone"),
    prefer = prefer_option
  ),
  lines = floor_words, line = function(x) floor_words(x)[1], footing = floors_footing,
  tables = function(x) {
    list(shown_table(floors_shown(x), c("mean", "floor", "failed"),
      whole = c("lies in", "next pass"), group = c("workload", "metric")
    ))
  }
)
