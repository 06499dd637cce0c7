# Folders that were packed to be sent: a zip or a tar is read as the folder that lies in it.

archive_ending <- "[.](zip|tar|tar[.]gz|tgz|tar[.]xz|tar[.]bz2)$"

#' Unpack what was sent
#'
#' @param path An archive.
#' @return A temporary folder: the one that lies in it alone, else all of it.
#' @noRd
unpacked <- function(path) {
  if (!file.exists(path)) abort_input("no such file", path, "check the name and the folder")
  # of a name with a colon tar makes that of another machine, unless a stroke stands before it
  path <- normalizePath(path)
  zipped <- grepl("[.]zip$", path, ignore.case = TRUE)
  open <- function(code) {
    broken <- function(e) abort_input("cannot be unpacked", path, "is it whole? pack it anew, or unpack it by hand")
    tryCatch(code, warning = broken, error = broken)
  }
  held <- open(if (zipped) utils::unzip(path, list = TRUE) else listed_tar(path))
  if (!length(held$Name)) abort_input("there is nothing in it", path, "pack the folder anew")
  # nothing may land beside the folder it is unpacked into
  outside <- grepl("(^|[/\\\\])[.][.]([/\\\\]|$)|^[/\\\\]|^[A-Za-z]:", held$Name)
  if (any(outside)) abort_input(paste0("'", held$Name[outside][1], "' would lie outside of it"), path, "pack it anew")
  if (sum(as.numeric(held$Length), na.rm = TRUE) > 4e9 || length(held$Name) > 1e5) {
    abort_input("holds more than 4 GB, or more than 100 000 files", path, "unpack it by hand, and name the folder")
  }
  deep <- lengths(strsplit(held$Name, "[/\\\\]"))
  if (any(deep > 30) || any(nchar(held$Name) > 1000)) {
    abort_input("has folders in folders more than 30 deep", path, "unpack it by hand, and name the folder")
  }
  folder <- unpacking_folder()
  open(if (zipped) utils::unzip(path, exdir = folder) else utils::untar(path, exdir = folder))
  links <- Sys.readlink(list.files(folder, recursive = TRUE, all.files = TRUE, include.dirs = TRUE, full.names = TRUE))
  if (any(nzchar(links))) abort_input("holds links to elsewhere", path, "pack the files themselves")
  # what systems and packers leave beside the files of people
  inside <- setdiff(list.files(folder), "__MACOSX")
  if (length(inside) == 1 && dir.exists(file.path(folder, inside))) file.path(folder, inside) else folder
}

#' What a tar holds, with the length of each file as it will be unpacked
#'
#' Read as the format says (512 bytes a header; POSIX.1-1988 ustar), through R's own decompression: a listing by the
#' program does not say lengths in a form of its own everywhere.
#' @return A list `Name`, `Length`.
#' @noRd
listed_tar <- function(path, most = 4e9) {
  from <- gzfile(path, "rb")
  on.exit(close(from))
  length <- numeric()
  repeat {
    header <- readBin(from, "raw", 512)
    if (length(header) < 512 || all(header == 0)) break
    size <- header[125:136]
    octal <- if (size[1] >= as.raw(0x80)) {
      sum(as.numeric(size[-1]) * 256^(10:0))
    } else {
      text <- trimws(rawToChar(size[size != 0]))
      sum(as.numeric(strsplit(text, "")[[1]]) * 8^rev(seq_len(nchar(text)) - 1))
    }
    if (!is.finite(octal)) stop("no header of a tar")
    length <- c(length, octal)
    if (sum(length) > most || length(length) > 1e5) break
    left <- 512 * ceiling(octal / 512)
    while (left > 0) {
      step <- readBin(from, "raw", min(left, 1e7))
      if (!length(step)) stop("ends too early")
      left <- left - length(step)
    }
  }
  if (sum(length) > most || length(length) > 1e5) {
    return(list(Name = "too much", Length = Inf))
  }
  list(Name = utils::untar(path, list = TRUE), Length = length)
}

# R takes its temporary folder away where it ends by itself; what one left that was ended from outside is taken away
# by the next
unpacking_folder <- function() {
  place <- dirname(tempdir())
  old <- list.files(place, "^honestmargin-unpacked-[0-9]+-", full.names = TRUE)
  owner <- as.integer(sub("^.*unpacked-([0-9]+)-.*$", "\\1", old))
  unlink(old[!vapply(owner, process_lives, NA)], recursive = TRUE)
  folder <- tempfile(paste0("honestmargin-unpacked-", Sys.getpid(), "-"), place)
  dir.create(folder, mode = "0700")
  reg.finalizer(globalenv(), function(e) unlink(folder, recursive = TRUE), onexit = TRUE)
  folder
}
