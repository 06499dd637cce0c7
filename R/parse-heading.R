# What a heading of somebody else's sensor log says: quantity, part and unit. Only
# units and the general words of the trade are looked at.

#' @param heading Heading of a column. @param cells Some of its cells.
#' @return A list: `name`, `unit` (`NA` where none is told).
#' @noRd
split_heading <- function(heading, cells) {
  pattern <- "\\s*[\\[(]([^\\])]+)[\\])]\\s*$"
  if (grepl(pattern, heading, perl = TRUE)) {
    return(list(
      name = sub(pattern, "", heading, perl = TRUE),
      unit = plain_unit(sub(paste0("^.*?", pattern), "\\1", heading, perl = TRUE))
    ))
  }
  tail <- sub("^.*[ _,]", "", heading)
  if (plain_unit(tail) %in% names(unit_quantity) && nchar(tail) < nchar(heading)) {
    return(list(name = sub("[ _,]+[^ _,]*$", "", heading), unit = plain_unit(tail)))
  }
  in_cells <- unique(trimws(sub("^[-+0-9., \u00a0]+", "", cells[!is.na(cells) & grepl("[0-9]", cells)])))
  in_cells <- in_cells[nzchar(in_cells)]
  list(name = heading, unit = if (length(in_cells) == 1) plain_unit(in_cells) else NA_character_)
}

#' The part of the machine that a name speaks of
#' @noRd
part_of_name <- function(name, quantity) {
  says <- function(pattern) grepl(pattern, name, ignore.case = TRUE, perl = TRUE)
  core <- regmatches(name, regexec("core[ #_]*([0-9]+)", name, ignore.case = TRUE))[[1]]
  if (says("vram|graphics mem|gpu mem|video mem")) {
    if (quantity == "clock") {
      return("vram")
    }
    return(if (says("total|size")) "graphics total" else "graphics used")
  }
  if (quantity == "rate") {
    return("frames")
  }
  if (says("gpu|graphics")) {
    # devices that are numbered keep their numbers
    device <- regmatches(name, regexec("(?:gpu|graphics)[ #_-]*([0-9]+)", name, ignore.case = TRUE, perl = TRUE))[[1]]
    return(if (length(device)) paste("graphics", device[2]) else "graphics")
  }
  if (length(core) && quantity %in% c("load", "clock")) {
    return(paste("core", core[2]))
  }
  if (says("cpu|processor|package|\\bcore")) {
    return("processor")
  }
  if (says("swap")) {
    return("swap used")
  }
  if (says("mem|ram\\b")) {
    return(if (quantity == "memory") if (says("total|size")) "total" else "used" else "memory")
  }
  name
}

#' Where a sensor belongs: by its layout, else by its unit and its name
#'
#' @param labels The layout's words on this column, or `NULL`.
#' @return `NULL` where nothing tells the quantity; else a list: `column` (our
#'   heading) and `convert` (function to our unit).
#' @noRd
place_sensor <- function(heading, cells, labels = NULL) {
  split <- split_heading(heading, cells)
  unit <- if (is.null(labels$unit)) split$unit else plain_unit(labels$unit)
  if (is.na(unit) && names_a_rate(heading)) unit <- "fps"
  # its lows and running extremes are other numbers than the rate
  if (is.null(labels) && unit %in% "fps" && grepl("min|max|low|%", split$name, ignore.case = TRUE)) {
    return(NULL)
  }
  quantity <- empty_to(labels$quantity, if (unit %in% names(unit_quantity)) unit_quantity[[unit]])
  if (is.null(quantity)) {
    return(NULL)
  }
  if (is.null(labels$quantity) && unit %in% "%") {
    if (grepl("batter|charge", heading, ignore.case = TRUE)) quantity <- "battery"
    if (grepl("fan", heading, ignore.case = TRUE)) {
      return(NULL)
    }
  }
  part <- gsub("[\\[\\],\"]", " ", empty_to(labels$part, part_of_name(split$name, quantity)))
  units <- sensor_units[[quantity]]
  factor <- as.numeric(empty_to(labels$factor, 1))
  convert <- switch(if (is.na(unit)) "" else unit,
    F = function(x) (factor * x - 32) / 1.8,
    K = function(x) factor * x - 273.15,
    function(x) factor * x * (if (unit %in% names(units)) units[[unit]] else 1)
  )
  list(column = paste0(quantity, " ", part, " [", our_units[[quantity]], "]"), convert = convert)
}
