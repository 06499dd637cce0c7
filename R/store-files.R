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
  # the ending stays, since figure devices and readers go by it; a name that cannot be guessed, and a file that
  # was not there: in a folder that others write to, a link could lie in wait
  beside <- tempfile(paste0(".part-", Sys.getpid(), "-"), folder, paste0("-", basename(path)))
  if (!create_new_file(beside)) abort_stuck("could not be written", path, "is the disk full?")
  on.exit(unlink(beside))
  tryCatch(write(beside), error = function(e) {
    abort_stuck(paste("could not be written:", conditionMessage(e)), path, "is the disk full?")
  })
  if (!file.exists(beside) || !suppressWarnings(file.rename(beside, path))) {
    abort_stuck("could not be put in place", path, "is the file open or protected?")
  }
  invisible(path)
}

#' Write a log of a pass into a study folder, packed
#' @noRd
put_log <- function(folder, kind, pass, table) {
  if (!NROW(table)) {
    return(invisible())
  }
  place <- file.path(folder, kind)
  dir.create(place, showWarnings = FALSE)
  # in one piece: fwrite's own packing makes several, whose length at the end is that of the last
  plain <- tempfile(fileext = ".csv")
  on.exit(unlink(plain))
  data.table::fwrite(table, plain)
  write_whole(file.path(place, paste0(pass, ".csv.gz")), function(to) {
    packed <- gzfile(to, "wb")
    on.exit(close(packed))
    writeBin(readBin(plain, "raw", file.size(plain)), packed)
  })
}

# an id names the files of its pass, so it must not lead out of the folder
assert_file_names <- function(ids) {
  strange <- grep("[/\\\\[:cntrl:]]|^[.]", ids, value = TRUE)
  if (length(strange)) {
    abort_input(
      paste0("the pass '", strange[1], "' cannot name a file"),
      todo = "a pass id has no stroke in it and does not begin with a dot: fix passes.csv"
    )
  }
}

#' The files of a folder: a pipe or a device that lies there would be waited for without end
#' @param ... As in `list.files()`.
#' @noRd
plain_files <- function(folder, ..., full.names = TRUE) {
  name <- list.files(folder, ...)
  keep <- is_plain_file(file.path(folder, name))
  if (full.names) file.path(folder, name[keep]) else name[keep]
}
