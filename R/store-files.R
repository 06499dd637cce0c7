# Files are written whole or not at all: to a neighbour first, then renamed.

#' @param write Function that takes a path and writes there.
#' @return `path`, invisibly.
#' @noRd
write_whole <- function(path, write) {
  folder <- dirname(path)
  if (dir.exists(path)) abort_stuck("is a folder", path, "name a file in it")
  if (!dir.exists(folder)) abort_stuck("no such folder", folder, "make the folder first, or name another")
  if (file.access(folder, 2) != 0) {
    abort_stuck(
      "this folder cannot be written", folder, "name another folder, or change its permissions"
    )
  }
  # the ending stays, since figure devices and readers go by it
  beside <- file.path(folder, paste0(".part-", Sys.getpid(), "-", basename(path)))
  on.exit(unlink(beside))
  tryCatch(write(beside), error = function(e) {
    abort_stuck(paste("could not be written:", conditionMessage(e)), path, "is the disk full?")
  })
  if (!file.exists(beside) || !suppressWarnings(file.rename(beside, path))) {
    abort_stuck("could not be put in place", path, "is the file open or protected?")
  }
  invisible(path)
}
