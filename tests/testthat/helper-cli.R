# no test fills or reads the noise memory of whoever runs it
Sys.setenv(HONESTMARGIN_NOISE = "off")
# The command line as a process of its own: status, standard output, messages.
# with its path, since R CMD check forbids the bare name
rscript <- file.path(R.home("bin"), "Rscript")
run_cli <- function(..., wd = getwd(), env = character()) {
  processx::run(rscript, c("-e", "honestmargin::main()", ...),
    error_on_status = FALSE, wd = wd, env = if (length(env)) c("current", env), timeout = 120
  )
}

write_lines <- function(..., ext = ".csv") {
  path <- withr::local_tempfile(fileext = ext, .local_envir = parent.frame())
  writeLines(c(...), path)
  path
}

expect_message_of <- function(code, class, pattern) {
  error <- tryCatch(code, error = identity)
  testthat::expect_s3_class(error, class)
  testthat::expect_match(conditionMessage(error), pattern)
}
source_root <- function() {
  root <- Sys.getenv("HONESTMARGIN_SOURCE")
  if (!nzchar(root) || !file.exists(file.path(root, "DESCRIPTION"))) testthat::skip("the sources are not here")
  root
}
# all() of nothing is true, and would pass where there was nothing to look at
expect_every <- function(holds) testthat::expect_true(length(holds) > 0 && all(holds))
# testthat 3.1 looks at its object twice, and so would run a command twice
expect_match <- function(object, ...) {
  force(object)
  testthat::expect_match(object, ...)
}
expect_no_match <- function(object, ...) {
  force(object)
  testthat::expect_no_match(object, ...)
}
