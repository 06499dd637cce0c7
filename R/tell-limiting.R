# Which part limited the passes, in words.

part_words <- c(
  limiter = "the frame limiter", heat = "heat", power = "the power limit", `graphics memory` = "graphics memory",
  graphics = "the graphics part", processor = "the processor (all cores)",
  `one thread` = "one thread of the processor",
  `none seen` = "nothing that was seen", unknown = "what no sensor shows"
)

#' What limited the passes, as sentences by workload and context
#'
#' "limited by graphics at 125, 500 and 1000 Hz (graphics load 98 %); one thread at 2000 Hz (...)"
#' @param each From `limiting_by_arm()`.
#' @noRd
limiting_sentences <- function(each, labels) {
  if (is.null(each)) {
    return(character())
  }
  place <- place_names(each)
  # where no sensor and no frame says anything there is nothing to tell
  silent <- tapply(each$limiting == "unknown", place, all)
  each <- each[!silent[place], , drop = FALSE]
  if (!nrow(each)) {
    return(character())
  }
  place <- place_names(each)
  vapply(split(each, factor(place, unique(place))), function(rows) {
    everywhere <- function(same) length(same$arm) == nrow(rows)
    # arms held at different rates are separated
    rate <- vapply(rows$evidence, function(e) if (e$code == "frames_held") show_number(e$values$fps, 2) else "", "")
    alike <- paste(rows$limiting, rate)
    said <- vapply(split(rows, factor(alike, unique(alike))), function(same) {
      paste0(
        part_words[[same$limiting[1]]],
        if (everywhere(same)) " in every arm" else paste(" at", arm_list(same$arm, labels)), " (",
        format(new_codes(list(same$evidence[1]))), ")"
      )
    }, "")
    paste0("limited by ", paste(said, collapse = "; "), ".")
  }, "")
}
