# What a plan may say on sensors.

sensor_keys <- function(text, number, free) {
  series <- list(type = "word", words = names(sensor_kinds))
  list(type = "map", keys = list(
    rate = number, commands = free, asked_clock = list(type = "word", words = c("processor", "graphics", "memory")),
    limits = list(type = "list", each = list(type = "map", required = "series", keys = list(
      series = series, above = number, below = number
    )))
  ))
}

check_sensors <- function(sensors, place) {
  for (name in names(sensors$commands)) {
    parts <- sensor_parts(name)
    if (!parts$quantity %in% sensor_quantities || !parts$unit %in% names(sensor_units[[parts$quantity]])[1]) {
      units <- vapply(sensor_units, function(u) names(u)[1], "")
      abort_input(
        paste0("'", name, "' does not say which sensor it is"), place,
        paste0("call it \"quantity part [unit]\": ", paste0(names(units), " [", units, "]", collapse = ", "))
      )
    }
  }
  for (limit in sensors$limits) {
    if (is.null(limit$above) == is.null(limit$below)) {
      abort_input(
        paste0("the limit of ", limit$series, " needs above: or below:"), place, "give one of them, with a number"
      )
    }
  }
}
