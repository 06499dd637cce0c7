# What stands behind a page beside the bench: its lock, the run it may start, the files it takes.

#' Only one board at a time shows a study
#' @noRd
with_board_lock <- function(folder, code) {
  with_run_lock(folder, machine_identity(), code, board_file(folder), "shows this study on a board")
}

board_file <- function(folder) file.path(folder, "board.lock")

is_board_open <- function(folder) lock_lives(board_file(folder))

#' May a board start the run by itself?
#'
#' Where nothing is started by command, all a run does is ask.
#' @noRd
runs_by_hand <- function(plan) {
  commands <- c(
    lapply(plan$workloads, `[[`, "command"), list(plan$setting$command, plan$context$command),
    list(plan$setting$read_back$command), lapply(plan$gates, `[[`, "command"), list(plan$versions)
  )
  !any(lengths(commands) > 0)
}

#' Start a run that asks on the board
#' @param log File for what it says.
#' @return A processx process.
#' @noRd
start_run <- function(folder, log) {
  dir.create(dirname(log), showWarnings = FALSE)
  processx::process$new(file.path(R.home("bin"), "Rscript"),
    c("-e", "honestmargin::main()", "run", folder),
    stdout = log, stderr = "2>&1", stdin = NULL, cleanup_tree = TRUE, env = environment_with(c(HONESTMARGIN_ASK = ""))
  )
}

#' Stop a run as Ctrl-C would, so that its pass is closed
#' @noRd
stop_run <- function(process) {
  if (!is.null(process) && process$is_alive()) {
    process$interrupt()
    process$wait(10000)
    process$kill_tree()
  }
}

#' Keep what a page sent along with an answer
#'
#' @param kind `proof` (a picture, which is kept beside the ledger) or `log` (a frame log, put aside for the run).
#' @param name The file's name on the page's machine. @param bytes Raw vector.
#' @return A list: `path`, or `why_not` (a code).
#' @noRd
keep_sent <- function(folder, question, kind, name, bytes) {
  with_store(folder, blind = TRUE, code = function(store) {
    asked <- store_question(store)
    if (is.null(asked) || !identical(as.character(asked$id), as.character(question))) {
      return(list(why_not = new_code("answered_before")))
    }
    if (kind == "proof" && !is_picture(bytes)) {
      return(list(why_not = new_code("no_picture")))
    }
    scratch <- file.path(folder, "scratch")
    dir.create(scratch, showWarnings = FALSE)
    path <- file.path(scratch, paste0("sent-", asked$id, "-", safe_name(name)))
    writeBin(bytes, path)
    if (kind == "log") {
      return(list(path = path))
    }
    on.exit(unlink(path))
    keep_proof(store, folder, asked$pass, path)
    list(path = path)
  })
}

safe_name <- function(name) {
  name <- gsub("[^A-Za-z0-9._-]+", "_", basename(paste0("", name)))
  substr(sub("^[.]+", "", name), 1, 80)
}

# by the first bytes of PNG, JPEG, GIF, WebP, and of the HEIC and AVIF of phones
is_picture <- function(bytes) {
  head <- bytes[seq_len(min(12, length(bytes)))]
  begins <- function(at, text) identical(head[at - 1 + seq_along(text)], as.raw(text))
  begins(1, c(0x89, 0x50, 0x4e, 0x47)) || begins(1, c(0xff, 0xd8, 0xff)) || begins(1, c(0x47, 0x49, 0x46, 0x38)) ||
    (begins(1, c(0x52, 0x49, 0x46, 0x46)) && begins(9, c(0x57, 0x45, 0x42, 0x50))) ||
    begins(5, c(0x66, 0x74, 0x79, 0x70))
}
