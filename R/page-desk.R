# The desk: files are dropped into a browser, what was read of them is shown, and the answer.

#' Serve the desk
#'
#' Pages are plain forms: each state stands in its address (what was said of the reading, baseline, worth, passes left
#' out), so that it can be reloaded, gone back from, and had twice in two tabs. What is kept here is only what was
#' dropped, in a tray each, and what was tried with it.
#' @param paths What to begin with: a file, a folder, a study; or none.
#' @param opening A function of paths and options (a list, as the shell has them) that gives a study or readings.
#' @param port,share,ready,until As in [serve_board()].
#' @return The address, invisibly, when it has ended.
#' @noRd
serve_desk <- function(paths, opening, port = NULL, share = FALSE, ready = function(address) NULL,
                       until = function() FALSE) {
  desk <- new.env(parent = emptyenv())
  desk$key <- random_key()
  desk$opening <- opening
  desk$share <- share
  desk$folder <- tempfile("desk-")
  if (!dir.create(desk$folder, mode = "0700")) abort_stuck("cannot make a folder for what is dropped", desk$folder)
  on.exit(unlink(desk$folder, recursive = TRUE))
  desk$trays <- list()
  desk$boards <- list()
  on.exit(for (board in desk$boards) stop_run(board$run), add = TRUE, after = FALSE)
  studies <- if (length(paths) == 1) studies_in(paths)
  first <- if (length(studies)) {
    desk$studies <- studies
    ""
  } else if (length(paths)) {
    paste0("tray/", tray_of_paths(desk, paths)$id, "/read")
  }
  serve_until(desk, respond_at_desk, port, share, until, function(address) ready(paste0(address, first)))
}

# folders of a folder that hold a plan; none where it is a study itself, or holds logs
studies_in <- function(path) {
  if (!dir.exists(path) || file.exists(file.path(path, "study.yml"))) {
    return(NULL)
  }
  inside <- list.dirs(path, recursive = FALSE)
  inside[file.exists(file.path(inside, "study.yml"))]
}

#' A tray: what was dropped, or is named, together
#' @return A list: `id`, `folder` (its own), `paths`, `tried` (states of the question that were answered, the first
#'   first), `reasons` (of passes that were left out, by pass).
#' @noRd
new_tray <- function(desk) {
  # what was dropped long ago makes room
  dropped <- Filter(function(tray) isTRUE(tray$own), desk$trays)
  if (length(dropped) >= most_trays) remove_tray(desk, dropped[[1]]$id)
  id <- substr(random_key(), 1, 12)
  folder <- file.path(desk$folder, id)
  dir.create(folder, mode = "0700")
  put_tray(desk, list(id = id, folder = folder, own = TRUE, tried = list(), reasons = character()))
}

most_trays <- 30
# of one tray, in bytes
most_dropped <- 4e9

tray_of_paths <- function(desk, paths) {
  missing <- paths[!file.exists(paths)]
  if (length(missing)) abort_input("no such file or folder", missing[1], "check the name")
  tray <- new_tray(desk)
  tray$paths <- normalizePath(paths)
  tray$own <- FALSE
  put_tray(desk, tray)
}

put_tray <- function(desk, tray) {
  desk$trays[[tray$id]] <- tray
  tray
}

remove_tray <- function(desk, id) {
  unlink(desk$trays[[id]]$folder, recursive = TRUE)
  desk$trays[[id]] <- NULL
}

#' What lies in a tray, as it is opened: the one file, or the folder of several
#' @noRd
paths_of_tray <- function(tray) {
  if (!is.null(tray$paths)) {
    return(tray$paths)
  }
  files <- list.files(tray$folder, recursive = TRUE, full.names = TRUE)
  plan <- files[basename(files) == "study.yml"]
  if (length(plan) == 1) {
    return(dirname(plan))
  }
  layouts <- grepl("[.]layout[.]yml$", files)
  if (sum(!layouts) == 1) files[!layouts] else dropped_folder(tray$folder)
}

# a folder that was dropped whole is opened itself
dropped_folder <- function(folder) {
  inside <- list.files(folder, full.names = TRUE)
  if (length(inside) == 1 && dir.exists(inside)) dropped_folder(inside) else folder
}

tray_name <- function(tray) {
  files <- if (is.null(tray$paths)) list.files(tray$folder, recursive = TRUE) else basename(tray$paths)
  if (length(files) > 2) paste(files[1], "and", length(files) - 1, "more") else paste(files, collapse = ", ")
}

#' A safe name of what a browser sends: no way out of the tray, no character that a file system or shell stumbles over
#' @noRd
name_in_tray <- function(name) {
  parts <- strsplit(gsub("\\\\", "/", plain_text(name)), "/", fixed = TRUE)[[1]]
  parts <- gsub("[[:cntrl:]<>:\"|?*$`!]", "_", parts)
  parts <- trimws(sub("^[.]+", "", parts))
  parts <- utils::tail(substr(parts[nzchar(parts)], 1, 120), 6)
  if (length(parts)) paste(parts, collapse = "/") else "unnamed"
}

#' One piece of a file that is dropped, appended
#' @param at Where it begins. @return How many bytes there are now.
#' @noRd
add_piece <- function(tray, name, at, bytes) {
  path <- file.path(tray$folder, name_in_tray(name))
  dir.create(dirname(path), recursive = TRUE, showWarnings = FALSE)
  have <- if (file.exists(path)) file.size(path) else 0
  # one that comes twice, since its answer was lost, is not stored twice
  if (at != have) {
    return(have)
  }
  taken <- sum(file.size(list.files(tray$folder, recursive = TRUE, full.names = TRUE)))
  if (taken + length(bytes) > most_dropped) {
    abort_input("more than 4 GB at once", name_in_tray(name), "name the folder on this machine instead of dropping it")
  }
  con <- file(path, if (at == 0) "wb" else "ab")
  on.exit(close(con))
  writeBin(bytes, con)
  at + length(bytes)
}
