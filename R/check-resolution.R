# Times that were written too coarsely for what is judged by them.

#' The step that frame times were written in, where it is coarse
#'
#' @return `NULL`, or a list: `step_ms`, `share` of the usual frame.
#' @noRd
find_coarse_step <- function(frame_time_ms) {
  if (length(frame_time_ms) < 60) {
    return(NULL)
  }
  some <- utils::head(frame_time_ms, 5000)
  values <- sort(unique(some))
  usual <- stats::median(some)
  if (length(values) < 2 || length(values) > 200) {
    return(NULL)
  }
  step <- min(diff(values)[diff(values) > 1e-5], Inf)
  off <- abs(values / step - round(values / step))
  if (is.finite(step) && step >= 0.02 * usual && all(off < 0.01)) list(step_ms = step, share = step / usual)
}

register("check", "coarse", scope = "capture", run = function(pass, frames) {
  found <- find_coarse_step(frames)
  if (!is.null(found)) new_finding("note", "coarse", step_ms = found$step_ms, share = found$share, pass = pass$pass)
})

#' What a median of frames jumps by in passes whose times are coarse
#' @param study A study. @param passes Ids. @return Step over the usual frame, the largest of them; 0 where none is.
#' @noRd
coarsest_share <- function(study, passes) {
  coarse <- study$captured[study$captured$code == "coarse" & study$captured$pass %in% passes, , drop = FALSE]
  max(0, vapply(coarse$values, `[[`, 1, "share"))
}

register("check", "resolution", scope = "study", run = function(study) {
  coarse <- study$captured[study$captured$code == "coarse", , drop = FALSE]
  at <- match(coarse$pass, study$passes$pass)
  coarse <- coarse[!is.na(at), , drop = FALSE]
  workload <- study$passes$workload[at[!is.na(at)]]
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(coarse)), workload), function(i) {
    first <- coarse$values[[i[1]]]
    new_finding("warning", "resolution",
      n = length(i), step_ms = first$step_ms, percent = 100 * first$share, workload = workload[i[1]]
    )
  }))
})
