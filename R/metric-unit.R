# What a unit says about a metric that nobody defined.

unit_words <- list(
  lower = c(
    "s", "sec", "secs", "second", "seconds", "ms", "us", "\u00b5s", "\u03bcs", "ns", "min", "min:s",
    "m:ss", "h", "w", "j", "kj", "wh", "mj"
  ),
  degrees = c("\u00b0c", "\u00b0f", "c", "degc", "degf", "deg", "degrees", "k"),
  higher = c(
    "points", "point", "pts", "fps", "frames/s", "bilder/s", "kb/s", "mb/s", "gb/s", "kib/s", "mib/s", "gib/s",
    "hz", "khz", "mhz", "ghz", "/s", "ops/s"
  )
)

better_from_unit <- function(unit) {
  word <- tolower(trimws(unit))
  ifelse(word %in% c(unit_words$lower, unit_words$degrees), "lower",
    ifelse(word %in% unit_words$higher, "higher", NA_character_)
  )
}

# a metric that is called by its unit; "Min" is a minimum as a rule, and single letters are anything
better_from_bare_unit <- function(name) {
  ifelse(tolower(trimws(name)) %in% c("min", "c", "k", "h", "j", "s", "w"), NA_character_, better_from_unit(name))
}

# The words of the trade that leave no doubt, as whole words of a metric's name
name_words <- c(
  lower = "time|times|latency|delay|duration|lag|ping|zeit|ladezeit|dauer|latenz",
  higher = "score|scores|points|fps|throughput|bandwidth|punkte|durchsatz"
)

has_word <- function(name, words) grepl(paste0("(^|[^a-z])(", words, ")($|[^a-z])"), tolower(name))

names_a_spread <- function(name) {
  has_word(name, "sd|std|stdev|stddev|std[ ._-]?dev|sem|cv|deviation|variance|stabw|standardabweichung|varianz")
}

better_from_name <- function(name) {
  lower <- has_word(name, name_words[["lower"]])
  # a higher rate is better, a higher spread of it is not
  higher <- has_word(name, name_words[["higher"]]) & !names_a_spread(name)
  ifelse(lower & !higher, "lower", ifelse(higher & !lower, "higher", NA_character_))
}

#' The direction that a metric has by itself, by its unit or by its name
#' @return `NA` where nothing tells.
#' @noRd
direction_told <- function(metric) {
  told <- empty_to(known_metrics()[[metric]]$better, better_from_bare_unit(metric))
  if (is.na(told)) better_from_name(metric) else told
}

# Differences of shares and of temperatures mean something; their ratios do not.
scale_from_unit <- function(unit) {
  ifelse(tolower(trimws(unit)) %in% c("%", unit_words$degrees), "absolute", "percent")
}

#' Direction, unit and scale for each metric of a table
#'
#' The direction comes from the metric's definition, else from its unit, else from its name.
#' @param metric,unit,better Character vectors, one element per row.
#' @param known From `known_metrics()`.
#' @return A list: the completed `unit`, `better`, `scale` vectors, `said` (data frame `metric`,
#'   `better`, `from`: directions that nobody gave, and where they come from), `unknown` (metrics that
#'   nobody can tell the direction of) and `torn` (metrics whose unit says otherwise than their definition).
#' @noRd
resolve_metrics <- function(metric, unit, better, known) {
  defined <- function(part, ids) {
    vapply(ids, function(id) empty_to(known[[id]][[part]], NA_character_), "", USE.NAMES = FALSE)
  }
  ids <- unique(metric)
  at <- match(metric, ids)
  definition <- defined("better", ids)[at]
  # a column that is called by its unit
  bare <- (is.na(unit) | unit == "") & is.na(definition) & !is.na(better_from_bare_unit(metric))
  unit <- ifelse(bare, ifelse(tolower(metric) == "fps", "fps", metric), unit)
  from_unit <- better_from_unit(unit)
  from_unit[from_unit %in% "higher" & names_a_spread(metric)] <- NA
  torn <- is.na(better) & definition %in% c("higher", "lower") & !is.na(from_unit) & from_unit != definition
  unit <- ifelse(is.na(unit) | unit == "", defined("unit", ids)[at], unit)
  from <- list(
    given = better, definition = definition, unit = from_unit, name = better_from_name(metric),
    again = defined("better", tolower(ids))[at]
  )
  taken <- Reduce(function(a, b) ifelse(is.na(a), b, a), from)
  source <- c(NA, NA, "unit", "name", NA)[max.col(-is.na(do.call(cbind, from)), ties.method = "first")]
  scale <- defined("scale", ids)[at]
  scale <- ifelse(is.na(scale), scale_from_unit(empty_to(unit, "")), scale)
  once <- !is.na(taken) & !is.na(source) & !duplicated(metric)
  list(
    unit = ifelse(is.na(unit), "", unit), better = taken, scale = scale,
    said = data.frame(metric = metric, better = taken, from = source)[once, , drop = FALSE],
    unknown = unique(metric[is.na(taken)]), torn = unique(metric[torn])
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
