# A description in words and as tables for people.

#' The numbers that were asked for: those that are judged, else all but what sensors give
#' @noRd
shown_values <- function(x, exploratory = FALSE) {
  values <- x$values
  if (exploratory || is.null(values)) {
    return(values)
  }
  asked <- shown_metrics(x)
  # a table of frame logs has thirty numbers; the usual few come first
  if (is.null(attr(x, "primary")) && length(asked) > 8) {
    asked <- intersect(c("fps_avg", "low1_mean", "ms_p99", "score"), asked)
  }
  values[values$metric %in% asked, , drop = FALSE]
}

shown_metrics <- function(description) {
  empty_to(attr(description, "primary"), setdiff(description$values$metric, names(known_sensor_metrics())))
}

#' Sensors of a description: their mean over passes, and the highest of any
#' @noRd
sensors_shown <- function(values, labels) {
  means <- values[sub("_mean$", "", values$metric) %in% names(registered("series")) & grepl("_mean$", values$metric), ]
  if (!nrow(means)) {
    return(NULL)
  }
  series <- sub("_mean$", "", means$metric)
  place <- function(v) paste(v$workload, v$segment, v$context, v$arm, sep = "\r")
  peak <- values[match(paste(place(means), paste0(series, "_max")), paste(place(values), values$metric)), ]
  out <- data.frame(
    workload = place_names(means), arm = arm_names(means$arm, labels), sensor = series_words(series),
    mean = trimws(paste(show_number(means$value), empty_na(means$unit))),
    highest = trimws(paste(show_number(pmax(peak$best, peak$worst)), empty_na(means$unit)))
  )
  if (length(unique(out$arm)) < 2) out$arm <- NULL
  out
}

#' "harbour: average 142.3 fps (141.2 to 143.4), one pass varies by 0.8 %, 5 passes"
#' @noRd
description_sentences <- function(values, labels) {
  place <- place_names(values)
  said <- vapply(seq_len(nrow(values)), function(i) {
    v <- values[i, ]
    number <- paste(show_level(v$value, v), empty_na(v$unit))
    paste0(
      metric_labels(v$metric, labels), " ", trimws(number),
      if (is.na(v$lower)) {
        " (one pass: noise not measured)"
      } else {
        paste0(" (", show_level(v$lower, v), " to ", show_level(v$upper, v), ")")
      }
    )
  }, "")
  parts <- split(said, factor(place, unique(place)))
  vapply(names(parts), function(p) paste0(p, ": ", paste(parts[[p]], collapse = "; "), "."), "")
}

# as many digits as the interval of the mean bears
show_level <- function(x, v) {
  width <- (v$upper - v$lower) / 2
  places <- ifelse(is.finite(width) & width > 0, pmin(4, pmax(0, 1 - floor(log10(width)))), NA)
  if (is.na(places)) show_exact(signif(x, 6)) else sprintf("%.*f", as.integer(places), x)
}

#' @param values Rows of a description.
#' @return Data frame of text.
#' @noRd
values_shown <- function(values, labels) {
  each <- lapply(seq_len(nrow(values)), function(i) values[i, ])
  cell <- function(name) vapply(each, function(v) show_level(v[[name]], v), "")
  shown <- data.frame(
    workload = place_names(values[c("workload", "segment")]), context = empty_na(values$context),
    metric = short_labels(values$metric, labels), arm = arm_names(values$arm, labels),
    mean = trimws(paste(cell("value"), empty_na(values$unit))),
    interval = ifelse(is.na(values$lower), "not known", paste(cell("lower"), "to", cell("upper"))),
    noise = vapply(each, function(v) {
      if (is.na(v$noise)) "not measured" else show_noise(list(noise = v$noise, scale = v$scale, unit = v$unit))
    }, ""),
    worst = cell("worst"), best = cell("best"), n = values$passes
  )
  if (all(shown$context == "")) shown$context <- NULL
  if (length(unique(shown$arm)) < 2) shown$arm <- NULL
  shown
}

#' Machines side by side: a row per number, a column per machine
#' @noRd
side_by_side <- function(description, labels) {
  values <- description$values
  values$name <- values$machine
  many <- tapply(values$arm, values$machine, function(a) length(unique(a)) > 1)
  at <- many[values$machine]
  values$name[at] <- paste0(values$machine[at], ", ", values$arm[at])
  names <- unique(values$name)
  key <- paste(place_names(values), values$metric, sep = "\r")
  first <- which(!duplicated(key))
  out <- data.frame(
    workload = place_names(values)[first],
    metric = paste0(values$metric, ifelse(empty_na(values$unit) == "", "", paste0(", ", values$unit)))[first]
  )
  for (name in names) {
    mine <- values[values$name == name, , drop = FALSE]
    hit <- match(key[first], key[values$name == name])
    text <- vapply(seq_len(nrow(mine)), function(i) {
      v <- mine[i, ]
      half <- (v$upper - v$lower) / 2
      paste0(show_level(v$value, v), if (is.finite(half)) paste0(" \u00b1", show_level(half, v)) else " (one pass)")
    }, "")
    out[[name]] <- ifelse(is.na(hit), "", text[hit])
  }
  out
}

#' How the passes of one arm ended, where they gave no number or one failed
#' @noRd
ending_sentences <- function(outcomes, values, labels) {
  rows <- outcomes[outcomes$tried > 0 & (outcomes$failed > 0 | !outcomes$workload %in% values$workload), , drop = FALSE]
  if (!nrow(rows)) {
    return(character())
  }
  shown <- outcomes_shown(rows, labels)
  paste0(
    outcome_places(rows), ": ", shown$arm, " failed in ", shown$failed,
    " passes (failure rate ", shown[["failure rate"]], ")."
  )
}

#' What is known of the machine and its arms, in one sentence; `NULL` for nothing
#' @noRd
facts_words <- function(facts, labels) {
  if (is.null(facts)) {
    return(NULL)
  }
  arms <- unique(stats::na.omit(facts$arm))
  text <- paste(facts$fact, facts$value)
  # what every arm has is said once
  every <- !is.na(facts$arm) & stats::ave(seq_along(text), text, FUN = length) == length(arms) & length(arms) > 1
  of <- ifelse(is.na(facts$arm), "Machine", ifelse(every, "Every arm", arm_names(facts$arm, labels)))
  said <- vapply(split(text, factor(of, unique(of))), function(t) paste(unique(t), collapse = ", "), "")
  paste0(paste0(names(said), ": ", said, collapse = "; "), ".")
}

#' Facts of machines: which differ, and which are the same
#' @return A list: `differ` (data frame, a row per fact), `same` (text).
#' @noRd
facts_side_by_side <- function(facts, machines) {
  if (is.null(facts)) {
    return(list())
  }
  facts <- facts[is.na(facts$arm) | !duplicated(paste(facts$machine, facts$fact)), , drop = FALSE]
  wide <- lapply(stats::setNames(nm = machines), function(m) {
    mine <- facts[facts$machine == m, , drop = FALSE]
    empty_na(mine$value[match(unique(facts$fact), mine$fact)])
  })
  table <- data.frame(fact = unique(facts$fact), wide, check.names = FALSE)
  alike <- apply(table[-1], 1, function(v) length(unique(v)) == 1)
  list(
    differ = table[!alike, , drop = FALSE],
    same = if (any(alike)) paste0(table$fact[alike], " ", table[[2]][alike], collapse = ", ")
  )
}
