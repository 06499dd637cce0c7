# The question: what did each arm score, and what did the machine do beside it? It needs nothing to compare with.

#' Scores with what the machine did beside them
#'
#' For each workload and arm the lowest, the average and the highest of each score, in one row with loads, clocks,
#' temperatures, fans and watts; the share of the time that each part was at its limit; and what running it costs a
#' year. Nothing is compared, and nothing is judged.
#' @param x A study, readings, or what [weigh()] returned.
#' @param ... Not used.
#' @param hours Hours a day that it runs.
#' @param kwh Price of one kWh; `NULL`: no cost is worked out.
#' @return An answer ([ask_study()]), a list of data frames. `scores`: `workload`, `context`, `arm`, `metric`, `unit`,
#'   `passes`, `lowest`, `average`, `highest`. `beside`: the same of loads, clocks, temperatures, fans and watts, with
#'   `kind`. `bound`: `workload`, `context`, `arm`, `limiting`, `share` (percent of the seconds that sensors saw).
#'   `running`: `workload`, `context`, `arm`, `watts`, `of` (what they are the watts of), `cost` (a year).
#' @section Errors: `honestmargin_error_input` where no counted pass has a number.
#' @export
#' @examples
#' machine_numbers(read_study(demo_study()), hours = 4, kwh = 0.3)
machine_numbers <- function(x, ..., hours = 4, kwh = NULL) {
  assert_no_dots(...)
  checkmate::assert_number(hours, lower = 0, upper = 24)
  checkmate::assert_number(kwh, lower = 0, finite = TRUE, null.ok = TRUE)
  x <- what_was_weighed(x)
  rows <- plain_table(readings_of(x))
  rows <- rows[is_counted(rows) & is.na(rows$segment), , drop = FALSE]
  if (!nrow(rows)) abort_input("no counted pass has a number", todo = "how they ended: honestmargin ask STUDY outcomes")
  each <- stack_rows(lapply(split_in_order(
    seq_len(nrow(rows)), rows$workload, rows$context, rows$arm, rows$metric
  ), function(at) {
    v <- rows$value[at]
    cbind(rows[at[1], c("workload", "context", "arm", "metric", "unit")],
      passes = length(v), lowest = min(v), average = mean(v), highest = max(v), row.names = NULL
    )
  }))
  each$kind <- beside_kind(each$metric, each$unit)
  asked <- if (is_study(x)) plan_primary(x$plan)
  known <- setdiff(names(known_metrics()), "score")
  scores <- each[(if (is.null(asked)) is.na(each$kind) else each$metric %in% asked) |
    is.na(each$kind) & !each$metric %in% known, , drop = FALSE]
  scores$kind <- NULL
  beside <- each[!is.na(each$kind) & !paste(each$metric) %in% asked, , drop = FALSE]
  new_answer("machine", list(
    scores = scores, beside = beside, bound = if (is_study(x)) bound_shares(x),
    running = running_costs(beside, hours, kwh)
  ), x, hours = hours, kwh = kwh, failed = failed_arms(x))
}

# what describes the machine and not what it did: of a sensor its mean, of a typed number its unit
beside_kind <- function(metric, unit) {
  kinds <- c(
    W = "power", C = "temperature", "\u00b0C" = "temperature", MHz = "clock", GHz = "clock", rpm = "fan", V = "voltage",
    MB = "memory", GB = "memory"
  )
  kind <- unname(kinds[unit])
  sensor <- metric %in% names(known_sensor_metrics())
  kind[unit == "%" & (sensor | grepl("load|usage|utili", metric))] <- "load"
  kind[metric %in% c("battery_per_hour", "clock_held")] <- NA
  # of a sensor its mean stands for it
  kind[sensor & !grepl("_mean$", metric)] <- NA
  kind
}

# of all seconds that sensors saw
bound_shares <- function(x) {
  seconds <- limiting_rows(x, "second")
  seconds <- seconds[!seconds$limiting %in% "unknown", , drop = FALSE]
  if (!NROW(seconds)) {
    return(NULL)
  }
  stack_rows(lapply(split_in_order(
    seq_len(nrow(seconds)), seconds$workload, seconds$context, seconds$arm
  ), function(at) {
    n <- sort(table(seconds$limiting[at]), decreasing = TRUE)
    cbind(seconds[rep(at[1], length(n)), c("workload", "context", "arm")],
      limiting = names(n), share = 100 * as.vector(n) / length(at), row.names = NULL
    )
  }))
}

#' What running it costs a year, from its watts
#'
#' Watts of the whole where somebody measured them; else those of processor and graphics together, which the rest of the
#' machine comes on top of.
#' @noRd
running_costs <- function(beside, hours, kwh) {
  power <- beside[beside$kind == "power", , drop = FALSE]
  parts <- c("processor_power_mean", "graphics_power_mean")
  stack_rows(lapply(split_in_order(seq_len(nrow(power)), power$workload, power$context, power$arm), function(at) {
    here <- power[at, , drop = FALSE]
    own <- here[!here$metric %in% parts, , drop = FALSE]
    # several that somebody typed: which is the whole is not known
    if (nrow(own) > 1) {
      return(NULL)
    }
    taken <- if (nrow(own)) own else here
    watts <- sum(taken$average)
    cbind(here[1, c("workload", "context", "arm")],
      watts = watts, of = paste(series_words(sub("_mean$", "", taken$metric)), collapse = " + "),
      cost = if (is.null(kwh)) NA_real_ else watts / 1000 * hours * 365 * kwh, row.names = NULL
    )
  }))
}

