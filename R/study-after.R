# What was asked for after the seal, beside what was sealed.

#' What was asked for otherwise than it was sealed: by an option, or by a plan that was edited
#' @return Data frame `key`, `from`, `to`, `by` (`option` or `plan`).
#' @noRd
after_the_seal <- function(x, asked, with_excluded) {
  changes <- x$sealed$changes
  edited <- changes[grepl(judged_keys, changes$key), , drop = FALSE]
  # metrics by the worth that the sealed plan gives each
  worth <- asked$worth
  if (!is.null(worth) && is.null(names(worth))) worth <- worth_by_metric(worth, NULL, x$readings)
  planned <- plan_worth(x$plan)
  text <- function(value) if (is.null(value)) "" else paste(value, collapse = ", ")
  say <- function(key, from, to) if (!identical(text(from), text(to))) list(key = key, from = text(from), to = text(to))
  options <- c(
    list(
      if (!is.null(asked$baseline)) say("baseline", x$plan$setting$baseline, asked$baseline),
      if (!is.null(asked$primary)) say("primary", plan_primary(x$plan), asked$primary),
      if (!is.null(asked$confidence)) say("confidence", x$plan$confidence, asked$confidence),
      if (with_excluded && any(x$passes$role == "excluded")) say("excluded passes", "left out", "counted")
    ),
    lapply(intersect(names(worth), union(plan_primary(x$plan), names(planned))), function(id) {
      say(paste("worth of", id), planned[intersect(id, names(planned))], worth[[id]])
    })
  )
  stack_rows(c(
    list(data.frame(key = character(), from = character(), to = character(), by = character())),
    if (NROW(edited)) list(cbind(edited, by = "plan")),
    lapply(Filter(length, options), function(one) data.frame(one, by = "option"))
  ))
}

#' What was asked for after the seal
#'
#' The verdicts on a sealed study stand on its sealed plan. Where the plan was edited later, or [weigh()] was
#' asked for another baseline, worth, family or confidence, or with the excluded passes, the answer to that stands
#' beside them.
#' @param x What [weigh()] returned.
#' @return `NULL`, or a list: `changes` (data frame `key`, `from`, `to`, `by`: `plan` or `option`) and
#'   `verdicts`, as from [weigh()], each row with the code `after_the_fact`.
#' @export
#' @examples
#' after_the_fact(weigh(read_study(demo_study())))
after_the_fact <- function(x) {
  checkmate::assert_class(x, "honestmargin_verdicts")
  attr(x, "otherwise")
}
