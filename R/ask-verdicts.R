# The question of every study: which differences exceed the noise? `weigh()` answers it. And the same against studies
# of before, with `weigh_against()`.

verdict_tables <- function(x) {
  labels <- labels_of(x)
  primary <- x$role == "primary"
  rows <- x[primary | !any(primary), , drop = FALSE]
  place <- data.frame(workload = place_names(rows), metric = metric_labels(rows$metric, labels))
  list(shown_table(
    cbind(place, answer_table(rows, labels)), c("change", "more"),
    whole = c("interval", "verdict"), group = c("workload", "metric")
  ))
}

of_verdicts <- list(
  takes = "weighing", lines = function(x) empty_to(headline(x), character()), line = function(x) headline(x),
  tables = verdict_tables, footing = function(x) family_words(x), terms = function(x) verdict_terms(x),
  findings = function(x, exploratory) in_words(of_shown(findings_of(x), x, exploratory))
)

do.call(register, c(list("question", "verdicts",
  rank = 0, title = "What differs", about = "which differences exceed the noise, and are worth having",
  answer = function(x, ...) weighed(x, ...)
), of_verdicts))

do.call(register, c(list("question", "against",
  rank = 0.5, title = "Against earlier studies", about = "a study against earlier ones of the same machine",
  answer = function(x, ...) {
    abort_needed("name an earlier study", todo = "honestmargin against STUDY EARLIER (in R: weigh_against())")
  },
  elsewhere = TRUE
), of_verdicts))
