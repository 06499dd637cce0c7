# The tests of files that were changed, on the sources as they are (what a test starts as a new process is the installed
# one): `make try` those that git sees changed, `make try OF=design-blocks` those of one file.
Sys.setenv(HONESTMARGIN_SOURCE = getwd(), NOT_CRAN = "true", HONESTMARGIN_NOISE = "off", PKG_BUILD_EXTRA_FLAGS = "false")
named <- commandArgs(TRUE)
changed <- system2("git", c("status", "--porcelain", "R", "tests/testthat"), stdout = TRUE)
of <- if (length(named)) named else sub("^(test-)?(.*)[.]R$", "\\2", basename(sub("^.* ", "", changed)))
# a file without tests of its own is tested by those of its room
files <- list.files("tests/testthat", "^test-.*[.]R$")
tests <- unique(unlist(lapply(of, function(name) {
  own <- paste0("test-", name, ".R")
  if (own %in% files) own else grep(paste0("^test-", sub("-.*", "", name), "-"), files, value = TRUE)
})))
if (!length(tests)) stop("nothing is changed; say which file: make try OF=design-blocks")
pkgload::load_all(".", quiet = TRUE, helpers = FALSE)
for (test in tests) testthat::test_file(file.path("tests/testthat", test), package = "honestmargin", load_package = "none")
