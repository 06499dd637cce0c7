# The verb `board`: a page beside the bench.

cli_board <- function(files, options) {
  port <- port_given(options)
  serve_board(
    files[1],
    port = port, share = options$share, run = if (options$run) TRUE, ready = function(address) {
      writeLines(address)
      flush(stdout())
      if (options$share) {
        if (isatty(stdout()) && requireNamespace("qrcode", quietly = TRUE)) writeLines(qr_lines(address))
        tell_user("Who has this address can read the page and answer. Ctrl-C ends it.")
      } else {
        tell_user("Open it on this machine; --share opens it to a phone in the same network. Ctrl-C ends it.")
      }
    }
  )
  0L
}

port_given <- function(options) {
  port <- if (!is.null(options$port)) whole_number(options$port, "port")
  if (length(port) && port > 65535) {
    abort_usage(paste0("--port ", options$port, ": ports go up to 65535"), todo = "leave it out for a free one")
  }
  port
}

# two rows of modules in a line of half blocks, dark on light whatever the terminal's colours are
qr_lines <- function(text) {
  code <- unclass(qrcode::qr_code(text))
  code <- matrix(as.logical(code), nrow(code))
  side <- nrow(code) + 4
  full <- matrix(FALSE, side + side %% 2, side)
  full[2 + seq_len(nrow(code)), 2 + seq_len(ncol(code))] <- code
  rows <- seq(1, nrow(full), 2)
  blocks <- vapply(rows, function(i) {
    paste(c(" ", "\u2584", "\u2580", "\u2588")[1 + full[i + 1, ] + 2 * full[i, ]], collapse = "")
  }, "")
  as.character(cli::bg_br_white(cli::col_black(blocks)))
}

register("verb", "board",
  takes = "STUDY", files = c(1, 1), run = cli_board,
  examples = c(
    "board my-study",
    "board my-study --share"
  ),
  about = "Serve a page that shows a run and takes the answers it needs.",
  options = function() {
    list(
      port = option_text("N", "listen there (default: a free port)"),
      share = option_flag("open it to the network; the address has a key in it"),
      run = option_flag("let the page start the run, with the commands of the plan")
    )
  }, rank = 4.5
)
