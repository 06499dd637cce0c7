in_terminal <- function(columns, command, env = character()) {
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  run <- processx::run("script", c(
    "-qefc", paste0("stty cols ", columns, " rows 50; ", launcher, " ", command), "/dev/null"
  ), env = c("current", TERM = "xterm-256color", COLORTERM = "", env), timeout = 60)
  strsplit(gsub("\r", "", run$stdout), "\n")[[1]]
}

test_that("a terminal is used as wide as it is, with colour where it is wanted", {
  file <- write_lines("arm,score", rep(c("off,1000", "on,1041", "off,1008", "on,1049"), 2))
  command <- paste("weigh", file, "--baseline off --worth 2")
  # a command to paste is one line, however long
  told_lines <- function(lines) grep("^  honestmargin", lines, value = TRUE, invert = TRUE)
  lines <- told_lines(in_terminal(110, command))
  verdict <- grep("^  on +[0-9]", lines, value = TRUE)
  expect_match(verdict, "\033\\[[0-9;]+mclear gain\033")
  bare <- cli::ansi_strip(lines)
  expect_every(nchar(bare) <= 110)
  expect_true(any(nchar(bare) > 80))
  # the same words as in a file
  told <- told_lines(strsplit(run_cli("weigh", file, "--baseline", "off", "--worth", "2")$stdout, "\n")[[1]])
  expect_every(nchar(told) <= 80)
  squeeze <- function(text) gsub("\\s+", " ", paste(text, collapse = " "))
  expect_identical(trimws(squeeze(bare)), trimws(squeeze(told)))
  expect_false(any(grepl("\033", told)))
  plain <- told_lines(in_terminal(70, command, c(NO_COLOR = "1")))
  # no colours; that the cursor is to be seen again may be said
  expect_false(any(grepl("\033\\[[0-9;]*m", plain)))
  expect_every(nchar(cli::ansi_strip(plain)) <= 70)
})
