# Installs the package and its command, unless they are there as they stand here.
# Base R only. Leaves the command's folder in .setup/path for the Makefile.

sources <- list.files(c("R", "src", "inst", "exec", "man"), recursive = TRUE, full.names = TRUE)
sources <- c(
  "DESCRIPTION", "NAMESPACE", grep("[.](o|so|dll)$", sources, value = TRUE, invert = TRUE)
)
# the R version belongs to it: compiled code of one R need not load in another
state <- c(unname(tools::md5sum(sources)), R.version.string, getwd())

writable <- .libPaths()[file.access(.libPaths(), 2) == 0]
lib <- if (length(writable)) writable[1] else path.expand(Sys.getenv("R_LIBS_USER"))
dir.create(lib, recursive = TRUE, showWarnings = FALSE)
dir.create(".setup", showWarnings = FALSE)
stamp <- ".setup/installed"
there <- file.exists(stamp) && identical(
  readLines(stamp), c(state, lib)
) && file.exists(file.path(lib, "honestmargin", "DESCRIPTION"))
if (!there || !identical(readLines(file.path(lib, "honestmargin", "built-from"), warn = FALSE), getwd())) {
  cat("setup: building honestmargin into", lib, "\n")
  log <- ".setup/install.log"
  # one compiler a core
  Sys.setenv(MAKEFLAGS = paste0("-j", max(1, parallel::detectCores(), na.rm = TRUE)))
  build <- function(lib, part, log) {
    paste(
      shQuote(file.path(R.home("bin"), "R")), "CMD INSTALL --no-test-load", part, paste0("--library=", shQuote(lib)),
      ". >", log, "2>&1"
    )
  }
  # what is in R and what is compiled do not need each other: both at once, and one is put into the other
  compiled <- file.path(tempdir(), "compiled")
  dir.create(compiled)
  beside <- ".setup/install-compiled.log"
  done <- system(paste0(
    build(compiled, "--libs-only", beside), " & p=$!; ", build(lib, "--no-libs", log), "; s=$?; wait $p && exit $s"
  ))
  parts <- list.files(file.path(compiled, "honestmargin"), full.names = TRUE)
  if (done != 0 || !all(file.copy(parts, file.path(lib, "honestmargin"), recursive = TRUE))) {
    cat(readLines(log), readLines(beside), sep = "\n")
    quit(status = 1)
  }
  writeLines(getwd(), file.path(lib, "honestmargin", "built-from"))
  writeLines(c(state, lib), stamp)
}

# on the PATH: where everybody's commands are if we may write there, else the user's own
script <- file.path(lib, "honestmargin", "exec", "honestmargin")
Sys.chmod(script, "755")
places <- c("/usr/local/bin", path.expand("~/.local/bin"))
if (file.access(places[1], 2) != 0) dir.create(places[2], recursive = TRUE, showWarnings = FALSE)
place <- places[file.access(places, 2) == 0][1]
command <- file.path(place, "honestmargin")
if (!identical(Sys.readlink(command), script)) {
  unlink(command)
  file.symlink(script, command)
  cat("setup: the command is", command, "\n")
}
if (!place %in% strsplit(
  Sys.getenv("PATH"), ":",
  fixed = TRUE
)[[1]]) {
  cat("setup: put", place, "on your PATH to use the command by its name\n")
}
writeLines(place, ".setup/path")
