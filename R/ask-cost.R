# The question: what does a metric cost, per watt, per degree, per unit of money?

#' What a metric costs
#'
#' @param x A study or readings.
#' @param metric The metric that is wanted; `NULL`: the first primary one, or the first that has a direction.
#' @param cost Another metric (power, temperature), or an attribute of the arms (`price: 250 EUR`).
#' @param ... Not used.
#' @param baseline,worth,confidence As in [weigh()].
#' @param power Metric in W for what running costs; `NULL`: `cost`, where its unit is W.
#' @param hours Hours a day that it runs.
#' @param kwh Price of one kWh.
#' @return An answer ([ask_study()]), a list: `ratio` (data frame, rows of [weigh()]: change of metric per
#'   cost against the baseline; for a metric of which less is better, of one over their product), `arms` (data frame,
#'   one row per workload, context and arm: `value`, `cost`, `per` (value per cost), `lower`, `upper` of each, `on`
#'   (nothing beats it in both), `by`), `best` and `overall` (of the ratio over all workloads, as in [weigh_overall()];
#'   `NULL` of one), `running` (data frame or `NULL`: `year` (change of the cost a year against the
#'   baseline), `year_lower`, `year_upper`, `years` to pay back with `years_lower` and `years_upper`).
#' @section Errors: `honestmargin_error_input` for an unknown metric or attribute, amounts that are no numbers or in two
#'   currencies, and a cost that is zero or less.
#' @references Berger (1982), Technometrics 24, 295-300 (what nothing beats in both).
#' @export
#' @examples
#' passes <- expand.grid(block = 1:4, arm = c("eco", "boost"))
#' passes$pass <- 1:8
#' score <- c(100, 101, 99, 100, 104, 105, 103, 104)
#' power <- c(50, 51, 50, 49, 70, 71, 70, 69)
#' table <- rbind(
#'   data.frame(passes, metric = "score", value = score, unit = "points", better = "higher"),
#'   data.frame(passes, metric = "power", value = power, unit = "W", better = "lower")
#' )
#' weigh_cost(table, "score", "power", baseline = "eco")
weigh_cost <- function(x, metric = NULL, cost, ..., baseline = NULL, worth = NULL, confidence = NULL, power = NULL,
                       hours = NULL, kwh = NULL) {
  assert_no_dots(...)
  readings <- readings_of(x)
  plan <- if (is_study(x)) x$plan
  metric <- empty_to(metric, wanted_metrics(x, cost))[1]
  assert_metrics(metric, readings, "metric")
  spec <- contrast_spec(x, plan, readings, list(baseline = baseline, worth = worth, confidence = confidence))
  rows <- plain_table(readings)
  rows <- rows[is.na(rows$segment) & is_counted(rows), , drop = FALSE]
  measured <- cost %in% rows$metric
  amount <- if (!measured) amounts_of(x, cost)
  per <- cost_per_pass(rows, metric, cost, amount)
  worth <- worth_of(metric, spec$worth)
  how <- list(
    per$rows, baseline = spec$baseline, worth = if (!is.na(worth)) worth, confidence = spec$confidence
  )
  ratio <- plain_table(do.call(weigh, how))
  overall <- if (length(unique(per$rows$workload)) > 1) do.call(weigh_overall, how)
  cells <- lapply(list(metric, if (measured) cost), function(id) place_cells(rows, id))
  arms <- stack_rows(lapply(names(cells[[1]]), function(place) {
    cost_rows(cells[[1]][[place]], cells[[2]][[place]], amount, per$rows, spec)
  }))
  power <- empty_to(power, if (measured && identical(rows$unit[match(cost, rows$metric)], "W")) cost)
  new_answer(
    "cost", list(
      ratio = ratio, arms = arms, best = overall$best[is.na(overall$best$workload), , drop = FALSE],
      overall = overall$overall, running = if (!is.null(hours)) running_rows(x, power, hours, kwh, spec)
    ), if (is_study(x)) x else readings,
    failed = failed_arms(x), metric = metric, cost = cost, unit = per$unit, units = per$units,
    confidence = spec$confidence, better = rows$better[match(metric, rows$metric)]
  )
}

