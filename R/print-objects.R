# The objects of the core as a developer looks at them.

#' @export
format.honestmargin_interval <- function(x, ...) paste(format(x$lower, ...), "to", format(x$upper, ...))

#' @export
print.honestmargin_interval <- function(x, ...) {
  writeLines(format(x, ...))
  invisible(x)
}

#' @export
print.honestmargin_cell <- function(x, ...) {
  place <- x$first[c("workload", "segment", "context", "metric")]
  count <- table(factor(x$counted$arm, unique(x$counted$arm)))
  writeLines(c(
    paste(Filter(Negate(is.na), unlist(place)), collapse = ", "),
    paste0("  ", x$role, ", told in ", x$first$scale, ", ", x$first$better, " is better"),
    paste0("  passes: ", paste(names(count), count, collapse = ", "))
  ))
  invisible(x)
}

#' @export
print.honestmargin_contrast_spec <- function(x, ...) {
  line <- function(name, text) writeLines(paste0(formatC(name, width = -12), paste(text, collapse = ", ")))
  line("baseline", x$baseline)
  line("arms", setdiff(x$arms, x$baseline))
  line("worth", if (length(x$worth)) paste(names(x$worth), x$worth) else "none named")
  line("primary", if (is.null(x$primary)) "every metric" else x$primary)
  line("confidence", x$confidence)
  invisible(x)
}

#' @export
print.honestmargin_estimate <- function(x, ...) {
  columns <- c("estimate", "se", "df", "sd", "n_arm", "n_baseline", "units")
  print(list2DF(lapply(x[intersect(columns, names(x))], rep_len, length(x$estimate))), row.names = FALSE)
  invisible(x)
}
