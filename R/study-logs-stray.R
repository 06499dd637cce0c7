# What lies beside logs in a folder and is none: notes, a summary, a table of scores.

# what a program said of each pass at its end is no pass of its own beside the log of it
leave_results <- function(logs) {
  results <- hold_results(logs$path)
  if (!any(results) || all(results)) {
    return(logs)
  }
  list(name = logs$name[!results], path = logs$path[!results], results = logs$name[results])
}

#' Leave out files that cannot be read as logs, where they are not named like the others
#'
#' As an arm of its own each would say nothing, and widen every interval.
#' @param logs From `find_named_logs()`.
#' @return `logs` without them; `strays` says which, and why.
#' @noRd
leave_strays <- function(logs, layout = NULL) {
  stem <- sub(log_ending, "", logs$name)
  shape <- gsub("[0-9]+", "0", stem)
  odd <- which(!(duplicated(shape) | duplicated(shape, fromLast = TRUE)) & !grepl("[0-9]$", stem))
  if (length(odd) > 0.5 * length(shape)) {
    return(logs)
  }
  why <- vapply(logs$path[odd], function(path) {
    tryCatch(
      {
        frames <- nrow(read_frames(path, layout))
        if (frames < 50) paste("it holds", count_of(frames, "frame")) else NA_character_
      },
      honestmargin_error = function(e) if (isTRUE(sampled_log(path)$rate)) NA_character_ else e$what
    )
  }, "")
  stray <- odd[!is.na(why)]
  if (!length(stray)) {
    return(logs)
  }
  logs$strays <- paste0(logs$name[stray], " (", why[!is.na(why)], ")")
  logs[c("name", "path")] <- list(logs$name[-stray], logs$path[-stray])
  logs
}
