# The inbox: logs of machines that this tool cannot run on.

#' Match the files of a folder to passes that are still open
#'
#' New frame logs are matched to the scheduled passes: by the arm, workload and number in their names, else by
#' their time of writing, in order. A file that was taken once is known by its content and never
#' taken again. A search has no schedule: there the name must tell the value, and each log is one more pass of it.
#'
#' @param x Study folder.
#' @param inbox Folder with new logs, or paths of such logs.
#' @param ... Not used.
#' @param confirm Function of the matching (a data frame) that returns `TRUE` to
#'   store it; `NULL` only shows it.
#' @return The matching, a data frame: `file`, `written`, `seconds`, `fps_avg`,
#'   `pass` (of a search `new`), `arm`, `workload`, `by` (`name` or `time`), `stored`. Files that cannot be read have no
#'   pass and say why in `problem`.
#' @export
#' @examples
#' # honestmargin add STUDY FOLDER shows the matching and asks
take_logs <- function(x, inbox, ..., confirm = NULL) {
  assert_no_dots(...)
  folder <- folder_of(x)
  if (!all(file.exists(inbox))) {
    abort_input("no such folder", inbox[!file.exists(inbox)][1], "name the folder that the logs arrive in, or logs")
  }
  plan <- read_plan(folder)
  with_store(folder, create = TRUE, code = function(store) {
    store_seal(store, plan)
    files <- new_files(store, inbox)
    read <- lapply(files, read_inbox, layout = plan$frames_layout)
    same <- same_log(files)
    read[nzchar(same)] <- as.list(same[nzchar(same)])
    # what this machine runs itself does not come in from elsewhere
    by_hand <- vapply(plan$workloads, function(w) is.null(w$command), NA)
    ids <- plan_workloads(plan)[by_hand]
    open <- if (is_search(plan)) {
      rungs_to_fill(plan_arms(load_search(store)$plan), ids, length(files))
    } else {
      store_open(store)
    }
    open <- open[open$workload %in% ids, , drop = FALSE]
    planned <- vapply(plan$workloads, function(w) as.numeric(empty_to(w$seconds, 0)), 1)
    read <- lapply(read, refuse_short, least = 0.5 * min(planned[by_hand], Inf))
    matched <- match_files(files, read, open, by_name = is_search(plan))
    matched$stored <- rep(FALSE, nrow(matched))
    if (!is.null(confirm) && any(!is.na(matched$pass)) && isTRUE(confirm(matched))) {
      for (i in which(!is.na(matched$pass))) {
        pass <- if (is_search(plan)) {
          claim_rung(store, matched[i, c("arm", "workload")])
        } else {
          open[open$pass == matched$pass[i], ]
        }
        store_file(store, plan, pass, files[i], read[[i]])
      }
      matched$stored <- !is.na(matched$pass)
    }
    matched
  })
}

# as many of each value as there may be logs of it
rungs_to_fill <- function(arms, workloads, n) {
  each <- expand.grid(k = seq_len(n), workload = workloads, arm = arms, stringsAsFactors = FALSE)
  data.frame(pass = rep("new", nrow(each)), each[c("arm", "workload")], role = rep("counted", nrow(each)))
}

new_files <- function(store, inbox) {
  files <- unlist(lapply(inbox, function(path) if (dir.exists(path)) plain_files(path) else path))
  hash <- vapply(files, cli::hash_file_sha256, "")
  fresh <- !hash %in% store_taken(store)$hash
  files <- files[fresh]
  files[order(file.mtime(files), files)]
}

# one log under two names is one log
same_log <- function(files) {
  hash <- vapply(files, cli::hash_file_sha256, "")
  first <- match(hash, hash)
  ifelse(first == seq_along(files), "", paste("the same log as", basename(files)[first]))
}

read_inbox <- function(file, layout) {
  tryCatch(
    read_frames(file, layout),
    honestmargin_error_input = function(e) sub("\n.*", "", conditionMessage(e))
  )
}

# a log that holds less than half of the shortest pass is no pass
refuse_short <- function(frames, least) {
  seconds <- if (is.data.frame(frames)) sum(frames$frame_time_ms) / 1000
  if (!is.null(seconds) && is.finite(least) && seconds < least) {
    return(paste0("holds ", round(seconds, 1), " s; a pass takes ", 2 * least, " s"))
  }
  frames
}

# "on_3_crash", unless an arm or a workload is called so
ended_by_name <- function(files, planned) {
  as <- names_said(basename(files))$as
  so_called <- any(!is.na(names_said(unique(planned))$as))
  replace(as, as %in% "same" | so_called, NA)
}

