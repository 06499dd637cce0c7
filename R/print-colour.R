# Colour and width in a terminal. Everything is said in words too; colour is off where cli finds it is not wanted
# (NO_COLOR, a file, a pipe).

# of middling lightness, to be seen on a dark ground and on a light one
shades <- c(gain = "#1E88D8", loss = "#D9541E", negligible = "#4E9A70", warning = "#9A6700", blocking = "#D9541E")

# a script that writes into a file or a pipe has none unless it was told to, and asking cli takes it a tenth of a second
has_colour <- function() {
  told <- nzchar(Sys.getenv("R_CLI_NUM_COLORS")) || length(c(getOption("cli.num_colors"), getOption("crayon.enabled")))
  (told || interactive() || isatty(stdout())) && cli::num_ansi_colors() > 1
}

paint <- function(text, shade) {
  if (!length(text) || !has_colour()) {
    return(text)
  }
  as.character(cli::make_ansi_style(shades[[shade]])(text))
}

bold <- function(text) if (has_colour()) as.character(cli::style_bold(text)) else text

# the verdict at the end of a line of a table, coloured as its family
paint_verdicts <- function(lines) {
  pattern <- paste0("  (", paste(names(plain_answers), collapse = "|"), ")(?=( +([0-9]+|no end))?$)")
  at <- regexpr(pattern, lines, perl = TRUE)
  for (i in which(at > 0)) {
    word <- substr(lines[i], at[i] + 2, at[i] + attr(at, "match.length")[i] - 1)
    family <- verdict_family(word)
    rest <- substring(lines[i], at[i] + attr(at, "match.length")[i])
    if (family %in% names(shades)) lines[i] <- paste0(substr(lines[i], 1, at[i] + 1), paint(word, family), rest)
  }
  lines
}

# the gravity at the start of a finding
paint_severity <- function(lines) {
  for (severity in c("warning", "blocking")) {
    pattern <- paste0("^(! )?", severity)
    hit <- grepl(pattern, lines)
    lines[hit] <- vapply(lines[hit], function(line) {
      word <- regmatches(line, regexpr(pattern, line))
      paste0(paint(word, severity), substring(line, nchar(word) + 1))
    }, "", USE.NAMES = FALSE)
  }
  lines
}

#' How wide text may be: the terminal's own width, 80 where there is none
#' @noRd
text_width <- function() {
  if (!isatty(stdout())) {
    return(80)
  }
  # lines of more than 120 are hard to read
  max(40, min(cli::console_width(), 120))
}
