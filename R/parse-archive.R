# Folders that were packed to be sent: a zip or a tar is read as the folder that lies in it.

archive_ending <- "[.](zip|tar|tar[.]gz|tgz|tar[.]xz|tar[.]bz2)$"

#' Unpack what was sent
#'
#' @param path An archive.
#' @return A temporary folder: the one that lies in it alone, else all of it.
#' @noRd
unpacked <- function(path) {
  if (!file.exists(path)) abort_input("no such file", path, "check the name and the folder")
  zipped <- grepl("[.]zip$", path, ignore.case = TRUE)
  open <- function(code) {
    broken <- function(e) abort_input("cannot be unpacked", path, "is it whole? pack it anew, or unpack it by hand")
    tryCatch(code, warning = broken, error = broken)
  }
  held <- open(if (zipped) utils::unzip(path, list = TRUE) else list(Name = utils::untar(path, list = TRUE)))
  if (!length(held$Name)) abort_input("there is nothing in it", path, "pack the folder anew")
  # nothing may land beside the folder it is unpacked into
  outside <- grepl("(^|[/\\\\])[.][.]([/\\\\]|$)|^[/\\\\]|^[A-Za-z]:", held$Name)
  if (any(outside)) abort_input(paste0("'", held$Name[outside][1], "' would lie outside of it"), path, "pack it anew")
  if (sum(as.numeric(held$Length)) > 2e10) abort_input("holds more than 20 GB", path, "unpack it by hand")
  folder <- tempfile("unpacked-")
  dir.create(folder)
  open(if (zipped) utils::unzip(path, exdir = folder) else utils::untar(path, exdir = folder))
  links <- Sys.readlink(list.files(folder, recursive = TRUE, all.files = TRUE, include.dirs = TRUE, full.names = TRUE))
  if (any(nzchar(links))) abort_input("holds links to elsewhere", path, "pack the files themselves")
  # what systems and packers leave beside the files of people
  inside <- setdiff(list.files(folder), "__MACOSX")
  if (length(inside) == 1 && dir.exists(file.path(folder, inside))) file.path(folder, inside) else folder
}
