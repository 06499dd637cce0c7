# Where the noise comes from, in words.

source_words <- function(source) {
  known <- c(
    block = "between blocks", boot = "between boots", place = "the place of a pass in its block (warming)",
    processor_temperature_min = "how warm the processor began",
    graphics_temperature_min = "how warm the graphics part began",
    `processors busy` = "what else ran before the pass", `load 1 min` = "the load of the minute before"
  )
  ifelse(source %in% names(known), known[source], source)
}

remedy_words <- function(source) {
  known <- c(
    place = "a warm-up pass at the start of each block",
    processor_temperature_min = "cooling down to the same temperature first",
    graphics_temperature_min = "cooling down to the same temperature first",
    `processors busy` = "waiting until nothing else runs", `load 1 min` = "waiting until nothing else runs"
  )
  ifelse(source %in% names(known), known[source], "keeping it the same")
}

#' @param x From `noise_sources()`.
#' @return Character vector, one element a cell.
#' @noRd
sources_words <- function(x) {
  told <- labels_of(x)
  rows <- plain_table(x)
  place <- paste0(place_names(rows), ", ", metric_labels(rows$metric, told))
  vapply(split(rows, factor(place, unique(place))), function(mine) {
    name <- paste0(place_names(mine[1, ]), ", ", metric_labels(mine$metric[1], told), ": ")
    groups <- mine[mine$source %in% c("block", "boot") & mine$p < 0.05, , drop = FALSE]
    facts <- mine[!mine$source %in% c("block", "boot") & mine$p < 0.05, , drop = FALSE]
    said <- c(
      if (nrow(groups)) {
        paste0(
          show_number(groups$share, 2), " % of the variance of a pass lies ", source_words(groups$source), " (",
          range_text(groups), ifelse(groups$source == "block", "), which the blocks take out", "), so more boots help")
        )
      },
      if (nrow(facts)) {
        paste0(
          show_number(facts$share, 2), " % of what is left goes with ", source_words(facts$source), " (",
          range_text(facts), "): ", remedy_words(facts$source), " would save about ", facts$saved, " of ", facts$of,
          " blocks"
        )
      }
    )
    paste0(name, if (length(said)) paste(said, collapse = "; ") else "nothing recorded explains it", ".")
  }, "", USE.NAMES = FALSE)
}

sources_footing <- function(x) {
  paste0(
    "Told where it is more than chance (each looked at alone, at 95 %): of ", count_of(nrow(x), "share"), ", about ",
    round(0.05 * nrow(x)), " would be by luck. A share that goes with a fact need not be caused by it."
  )
}

range_text <- function(rows) paste0(show_number(rows$lower, 2), " to ", show_number(rows$upper, 2), " %")
