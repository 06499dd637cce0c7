# What says who runs a study just now, and where that run listens.

lock_file <- function(folder) file.path(folder, "run.lock")

read_lock <- function(path) {
  # a file that is not there, opened all the same, would leave a connection behind each time
  if (!file.exists(path)) {
    return(NULL)
  }
  tryCatch(suppressWarnings(jsonlite::fromJSON(paste(readLines(path, warn = FALSE), collapse = ""))),
    error = function(e) NULL
  )
}
