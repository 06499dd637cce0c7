# What the checks saw, in words and marks.

strip_legend <- ". no finding  - note  ! warning  x failed  o not counted  w warm-up"

#' One mark for each pass, in rows by workload and arm
#' @param passes From `check_passes()`.
#' @return A list of lists: `name`, `pass` (ids), `marks`, `said` (what was seen of each, in words).
#' @noRd
pass_strips <- function(passes, labels) {
  place <- paste0(place_names(cbind(passes, segment = NA)), ", ", arm_names(passes$arm, labels))
  mark <- ifelse(passes$gravest %in% c("warning", "blocking"), "!", ifelse(passes$gravest %in% "note", "-", "."))
  mark <- ifelse(passes$outcome %in% outcomes_well, mark, "x")
  mark <- ifelse(passes$role %in% roles_left_out, "o", ifelse(passes$role == "warm_up", "w", mark))
  said <- vapply(seq_len(nrow(passes)), function(i) {
    paste(c(
      if (passes$outcome[i] != "ok") gsub("_", " ", passes$outcome[i]),
      if (passes$role[i] != "counted") gsub("_", "-", passes$role[i]), gsub("_", " ", passes$seen[[i]])
    ), collapse = ", ")
  }, "")
  rows <- split(seq_len(nrow(passes)), factor(place, unique(place)))
  first <- vapply(rows, `[`, 1L, 1L)
  rows <- rows[order(
    match(passes$workload[first], unique(passes$workload)), match(passes$arm[first], arm_order(passes$arm))
  )]
  lapply(names(rows), function(name) {
    at <- rows[[name]]
    list(name = name, pass = passes$pass[at], marks = mark[at], said = said[at])
  })
}
