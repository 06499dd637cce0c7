# A study and its repeats: each batch is weighed alone, and they are told side by side.

#' Weigh every batch of a study alone
#'
#' @param x Study folder with a ledger.
#' @param ... Passed to [weigh()].
#' @return What [weigh()] gives for the first batch that has readings, with the verdicts of all of them in
#'   the attribute `batches`: a data frame with a column `batch` before those of [weigh()].
#' @section Errors: As [weigh()]; `honestmargin_error_input` where no batch has readings.
#' @export
#' @examples
#' # honestmargin weigh STUDY --batch all
weigh_batches <- function(x, ...) {
  folder <- folder_of(x)
  batches <- study_batches(folder)
  each <- lapply(batches, function(batch) {
    # a batch that is sealed and not run yet has nothing to tell
    study <- tryCatch(read_study(folder, batch = batch), honestmargin_error_input = identity)
    if (is_study(study)) weigh(study, ...) else study
  })
  weighed <- vapply(each, inherits, NA, "honestmargin_verdicts")
  if (!any(weighed)) stop(each[[1]])
  told <- stack_rows(lapply(which(weighed), function(i) cbind(batch = batches[i], plain_table(each[[i]]))))
  structure(each[[which(weighed)[1]]], batches = told)
}

#' Numbers of the batches that are sealed
#' @noRd
study_batches <- function(folder) with_store(folder, store_batches, write = FALSE)
