# The question: which rare events came, and where?

ask_events <- function(x, ...) {
  assert_no_dots(...)
  x <- what_was_weighed(x)
  found <- event_table(x)
  if (is.null(found)) abort_input("no pass has frame times, which show deep drops", todo = "add logs of frames")
  new_answer("events", found, x, by_attribute = events_by_attribute(x), moments = moments_of_study(x))
}

register("question", "events",
  rank = 11, title = "Deep drops", about = "deep drops: in how many passes of which arm",
  answer = ask_events,
  lines = function(x) {
    said <- event_sentences(plain_table(x), attr(x, "by_attribute"), labels_of(x))
    c(if (length(said)) said else "No pass had a deep drop.", stretch_sentences(attr(x, "moments"), labels_of(x)))
  },
  line = function(x) {
    rare <- rare_rows(plain_table(x))
    if (!sum(x$with)) {
      "no pass had a deep drop"
    } else if (is.null(rare)) {
      "deep drops are not rare here: they are weighed as deep_drops"
    } else {
      paste("deep drops in", sum(rare$with), "of", sum(rare$passes), "passes of", list_words(unique(place_names(rare))))
    }
  },
  tables = function(x) {
    list(
      shown_table(events_shown(plain_table(x), labels_of(x)), c("drops", "per minute"),
        whole = "passes with", group = c("workload", "context")
      ),
      shown_table(drops_shown(attr(x, "moments"), labels_of(x)), c("at", "lasted", "down to", "from", "slowest frame"),
        caption = "The deepest of them:"
      )
    )
  },
  footing = function(x) events_note,
  report = function(verdicts) {
    found <- tryCatch(ask_events(verdicts), honestmargin_error_input = function(e) NULL)
    if (any(found$events > 0)) found
  }
)
