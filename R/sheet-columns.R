# The columns that neither the tester nor a heading settled, by their cells and the layout.

#' Settle what is left, or ask
#' @param sheet With `layout`.
#' @noRd
settle_columns <- function(sheet) {
  sheet <- columns_of_layout(sheet)
  roles <- sheet$roles
  for (role in single_roles) {
    at <- which(roles$role %in% role)
    if (length(at) > 1) sheet <- one_of_two(sheet, role, at)
  }
  for (j in which(is.na(sheet$roles$role))) sheet <- settle_column(sheet, j)
  assert_names_apart(sheet)
  ask_rounds(sheet)
}

# two metrics of one name, of one arm
assert_names_apart <- function(sheet) {
  roles <- sheet$roles[sheet$roles$role %in% "measured", , drop = FALSE]
  twice <- which(duplicated(paste(roles$name, roles$arm, roles$label, sep = "\r")) & !is.na(roles$name))
  if (length(twice)) {
    abort_input(
      paste0("two columns are called '", roles$name[twice[1]], "'"), sheet$grid$source,
      "give each column its own name"
    )
  }
}

# one of two that is the same in all rows says nothing
one_of_two <- function(sheet, role, at) {
  if (role == "value" && !all(is.na(sheet$roles$arm[at]) & is.na(sheet$roles$pass[at]))) {
    return(sheet)
  }
  same <- at[vapply(at, function(j) is_constant(sheet, j), NA)]
  if (length(at) - length(same) == 1) {
    sheet$roles$role[same] <- "constant"
    return(sheet)
  }
  asking(sheet, two_columns(role, sheet$roles$name[at]))
}

is_constant <- function(sheet, j) {
  v <- sheet$grid$cells[sheet$passes, j]
  length(v) > 1 && !anyNA(v) && length(unique(v)) == 1
}

#' The role of one column by its cells, or a question
#' @noRd
settle_column <- function(sheet, j) {
  role <- role_by_cells(sheet, j)
  if (is.character(role)) {
    sheet$roles$role[j] <- role
    sheet$roles$by[j] <- "values"
    return(sheet)
  }
  asking(sheet, role)
}

#' @return A role, or a question.
#' @noRd
role_by_cells <- function(sheet, j) {
  roles <- sheet$roles
  v <- sheet$grid$cells[sheet$passes, j]
  name <- empty_to(if (!is.na(roles$name[j])) roles$name[j], paste("column", j))
  across <- sheet$layout$kind %in% c("across", "above", "below") || any(roles$role %in% "value" & !is.na(roles$pass))
  if (all(is.na(v))) {
    return("empty")
  }
  if ((is_summary(name) || names_a_difference(name)) && roles$type[j] %in% c("number", "time")) {
    return(sum_column(sheet, j, name))
  }
  if (roles$type[j] %in% c("word", "end", "time", "mixed")) {
    return(role_of_words(sheet, j, name, v, across))
  }
  if (!is.na(roles$name[j]) && measured_by_heading(roles$name[j]) && !across) {
    return("measured")
  }
  role_of_numbers(sheet, j, name, v, across)
}

# a column of numbers under a heading that says nothing
role_of_numbers <- function(sheet, j, name, v, across) {
  roles <- sheet$roles
  number <- as_count(v)
  whole <- !anyNA(number) && all(number == round(number))
  # a row number counts all rows; a pass is counted once within each arm
  if (whole && length(number) > 1 && identical(number, as.numeric(seq_along(number)))) {
    return("row number")
  }
  if (whole && !any(roles$role %in% "pass") && counts_passes(sheet, number)) {
    return("pass")
  }
  if (is.na(roles$name[j]) && sheet$head$row > 0) {
    return(unheaded_numbers(sheet, j))
  }
  if (across) {
    return(beside_numbers(name))
  }
  number_of_pass(sheet, j, name, v, whole && all(abs(number) <= 64))
}

