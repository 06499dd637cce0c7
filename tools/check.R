# R CMD check as CRAN runs it. Fails on anything but what cannot be removed here.
r <- function(...) system2(file.path(R.home("bin"), "R"), c("CMD", ...))
# a copy of what git tracks: nothing that lies about by accident is built in
home <- tempfile("check-")
dir.create(home)
tree <- file.path(home, "honestmargin")
dir.create(tree)
files <- system2("git", c("ls-files", "-co", "--exclude-standard"), stdout = TRUE)
files <- files[file.exists(files)]
for (d in unique(dirname(files))) dir.create(file.path(tree, d), recursive = TRUE, showWarnings = FALSE)
invisible(file.copy(files, file.path(tree, files)))
setwd(home)
# one compiler a core
Sys.setenv(MAKEFLAGS = paste0("-j", max(1, parallel::detectCores(), na.rm = TRUE)))
if (r("build", "honestmargin") != 0) quit(status = 1)
built_with <- vapply(c("CFLAGS", "CXXFLAGS", "CPPFLAGS"), function(flags) {
  paste(system2(file.path(R.home("bin"), "R"), c("CMD", "config", flags), stdout = TRUE), collapse = " ")
}, "")
# names on the network are not looked up; the rest is as strict as it gets
Sys.setenv(
  `_R_CHECK_CRAN_INCOMING_REMOTE_` = "FALSE", `_R_CHECK_FORCE_SUGGESTS_` = "FALSE",
  # how R itself was built is its packager's choice, read from R: the site's own list is not, under --vanilla
  `_R_CHECK_COMPILATION_FLAGS_KNOWN_` = paste(built_with, collapse = " "),
  # code alone takes 3 MB of the 5 that are free of a note; the demo's logs and two vignettes make it 5.1
  `_R_CHECK_PKG_SIZES_THRESHOLD_` = "6",
  # machines here are noisy: how long an example takes is no fault of the package
  `_R_CHECK_EXAMPLE_TIMING_THRESHOLD_` = "60"
)
# .ci/run has run the tests a moment ago, and building the vignettes has run what is in them
tested <- if (nzchar(Sys.getenv("HONESTMARGIN_TESTED"))) "--no-tests"
r("check", "--as-cran", "--no-manual", "--no-vignettes", tested, list.files(pattern = "[.]tar[.]gz$"))
log <- readLines("honestmargin.Rcheck/00check.log")
status <- grep("^Status:", log, value = TRUE)
cat(status, "\n")
# a first submission and a clock that cannot be checked without a network are facts, not faults
allowed <- c(
  "checking CRAN incoming feasibility", "checking for future file timestamps", "checking HTML version of manual"
)
notes <- grep("[.][.][.] (\\[[^]]*\\] )?(NOTE|WARNING|ERROR)", log, value = TRUE)
# what it merely enhances need not be here
enhanced <- match(notes, log) %in% (grep("^Packages? which this enhances but not available", log) - 1)
bad <- notes[!grepl(paste(allowed, collapse = "|"), notes) & !enhanced]
if (length(bad)) {
  writeLines(log[unlist(lapply(match(bad, log), function(i) i:min(length(log), i + 14)))])
  cat("not allowed:", bad, sep = "\n  ")
}
quit(status = length(bad) > 0 || !length(status))