#' One table for each workload with a column for each arm; of one arm alone, one with a column for each workload
#' @noRd
machine_shown <- function(x) {
  all <- rbind(cbind(x$scores, kind = NA_character_), x$beside)
  all$place <- place_names(all[c("workload", "context")])
  of <- attr(x, "weighed")
  arms <- arm_names(arm_order(all$arm, if (is_study(of)) plan_arms(of$plan)), labels_of(x))
  all$arm <- arm_names(all$arm, labels_of(x))
  bound <- x$bound
  if (NROW(bound)) {
    bound$place <- place_names(bound[c("workload", "context")])
    bound$arm <- arm_names(bound$arm, labels_of(x))
  }
  alone <- length(unique(all$arm)) == 1
  across <- if (alone) unique(all$place) else intersect(arms, all$arm)
  # what stands side by side fits a screen
  blocks <- if (alone) {
    lapply(split(across, (seq_along(across) - 1) %/% 4), function(some) list(columns = some, caption = NULL))
  } else {
    unlist(lapply(unique(all$place), function(place) {
      lapply(unname(split(across, (seq_along(across) - 1) %/% 4)), function(some) {
        list(columns = some, caption = if (place == "main") NULL else place, place = place)
      })
    }), recursive = FALSE)
  }
  lapply(unname(blocks), function(block) {
    here <- function(rows) {
      if (alone) {
        rows$at <- match(rows$place, block$columns)
      } else {
        rows$at <- ifelse(rows$place == block$place, match(rows$arm, block$columns), NA)
      }
      rows[!is.na(rows$at), , drop = FALSE]
    }
    table <- machine_rows(here(all), if (NROW(bound)) here(bound), block$columns, labels_of(x))
    shown_table(table, caption = block$caption)
  })
}

# scores with their range below, then what stands beside them
machine_rows <- function(rows, bound, columns, labels) {
  line <- function(name, at, text) {
    out <- rep("", length(columns))
    out[at] <- text
    stats::setNames(as.data.frame(as.list(c(name, out))), c(" ", columns))
  }
  each <- unlist(lapply(unique(rows$metric), function(id) {
    mine <- rows[rows$metric == id, , drop = FALSE]
    score <- is.na(mine$kind[1])
    name <- if (score) short_labels(id, labels) else series_words(sub("_mean$", "", id))
    unit <- mine$unit[1]
    list(
      line(
        paste0(name, if (!is.na(unit) && nzchar(unit) && unit != name) paste0(" (", unit, ")")), mine$at,
        four_digits(mine$average)
      ),
      if (id == "battery_per_hour") line("  a full one lasts (h)", mine$at, show_number(100 / mine$average, 3)),
      if (score && any(mine$passes > 1)) {
        line("  range", mine$at, paste(four_digits(mine$lowest), "to", four_digits(mine$highest)))
      }
    )
  }), recursive = FALSE)
  limit <- if (NROW(bound)) {
    said <- tapply(paste(bound$limiting, show_number(bound$share, 2), "%"), bound$at, paste, collapse = ", ")
    list(line("at its limit", as.integer(names(said)), unname(said)))
  }
  table <- do.call(rbind, Filter(length, c(each, limit)))
  names(table)[1] <- " "
  table
}

# "65 W (processor + graphics): 28.5 a year at 4 hours a day and 0.3 a kWh"
running_words <- function(x) {
  rows <- x$running
  if (!NROW(rows)) {
    return(NULL)
  }
  sums <- any(grepl(" + ", rows$of, fixed = TRUE))
  of <- attr(x, "weighed")
  each <- split(rows, factor(rows$arm, intersect(arm_order(rows$arm, if (is_study(of)) plan_arms(of$plan)), rows$arm)))
  said <- vapply(each, function(mine) {
    worst <- mine[which.max(mine$watts), , drop = FALSE]
    paste0(
      arm_names(worst$arm, labels_of(x)), " ", if (nrow(mine) > 1) "up to ", show_number(worst$watts, 3), " W",
      if (nrow(mine) > 1) paste0(" in ", place_names(worst[c("workload", "context")])),
      if (!is.na(worst$cost)) paste0(" (", show_number(worst$cost, 3), " a year)")
    )
  }, "", USE.NAMES = FALSE)
  paste0(
    "Watts (", rows$of[1], if (sums) "; the rest of the machine is not in it", "): ", some_of(said, 8), ".",
    if (!all(is.na(rows$cost))) {
      paste0(" A year: ", show_exact(attr(x, "hours")), " hours a day, ", show_exact(attr(x, "kwh")), " a kWh.")
    }
  )
}

machine_line <- function(x) {
  rows <- x$scores
  paste0(
    count_of(nrow(rows), "score"), " of ", count_of(length(unique(rows$arm)), "arm"),
    if (NROW(x$beside)) paste0(", with ", list_words(unique(x$beside$kind)), " beside")
  )
}

register("question", "machine",
  rank = 1.5, title = "Scores and what the machine did",
  about = "each score with loads, clocks, temperatures and watts beside",
  answer = machine_numbers, uncompared = TRUE,
  own = list(
    hours = list(
      meta = "N", help = "hours a day that it runs (machine, cost)", read = function(text) named_numbers(text, "hours")
    ),
    kwh = list(meta = "N", help = "price of one kWh (machine, cost)", read = function(text) named_numbers(text, "kwh"))
  ),
  lines = function(x) {
    c(failed_arm_sentences(attr(x, "failed"), labels_of(x), unique(x$scores$arm)), running_words(x))
  }, line = machine_line,
  tables = machine_shown,
  footing = function(x) "Nothing is compared or judged. Means of the passes; range: the lowest and the highest.",
  tidy = function(x) x$scores
)
