# What numbers that were read may still hide: asked, never settled by itself.

# more apart than this, values of one arm and metric are two things or a slip of the pen
far_apart <- 20

#' @param rows Readings. @return List of questions.
#' @noRd
ask_plausible <- function(rows, sheet) {
  right <- function(code) identical(answered(sheet$said, code), "right")
  found <- list(
    far = if (!right("far")) ask_far(rows, sheet), unit = if (!right("unit")) ask_units(rows),
    lone = if (!right("lone")) ask_lone_level(rows, sheet)
  )
  unname(Filter(length, found))
}

ask_far <- function(rows, sheet) {
  good <- which(!is.na(rows$value) & rows$value > 0)
  metric <- empty_to(rows$metric, rep("score", nrow(rows)))
  key <- do.call(paste, c(list(metric), unname(as.list(rows[intersect(c("workload", "segment"), names(rows))])),
    sep = "\r"
  ))
  for (at in split(good, key[good])) {
    v <- rows$value[at]
    if (length(v) < 2 || max(v) / min(v) <= far_apart || any(rows$value[key == key[at[1]]] <= 0, na.rm = TRUE)) next
    two <- at[c(which.min(v), which.max(v))]
    return(new_question(
      "far", paste0(
        "'", metric[at[1]], "' is ", show_exact(min(v)), " and ", show_exact(max(v)), " (", sheet$grid$row, " ",
        paste(sheet$grid$line[rows$.row[two]], collapse = " and "), "): more than ", far_apart, " times apart"
      ),
      list(answer_choice("far", "right", "both are right")), rows$.row[two]
    ))
  }
}

ask_units <- function(rows) {
  metric <- empty_to(rows$metric, rep("score", nrow(rows)))
  for (m in unique(metric)) {
    unit <- unique(rows$unit[metric == m & !is.na(rows$value)])
    if (length(unit) > 1) {
      return(new_question(
        "unit", paste0("'", m, "' has several units: ", some_of(ifelse(is.na(unit), "none", unit))),
        list(answer_choice("unit", "right", "they are the same"))
      ))
    }
  }
}

# a level that stands in one row or one heading only while combinations are missing, or that is nearly another, may be
# misspelt
ask_lone_level <- function(rows, sheet) {
  keys <- intersect(c("arm", "workload", "context", "metric"), names(rows))
  keys <- keys[vapply(keys, function(k) length(unique(rows[[k]])) > 1, NA)]
  by_heading <- if (sheet$layout$kind %in% c("across", "above")) "arm" else "metric"
  for (k in keys) {
    at <- if (k == by_heading && !k %in% sheet$roles$role) rows$.column else rows$.row
    count <- vapply(split(at, rows[[k]]), function(x) length(unique(x)), 1L)
    lone <- setdiff(names(count)[count == 1], sheet$said$baseline)
    if (!length(lone) || all(count == 1) && length(keys) < 2) next
    near <- lone[vapply(lone, function(l) is_slip(l, setdiff(names(count), l)), NA)]
    # as few as it has, the others have more
    holes <- if (k != "metric" && max(count) > 2 && any(count > 1)) leaves_holes(rows, keys, k, lone)
    odd <- c(if (max(count) > 1) near, holes)
    if (length(odd)) {
      return(new_question(
        "lone", paste0("the ", k, " '", odd[1], "' stands in one place only: is it misspelt?"),
        list(answer_choice("lone", "right", "it is right"))
      ))
    }
  }
}

# a level of one row in which not every combination with the other keys is there
leaves_holes <- function(rows, keys, k, lone) {
  others <- setdiff(keys, k)
  if (!length(others)) {
    return(NULL)
  }
  beside <- do.call(paste, c(rows[others], sep = "\r"))
  lone[vapply(lone, function(l) length(unique(beside[rows[[k]] == l])) < length(unique(beside)), NA)]
}

is_slip <- function(word, others) {
  near <- others[utils::adist(word, others)[1, ] <= 1 + (nchar(word) > 6)]
  # "v1" and "v2", "125 Hz" and "126 Hz" differ in what counts them
  letters <- function(x) gsub("[^[:alpha:]]+", "", x)
  nchar(word) > 2 && any(letters(near) != letters(word) & nchar(letters(near)) > 2)
}
