# Several things at once, where a process can be forked.

#' How many processors there are; asking costs as much as reading a log, and they stay as many
#' @noRd
count_cores <- function() {
  made_once("cores", function() max(1, suppressWarnings(parallel::detectCores()), na.rm = TRUE))
}

#' `lapply()` on all cores
#' @param worth_it `FALSE` where it is over sooner than a second process has begun.
#' @noRd
on_all_cores <- function(x, f, worth_it = TRUE) {
  # a graphical shell around R does not bear to be forked
  forks <- .Platform$OS.type == "unix" && .Platform$GUI != "RStudio"
  if (!worth_it || !forks || count_cores() < 2 || length(x) < 4) {
    return(lapply(x, f))
  }
  # what they all need is loaded once by the first, not once in each process
  first <- lapply(x[1], f)
  out <- c(first, parallel::mclapply(x[-1], f, mc.cores = count_cores()))
  broken <- vapply(out, inherits, NA, "try-error")
  if (any(broken)) stop(attr(out[[which(broken)[1]]], "condition"))
  out
}
