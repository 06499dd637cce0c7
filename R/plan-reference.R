# The table of keys as a tester reads it.

#' Every key that a plan may hold
#'
#' The reference page `docs/plan.md` is made of it.
#' @return A data frame in the order of the reference: `key` (`*` stands for each entry of a
#'   list), `type`, `default` (as it is written in a plan), `required`, `about`, `example`.
#' @export
#' @examples
#' subset(plan_keys(), startsWith(key, "setting"))[, c("key", "type", "default")]
plan_keys <- function() {
  keys <- registered("plan key")
  text <- function(part) vapply(keys, function(key) empty_to(key[[part]], ""), "", USE.NAMES = FALSE)
  data.frame(
    key = names(keys),
    type = vapply(keys, function(key) {
      if (key$type == "word") paste(key_words(key), collapse = " | ") else key_types[[key$type]]
    }, "", USE.NAMES = FALSE),
    default = vapply(
      keys, function(key) if (is.logical(key$default)) tolower(key$default) else format(empty_to(key$default, "")),
      "",
      USE.NAMES = FALSE
    ),
    required = vapply(keys, `[[`, NA, "required", USE.NAMES = FALSE), about = text("about"), example = text("example")
  )
}

key_types <- c(
  text = "text", texts = "list of words", number = "number", count = "whole number", flag = "true or false",
  command = "command", map = "map", maps = "list of maps", free = "map, keys of yours"
)
