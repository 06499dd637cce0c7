# Passes held at a ceiling: the difference is hidden there, not absent.

#' Which arms are held, from the piles of their passes
#'
#' A steady scene piles up too, but its level moves with the run-to-run noise,
#' while a limit stays where it is; so the piles of an arm must agree in level. Frames that keep in phase with a clock
#' are held whatever their jitter.
#' @param piles Data frame, one row per counted pass: `workload`, `segment`, `context`,
#'   `arm`, `pass`, `level_ms`, `share`, `faster`, `held`.
#' @return Data frame, one row per held arm: `workload`, `segment`, `context`, `arm`,
#'   `limit_ms`, `passes_held`, `passes`.
#' @noRd
find_ceilings <- function(piles) {
  held <- lapply(split_in_order(
    seq_len(nrow(piles)), piles$workload, piles$segment, piles$context, piles$arm
  ), function(at) {
    p <- take_rows(piles, at)
    at_limit <- p$held >= 1
    if (mean(at_limit) <= 0.5) {
      return(NULL)
    }
    level <- stats::median(p$level_ms[at_limit])
    apart <- max(abs(p$level_ms[at_limit] / level - 1))
    # a limiter that only delays lets frames lie as close as a very even scene does: it must be the same to a hair
    if (apart > if (mean(p$held == 2) > 0.5) 0.003 else 0.0015) {
      return(NULL)
    }
    data.frame(p[1, c("workload", "segment", "context", "arm")],
      limit_ms = level,
      passes_held = sum(at_limit), passes = nrow(p), row.names = NULL
    )
  })
  do.call(rbind, unname(held))
}

register("check", "ceiling", scope = "study", run = function(study) {
  ceilings <- study$ceilings
  if (is.null(ceilings)) {
    return(no_findings())
  }
  do.call(bind_findings, lapply(split_in_order(
    seq_len(nrow(ceilings)), ceilings$workload, ceilings$segment, ceilings$context
  ), function(at) {
    held <- take_rows(ceilings, at)
    arms <- arm_order(held$arm)
    new_finding("warning", "ceiling",
      arms = arms, fps = 1000 / held$limit_ms[match(arms, held$arm)],
      held = sum(held$passes_held), of = sum(held$passes),
      workload = held$workload[1], segment = held$segment[1], context = held$context[1],
      arm = paste(arms, collapse = ", ")
    )
  }))
})
