# How numbers and outside text are shown, the same on every face.

# how a session at home writes numbers is not how they are told here
plain_numbers <- list(OutDec = ".", scipen = 15, digits = 7)

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

#' A number as it is: neither 1e+05 nor 0,5, whatever a session prefers
#' @param digits How many are told at most. @return Text; what is no number is told as it is.
#' @noRd
show_exact <- function(x, digits = 7) {
  if (!is.numeric(x) || is.object(x)) {
    return(as.character(x))
  }
  # most are whole, and quickly told
  whole <- is.finite(x) & abs(x) < 10^digits & x == round(x)
  out <- rep(NA_character_, length(x))
  out[whole] <- sprintf("%.0f", x[whole] + 0)
  rest <- which(!whole & !is.na(x))
  out[rest] <- vapply(x[rest], format, "", digits = digits, scientific = FALSE, decimal.mark = ".", USE.NAMES = FALSE)
  out
}

# a confidence, from 0 to 1, as people say it
show_share <- function(share) paste0(show_exact(100 * share), " %")

# one that has several parts (which slots are filled) is one text
fact_text <- function(fact) paste(show_exact(unlist(fact), 15), collapse = ", ")

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

# the first letter as at the start of a sentence
capital <- function(text) paste0(toupper(substr(text, 1, 1)), substring(text, 2))

empty_to <- function(x, other) if (is.null(x) || !length(x)) other else x
empty_zero <- function(x) ifelse(is.na(x), 0, x)
