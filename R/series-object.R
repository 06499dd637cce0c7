# What is looked at of a machine over time. A series knows its unit, out of which
# sensors it comes, whether more of it is better, how it is drawn and what it can
# be evidence for.

#' @param id Name, as in the metrics made of it (`graphics_load_mean`).
#' @param unit Unit. @param better `higher`, `lower` or `none` (described, not weighed).
#' @param from List of `sensor_choice()`: the first that is there is taken.
#' @param rank Where it is drawn: `NA` for not.
#' @param off `TRUE` where it may well be 0, so that differences of it are told, not ratios.
#' @param metrics `FALSE` for a series that only explains others.
#' @param wanted `TRUE` where it is not known without it what limits a pass.
#' @noRd
new_series <- function(id, unit, better = "none", from = list(), rank = NA_real_, off = FALSE, metrics = TRUE,
                       wanted = FALSE) {
  register("series", id,
    unit = unit, better = better, from = from, drawn = rank, off = off, metrics = metrics, wanted = wanted,
    rank = length(registered("series"))
  )
}

#' @param quantity,part Which sensors: their quantity, and a pattern of their part.
#' @param of How several of one device become one: `mean`, `max`, `min`, `sum`.
#' @param device `TRUE` where each device stays a series of its own.
#' @noRd
sensor_choice <- function(quantity, part = "", of = "mean", device = FALSE) {
  list(quantity = quantity, part = part, of = of, device = device)
}

series_words <- function(id) gsub("_", " ", id, fixed = TRUE)

#' A series by its id; one of a further device (`graphics_1_load`) is like the first
#' @noRd
series_about <- function(id) {
  empty_to(registered("series", id), registered("series", sub("^(graphics|fan)_[^_]+_", "\\1_", id)))
}

graphics <- function(quantity, of = "max", part = "^graphics") list(sensor_choice(quantity, part, of, device = TRUE))

# of a program that tells a rate every so often, not each frame
new_series("frame_rate", "fps", "higher", from = list(sensor_choice("rate", "^frames$")), rank = 0)
new_series("graphics_load", "%", from = graphics("load"), rank = 1, wanted = TRUE)
new_series("busiest_core_load", "%", from = list(sensor_choice("load", "^core [0-9]+$", "max")), rank = 2)
new_series("processor_load", "%",
  from = list(sensor_choice("load", "^processor"), sensor_choice("load", "^core [0-9]+$")), rank = 3
)
new_series("processor_clock", "MHz", "higher",
  from = list(sensor_choice("clock", "^core [0-9]+$"), sensor_choice("clock", "^processor")), rank = 4
)
new_series("graphics_clock", "MHz", "higher", from = graphics("clock"), rank = 5, off = TRUE)
new_series("memory_clock", "MHz", "higher", from = list(sensor_choice("clock", "^memory")))
new_series("processor_temperature", "C", "lower",
  from = list(
    sensor_choice("temperature", "^processor", "max"), sensor_choice("temperature", "^zone .*(pkg|cpu|core)", "max")
  ), rank = 6, wanted = TRUE
)
new_series("graphics_temperature", "C", "lower", from = graphics("temperature"), rank = 7)
new_series("processor_power", "W", "lower",
  from = list(sensor_choice("power", "^processor", "max")), rank = 8, wanted = TRUE
)
new_series("graphics_power", "W", "lower", from = graphics("power"), rank = 9, off = TRUE)
new_series(
  "graphics_memory", "MB", "lower",
  from = graphics("memory", part = "^graphics( [0-9]+)?( used)?$"), off = TRUE
)
new_series("memory_used", "MB", "lower", from = list(sensor_choice("memory", "^used$")))
new_series("swap_used", "MB", "lower", from = list(sensor_choice("memory", "^swap")), off = TRUE)
new_series("fan_speed", "rpm", "lower", from = list(sensor_choice("fan", "", "max")), off = TRUE)
# these explain others and have no metrics of their own
new_series("graphics_memory_total", "MB",
  from = graphics("memory", part = "^graphics( [0-9]+)? total$"), metrics = FALSE
)
new_series("processor_energy", "J", from = list(sensor_choice("energy", "^processor", "sum")), metrics = FALSE)
new_series("graphics_energy", "J", from = list(sensor_choice("energy", "^graphics", "sum")), metrics = FALSE)
new_series("battery_level", "%", from = list(sensor_choice("battery", "", "min")), metrics = FALSE)
new_series("throttles", "", from = list(sensor_choice("throttles", "", "max")), metrics = FALSE)
new_series("processor_limit", "W", from = list(sensor_choice("limit", "^processor", "max")), metrics = FALSE)
new_series("graphics_limit", "W", from = graphics("limit"), metrics = FALSE)
