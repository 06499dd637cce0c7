# The inbox: logs of machines that this tool cannot run on.

#' Match the files of a folder to passes that are still open
#'
#' New frame logs, by their time of writing, are matched to the scheduled passes
#' in their order. A file that was taken once is known by its content and never
#' taken again.
#'
#' @param folder Study folder.
#' @param inbox Folder with new logs.
#' @param confirm Function of the matching (a data frame) that returns `TRUE` to
#'   store it; `NULL` only shows it.
#' @return The matching, a data frame: `file`, `written`, `seconds`, `fps_avg`,
#'   `pass`, `arm`, `workload`, `stored`. Files that cannot be read have no pass
#'   and say why in `problem`.
#' @export
#' @examples
#' # honestmargin take STUDY FOLDER shows the matching and asks
take_logs <- function(folder, inbox, confirm = NULL) {
  if (!dir.exists(inbox)) abort_input("no such folder", inbox, "name the folder that the logs arrive in")
  planned <- study_plan(folder)
  plan <- planned$plan
  with_ledger(folder, create = TRUE, code = function(con) {
    seal_first(con, planned$text, plan)
    files <- new_files(con, inbox)
    read <- lapply(files, read_inbox, layout = plan$frames_layout)
    # what this machine runs itself does not come in from elsewhere
    by_hand <- vapply(plan$workloads, function(w) is.null(w$command), NA)
    open <- open_passes(con)
    open <- open[open$workload %in% plan_workloads(plan)[by_hand], , drop = FALSE]
    planned <- vapply(plan$workloads, function(w) as.numeric(empty_to(w$seconds, 0)), 1)
    read <- lapply(read, refuse_short, least = 0.5 * min(planned[by_hand], Inf))
    matched <- match_files(files, read, open)
    matched$stored <- FALSE
    if (!is.null(confirm) && any(!is.na(matched$pass)) && isTRUE(confirm(matched))) {
      for (i in which(!is.na(matched$pass))) {
        store_taken(
          con, folder, plan, open[open$pass == matched$pass[i], ], files[i], read[[i]]
        )
      }
      matched$stored <- !is.na(matched$pass)
    }
    matched
  })
}

new_files <- function(con, inbox) {
  files <- list.files(inbox, full.names = TRUE)
  files <- files[!dir.exists(files)]
  hash <- vapply(files, cli::hash_file_sha256, "")
  fresh <- !hash %in% ledger_table(con, "taken")$hash & !duplicated(hash)
  files <- files[fresh]
  files[order(file.mtime(files), files)]
}

read_inbox <- function(file, layout) {
  tryCatch(
    read_frames(file, layout)$frame_time_ms,
    honestmargin_error_input = function(e) sub("\n.*", "", conditionMessage(e))
  )
}

# a log that holds less than half of the shortest pass is no pass
refuse_short <- function(frames, least) {
  if (is.numeric(frames) && is.finite(least) && sum(frames) / 1000 < least) {
    return(paste0("holds ", round(sum(frames) / 1000, 1), " s; a pass takes ", 2 * least, " s"))
  }
  frames
}

match_files <- function(files, read, open) {
  good <- vapply(read, is.numeric, NA)
  at <- rep(NA_integer_, length(files))
  at[good] <- seq_len(sum(good))
  at[at > nrow(open)] <- NA
  number <- function(f) vapply(read, function(x) if (is.numeric(x)) f(x) else NA_real_, 1)
  data.frame(
    file = basename(files), written = format(file.mtime(files), "%Y-%m-%d %H:%M:%S"),
    seconds = round(number(function(x) sum(x) / 1000), 1), fps_avg = round(number(function(x) 1000 / mean(x)), 1),
    pass = open$pass[at], arm = open$arm[at], workload = open$workload[at],
    problem = vapply(read, function(x) if (is.character(x)) x else "", "")
  )
}

store_taken <- function(con, folder, plan, pass, file, frame_time_ms) {
  kept <- keep_capture(folder, plan, pass, list(frames = data.frame(frame_time_ms = frame_time_ms)))
  begin_pass(con, pass$pass, machine_identity())
  end_pass(con, c(kept[c("readings", "traces", "pile")], list(
    pass = pass$pass, outcome = "ok", seconds = sum(frame_time_ms) / 1000, taken = taken_row(file, pass$pass),
    detail = paste(c(kept$notes, paste("taken from", basename(file))), collapse = "; ")
  )))
}
