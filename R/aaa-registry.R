# What can be added to in one file: metrics, series, checks, designs, figures,
# verbs. Each such file registers its own when the package is built, and those who
# use them ask here; this file therefore sorts before all others.

registry <- new.env(parent = emptyenv())

#' @param kind What it is: `"check"`, `"verb"`, ...
#' @param name Its name, one of a kind.
#' @param ... Its parts.
#' @param rank Where it stands among its kind; those of one rank by their names.
#' @noRd
register <- function(kind, name, ..., rank = 100) {
  items <- registry[[kind]]
  items[[name]] <- list(name = name, rank = rank, ...)
  registry[[kind]] <- items[order(vapply(items, `[[`, 1, "rank"), names(items), method = "radix")]
  invisible()
}

registered <- function(kind, name = NULL) if (is.null(name)) registry[[kind]] else registry[[kind]][[name]]

# The one cache. Made once, when first asked for: what is asked for at every turn, and stays as it is.
cache <- new.env(parent = emptyenv())
made_once <- function(name, make) {
  if (is.null(cache[[name]])) assign(name, make(), cache)
  cache[[name]]
}
