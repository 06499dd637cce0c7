# What a unit says about a metric that nobody defined.

# units that leave no doubt which direction is better
unit_words <- list(
  lower = c("ms", "us", "\u00b5s", "\u03bcs", "ns"),
  higher = c(
    "points", "point", "pts", "fps", "frames/s", "bilder/s", "kb/s", "mb/s", "gb/s", "kib/s", "mib/s", "gib/s", "ops/s"
  )
)
units_of_time <- c("s", "sec", "secs", "second", "seconds", "min", "min:s", "m:ss", "h", "h:mm:ss", unit_words$lower)
units_of_degrees <- c("\u00b0c", "\u00b0f", "c", "degc", "degf", "deg", "degrees", "k")
# what else is a unit behind a number
units_besides <- c("j", "kj", "mj", "wh", "mah", "mv", "ma", "db", "dba", "db(a)", "bytes", "/s")

better_from_unit <- function(unit) {
  word <- tolower(trimws(unit))
  ifelse(word %in% unit_words$lower, "lower", ifelse(word %in% unit_words$higher, "higher", NA_character_))
}

# a plan that was sealed says what it said: there a time or a power without a direction was one of which less is better
better_in_plans <- function(unit) {
  word <- tolower(trimws(unit))
  less <- word %in% c(units_of_time, units_of_degrees, "w", "j", "kj", "wh", "mj")
  ifelse(less, "lower", ifelse(word %in% c("hz", "khz", "mhz", "ghz", "/s"), "higher", better_from_unit(unit)))
}

unit_spellings <- c(
  "\u00b0C" = "C", degC = "C", Celsius = "C", "\u00b0F" = "F", degF = "F", K = "K", MHZ = "MHz", GHZ = "GHz",
  Watt = "W",
  Watts = "W", RPM = "rpm", `U/min` = "rpm", percent = "%", Joule = "J", `MT/s` = "MT/s",
  `frames/s` = "fps", `Bilder/s` = "fps"
)
unit_quantity <- c(
  MHz = "clock", GHz = "clock", kHz = "clock", Hz = "clock", `MT/s` = "clock", C = "temperature", F = "temperature",
  K = "temperature", W = "power", mW = "power", kW = "power", rpm = "fan", MB = "memory", GB = "memory",
  MiB = "memory", GiB = "memory", kB = "memory", KiB = "memory", J = "energy", kJ = "energy", Wh = "energy",
  mWh = "energy", `%` = "load", fps = "rate"
)

plain_unit <- function(unit) {
  unit <- trimws(unit)
  known <- match(tolower(unit), tolower(names(unit_spellings)))
  unit <- ifelse(is.na(known), unit, unname(unit_spellings)[known])
  exact <- match(tolower(unit), tolower(names(unit_quantity)))
  ifelse(is.na(exact), unit, names(unit_quantity)[exact])
}

#' Is a word behind a number a unit? "4K" and "1080p" are names
#' @noRd
is_unit <- function(text) {
  word <- tolower(trimws(text))
  spelled <- word %in% tolower(names(unit_spellings)) | word %in% tolower(names(unit_quantity))
  known <- word %in% c(units_of_time, units_of_degrees, units_besides, unit_words$higher)
  !is.na(text) & !word %in% c("k", "c", "f") & (spelled | known)
}

# words of a name that tell which direction is better, and what for; those of doubt never do
doubtful_words <- paste0(
  "battery|akku|akkulaufzeit|runtime|run time|run-time|uptime|laufzeit|screen-on|screen on|drop|drops|dropped|loss|",
  "lost|",
  "losses|error|errors|fehler|penalty|penalties|life|lifetime|verlust"
)
lower_words <- paste0(
  "latency|latencies|latenz|delay|verz\u00f6gerung|power draw|leistungsaufnahme|temperature|temperatur|temp|",
  "noise level|lautst\u00e4rke"
)
timed_words <- paste0(
  "((load|loading|build|render|rendering|encode|encoding|compile|compiling|boot|lap|frame)[ _.-]?times?|frametimes?|",
  "ladezeit|ladezeiten|bauzeit|renderzeit|rundenzeit|startzeit|bootzeit|bildzeit)"
)
higher_words <- "score|scores|points|fps|bandwidth|throughput|punkte|durchsatz"

has_word <- function(name, words) grepl(paste0("(^|[^[:alpha:]])(", words, ")($|[^[:alpha:]])"), tolower(name))

names_a_spread <- function(name) {
  has_word(name, "sd|std|stdev|stddev|std[ ._-]?dev|sem|cv|deviation|variance|stabw|standardabweichung|varianz|range")
}

#' The direction that a name tells, with its unit
#'
#' A time, a power, a temperature has one only where the name says what for, from a short closed list; of a battery, of
#' drops, losses and errors nobody guesses it.
#' @noRd
better_from_name <- function(name, unit = NA_character_) {
  word <- tolower(trimws(empty_na(unit)))
  timed <- has_word(name, timed_words) & word %in% units_of_time
  lower <- has_word(name, lower_words) | timed
  higher <- has_word(name, higher_words)
  out <- ifelse(lower & !higher, "lower", ifelse(higher & !lower, "higher", NA_character_))
  replace(out, doubts_direction(name), NA_character_)
}

doubts_direction <- function(name) has_word(name, doubtful_words) | names_a_spread(name)

#' The direction that a metric has by itself, by its unit or by its name
#' @return `NA` where nothing tells.
#' @noRd
direction_told <- function(metric, unit = NA_character_) {
  # a metric may be called by its unit
  told <- empty_to(known_metrics()[[metric]]$better, better_from_unit(metric))
  if (is.na(told)) better_from_name(metric, unit) else told
}

# Differences of shares and of temperatures mean something; their ratios do not.
scale_from_unit <- function(unit) {
  ifelse(tolower(trimws(unit)) %in% c("%", units_of_degrees), "absolute", "percent")
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
  bare <- (is.na(unit) | unit == "") & is.na(definition) & !is.na(better_from_unit(metric))
  unit <- ifelse(bare, ifelse(tolower(metric) == "fps", "fps", metric), unit)
  from_unit <- better_from_unit(unit)
  from_unit[doubts_direction(metric)] <- NA
  torn <- is.na(better) & definition %in% c("higher", "lower") & !is.na(from_unit) & from_unit != definition
  unit <- ifelse(is.na(unit) | unit == "", defined("unit", ids)[at], unit)
  from <- list(
    given = better, definition = definition, unit = from_unit, name = better_from_name(metric, unit),
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
