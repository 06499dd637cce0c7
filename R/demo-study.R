# The demo study that comes with the package.

#' Where the demo study lies
#'
#' A study folder with made-up data of known truth: does a higher report rate of
#' a dial controller cost smoothness in an invented racer?
#' @return Path of the study folder; the truth is in `truth.yml` beside it.
#' @export
#' @examples
#' list.files(demo_study())
demo_study <- function() system.file("extdata", "dial-study", package = "honestmargin", mustWork = TRUE)
