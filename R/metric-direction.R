# What a unit says about a metric that nobody defined.

unit_words <- list(
  lower = c(
    "s", "sec", "secs", "second", "seconds", "ms", "us", "\u00b5s", "\u03bcs", "ns", "min", "min:s",
    "m:ss", "h", "w", "j", "kj", "wh", "mj"
  ),
  degrees = c("\u00b0c", "\u00b0f", "c", "degc", "degf", "deg", "degrees", "k"),
  higher = c(
    "points", "point", "pts", "fps", "kb/s", "mb/s", "gb/s", "kib/s", "mib/s", "gib/s",
    "hz", "khz", "mhz", "ghz", "/s", "ops/s"
  )
)

better_from_unit <- function(unit) {
  word <- tolower(trimws(unit))
  ifelse(word %in% c(unit_words$lower, unit_words$degrees), "lower",
    ifelse(word %in% unit_words$higher, "higher", NA_character_)
  )
}

# Differences of shares and of temperatures mean something; their ratios do not.
scale_from_unit <- function(unit) {
  ifelse(tolower(trimws(unit)) %in% c("%", unit_words$degrees), "absolute", "percent")
}

#' Direction, unit and scale for each metric of a table
#'
#' @param metric,unit,better Character vectors, one element per row.
#' @param known List of [new_metric()] objects.
#' @return A list: the completed `unit`, `better`, `scale` vectors, `said` (a
#'   named character vector: metric -> direction taken from the unit) and
#'   `unknown` (metrics that nobody can tell the direction of).
#' @noRd
resolve_metrics <- function(metric, unit, better, known) {
  known <- by_id(known)
  defined <- function(part, ids) {
    vapply(ids, function(id) empty_to(known[[id]][[part]], NA_character_), "", USE.NAMES = FALSE)
  }
  ids <- unique(metric)
  at <- match(metric, ids)
  from_definition <- defined("better", ids)[at]
  from_definition[from_definition %in% "none"] <- NA
  from_unit <- better_from_unit(unit)
  unit <- ifelse(is.na(unit) | unit == "", defined("unit", ids)[at], unit)
  taken <- ifelse(is.na(better), from_definition, better)
  by_unit <- is.na(taken) & !is.na(from_unit)
  taken[by_unit] <- from_unit[by_unit]
  describes <- is.na(taken) & defined("better", ids)[at] %in% "none"
  taken[describes] <- "none"
  scale <- defined("scale", ids)[at]
  scale <- ifelse(is.na(scale), scale_from_unit(empty_to(unit, "")), scale)
  list(
    unit = ifelse(is.na(unit), "", unit), better = taken, scale = scale,
    said = stats::setNames(taken, metric)[by_unit & !duplicated(metric)],
    unknown = unique(metric[is.na(taken)])
  )
}

#' The same for the rows of a table, where few kinds stand in many rows
#' @noRd
resolve_rows <- function(metric, unit, better, known) {
  kind <- paste(metric, unit, better, sep = "\r")
  first <- !duplicated(kind)
  resolved <- resolve_metrics(metric[first], unit[first], better[first], known)
  at <- match(kind, kind[first])
  parts <- c("unit", "better", "scale")
  resolved[parts] <- lapply(resolved[parts], `[`, at)
  resolved
}
