# Arms in the same order in every block: what their places may have done enters the interval.

#' Estimates as wide as the drift of the session makes them
#'
#' What a drift adds to the difference of two arms is its slope times the places between them; its estimate and its
#' error enter.
#' @param e From `new_estimate()`. @param drift A list `slope`, `se`, `df`. @param places How many places lie between
#'   the mean passes of both arms.
#' @noRd
widen_for_order <- function(e, drift, places, alpha) {
  e$moved <- places * drift$slope
  e$extra <- abs(e$moved) + places * t_reach(alpha, drift$df) * drift$se
  e
}

#' What may be said of arms that always ran in the same place
#'
#' Nothing clear; what differs is told with the effect of the place alone that would undo it; where the blocks drift
#' and that may be half of the change or all of it, nothing: it need not have been straight.
#' @param moved What the drift makes of the places between the arms, on the scale of analysis. @param estimate The
#'   change on that scale.
#' @noRd
tell_order <- function(row, code, moved, estimate) {
  if (row$verdict %in% c("blocked", "no basis")) {
    return(row)
  }
  differs <- identical(row$differs, "yes")
  if (code == "order_drift" && (!differs || abs(moved) > abs(estimate) / 2)) {
    return(block_row(row, new_code("order_drift")))
  }
  if (!differs) {
    return(row)
  }
  row$verdict <- sub("^clear ", "", row$verdict)
  row$codes <- c(row$codes, list(tipping_point(row)))
  row
}

# how large an effect of the place alone would undo a difference
tipping_point <- function(row, code = "tipping") {
  new_code(code, noise = min(abs(c(row$lower, row$upper))), scale = row$scale, unit = row$unit)
}
