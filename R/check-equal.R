# The same best value again and again: a limit may stand behind it, or too few digits.

#' @param rows Counted readings of what is judged.
#' @noRd
equal_tops <- function(rows) {
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(rows)), cell_key(rows)), function(at) {
    here <- rows[at, , drop = FALSE]
    top <- if (here$better[1] == "lower") min(here$value) else max(here$value)
    same <- here$value == top
    # none of something and all of it are no limits that anybody set
    bound <- top == 0 || top == 100 && here$unit[1] %in% "%" || counted_per(here$metric[1]) != "no"
    if (bound || length(at) < 4 || mean(same) < 0.5 || length(unique(here$arm[same])) < 2) {
      return(NULL)
    }
    new_finding("warning", "equal_tops",
      n = sum(same), of = length(at), value = top, unit = here$unit[1], workload = here$workload[1],
      segment = here$segment[1], context = here$context[1], metric = here$metric[1]
    )
  }))
}

register("check", "equal_tops", scope = "study", run = function(study) equal_tops(judged_readings(study)))