unheaded_numbers <- function(sheet, j) {
  said <- answered(sheet$said, "no_heading")
  if (!is.null(said)) {
    return(if (said == "out") "note" else "measured")
  }
  new_question(
    "no_heading", paste0("column ", j, " has no heading and holds numbers"),
    list(
      answer_choice("no_heading", "out", "leave it out"),
      answer_choice("no_heading", "measured", "a number that was measured")
    ), j
  )
}

# a number beside those of arms or of numbered passes
beside_numbers <- function(name, others = "columns that are arms or passes") {
  new_question(
    "beside", paste0("what is '", name, "', beside ", others, "?"),
    role_choices(name, c("note", "order", "pass", "context", "workload"))
  )
}

# a number under a heading that nobody knows
number_of_pass <- function(sheet, j, name, v, small) {
  roles <- sheet$roles
  ask <- function(seen) {
    new_question(
      "number", paste0("'", name, "' ", seen),
      role_choices(name, c("measured", "workload", "context", "pass", "note", if (one_an_arm(sheet, v)) "attribute"))
    )
  }
  if (any(roles$role %in% "value")) {
    return(beside_numbers(name, "a column that holds the value"))
  }
  alone <- sum(roles$role %in% "measured" | is.na(roles$role)) == 1
  if (is_constant(sheet, j) && !alone) {
    return("constant")
  }
  if (!alone && same_within_arms(sheet, v)) {
    return(ask("is the same in all passes of an arm: was it measured, or does it say what was run?"))
  }
  if (small && !alone) {
    return(ask("holds small whole numbers: were they measured, or do they say what was run?"))
  }
  "measured"
}

# 1, 2, 3 ... once each within whatever else says where a pass belongs
counts_passes <- function(sheet, number) {
  key <- row_keys(sheet)
  each <- split(number, key)
  any(lengths(each) > 1) && all(vapply(each, function(n) setequal(n, seq_along(n)), NA))
}

row_keys <- function(sheet, of = c("arm", "workload", "segment", "context", "metric")) {
  keys <- which(sheet$roles$role %in% of)
  arm <- if (sheet$layout$kind == "sections") sheet$section[match(sheet$passes, sheet$body)]
  if (sheet$layout$kind == "parts") keys <- setdiff(keys, sheet$layout$at)
  parts <- c(lapply(keys, function(j) sheet$grid$cells[sheet$passes, j]), list(arm))
  parts <- Filter(length, parts)
  if (length(parts)) do.call(paste, c(parts, sep = "\r")) else rep("", length(sheet$passes))
}

same_within_arms <- function(sheet, v) one_an_arm(sheet, v) && anyDuplicated(row_keys(sheet, "arm")) > 0

# as a fact of the arm would be
one_an_arm <- function(sheet, v) {
  each <- split(v, row_keys(sheet, "arm"))
  length(each) > 1 && length(unique(v)) > 1 && all(vapply(each, function(x) length(unique(x)) == 1, NA))
}

#' What each arm is made of, from the columns that say so
#' @param rows Readings with `arm` and `.row`.
#' @return A list of `value` and `attributes`, one element an arm, as in a plan; `NULL` where no column says it.
#' @noRd
arms_of_sheet <- function(sheet, rows) {
  columns <- which(sheet$roles$role %in% "attribute")
  if (!length(columns) || is.null(rows$arm)) {
    return(NULL)
  }
  lapply(unique(rows$arm[!is.na(rows$arm)]), function(arm) {
    at <- unique(rows$.row[rows$arm %in% arm])
    facts <- lapply(columns, function(j) {
      said <- unique(stats::na.omit(sheet$grid$cells[at, j]))
      if (length(said) > 1) {
        abort_input(
          paste0("'", sheet$roles$name[j], "' is ", some_of(said, 3), " in passes of arm '", arm, "'"),
          sheet$grid$source, "a fact of the arm is the same in all of them; else it is a context or a workload"
        )
      }
      if (length(said)) said else "not given"
    })
    list(value = arm, attributes = stats::setNames(facts, sheet$roles$name[columns]))
  })
}

