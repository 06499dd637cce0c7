# Running a program of the tester's: its output to a log, its end observed, and
# nothing that it started left behind.

#' Run a command and watch it
#'
#' @param command From `fill_command()`.
#' @param log File that takes its output.
#' @param limit Seconds until it is ended.
#' @param env Named character.
#' @param tick Function called about five times a second, with the seconds so far.
#' @return A list: `status` (exit status, `NA` when a signal ended it), `signal`,
#'   `timed_out`, `interrupted`, `seconds`, `output` (lines).
#' @noRd
run_watched <- function(command, log, limit = Inf, env = character(), tick = NULL, wd = NULL) {
  # not the clock of the day, which may be set meanwhile
  started <- monotonic_s()
  so_far <- function() monotonic_s() - started
  env <- c(command$env, env)
  command <- held_command(command)
  held <- command$program == helper_path("holder")
  process <- processx::process$new(command$program, command$args,
    stdout = log, stderr = "2>&1", stdin = NULL,
    env = environment_for(env), cleanup_tree = !held, supervise = FALSE, wd = wd
  )
  # a holder that came to its own end has ended all that it held; finding a tree asks every process of the machine
  on.exit(if (!held || !isTRUE(process$get_exit_status() >= 0)) end_tree(process))
  timed_out <- FALSE
  interrupted <- tryCatch(
    {
      while (process$is_alive()) {
        process$wait(timeout = 200)
        if (!is.null(tick)) tick(so_far())
        if (so_far() > limit && process$is_alive()) {
          timed_out <- TRUE
          end_tree(process)
        }
      }
      FALSE
    },
    interrupt = function(e) TRUE
  )
  seconds <- so_far()
  if (interrupted) end_tree(process)
  process$wait(timeout = 2000)
  status <- empty_to(process$get_exit_status(), NA_integer_)
  list(
    status = if (isTRUE(status >= 0)) status else NA_integer_,
    signal = if (isTRUE(status < 0)) -status else NA_integer_,
    timed_out = timed_out, interrupted = interrupted, seconds = seconds,
    output = if (file.exists(log)) lines_of_output(log) else character()
  )
}

# On a busy machine what was killed goes on until its turn comes; only then nothing outlives the pass.
end_tree <- function(process) {
  killed <- process$kill_tree()
  until <- monotonic_s() + 5
  while (any(vapply(killed, process_lives, NA)) && monotonic_s() < until) Sys.sleep(0.01)
}

# through the holder, where it is there: nothing outlives a pass, nor a runner that was killed
held_command <- function(command) {
  holder <- helper_path("holder")
  if (nzchar(holder)) list(program = holder, args = c(command$program, command$args)) else command
}

#' A short command that only answers (a read-back, a gate, a version)
#' @noRd
ask_command <- function(command, limit = 30, wd = NULL, values = list()) {
  log <- tempfile()
  on.exit(unlink(log))
  run_watched(fill_command(command, values), log, limit, wd = wd)
}

#' Did a shell or the system not find the program, or not be allowed to start it?
#'
#' 126 and 127 are what POSIX shells end with then (Shell Command Language, 2.8.2). No pass of any arm was run.
#' @param done From `run_watched()`.
#' @noRd
could_not_start <- function(done) !isTRUE(done$timed_out) && isTRUE(done$status %in% c(126L, 127L))

#' The program that a command begins with; `NULL` where only the shell could say
#' @noRd
first_command_word <- function(words) {
  word <- if (length(words) > 1) words[1] else strsplit(trimws(words), "[[:space:];|&()<>]+")[[1]][1]
  if (!is.na(word) && grepl("^[A-Za-z0-9_./+-]+$", word)) word
}

#' Can what a command begins with be started from a folder? `TRUE` where it is not known
#' @noRd
can_start <- function(words, wd) {
  word <- first_command_word(words)
  if (is.null(word) || .Platform$OS.type != "unix") {
    return(TRUE)
  }
  # words of the shell are known to it too
  asked <- tryCatch(
    processx::run("sh", c("-c", "command -v -- \"$1\"", "sh", word), wd = wd, error_on_status = FALSE, timeout = 10),
    error = function(e) list(status = 0)
  )
  asked$status == 0
}

said_at_start <- function(done) {
  substr(plain_text(utils::tail(c("no such program", done$output), 1)), 1, 200)
}

# a number in "sh: 1: score: not found" is none that a program printed
without_shell_errors <- function(lines) {
  lines[!grepl("^([^ ]*/)?(ba|da|k|z)?sh: (line )?[0-9]+: .*: (not found|command not found|permission denied)$", lines,
    ignore.case = TRUE
  )]
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

# a dead process that nobody has collected yet still has a number
process_lives <- function(pid) {
  state <- sub("^.*[)] ([A-Z]).*$", "\\1", first_word(file.path("/proc", pid, "stat")))
  isTRUE(tools::pskill(pid, 0)) && !state %in% c("Z", "X")
}
