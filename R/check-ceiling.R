# Passes held at a ceiling: the difference is hidden there, not absent.

#' Is a pass piled up at a limit?
#'
#' A limiter or the display puts most frames into a narrow band, and hardly any
#' is faster, since frames cannot come before their time.
#' @param frame_time_ms Frame times of one pass.
#' @return Named vector: `level_ms`, `share` of frames in a band 4 % wide,
#'   `faster` (share before it), `held` (1 or 0).
#' @noRd
pile_of_pass <- function(frame_time_ms) {
  band <- densest_band(frame_time_ms, 0.04)
  c(band, held = as.numeric(band[["share"]] >= 0.5 && band[["faster"]] <= 0.1))
}

#' Which arms are held, from the piles of their passes
#'
#' A steady scene piles up too, but its level moves with the run-to-run noise,
#' while a limit stays where it is; so the piles of an arm must agree in level.
#' @param piles Data frame, one row per counted pass: `workload`, `context`,
#'   `arm`, `pass`, `level_ms`, `share`, `faster`, `held`.
#' @return Data frame, one row per held arm: `workload`, `context`, `arm`,
#'   `limit_ms`, `passes_held`, `passes`.
#' @noRd
find_ceilings <- function(piles) {
  key <- paste(piles$workload, piles$context, piles$arm, sep = "\r")
  held <- lapply(split(piles, factor(key, unique(key))), function(p) {
    at_limit <- p$held == 1
    if (mean(at_limit) <= 0.5) {
      return(NULL)
    }
    level <- stats::median(p$level_ms[at_limit])
    apart <- max(abs(p$level_ms[at_limit] / level - 1))
    if (apart > 0.003) {
      return(NULL)
    }
    data.frame(p[1, c("workload", "context", "arm")],
      limit_ms = level,
      passes_held = sum(at_limit), passes = nrow(p), row.names = NULL
    )
  })
  do.call(rbind, unname(held))
}

ceiling_findings <- function(ceilings) {
  if (is.null(ceilings)) {
    return(no_findings())
  }
  cell <- paste(ceilings$workload, ceilings$context, sep = "\r")
  do.call(bind_findings, lapply(split(ceilings, factor(cell, unique(cell))), function(held) {
    new_finding("warning", "ceiling",
      paste0(
        paste(arm_order(held$arm), collapse = ", "), " held near ", show_number(1000 / mean(held$limit_ms)),
        " fps (", sum(held$passes_held), " of ", sum(held$passes),
        " passes): the average and the median are hidden there, the lows are not"
      ),
      "lift the limiter or the display's limit, or take a heavier scene, and run again",
      workload = held$workload[1], context = held$context[1],
      arm = paste(arm_order(held$arm), collapse = ", ")
    )
  }))
}