role_of_words <- function(sheet, j, name, v, across) {
  if (is_constant(sheet, j) && sheet$roles$type[j] != "mixed") {
    return("constant")
  }
  # a phase that is a warm-up or not
  warm <- !is.na(v) & says_warm_up(v) & nchar(v) < 20
  if (any(warm) && !all(warm) && length(unique(v[!warm])) < 2) {
    return("pass note")
  }
  type <- sheet$roles$type[j]
  if (type == "mixed" && is_mostly_number(sheet$kinds[sheet$passes, j])) {
    if (!is.null(answered(sheet$said, "text"))) {
      return("measured")
    }
    odd <- v[sheet$kinds[sheet$passes, j] == "word"]
    return(new_question(
      "text", paste0("'", name, "' holds numbers, and the text '", substr(odd[1], 1, 40), "'"),
      c(list(
        answer_choice("text", "empty", "the pass gave no number"),
        answer_choice("text", "out", "leave that row out")
      ), role_choices(name, "note"))
    ))
  }
  if (type == "time") {
    return(new_question(
      "time", paste0("'", name, "' holds ", v[!is.na(v)][1], ": a time of day, or how long it took?"),
      role_choices(name, c("when", "measured", "note"))
    ))
  }
  if (across && type == "word" && any(names_a_metric(unique(v[!is.na(v) & !is_summary(v)]))) &&
    !any(sheet$roles$role %in% "metric")) {
    return("metric")
  }
  new_question(
    "words", paste0("'", name, "' holds words that vary (", some_of(unique(v[!is.na(v)]), 3), ")"),
    role_choices(name, c(
      "workload", "context", if (across) "metric", "note", if (type == "mixed") "pass",
      if (one_an_arm(sheet, v)) "attribute"
    ))
  )
}

is_mostly_number <- function(kinds) sum(kinds == "number") > 2 * sum(kinds == "word")

#' A column that is called like a sum is one if its numbers sum up those beside
#' @noRd
sum_column <- function(sheet, j, name) {
  roles <- sheet$roles
  beside <- which(roles$role %in% "value" & roles$type == "number")
  cells <- sheet$grid$cells[sheet$passes, , drop = FALSE]
  numbers <- function(k) read_numbers(cells[, k], sheet$mark)$value
  all <- vapply(beside, numbers, numeric(length(sheet$passes)))
  shown <- cells[, j]
  value <- numbers(j)
  key <- if (is_summary(name)) summary_key(name) else "other"
  if (length(beside) > 1) {
    all <- matrix(all, nrow = length(sheet$passes))
    fits <- if (key == "other") {
      differs_of(all, value)
    } else {
      vapply(seq_along(value), function(i) sums_up(shown[i], value[i], all[i, ], key), NA)
    }
    if (any(fits, na.rm = TRUE) && all(fits, na.rm = TRUE)) {
      return("sum")
    }
  }
  # beside no passes of the same row, the lowest or the mean of a pass is a number of it
  if (!length(beside) && !key %in% c("other", "sd", "length", "range")) {
    return("measured")
  }
  new_question(
    "sum_column", paste0("'", name, "' is called like a sum, and its numbers are none of those beside"),
    role_choices(name, c("note", "measured"))
  )
}

# the difference or the change of two columns, in percent or not
differs_of <- function(all, value) {
  vapply(seq_along(value), function(i) {
    if (is.na(value[i])) {
      return(NA)
    }
    v <- all[i, ]
    step <- outer(v, v, `-`)
    told <- c(step, 100 * step / rep(v, each = length(v)), step / rep(v, each = length(v)))
    any(abs(told - value[i]) <= pmax(0.06, 0.006 * abs(value[i])), na.rm = TRUE)
  }, NA)
}
