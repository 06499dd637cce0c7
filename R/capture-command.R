# Running a program of the tester's: its output to a log, its end observed, and
# nothing that it started left behind.

#' Put values into a command template
#'
#' `{arm}` and the like become references to variables of the shell, written for
#' the quotes they stand in, so that no value can end a command and begin another.
#' @param names Placeholders. @return The command; `command_values()` makes the
#'   variables.
#' @noRd
fill_command <- function(template, names) {
  out <- ""
  inside <- ""
  while (nzchar(template)) {
    hit <- names[startsWith(template, paste0("{", names, "}"))]
    char <- substr(template, 1, 1)
    if (length(hit)) {
      variable <- paste0("${", variable_name(hit[1]), "}")
      out <- paste0(
        out, switch(inside,
          "'" = paste0("'\"", variable, "\"'"),
          "\"" = variable,
          paste0("\"", variable, "\"")
        )
      )
      template <- substring(template, nchar(hit[1]) + 3)
      next
    }
    if (char == "\\" && inside != "'") {
      out <- paste0(out, substr(template, 1, 2))
      template <- substring(template, 3)
      next
    }
    if (inside == "" && char %in% c("'", "\"")) inside <- char else if (char == inside) inside <- ""
    out <- paste0(out, char)
    template <- substring(template, 2)
  }
  out
}

variable_name <- function(name) sprintf("HONESTMARGIN_%s", toupper(name))
command_values <- function(values) {
  stats::setNames(vapply(values, as.character, ""), variable_name(names(values)))
}

#' Run a command and watch it
#'
#' @param command For the shell.
#' @param log File that takes its output.
#' @param limit Seconds until it is ended.
#' @param env Named character.
#' @param tick Function called about five times a second, with the seconds so far.
#' @return A list: `status` (exit status, `NA` when a signal ended it), `signal`,
#'   `timed_out`, `interrupted`, `seconds`, `output` (lines).
#' @noRd
run_watched <- function(command, log, limit = Inf, env = character(), tick = NULL, wd = NULL) {
  started <- proc.time()[["elapsed"]]
  so_far <- function() proc.time()[["elapsed"]] - started
  process <- processx::process$new("sh", c("-c", command),
    stdout = log, stderr = "2>&1", stdin = NULL,
    env = if (length(env)) c("current", env), # "current" alone would be an empty environment
    cleanup_tree = TRUE, supervise = FALSE, wd = wd
  )
  on.exit(process$kill_tree())
  timed_out <- FALSE
  interrupted <- tryCatch(
    {
      while (process$is_alive()) {
        process$wait(timeout = 200)
        if (!is.null(tick)) tick(so_far())
        if (so_far() > limit && process$is_alive()) {
          timed_out <- TRUE
          process$kill_tree()
        }
      }
      FALSE
    },
    interrupt = function(e) TRUE
  )
  seconds <- so_far()
  if (interrupted) process$kill_tree()
  process$wait(timeout = 2000)
  status <- empty_to(process$get_exit_status(), NA_integer_)
  list(
    status = if (isTRUE(status >= 0)) status else NA_integer_,
    signal = if (isTRUE(status < 0)) -status else NA_integer_,
    timed_out = timed_out, interrupted = interrupted, seconds = seconds,
    output = if (file.exists(log)) lines_of_output(log) else character()
  )
}

#' A short command that only answers (a read-back, a gate, a version)
#' @noRd
ask_command <- function(command, limit = 30, wd = NULL, values = list()) {
  log <- tempfile()
  on.exit(unlink(log))
  run_watched(fill_command(command, names(values)), log, limit, env = command_values(values), wd = wd)
}

#' End what a pass that nobody saw the end of has left running
#'
#' Every program is started with the pass's mark in its environment.
#' @param mark Value of HONESTMARGIN_MARK. @return How many were ended.
#' @noRd
end_leftovers <- function(mark) {
  pids <- suppressWarnings(as.integer(list.files("/proc", pattern = "^[0-9]+$")))
  wanted <- charToRaw(paste0("HONESTMARGIN_MARK=", mark))
  hit <- Filter(function(pid) {
    place <- file.path("/proc", pid, "environ")
    env <- suppressWarnings(tryCatch(readBin(place, "raw", 200000), error = function(e) raw()))
    length(grepRaw(wanted, env, fixed = TRUE)) > 0 && pid != Sys.getpid()
  }, pids)
  for (pid in hit) tools::pskill(pid, tools::SIGKILL)
  length(hit)
}
