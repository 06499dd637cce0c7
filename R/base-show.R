# How numbers and outside text are shown, the same on every face.

#' Round for reading: enough digits to tell values apart, no more
#' @noRd
show_number <- function(x, digits = 3) {
  out <- rep("", length(x))
  ok <- which(is.finite(x))
  places <- pmax(0, pmin(digits, digits - 1 - floor(log10(pmax(abs(x[ok]), 10^-digits)))))
  out[ok] <- sprintf("%.*f", as.integer(places), x[ok])
  endless <- is.infinite(x)
  out[endless] <- ifelse(x[endless] > 0, "Inf", "-Inf")
  out
}

#' A change with its sign, and "%" or its unit
#'
#' @param width Half-width of the interval around it: two digits of that are
#'   shown, since more would claim what was not measured.
#' @noRd
show_change <- function(x, scale, unit = "", width = NA) {
  known <- is.finite(width) & width > 0
  places <- ifelse(known, 1 - floor(log10(ifelse(known, width, 1))), 2 - floor(log10(pmax(abs(x), 0.01))))
  places <- pmax(0, pmin(4, ifelse(is.na(places), 1, places)))
  x <- round(x, places) + 0
  text <- ifelse(is.na(x), "", sprintf(ifelse(x %in% 0, "%.*f", "%+.*f"), as.integer(places), x))
  paste0(text, ifelse(nzchar(text), show_suffix(scale, unit), ""))
}

#' A standard deviation with its unit, from a list `noise`, `scale`, `unit`
#' @noRd
show_noise <- function(v) paste0(show_number(v$noise, 2), show_suffix(v$scale, empty_na(empty_to(v$unit, ""))))

show_suffix <- function(scale, unit) {
  ifelse(scale == "percent", " %", ifelse(is.na(unit) | unit == "", "",
    ifelse(unit == "%", " points", paste0(" ", unit))
  ))
}

#' Text from outside must not drive a terminal
#' @noRd
plain_text <- function(x) {
  # control characters, and marks that turn the direction of writing
  gsub("[[:cntrl:]\u200e\u200f\u202a-\u202e\u2066-\u2069]", "?", as.character(x))
}

#' The same for texts of several lines
#' @noRd
plain_lines <- function(x) {
  vapply(strsplit(as.character(x), "\n", fixed = TRUE), function(lines) paste(plain_text(lines), collapse = "\n"), "")
}

empty_to <- function(x, other) if (is.null(x) || !length(x)) other else x
empty_zero <- function(x) ifelse(is.na(x), 0, x)