# each pass's own ratio, so that what a pass has in both is not counted twice
cost_per_pass <- function(rows, metric, cost, amount) {
  value <- rows[rows$metric == metric, , drop = FALSE]
  if (is.null(amount)) {
    spent <- rows[rows$metric == cost, , drop = FALSE]
    value$spent <- spent$value[match(pass_key(value), pass_key(spent))]
    unit <- spent$unit[1]
  } else {
    value$spent <- amount$amount[match(value$arm, amount$arm)]
    unit <- amount$unit[1]
  }
  value <- value[!is.na(value$spent), , drop = FALSE]
  if (!nrow(value)) {
    abort_input(paste0("no pass has both ", metric, " and ", cost), todo = "see what was measured: honestmargin weigh")
  }
  if (any(value$spent <= 0) || any(value$value <= 0)) {
    abort_input(paste0("a ratio needs values above zero, in ", metric, " and in ", cost), todo = "take another cost")
  }
  less <- value$better[1] == "lower"
  value$value <- if (less) 1 / (value$value * value$spent) else value$value / value$spent
  own <- empty_na(value$unit[1])
  value$metric <- paste(metric, "per", cost)
  value$unit <- if (less) paste0("1/(", own, " ", unit, ")") else paste0(own, "/", unit)
  value$better <- "higher"
  value$scale <- "percent"
  keep <- c(setdiff(reading_columns, "segment"), "scale")
  list(rows = value[intersect(keep, names(value))], unit = value$unit[1], units = c(own, empty_na(unit)))
}

place_cells <- function(rows, id) {
  if (is.null(id)) {
    return(NULL)
  }
  rows <- rows[rows$metric == id, , drop = FALSE]
  cells <- split_in_order(seq_len(nrow(rows)), rows$workload, rows$context)
  lapply(cells, function(at) {
    cell <- take_rows(rows, at)
    cell$y <- to_analysis(cell$value, if (all(cell$value > 0)) "percent" else "absolute")
    cell
  })
}

cost_rows <- function(value, cost, amount, per, spec) {
  arms <- intersect(spec$arms, value$arm)
  described <- function(rows) {
    found <- describe_values(rows, arms, spec$confidence)
    found[match(arms, found$arm), c("value", "lower", "upper"), drop = FALSE]
  }
  here <- per[per$workload == value$workload[1] & per$context %in% value$context[1], , drop = FALSE]
  one <- described(value)
  two <- if (is.null(cost)) {
    known <- amount$amount[match(arms, amount$arm)]
    data.frame(value = known, lower = known, upper = known)
  } else {
    described(cost)
  }
  three <- described(complete_readings(here))
  on <- unbeaten_arms(
    value, cost, if (!is.null(amount)) stats::setNames(as.list(amount$amount), amount$arm), arms, value$better[1],
    spec$confidence,
    # as good within what is worth having, and surely cheaper: that beats
    worth = worth_on_analysis(worth_of(value$metric[1], spec$worth), value$scale[1])
  )
  data.frame(
    workload = value$workload[1], context = value$context[1], arm = arms, value = one$value, value_lower = one$lower,
    value_upper = one$upper, cost = two$value, cost_lower = two$lower, cost_upper = two$upper, per = three$value,
    per_lower = three$lower, per_upper = three$upper, on = on$on[match(arms, on$arm)], by = on$by[match(arms, on$arm)]
  )
}

