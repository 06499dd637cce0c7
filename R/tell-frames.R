# Where in the distribution of frame times arms differ, in words.

#' @param x From `weigh_frames()`.
#' @return Character vector, one element a comparison.
#' @noRd
frames_words <- function(x) {
  told <- labels_of(x)
  rows <- plain_table(x)
  about <- paste0(place_names(rows), ", ", arm_names(rows$arm, told), " against ", arm_names(rows$baseline, told))
  vapply(split(rows, factor(about, unique(about))), function(part) {
    name <- paste0(
      place_names(part[1, ]), ", ", arm_names(part$arm[1], told), " against ", arm_names(part$baseline[1], told), ": "
    )
    if (is.infinite(part$upper[1])) {
      first <- first_look(nrow(part) / attr(x, "alpha"))
      return(paste0(name, code_text(new_code("looks_begin", n = first, have = part$blocks[1], unit = "block")), "."))
    }
    runs <- differing_runs(part)
    if (!nrow(runs)) {
      return(paste0(name, "no percentile of frame time differs by more than the noise."))
    }
    paste0(name, paste(vapply(seq_len(nrow(runs)), function(i) run_words(runs[i, ]), ""), collapse = "; "), ".")
  }, "", USE.NAMES = FALSE)
}

# stretches of percentiles that differ in the same direction
differing_runs <- function(part) {
  side <- ifelse(part$differs == "yes", sign(part$change), 0)
  runs <- rle(side)
  to <- cumsum(runs$lengths)
  from <- to - runs$lengths + 1
  out <- lapply(which(runs$values != 0), function(i) {
    at <- from[i]:to[i]
    most <- at[which.max(abs(part$change[at]))]
    data.frame(
      side = runs$values[i], from = part$share[from[i]], to = part$share[to[i]], low = min(abs(part$change[at])),
      high = max(abs(part$change[at])), at = part$share[most]
    )
  })
  if (length(out)) do.call(rbind, out) else data.frame()
}

run_words <- function(run) {
  word <- if (run$side > 0) "longer" else "shorter"
  where <- if (run$from == run$to) {
    paste("at", share_words(run$from))
  } else {
    paste("from", share_words(run$from), "to", share_words(run$to))
  }
  by <- paste(unique(show_number(c(run$low, run$high), 2)), collapse = " to ")
  most <- if (run$from != run$to) paste0(", most at ", share_words(run$at))
  paste0("frame times are ", word, " ", where, " (by ", by, " %", most, ")")
}

share_words <- function(share) paste0(show_exact(round(100 * share, 2)), " %")

frames_footing <- function(x) {
  lacks <- nrow(x) > 0 && max(x$share) < max(few_shares)
  paste0(
    "A percentile: so many of the frames are no longer", if (lacks) {
      "; those with fewer than 10 frames of a pass behind them are left out"
    }, ". All bands hold at all percentiles of all comparisons ",
    "together, at ", show_share(attr(x, "confidence")),
    if (any(x$by == "looks")) ", however often one looked", "."
  )
}
