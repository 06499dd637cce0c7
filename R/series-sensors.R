# The sensors of a log: a column is called "quantity part [unit]", as the recorder
# writes it and the reader of other people's logs turns it into.

# to our units: MHz, C, %, W, MB, rpm, J, fps
sensor_units <- list(
  clock = c(MHz = 1, GHz = 1000, kHz = 1e-3, Hz = 1e-6, `MT/s` = 1), temperature = c(C = 1), load = c(`%` = 1),
  power = c(W = 1, mW = 1e-3, kW = 1000),
  memory = c(MB = 1, GB = 1000, kB = 1e-3, MiB = 1.048576, GiB = 1073.741824, KiB = 1.024e-3),
  fan = c(rpm = 1), energy = c(J = 1, kJ = 1000, Wh = 3600, mWh = 3.6), battery = c(`%` = 1),
  throttles = c(count = 1), limit = c(W = 1), rate = c(fps = 1)
)
sensor_quantities <- names(sensor_units)
our_units <- vapply(sensor_units, function(u) names(u)[1], "")

# a column as the recorder writes it: a quantity that is known, in our unit
is_our_heading <- function(headings) {
  parts <- sensor_parts(headings)
  parts$quantity %in% sensor_quantities & parts$unit == empty_na(our_units[parts$quantity])
}

#' @param columns Names of sensor columns.
#' @return A list of vectors: `column`, `quantity`, `part`, `unit`, `device` (which of
#'   several alike, empty for the only or the first one).
#' @noRd
sensor_parts <- function(columns) {
  bare <- sub(" *\\[[^]]*\\]$", "", columns)
  part <- sub("^[^ ]* ?", "", bare)
  list(
    column = columns, quantity = sub(" .*$", "", bare), part = part,
    unit = ifelse(endsWith(columns, "]"), sub("^.*\\[([^]]*)\\]$", "\\1", columns), ""),
    device = ifelse(grepl("^graphics [0-9]+", part), sub("^graphics ([0-9]+).*$", "\\1", part), "")
  )
}
