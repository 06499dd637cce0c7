# What says who runs a study just now, and where that run listens.

lock_file <- function(folder) file.path(folder, "run.lock")

read_lock <- function(path) {
  tryCatch(jsonlite::fromJSON(paste(readLines(path, warn = FALSE), collapse = "")),
    error = function(e) NULL, warning = function(e) NULL
  )
}
