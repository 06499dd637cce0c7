# Which pass each value is of.

#' Ids of passes: a number is one within its arm, workload or context; without any, each row is a pass
#' @noRd
with_passes <- function(out, sheet) {
  several <- length(unique(out$arm[!is.na(out$arm)])) > 1
  own <- empty_to(out$pass, NA_character_)
  number <- empty_to(out$.number, NA_character_)
  if (is.null(out$pass) && is.null(out$.number) && any(part_roles %in% names(out))) {
    out$pass <- paste(out$arm, runs_of_parts(out))
    return(within_places(out, sheet))
  }
  if (is.null(out$pass) && is.null(out$.number)) {
    key <- out[intersect(c("arm", "workload", "segment", "context", "block", "metric"), names(out))]
    if (sheet$layout$kind %in% c("across", "above", "below") || "metric" %in% sheet$roles$role) {
      own <- as.character(ordinal_within(c(key, list(out$.column))))
    } else {
      own <- as.character(match(out$.row, sheet$passes))
      out$pass <- own
      out$.number <- NULL
      return(out)
    }
    out$pass <- paste(out$arm, own)
    return(within_places(out, sheet))
  }
  if (!is.null(out$.number) && is.null(out$pass)) {
    # several rows of one arm beside numbered columns are passes of their own
    key <- c(out[intersect(c("arm", "workload", "segment", "context", "metric"), names(out))], list(out$.column))
    again <- if (sheet$layout$kind == "parts") rep(1L, length(number)) else ordinal_within(key)
    id <- if (any(again > 1)) paste0(sheet$grid$line[out$.row], ".", number) else number
    out$pass <- paste(out$arm, id)
    out$.number <- NULL
    return(within_places(out, sheet))
  }
  bare <- is.na(own)
  if (any(bare)) own[bare] <- paste(sheet$grid$row, sheet$grid$line[out$.row[bare]])
  out$pass <- own
  out$.number <- NULL
  if ("part" %in% names(out)) {
    return(out)
  }
  arms <- tapply(out$arm, out$pass, function(a) length(unique(a)) > 1)
  called <- which(sheet$roles$role %in% "pass")
  within_arms <- !identical(tolower(sheet$roles$name[called]), "pass") || isTRUE(mean(arms) >= 0.5)
  if (several && within_arms && any(arms)) out$pass <- paste(out$arm, out$pass)
  within_places(out, sheet)
}

ordinal_within <- function(keys) {
  code <- do.call(paste, c(unname(keys), sep = "\r"))
  as.integer(stats::ave(seq_along(code), code, FUN = seq_along))
}

# numbers that begin again in each context, or block, are others there
within_places <- function(out, sheet) {
  key <- function() {
    do.call(paste, c(unname(out[intersect(
      c("pass", "workload", "segment", "metric", "part", part_roles),
      names(out)
    )]), sep = "\r"))
  }
  for (place in intersect(c("context", "block"), names(out))) {
    if (!anyDuplicated(key())) break
    out$pass <- ifelse(is.na(out[[place]]), out$pass, paste(out$pass, out[[place]]))
  }
  out
}
