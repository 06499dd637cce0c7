# Several things at once, where a process can be forked.

#' `lapply()` on all cores
#' @param worth_it `FALSE` where it is over sooner than a second process has begun.
#' @noRd
on_all_cores <- function(x, f, worth_it = TRUE) {
  # a graphical shell around R does not bear to be forked
  forks <- .Platform$OS.type == "unix" && .Platform$GUI != "RStudio"
  cores <- if (worth_it && forks) parallel::detectCores() else 1
  if (cores < 2 || length(x) < 4) {
    return(lapply(x, f))
  }
  out <- parallel::mclapply(x, f, mc.cores = cores)
  broken <- vapply(out, inherits, NA, "try-error")
  if (any(broken)) stop(attr(out[[which(broken)[1]]], "condition"))
  out
}
