# What is said on standard error, beside the data on standard output.

#' @param ... Pieces of one text; what comes from outside cannot drive the terminal.
#' @noRd
tell_user <- function(...) message(plain_lines(paste0(...)))
