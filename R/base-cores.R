# Several things at once, where a process can be forked.

#' How many processors there are; asking costs as much as reading a log, and they stay as many
#' @noRd
count_cores <- function() {
  made_once("cores", function() max(1, suppressWarnings(parallel::detectCores()), na.rm = TRUE))
}

.onLoad <- function(libname, pkgname) cache$home <- Sys.getpid()

#' How many threads a reader may take: a forked process one, since those of the process before it are not there, and are
#' waited for without end
#' @noRd
count_threads <- function() if (identical(Sys.getpid(), cache$home)) count_cores() else 1

can_fork <- function() {
  # a graphical shell around R does not bear to be forked
  .Platform$OS.type == "unix" && .Platform$GUI != "RStudio" && count_cores() > 1
}

#' `lapply()` on all cores
#' @param worth_it `FALSE` where it is over sooner than a second process has begun.
#' @param cost A number for each of `x`: the dearest are begun first, so that no core waits for one of them at the end.
#' @noRd
on_all_cores <- function(x, f, worth_it = TRUE, cost = NULL) {
  if (!worth_it || length(x) < 4 || !can_fork()) {
    return(lapply(x, f))
  }
  # what they all need is loaded once by the first, not once in each process
  first <- lapply(x[1], f)
  rest <- x[-1]
  turn <- if (is.null(cost)) seq_along(rest) else order(cost[-1], decreasing = TRUE)
  # what it warns of is fixed here: what a process that was killed did not bring is made again
  out <- suppressWarnings(
    parallel::mclapply(rest[turn], f, mc.cores = count_cores(), mc.allow.recursive = FALSE)
  )[order(turn)]
  missing <- vapply(out, is.null, NA)
  out[missing] <- lapply(rest[missing], f)
  c(first, lapply(out, or_its_error))
}

#' Something that is made in a process of its own, where one can be forked, while this one goes on
#' @param make A function without arguments.
#' @return A function without arguments: it waits, and gives what was made, or its error.
#' @noRd
meanwhile <- function(make) {
  if (!can_fork()) {
    return(make)
  }
  job <- parallel::mcparallel(make())
  function() {
    made <- parallel::mccollect(job)[[1]]
    if (is.null(made)) make() else or_its_error(made)
  }
}

or_its_error <- function(made) {
  if (inherits(made, "try-error")) stop(attr(made, "condition"))
  made
}
