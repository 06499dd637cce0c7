# The batches of a study side by side, in words.

#' @param verdicts From `weigh_batches()`.
#' @return `NULL`, or a data frame of text: where, and a column for each batch.
#' @noRd
batches_side_by_side <- function(verdicts, exploratory = FALSE) {
  all <- attr(verdicts, "batches")
  if (is.null(all)) {
    return(NULL)
  }
  all <- all[all$role == "primary" | exploratory, , drop = FALSE]
  # a table that was cut down to some workloads shows no others
  place <- function(v) paste(place_names(v), v$metric, v$arm, sep = "\r")
  all <- all[place(all) %in% place(verdicts), , drop = FALSE]
  first <- all[!duplicated(place(all)), , drop = FALSE]
  out <- data.frame(workload = place_names(first), metric = first$metric, arm = first$arm)
  for (batch in unique(all$batch)) {
    rows <- all[all$batch == batch, , drop = FALSE]
    said <- trimws(paste(shown_change(rows), rows$verdict))
    said <- ifelse(rows$verdict == "blocked", "blocked", said)
    out[[paste("batch", batch)]] <- said[match(place(first), place(rows))]
  }
  out
}

batches_heading <- "Each batch weighed alone"
