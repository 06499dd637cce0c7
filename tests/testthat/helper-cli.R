# no test fills or reads the noise memory of whoever runs it
Sys.setenv(HONESTMARGIN_NOISE = "off")
# nor does what the commands of a test keep leave this process and its forks
if (!nzchar(Sys.getenv("HONESTMARGIN_CACHE"))) Sys.setenv(HONESTMARGIN_CACHE = file.path(tempdir(), "kept"))
# The command line as a process of its own: status, standard output, messages. A fork of this process has the package
# loaded already; what is about the program itself (its start, signals, a locale) asks for a new one.
# with its path, since R CMD check forbids the bare name
rscript <- file.path(R.home("bin"), "Rscript")
# the command itself, as words of a shell
launcher_file <- system.file("exec", "honestmargin", package = "honestmargin")
launcher <- paste("sh", launcher_file)
run_cli <- function(..., wd = getwd(), env = character(), anew = .Platform$OS.type != "unix") {
  if (!anew) {
    return(run_forked(c(...), wd, env))
  }
  processx::run("sh", c(launcher_file, ...),
    error_on_status = FALSE, wd = wd, env = if (length(env)) c("current", env), timeout = 120
  )
}

run_forked <- function(args, wd, env) {
  for (package in c("optparse", "RSQLite", if (args[1] %in% c("figure", "report", "demo")) "ggplot2")) {
    loadNamespace(package)
  }
  to <- c(tempfile("stdout"), tempfile("stderr"))
  withr::defer(unlink(to))
  job <- parallel::mcparallel(
    {
      # as a new process it draws its own numbers
      rm(list = intersect(".Random.seed", ls(globalenv(), all.names = TRUE)), envir = globalenv())
      setwd(wd)
      if (length(env)) do.call(Sys.setenv, as.list(env))
      for (i in 1:2) sink(file(to[i], "w"), type = c("output", "message")[i])
      honestmargin:::run_command(args)
    },
    mc.set.seed = FALSE
  )
  for (second in 1:120) {
    status <- unlist(parallel::mccollect(job, wait = FALSE, timeout = 1), use.names = FALSE)
    if (length(status)) break
  }
  if (!is.integer(status)) {
    tools::pskill(job$pid, tools::SIGKILL)
    stop("the forked command line came to no end: ", status)
  }
  said <- vapply(to, function(path) paste0(readLines(path, warn = FALSE), "\n", collapse = ""), "", USE.NAMES = FALSE)
  list(status = status, stdout = sub("^\n$", "", said[1]), stderr = sub("^\n$", "", said[2]))
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
same_verdicts <- function(one, other) {
  plain <- function(v) as.data.frame(v)[setdiff(names(v), "codes")]
  expect_identical(plain(one), plain(other))
  expect_identical(sentences(one), sentences(other))
}
