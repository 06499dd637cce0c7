# Sensors over time. A column is called "quantity part [unit]", as the recorder
# writes it and the reader of other people's logs turns it into.

sensor_quantities <- c(
  "clock", "temperature", "load", "power", "memory", "fan", "energy", "battery", "throttles", "limit"
)

# to our units: MHz, C, %, W, MB, rpm, J
sensor_units <- list(
  clock = c(MHz = 1, GHz = 1000, kHz = 1e-3, Hz = 1e-6, `MT/s` = 1), temperature = c(C = 1), load = c(`%` = 1),
  power = c(W = 1, mW = 1e-3, kW = 1000),
  memory = c(MB = 1, GB = 1000, kB = 1e-3, MiB = 1.048576, GiB = 1073.741824, KiB = 1.024e-3),
  fan = c(rpm = 1), energy = c(J = 1, kJ = 1000, Wh = 3600, mWh = 3.6), battery = c(`%` = 1),
  throttles = c(count = 1), limit = c(W = 1)
)

#' @param columns Names of sensor columns. @return A list of vectors: `column`, `quantity`, `part`, `unit`.
#' @noRd
sensor_parts <- function(columns) {
  bare <- sub(" *\\[[^]]*\\]$", "", columns)
  list(
    column = columns, quantity = sub(" .*$", "", bare), part = sub("^[^ ]* ?", "", bare),
    unit = ifelse(endsWith(columns, "]"), sub("^.*\\[([^]]*)\\]$", "\\1", columns), "")
  )
}

# What is looked at of a machine, and out of which columns: the first choice of
# parts that is there. `of` says how several columns become one.
sensor_choices <- function() {
  one <- function(quantity, part, of = "mean") list(quantity = quantity, part = part, of = of)
  hot <- function(part) one("temperature", part, "max")
  list(
    processor_load = list(one("load", "^processor"), one("load", "^core [0-9]+$")),
    busiest_core_load = list(one("load", "^core [0-9]+$", "max")),
    processor_clock = list(one("clock", "^core [0-9]+$"), one("clock", "^processor")),
    processor_temperature = list(hot("^processor"), hot("^zone .*(pkg|cpu|core)")),
    processor_power = list(one("power", "^processor", "max")),
    graphics_load = list(one("load", "^graphics", "max")),
    graphics_clock = list(one("clock", "^graphics", "max")),
    graphics_temperature = list(hot("^graphics")),
    graphics_power = list(one("power", "^graphics", "max")),
    graphics_memory = list(one("memory", "^graphics( used)?$", "max")),
    graphics_memory_total = list(one("memory", "^graphics total$", "max")),
    memory_used = list(one("memory", "^used$")), swap_used = list(one("memory", "^swap")),
    memory_clock = list(one("clock", "^memory")), fan_speed = list(one("fan", "", "max")),
    processor_energy = list(one("energy", "^processor", "sum")),
    graphics_energy = list(one("energy", "^graphics", "sum")),
    battery_level = list(one("battery", "", "min")), throttles = list(one("throttles", "", "max")),
    processor_limit = list(one("limit", "^processor", "max")), graphics_limit = list(one("limit", "^graphics", "max"))
  )
}

#' The series of a machine's parts, out of whatever sensors there are
#'
#' @param sensors Data frame: `time_s` and sensor columns.
#' @return Data frame: `time_s` and those of `sensor_choices()` that are there;
#'   power comes from energy where there is no sensor of it.
#' @noRd
sensor_series <- function(sensors) {
  sensors <- sensors[order(sensors$time_s), , drop = FALSE]
  parts <- sensor_parts(setdiff(names(sensors), "time_s"))
  out <- sensors["time_s"]
  choices <- sensor_choices()
  for (name in names(choices)) {
    for (choice in choices[[name]]) {
      hit <- parts$column[parts$quantity == choice$quantity & grepl(choice$part, parts$part)]
      if (length(hit) && any(is.finite(unlist(sensors[hit])))) {
        out[[name]] <- across(as.matrix(sensors[hit]), choice$of)
        break
      }
    }
  }
  for (who in c("processor", "graphics")) {
    energy <- out[[paste0(who, "_energy")]]
    if (!is.null(energy) && is.null(out[[paste0(who, "_power")]]) && nrow(out) > 1) {
      # samples of another sensor may stand between two of the counter
      seen <- which(is.finite(energy))
      power <- rep(NA_real_, length(energy))
      power[seen[-1]] <- diff(energy[seen]) / diff(out$time_s[seen])
      out[[paste0(who, "_power")]] <- power
    }
  }
  out
}

across <- function(values, of) {
  if (ncol(values) == 1) {
    return(as.numeric(values))
  }
  found <- suppressWarnings(switch(of,
    mean = rowMeans(values, na.rm = TRUE),
    sum = rowSums(values, na.rm = TRUE),
    max = do.call(pmax, c(as.data.frame(values), na.rm = TRUE)),
    min = do.call(pmin, c(as.data.frame(values), na.rm = TRUE))
  ))
  found[!rowSums(is.finite(values))] <- NA
  found
}
