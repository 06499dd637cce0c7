# What is asked of the comparisons of a study: one object, made once at the door and handed down.

#' The question that every comparison answers
#'
#' @param baseline One arm. @param arms All of them, in order.
#' @param worth The smallest change worth having, named by metric; `NULL` where none is named.
#' @param confidence Of all primary comparisons together.
#' @param primary Ids of the metrics that are judged; `NULL`: all but those of `beside`.
#' @param ... Further fields, of those in `spec_defaults`.
#' @return An object of class `honestmargin_contrast_spec`, a list of these and of `spec_defaults`.
#' @noRd
new_contrast_spec <- function(baseline, arms, worth = NULL, confidence = 0.95, primary = NULL, ...) {
  checkmate::assert_number(confidence, lower = 0.5, upper = 0.9999)
  checkmate::assert_subset(baseline, arms, empty.ok = FALSE)
  checkmate::assert_numeric(worth, lower = 0, any.missing = FALSE, null.ok = TRUE)
  more <- list(...)
  checkmate::assert_subset(names(more), names(spec_defaults))
  given <- list(baseline = baseline, arms = arms, worth = worth, confidence = confidence, primary = primary)
  fields <- spec_defaults
  fields[names(more)] <- more
  structure(c(given, fields), class = "honestmargin_contrast_spec")
}

spec_defaults <- list(
  # you declare that nothing else changed: one stint per arm is weighed
  steady = FALSE,
  # noise known from elsewhere: a data frame, or "baseline" where its repeats stand for it
  stored = NULL,
  # whether the intervals allow for looks, and how many units a study that is looked at may come to
  looks = FALSE, most_units = NULL,
  # sets of arms and what they are compared with, or a function of the arms that gives them; `NULL`: all with the
  # baseline
  pairs = NULL,
  # metrics that the plan lists, and arms that are held at a limit
  listed = NULL, ceilings = NULL,
  # workloads that the setting cannot touch
  anchors = NULL,
  # whether a plan says which arms there are, and whether its setting can only be changed one way
  planned = FALSE, one_way = FALSE,
  # segments that the plan names (others that were marked are exploratory), and metrics that are primary only where
  # they are named
  segments = data.frame(workload = character(), segment = character()), beside = NULL,
  # how many primary comparisons of outcomes there are besides
  beyond = 0,
  # whether no comparison is steadied by the noise of other cells
  own_noise = FALSE,
  # whether nobody asks what would settle a comparison
  words_only = FALSE
)