# What a file's name says comes first, when it was written second.
match_files <- function(files, read, open, by_name = FALSE) {
  good <- vapply(read, is.data.frame, NA)
  at <- rep(NA_integer_, length(files))
  if (!length(files)) open <- open[0, , drop = FALSE]
  problem <- vapply(read, function(x) if (is.character(x)) x else "", "")
  names <- tolower(sub("[.][^/]*$", "", basename(files)))
  # the folder speaks where the file itself says nothing; a digit in a name that a program made up says nothing
  told_by <- function(words) {
    own <- named_in(names, words)
    ifelse(is.na(own), named_in(tolower(basename(dirname(files))), words, one_number = TRUE), own)
  }
  arm <- told_by(unique(open$arm))
  workload <- told_by(unique(open$workload))
  torn <- good & (arm %in% "" | workload %in% "")
  problem[torn] <- "its name speaks of more than one arm or workload"
  ended <- ended_by_name(files, c(open$arm, open$workload))
  failed <- good & !is.na(ended)
  problem[failed] <- paste0("its name says ", ended[failed], ": honestmargin add --outcome tells how a pass ended")
  good <- good & !torn & !failed
  named <- good & !is.na(arm)
  if ((any(named) || by_name) && any(good & is.na(arm))) {
    problem[good & is.na(arm)] <- if (by_name) {
      "its name tells no value of this search"
    } else {
      "its name tells no arm, where those of others do"
    }
    good <- named
  }
  assert_told_apart(files[good & is.na(arm)])
  warm <- says_warm_up(names) & !any(says_warm_up(c(open$arm, open$workload)))
  # by the number in the name, else by the time of writing
  number <- suppressWarnings(as.numeric(sub("^.*?([0-9]+)[^0-9]*$", "\\1", names, perl = TRUE)))
  order <- if (any(named)) order(number, file.mtime(files)) else order(file.mtime(files), files)
  for (i in order[good[order]]) {
    fits <- !seq_len(nrow(open)) %in% at & (is.na(arm[i]) | open$arm == arm[i]) &
      (is.na(workload[i]) | open$workload == workload[i])
    # a warm-up is not filled by a log that is named after its arm, unless it is called one too
    if (named[i]) fits <- fits & open$role == if (warm[i]) "warm_up" else "counted"
    at[i] <- which(fits)[1]
  }
  number <- function(f) vapply(read, function(x) if (is.data.frame(x)) f(x$frame_time_ms) else NA_real_, 1)
  data.frame(
    file = basename(files), written = format(file.mtime(files), "%Y-%m-%d %H:%M:%S"),
    seconds = round(number(function(x) sum(x) / 1000), 1), fps_avg = round(number(function(x) 1000 / mean(x)), 1),
    pass = open$pass[at], arm = open$arm[at], workload = open$workload[at],
    by = ifelse(is.na(at), "", ifelse(named, "name", "time")), problem = problem
  )
}

#' Which of some words a name speaks of, as a whole word
#' @param one_number `TRUE`: a number counts only where it is the only one of its word (`rate125`, not `4f125b0`).
#' @return The word; `NA` for none, empty for more than one.
#' @noRd
named_in <- function(names, words, one_number = FALSE) {
  parts <- lapply(strsplit(tolower(words), "[^a-z0-9]+"), paste, collapse = "[^a-z0-9]*")
  # a digit that goes on makes another number, a letter another word
  ends <- ifelse(grepl("[0-9]$", words), "(?![0-9])", "(?![a-z])")
  begins <- ifelse(grepl("^[0-9]", words), "(?<![0-9.])", "(?<![a-z0-9])")
  if (one_number) {
    ends[grepl("[0-9]$", words)] <- "[a-z]*(?![a-z0-9])"
    begins[grepl("^[0-9]", words)] <- "(?<![a-z0-9.])[a-z]*"
  }
  hit <- vapply(seq_along(words), function(k) {
    grepl(paste0(begins[k], parts[[k]], ends[k]), names, perl = TRUE)
  }, logical(length(names)))
  hit <- matrix(hit, nrow = length(names), ncol = length(words))
  if (!length(hit)) {
    return(rep(NA_character_, length(names)))
  }
  count <- rowSums(hit)
  ifelse(count == 0, NA, ifelse(count > 1, "", words[max.col(hit, ties.method = "first")]))
}

# copied files have one time, and then nothing tells which was which
assert_told_apart <- function(files) {
  twice <- duplicated(file.mtime(files)) | duplicated(file.mtime(files), fromLast = TRUE)
  if (any(twice)) {
    abort_needed(
      paste0("which log is of which pass? ", some_of(basename(files)[twice]), " were written at the same moment"),
      todo = paste(
        "name the arm in each file's name (on_run1.csv), or add them one by one:",
        "honestmargin add STUDY --arm ARM --frames FILE"
      )
    )
  }
}

store_file <- function(store, plan, pass, file, frames) {
  found <- bind_findings(attr(frames, "findings"), new_finding("note", "taken_from", file = basename(file)))
  kept <- keep_capture(
    store, plan, pass, list(frames = data.frame(frame_time_ms = frames$frame_time_ms), found = found)
  )
  store_begin(store, pass$pass, machine_identity())
  store_end(store, c(kept, list(pass = pass$pass, outcome = "ok", taken = taken_row(file, pass$pass))))
}
