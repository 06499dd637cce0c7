# A virtual X server for real renderers; one for all tests of a run.
the <- new.env(parent = emptyenv())
need_display <- function() {
  for (program in c("Xvfb", "glxgears", "vkcube")) {
    if (!nzchar(Sys.which(program))) testthat::skip(paste(program, "is not here"))
  }
  if (is.null(the$server) || !the$server$is_alive()) {
    number <- tempfile("display-")
    the$server <- processx::process$new("sh", c(
      "-c", paste("exec Xvfb -noreset -displayfd 3 -screen 0 640x480x24 3>", number)
    ), cleanup = TRUE)
    for (i in 1:100) if (file.exists(number) && length(readLines(number, warn = FALSE))) break else Sys.sleep(0.1)
    the$display <- paste0(":", readLines(number, warn = FALSE)[1])
  }
  withr::local_envvar(DISPLAY = the$display, vblank_mode = "0", .local_envir = parent.frame())
}

probed <- function(command, ...) {
  stem <- tempfile("frames-")
  run <- processx::run("sh", c("-c", command),
    env = c("current", honestmargin:::probe_environment(stem), ...), error_on_status = FALSE, timeout = 60
  )
  list(run = run, notes = honestmargin:::read_probe(stem))
}
