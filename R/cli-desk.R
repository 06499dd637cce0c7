# The verb `open`: the desk, in a browser.

cli_open <- function(files, options) {
  serve_desk(files, open_input,
    port = port_given(options), share = options$share, ready = function(address) {
      writeLines(address)
      flush(stdout())
      tell_user("The desk is open as long as this runs; Ctrl-C ends it.")
      if (interactive_browser()) tryCatch(utils::browseURL(address), error = function(e) NULL)
    }
  )
  0L
}

# a person at a terminal, with a screen that can show a browser
interactive_browser <- function() {
  isatty(stdout()) && (.Platform$OS.type == "windows" || Sys.info()[["sysname"]] == "Darwin" ||
    nzchar(Sys.getenv("DISPLAY")) || nzchar(Sys.getenv("WAYLAND_DISPLAY")))
}

register("verb", "open",
  takes = "[FILE|FOLDER|STUDY]", files = c(0, Inf), run = cli_open,
  examples = c("open", "open scores.csv"),
  about = "Open the desk in a browser: drop files, see what was read, get the answer.",
  options = function() {
    list(
      port = option_text("N", "listen here, not on a free port"),
      share = option_flag("open it to the whole network of this machine")
    )
  },
  rank = 1.5
)
