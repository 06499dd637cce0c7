# Where names stand beside points, so that they cover neither each other nor what is drawn.

#' A corner beside each point for its name
#'
#' One point after the other takes the corner at which its name covers least.
#' @param data Data frame: `x`, `y`, their intervals `x_lower`, `x_upper`, `y_lower`, `y_upper` (`NA` for none), `name`.
#' @param width,height Of one letter, in shares of the panel.
#' @return Data frame `hjust`, `vjust`, one row a point.
#' @noRd
corner_labels <- function(data, width = 0.008, height = 0.075) {
  x <- in_panel(data$x, data$x_lower, data$x_upper)
  y <- in_panel(data$y, data$y_lower, data$y_upper)
  corners <- data.frame(right = c(TRUE, TRUE, FALSE, FALSE), above = c(FALSE, TRUE, TRUE, FALSE))
  # what is drawn: points as small boxes, intervals as thin ones
  small <- 0.012
  drawn <- rbind(
    box(x$at - small, x$at + small, y$at - 2 * small, y$at + 2 * small), box(x$from, x$to, y$at, y$at),
    box(x$at, x$at, y$from, y$to)
  )
  chosen <- integer(nrow(data))
  for (i in seq_len(nrow(data))) {
    wide <- width * nchar(data$name[i])
    left <- x$at[i] + ifelse(corners$right, 1.5 * small, -1.5 * small - wide)
    low <- y$at[i] + ifelse(corners$above, 0.2, -1.2) * height
    own <- box(left, left + wide, low, low + height)
    covered <- vapply(seq_len(4), function(k) sum(overlaps(own[k, ], drawn)), 1)
    chosen[i] <- which.min(covered)
    drawn <- rbind(drawn, own[chosen[i], ])
  }
  data.frame(
    hjust = ifelse(corners$right[chosen], -0.15, 1.15), vjust = ifelse(corners$above[chosen], -0.5, 1.5)
  )
}

# where values lie between the ends of all that is drawn, 0 to 1
in_panel <- function(at, lower, upper) {
  lower <- ifelse(is.na(lower), at, lower)
  upper <- ifelse(is.na(upper), at, upper)
  ends <- range(lower, upper)
  share <- function(v) (v - ends[1]) / max(diff(ends), 1e-12)
  list(at = share(at), from = share(lower), to = share(upper))
}

box <- function(left, right, low, high) cbind(left = left, right = right, low = low, high = high)

overlaps <- function(one, others) {
  one[["left"]] <= others[, "right"] & one[["right"]] >= others[, "left"] & one[["low"]] <= others[, "high"] &
    one[["high"]] >= others[, "low"]
}

#' How a label is aligned so that it stays inside its panel, whatever its length: at the left edge it begins at its
#' point, at the right edge it ends there
#' @param x Where each label stands. @param panel Of each. @param lower,upper All that is drawn beside, by element of
#' `x`.
#' @param margin By which the axis goes on beyond all that is drawn, as a share of it.
#' @return 0 to 1.
#' @noRd
kept_inside <- function(x, panel, lower = x, upper = x, margin = 0.18) {
  finite <- function(v, other) ifelse(is.finite(v), v, other)
  # panels in which no label stands have no ends
  panel <- as.character(panel)
  from <- stats::ave(pmin(finite(lower, x), finite(x, 0), 0), panel, FUN = min)
  to <- stats::ave(pmax(finite(upper, x), finite(x, 0), 0), panel, FUN = max)
  wide <- pmax(to - from, 1e-12)
  share <- (finite(x, 0) - (from - margin * wide)) / (wide * (1 + 2 * margin))
  pmin(1, pmax(0, share))
}
