# Several values in one word, as they are typed: a,b or metric=2,metric=3.

split_list <- function(text) if (is.null(text)) NULL else trimws(strsplit(text, ",", fixed = TRUE)[[1]])

#' `fps_avg=2,low1_mean=5`, or one number alone
#' @noRd
named_numbers <- function(text, option) {
  if (is.null(text)) {
    return(NULL)
  }
  parts <- split_list(text)
  value <- suppressWarnings(as.numeric(sub("^.*=", "", parts)))
  named <- grepl("=", parts, fixed = TRUE)
  if (!all(is.finite(value)) || any(value < 0) || (length(parts) > 1 && !all(named))) {
    abort_usage(
      paste0("--", option, " ", text, ": not a number that is 0 or more"),
      todo = paste0("write --", option, " 2, or --", option, " fps_avg=2,low1_mean=5")
    )
  }
  if (all(named)) stats::setNames(value, trimws(sub("=.*$", "", parts))) else value
}
