# One runner at a time: a lock held for the whole of a run, also between passes.

#' @param code Function to run while the lock is held. @param path The lock. @param does What its holder does.
#' @noRd
with_run_lock <- function(folder, machine, code, path = lock_file(folder), does = "is running this study") {
  own <- list(
    host = machine$host, boot = machine$boot, pid = Sys.getpid(), started = process_started(Sys.getpid()),
    since = clock_now(), beacon = beacon_socket()
  )
  take_lock(path, own, folder, does)
  sweep_leftovers(folder, basename(path))
  on.exit(if (identical(read_lock(path)$pid, own$pid)) unlink(path))
  code()
}

# what writers that were killed left half written; of another machine nothing is known
sweep_leftovers <- function(folder, lock) {
  left <- list.files(folder, "^[.]part-[0-9]+-", all.files = TRUE, recursive = TRUE, full.names = TRUE)
  locks <- list.files(dirname(file.path(folder, lock)), paste0("^", lock, "-[0-9]+$"), full.names = TRUE)
  owner <- as.integer(c(sub("^.*/[.]part-([0-9]+)-.*$", "\\1", left), sub("^.*-", "", locks)))
  old <- c(left, locks)[!vapply(owner, process_lives, NA)]
  # a writer on another machine, of which the number says nothing here, takes no minute
  unlink(old[as.numeric(Sys.time()) - as.numeric(file.mtime(old)) > 60])
}

# A hard link is made or refused in one step, whoever else tries at that moment.
take_lock <- function(path, own, folder, does) {
  aside <- paste0(path, "-", Sys.getpid())
  on.exit(unlink(aside))
  write_whole(aside, function(to) writeLines(detail_json(own), to))
  for (try in 1:3) {
    if (suppressWarnings(file.link(aside, path))) {
      return(invisible())
    }
    held <- read_lock(path)
    if (is.null(held)) next
    if (lock_holds(held, own)) abort_held(held, own, path, folder, does)
    unlink(path)
  }
  abort_stuck(
    "the lock of this study cannot be taken", path, "can the folder hold links? remove that file, if nobody runs it"
  )
}

# On this machine and start of it a process can be looked for: a number that was given to
# another one since, began at another time. Of another machine nothing is known.
lock_holds <- function(held, own) {
  if (!identical(held$host, own$host)) {
    return(TRUE)
  }
  identical(held$boot, own$boot) && held$pid != own$pid && process_lives(held$pid) &&
    identical(held$started, process_started(held$pid))
}

#' Does the process that took a lock still run, here or, as far as one can tell, elsewhere?
#' @noRd
lock_lives <- function(path) {
  held <- read_lock(path)
  !is.null(held) && lock_holds(held, c(machine_identity(), pid = -1L))
}

abort_held <- function(held, own, path, folder, does) {
  here <- identical(held$host, own$host)
  abort_stuck(
    paste0(
      "another process (", held$pid, if (!here) paste0(" on ", held$host), ") ", does, " since ", held$since
    ), folder,
    if (here) "wait for it, or stop it first" else paste0("if it no longer runs there, take over by removing ", path)
  )
}

# when a process began, in ticks since the start of the machine (proc(5), field 22)
process_started <- function(pid) {
  stat <- first_word(file.path("/proc", pid, "stat"))
  fields <- strsplit(sub("^.*[)] ", "", stat), " ")[[1]]
  if (length(fields) >= 20) fields[20] else "unknown"
}

# seconds, by the clock that runs from the start of the machine; a tick is a hundredth on every Linux (proc(5))
process_age <- function(pid) {
  started <- suppressWarnings(as.numeric(process_started(pid)))
  up <- suppressWarnings(as.numeric(strsplit(first_word("/proc/uptime"), " ")[[1]][1]))
  age <- up - started / 100
  if (is.na(age)) Inf else age
}
