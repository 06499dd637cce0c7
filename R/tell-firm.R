# How firm the verdicts are, in words.

#' @param x From `how_firm()`.
#' @return Character vector: those that hang on a choice, then those that do not.
#' @noRd
firm_words <- function(x) {
  if (!nrow(x)) {
    return("No choice was made that could have been made otherwise.")
  }
  told <- labels_of(x)
  rows <- plain_table(x)
  about <- paste0(place_names(rows), ", ", metric_labels(rows$metric, told), ", ", arm_names(rows$arm, told))
  if (length(unique(rows$baseline)) > 1) about <- paste0(about, " against ", arm_names(rows$baseline, told))
  parts <- split(rows, factor(about, unique(about)))
  firm <- vapply(parts, function(p) all(p$agrees), NA)
  hangs <- vapply(names(parts)[!firm], function(name) {
    p <- parts[[name]]
    other <- p[!p$agrees, , drop = FALSE]
    then <- vapply(split(other$choice, factor(other$then, unique(other$then))), function(choices) {
      paste0("with ", list_words(unique(choices)))
    }, "")
    paste0(
      name, ": ", p$verdict[1], " under ", sum(p$agrees), " of ", count_of(nrow(p), "other choice"), "; ",
      paste0(names(then), " ", then, collapse = "; "), "."
    )
  }, "")
  c(
    unname(hangs),
    if (any(firm)) {
      of <- range(vapply(parts[firm], nrow, 1L))
      many <- if (of[1] == of[2]) count_of(of[1], "other choice") else paste(of[1], "to", of[2], "other choices")
      said <- paste0(names(parts)[firm], " (", vapply(parts[firm], function(p) p$verdict[1], ""), ")")
      paste0("The same under all of ", many, ": ", paste(said, collapse = "; "), ".")
    }
  )
}
