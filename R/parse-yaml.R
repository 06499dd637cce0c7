# YAML with line numbers, so that a mistake in a plan can be pointed at.

#' @return A list: `value`, and `line`, a named integer vector from key path
#'   (`setting/baseline`, `arms/2/value`) to line.
#' @noRd
parse_yaml_file <- function(path, what = "plan") {
  opened <- open_text(path, what)
  if (opened$temporary) on.exit(unlink(opened$file))
  parse_yaml_lines(first_lines(opened$file, -1), path, what)
}

#' @param written `TRUE` where a number that R would write otherwise (560.10, +3) stays the text that it is.
#' @noRd
parse_yaml_lines <- function(text, path, what = "plan", written = FALSE) {
  assert_shallow(text, path, what)
  # an arm called "on" or "no" is a name, not a truth value
  truth <- function(words, value) function(x) if (x %in% words) value else x
  number <- function(x) number_of_yaml(x, written)
  # an anchor that is none is only warned of
  invalid <- function(e) {
    at <- regmatches(conditionMessage(e), regexpr("line [0-9]+", conditionMessage(e)))
    abort_input(
      paste("not valid YAML:", sub("\\s+at line.*|\n.*", "", conditionMessage(e))), c(path, at),
      "check the indentation, and quote values that hold ': ' or '#'"
    )
  }
  value <- tryCatch(
    yaml::yaml.load(paste(text, collapse = "\n"),
      eval.expr = FALSE, handlers = list(
        "bool#yes" = truth(c("true", "True", "TRUE"), TRUE), "bool#no" = truth(c("false", "False", "FALSE"), FALSE),
        # 010 is no eight, 0x10 no sixteen and 1:30 no ninety: they stay as they were written
        "int#oct" = identity, "int#hex" = identity, "int#base60" = identity, "float#base60" = identity,
        int = number, float = number, "float#fix" = number, "float#exp" = number
      )
    ),
    error = invalid, warning = invalid
  )
  if (!is.list(value) || is.null(names(value))) {
    abort_input(paste0("holds no 'key: value' lines, so it is no ", what), path, "see the example in the README")
  }
  list(value = value, line = yaml_lines(text))
}

# A decimal comma is none of YAML's, and a serial number has more digits than a whole number of R: the parser makes
# both missing values. They stay text, and whatever asks for a number says so.
number_of_yaml <- function(x, written) {
  if (!grepl(number_point, x)) {
    return(x)
  }
  number <- as.numeric(x)
  if (is_whole_text(x) && abs(number) <= .Machine$integer.max) number <- as.integer(number)
  if (as.character(number) != x && (written || is_whole_text(x))) x else number
}

is_whole_text <- function(x) grepl("^[-+]?[0-9]+$", x)

# The parser itself goes down with each level, and a plan has but a few.
assert_shallow <- function(text, path, what) {
  open <- vapply(gregexpr("[[{]", text), function(at) sum(at > 0), 1) - vapply(
    gregexpr("[]}]", text), function(at) sum(at > 0), 1
  )
  nested <- max(
    0, cumsum(open), nchar(sub("^((- )*).*", "\\1", trimws(text))) / 2, nchar(sub("^( *).*", "\\1", text)) / 2
  )
  if (nested > 60) abort_input(paste0("nested ", nested, " levels deep, so it is no ", what), path, "see docs/plan.md")
}

# Block style only: keys inside {flow} maps take the line of the key above.
yaml_lines <- function(text) {
  found <- integer()
  stack <- list()
  counts <- list()
  for (i in seq_along(text)) {
    if (grepl("^\\s*(#|$|---|\\.\\.\\.)", text[i])) next
    rest <- text[i]
    indent <- nchar(sub("^( *).*", "\\1", rest))
    rest <- substring(rest, indent + 1)
    is_item <- grepl("^- ", rest) || rest == "-"
    while (length(stack) && (stack[[length(stack)]]$indent > indent ||
      (stack[[length(stack)]]$indent == indent && (!is_item || stack[[length(stack)]]$item)))) {
      stack <- stack[-length(stack)]
    }
    parent <- if (length(stack)) stack[[length(stack)]]$path else ""
    if (is_item) {
      counts[[paste0(parent, "/")]] <- empty_to(counts[[paste0(parent, "/")]], 0) + 1
      parent <- join_path(parent, counts[[paste0(parent, "/")]])
      found[[parent]] <- i
      stack <- c(stack, list(list(indent = indent, path = parent, item = TRUE)))
      pad <- nchar(sub("^(- *).*", "\\1", rest))
      indent <- indent + pad
      rest <- substring(rest, pad + 1)
    }
    if (grepl("^[^\\s{\\[\"'][^:]*:(\\s|$)|^[\"'][^\"']+[\"']:(\\s|$)", rest, perl = TRUE)) {
      key <- gsub("^[\"']|[\"']$", "", sub(":(\\s.*)?$", "", sub("^([^:]+:).*", "\\1", rest)))
      path <- join_path(parent, key)
      found[[path]] <- i
      stack <- c(stack, list(list(indent = indent, path = path, item = FALSE)))
    }
  }
  found
}

#' Values as YAML reads them back, whatever stands in them (what is JSON is YAML)
#' @noRd
yaml_quoted <- function(values) {
  vapply(values, function(v) as.character(jsonlite::toJSON(v, auto_unbox = TRUE)), "", USE.NAMES = FALSE)
}
