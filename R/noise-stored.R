# Noise known from elsewhere: the tester's table, or later the memory of earlier studies.

#' Noise of one cell out of a table of known noise
#' @param stored Data frame `workload`, `metric`, `noise`, `df`, `source`, or `NULL`.
#' @param first A list: `workload`, `metric`, `scale` of the cell.
#' @return `NULL`, or a list `sd` (on the scale of analysis), `df`, `source`.
#' @noRd
stored_noise <- function(stored, first) {
  hit <- which(stored$workload == first$workload & stored$metric == first$metric)
  if (!length(hit)) {
    return(NULL)
  }
  noise <- stored$noise[hit[1]]
  list(
    sd = to_analysis_noise(noise, first$scale), df = stored$df[hit[1]],
    source = stored$source[hit[1]]
  )
}