running_rows <- function(x, power, hours, kwh, spec) {
  if (is.null(power) || is.null(kwh)) {
    abort_needed(
      "what running costs needs a metric in W and the price of a kWh",
      todo = "give --power METRIC --kwh 0.30"
    )
  }
  checkmate::assert_number(hours, lower = 0, upper = 24)
  checkmate::assert_number(kwh, lower = 0, finite = TRUE)
  rows <- plain_table(readings_of(x))
  rows <- rows[rows$metric == power & is.na(rows$segment) & is_counted(rows), , drop = FALSE]
  if (!nrow(rows)) abort_input(paste0("no pass has ", power), todo = "name a metric in W")
  # money follows watts, not percent
  rows$scale <- "absolute"
  rows$segment <- NULL
  found <- plain_table(weigh(complete_readings(rows), baseline = spec$baseline, confidence = spec$confidence))
  price <- tryCatch(amounts_of(x, "price"), honestmargin_error = function(e) NULL)
  extra <- if (!is.null(price)) {
    price$amount[match(found$arm, price$arm)] - price$amount[match(spec$baseline, price$arm)]
  } else {
    NA_real_
  }
  cost <- running_cost(found$change, found$lower, found$upper, hours, kwh, extra)
  cbind(found[c("workload", "context", "arm", "baseline")], as.data.frame(cost), extra = extra)
}

worth_on_analysis <- function(worth, scale) if (is.na(worth)) 0 else min(abs(worth_band(worth, scale)))

#' What is wanted, where nobody says it: the primary metrics, else what has a direction and is not the cost itself
#' @noRd
wanted_metrics <- function(x, cost) {
  readings <- readings_of(x)
  wanted <- setdiff(empty_to(
    if (is_study(x)) plan_primary(x$plan), unique(readings$metric[readings$better != "none"])
  ), cost)
  if (!length(wanted)) {
    abort_needed("which metric is to be had for its cost?",
      todo = paste0("name it: --metric ", some_of(setdiff(unique(readings$metric), cost)))
    )
  }
  wanted
}

#' @param x From `weigh_cost()`.
#' @return Sentences.
#' @noRd
cost_words <- function(x) {
  labels <- labels_of(x)
  c(
    failed_arm_sentences(attr(x, "failed"), labels), most_overall_sentences(x, labels), unbeaten_sentences(x, labels),
    most_sentences(x, labels)
  )
}

# what holds over all workloads comes before what holds in one
most_overall_sentences <- function(x, labels) {
  sets <- split_in_order(seq_len(NROW(x$best)), x$best$context)
  best <- vapply(sets, function(at) {
    set <- x$best[at, , drop = FALSE]
    paste0(
      "Over all workloads", if (!is.na(set$context[1])) paste0(", ", set$context[1]), ", most for its ",
      metric_labels(attr(x, "cost"), labels), ": ", best_set_words(set, labels, attr(x, "failed")), "."
    )
  }, "")
  c(unname(best), vapply(each_row(x$overall), overall_sentence, "", labels = labels))
}

# where most is got for it
most_sentences <- function(x, labels) {
  place <- place_names(x$arms[c("workload", "context")])
  vapply(split(x$arms, factor(place, unique(place))), function(rows) {
    top <- rows[which.max(rows$per), , drop = FALSE]
    paste0(
      place_names(top[c("workload", "context")]), ": most for its ", metric_labels(attr(x, "cost"), labels),
      if (is.na(top$per_lower)) " was read of " else " gives ",
      arms_with_failures(top$arm, labels, attr(x, "failed"), TRUE), ", ", show_number(top$per), " ", attr(x, "unit"),
      # a reading alone is no basis for a choice
      if (is.na(top$per_lower)) " (read once: no basis)", "."
    )
  }, "", USE.NAMES = FALSE)
}

unbeaten_sentences <- function(x, labels) {
  place <- place_names(x$arms[c("workload", "context")])
  vapply(split(x$arms, factor(place, unique(place))), function(rows) {
    off <- rows[!rows$on, , drop = FALSE]
    about <- paste0(place_names(rows[1, c("workload", "context")]), ": ")
    if (!nrow(off)) {
      return(paste0(about, "no arm beats another in both, ", attr(x, "metric"), " and ", attr(x, "cost"), "."))
    }
    paste0(
      about, arm_list(off$arm, labels), if (nrow(off) > 1) " are" else " is", " beaten in both by ",
      arm_list(unique(off$by), labels), "; nothing beats ",
      list_words(arms_with_failures(rows$arm[rows$on], labels, attr(x, "failed"), TRUE)), "."
    )
  }, "", USE.NAMES = FALSE)
}

