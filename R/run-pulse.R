# How a study stands just now, for those who watch it run.

#' @param folder Study folder; nothing need have run in it yet.
#' @param most How many of the latest and of the next passes.
#' @return A list: `plan`, `stamp` (changes with everything that is written down), `running` (whether a run is going
#'   on), `progress` (`planned`, `done`, `seconds`, `left_s`), `now` (a list `pass` (one row), `for_s`, `sensors`; or
#'   `NULL`), `over` (whether nothing is left to run),
#'   `question` (see `store_question()`), `latest` (a list of lists `pass` (one row), `readings`,
#'   `why` (a code, where a number of a search says no)), `due` (rows of
#'   passes that come next), `withheld` (`TRUE` where the arms of blind pairs are; else absent).
#' @noRd
read_pulse <- function(folder, most = 6) {
  if (!has_ledger(folder)) {
    plan <- read_plan(folder)
    schedule <- plan_schedule(plan)
    if (is_blind(plan)) schedule <- hide_arms(schedule)
    return(list(
      plan = plan, stamp = "", running = FALSE, over = FALSE, latest = list(), due = utils::head(schedule, most),
      progress = list(planned = nrow(schedule), done = 0, seconds = 0)
    ))
  }
  with_store(folder, write = FALSE, blind = TRUE, code = function(store) {
    running <- lock_lives(lock_file(folder))
    plan <- store_plan(store)
    due <- store_open(store, most)
    # asked often while a run measures: only where it has something to say
    search <- if (is_search(plan) && (!running || length(plan$search$fails))) load_search(store)
    latest <- store_latest(store, most)
    progress <- store_progress(store)
    # what is left takes as long as what is done
    progress$left_s <- if (progress$done > 0) (progress$planned - progress$done) * progress$seconds / progress$done
    shown <- list(
      plan = plan, stamp = store_stamp(store), running = running, progress = progress,
      now = if (running) running_pass(store, folder), question = if (running) open_question(store, folder),
      latest = lapply(seq_len(nrow(latest)), function(i) {
        list(
          pass = latest[i, ], readings = store_readings(store, latest$pass[i]),
          why = if (!is.null(search)) failed_by_number(search, latest[i, ])
        )
      }),
      due = due, over = !running && progress$done > 0 && nothing_left(search, due)
    )
    if (store_withheld(store)) hide_pulse(shown) else shown
  })
}

# no arm, no reading and no sensor: each would tell which arm it is
hide_pulse <- function(shown) {
  shown$due <- hide_arms(shown$due)
  if (!is.null(shown$now)) shown$now <- list(pass = hide_arms(shown$now$pass), for_s = shown$now$for_s)
  shown$latest <- lapply(shown$latest, function(one) list(pass = hide_arms(one$pass)))
  c(shown, withheld = TRUE)
}

nothing_left <- function(search, due) {
  if (is.null(search)) nrow(due) == 0 else search$now$do == "done" || search$said$stop
}

running_pass <- function(store, folder) {
  pass <- utils::tail(store_unfinished(store), 1)
  if (nrow(pass)) {
    list(
      pass = pass, for_s = max(0, as.numeric(Sys.time()) - stamp_seconds(pass$started)),
      sensors = latest_sample(file.path(folder, "scratch", paste0(pass$pass, ".sensors")))
    )
  }
}

# one of a run that was killed is asked again by the next
open_question <- function(store, folder) {
  question <- store_question(store)
  if (!is.null(question) && identical(as.integer(question$pid), as.integer(read_lock(lock_file(folder))$pid))) question
}
