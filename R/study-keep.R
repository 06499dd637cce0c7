# From what a pass captured to what the ledger stores of it.

#' @param captured A list: `frames` (data frame `frame_time_ms`, maybe `start_s`), `marks`,
#'   `sensors`; any may be `NULL`.
#' @return A list: `readings`, `traces`, `pile` (rows for the ledger), `parts` (one per
#'   flip of a toggled pass), `notes`, `frames_seconds`.
#' @noRd
keep_capture <- function(folder, plan, pass, captured) {
  about <- about_pass(plan, pass, captured)
  frames <- about$frames
  marks <- about$marks
  places <- about$places
  out <- list(
    notes = c(captured$notes, if (!is.null(captured$sensors)) vanished_sensors(captured$sensors)),
    frames_seconds = if (!is.null(frames)) sum(frames$frame_time_ms) / 1000
  )
  out$traces <- rbind(
    if (!is.null(frames)) store_trace(folder, pass$pass, "frames", frames_to_store(frames, captured)),
    # all windows of a program that had several: only one of them is read
    if (!is.null(captured$windows)) store_trace(folder, pass$pass, "windows", captured$windows),
    if (nrow(marks)) store_trace(folder, pass$pass, "marks", marks),
    if (!is.null(captured$sensors)) store_trace(folder, pass$pass, "sensors", captured$sensors)
  )
  if (!is.null(places) && !any(places$counts)) {
    out$notes <- c(out$notes, "no frame counts: all of them were in a pause or a gap")
    return(out)
  }
  if (!is.null(places)) out$notes <- c(out$notes, left_out_words(frames, places))
  if (about$toggled) {
    out$parts <- lapply(toggled_passes(about), store_part, folder = folder)
    out$notes <- c(out$notes, strange_flips(about))
    return(out)
  }
  c(out, pass_readings(about))
}

store_part <- function(part, folder) {
  part$traces <- rbind(
    store_trace(folder, part$pass, "frames", part$frames),
    if (!is.null(part$sensors)) store_trace(folder, part$pass, "sensors", part$sensors)
  )
  part
}

frames_to_store <- function(frames, captured) {
  if (is.null(captured$frames$start_s)) frames["frame_time_ms"] else frames[c("frame_time_ms", "start_s")]
}

left_out_words <- function(frames, places) {
  out <- places$why_not %in% c("pause", "gap")
  if (any(out)) {
    paste0(show_number(sum(frames$frame_time_ms[out]) / 1000), " s in ", paste(
      unique(places$why_not[out]),
      collapse = " and "
    ), " do not count")
  }
}