#' What running costs, as a table for people
#' @noRd
running_shown <- function(x) {
  labels <- labels_of(x)
  rows <- x$running
  out <- data.frame(
    workload = place_names(rows[c("workload", "context")]), arm = arm_names(rows$arm, labels),
    `more a year` = show_change(rows$year, "absolute", "", (rows$year_upper - rows$year_lower) / 2),
    `lies in` = paste(show_change(rows$year_lower, "absolute"), "to", show_change(rows$year_upper, "absolute")),
    `paid back in` = vapply(each_row(rows), payback_words, ""), check.names = FALSE
  )
  if (all(out[["paid back in"]] == "")) out[["paid back in"]] <- NULL
  out
}

payback_words <- function(row) {
  if (is.na(row$years)) {
    return("")
  }
  if (row$extra <= 0) {
    return("not dearer to buy")
  }
  if (!is.finite(row$years)) {
    return("never")
  }
  paste0(
    show_number(row$years, 2), " years (", show_number(row$years_lower, 2),
    if (is.finite(row$years_upper)) paste(" to", show_number(row$years_upper, 2)) else " or more", ")"
  )
}

#' Value and cost of each arm as a table for people
#' @noRd
costs_shown <- function(x) {
  labels <- labels_of(x)
  rows <- x$arms
  key <- function(t) paste(t$workload, t$context, t$arm, sep = "\r")
  ratio <- x$ratio[match(key(rows), key(x$ratio)), , drop = FALSE]
  out <- data.frame(
    workload = place_names(rows[c("workload", "context")]), arm = arm_names(rows$arm, labels),
    value = show_number(rows$value), cost = show_number(rows$cost), per = show_number(rows$per),
    change = ifelse(is.na(ratio$lower), "", shown_interval(ratio)),
    `beaten by` = ifelse(rows$on, "", arm_names(rows$by, labels)), check.names = FALSE
  )
  names(out)[3:5] <- c(attr(x, "metric"), attr(x, "cost"), attr(x, "unit"))
  out
}

costs_footing <- function(x) {
  paste0(
    "change: of ", attr(x, "unit"), " against ", arm_names(x$ratio$baseline[1], labels_of(x)), ", together at ",
    show_share(attr(x, "confidence")), ". beaten by: surely better in one and not worse in the other ",
    "(in ", attr(x, "metric"), ": by no more than its worth)."
  )
}

register("question", "cost",
  rank = 9, title = "What it costs", about = "a metric per watt, per degree or per unit of money",
  answer = weigh_cost, takes = c("baseline", "worth", "confidence"), needs = "--cost METRIC or ATTRIBUTE",
  own = list(
    cost = list(meta = "M|A", help = "metric per cost: another metric (watts), or an attribute (price)"),
    power = list(meta = "M", help = "with --cost: the metric in W for what running costs"),
    hours = list(
      meta = "N", help = "hours a day that it runs (machine, cost)", read = function(text) named_numbers(text, "hours")
    ),
    kwh = list(
      meta = "N", help = "price of one kWh (machine, cost)", read = function(text) named_numbers(text, "kwh")
    ),
    metric = metric_option("metric")
  ),
  lines = cost_words, line = function(x) cost_words(x)[1], footing = costs_footing,
  tidy = function(x) plain_table(x$arms),
  tables = function(x) {
    table <- costs_shown(x)
    list(
      shown_table(table, names(table)[3:5], whole = "change", group = "workload"),
      shown_table(if (NROW(x$running)) running_shown(x), "more a year",
        whole = "lies in", group = "workload",
        caption = "Running it, against the baseline:"
      )
    )
  }
)
