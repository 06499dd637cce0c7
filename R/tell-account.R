# The account of what was read, in words.

#' What was read
#'
#' @param x What [read_readings()], [read_study()] or [weigh()] returned.
#' @return A data frame of class `honestmargin_read`, one row for each arm, workload, context and metric: `arm`,
#'   `workload`, `context`, `metric`, `unit`, `passes`, `lowest`, `highest`. Attributes: `columns` (data frame `name`,
#'   `role`, `by`: declared, heading or values) and `left_out` (data frame `what`, `why`), both without rows where no
#'   table was read.
#' @section Errors: `honestmargin_error_input` for anything else.
#' @export
#' @examples
#' file <- tempfile(fileext = ".csv")
#' writeLines(c("card,run,fps", "off,1,100.5", "off,2,101.2", "on,1,104.1", "on,2,103.9"), file)
#' what_was_read(read_readings(file, baseline = "off"))
what_was_read <- function(x) {
  readings <- readings_behind(x)
  if (is.null(readings)) {
    abort_input("nothing that was read", todo = "give what read_readings(), read_study() or weigh() returned")
  }
  account <- attr(readings, "account")
  good <- !is.na(readings$value)
  parts <- split_in_order(
    seq_len(nrow(readings)), readings$arm, readings$workload, readings$context, readings$segment, readings$metric
  )
  rows <- lapply(unname(parts), function(at) {
    v <- readings$value[at][good[at]]
    data.frame(
      arm = readings$arm[at[1]], workload = readings$workload[at[1]], context = readings$context[at[1]],
      metric = readings$metric[at[1]], unit = readings$unit[at[1]],
      passes = length(unique(paste(readings$pass[at], readings$part[at]))),
      lowest = if (length(v)) min(v) else NA_real_, highest = if (length(v)) max(v) else NA_real_
    )
  })
  structure(do.call(rbind, rows),
    columns = account_columns(account), left_out = account_left(account), source = account$source,
    values = empty_to(attr(readings, "cells"), sum(good)), class = c("honestmargin_read", "data.frame")
  )
}

#' The readings that an answer rests on: themselves, or those that were weighed; `NULL` for anything else
#' @noRd
readings_behind <- function(x) {
  behind <- asked_behind(x)
  if (is_study(behind)) behind <- behind$readings
  if (inherits(behind, "honestmargin_readings")) behind
}

has_account <- function(x) !is.null(attr(readings_behind(x), "account"))

# the study or the readings that an answer of any kind is about
asked_behind <- function(x) {
  if (inherits(x, "honestmargin_answer")) attr(x, "weighed") else x
}

account_columns <- function(account) {
  parts <- if (is.null(account$parts)) list(account) else account$parts
  empty_to(
    do.call(rbind, lapply(parts, `[[`, "columns")),
    data.frame(name = character(), role = character(), by = character())
  )
}

account_left <- function(account) {
  parts <- if (is.null(account$parts)) list(account) else account$parts
  empty_to(do.call(rbind, lapply(parts, `[[`, "left")), data.frame(what = character(), why = character()))
}

#' What an answer rests on, in one to four lines: the account of a table, or the passes of a study
#' @param x Anything that `asked_behind()` knows.
#' @noRd
read_lines <- function(x) {
  readings <- readings_behind(x)
  if (!is.null(attr(readings, "account"))) {
    return(account_lines(readings))
  }
  x <- asked_behind(x)
  if (is_study(x)) passes_line(x$passes)
}

# "Read 63 passes: 4 arms, 3 workloads, 5 blocks (3 warm-up, 1 excluded)."
passes_line <- function(passes) {
  passes <- plain_table(passes)
  passes <- passes[!duplicated(pass_key(passes)), , drop = FALSE]
  excluded <- passes[passes$role == "excluded", , drop = FALSE]
  beside <- c(
    if (any(passes$role == "warm_up")) paste(sum(passes$role == "warm_up"), "warm-up"),
    if (nrow(excluded)) paste(nrow(excluded), "excluded")
  )
  of <- function(column, one) {
    n <- length(unique(stats::na.omit(passes[[column]])))
    if (n > 1 || column == "arm") count_of(n, one)
  }
  paste0(
    "Read ", count_of(nrow(passes), "pass", "passes"), ": ",
    paste(c(of("arm", "arm"), of("workload", "workload"), of("context", "context"), of("block", "block")),
      collapse = ", "
    ),
    if (length(beside)) paste0(" (", paste(beside, collapse = ", "), ")"), "."
  )
}

account_lines <- function(readings) {
  read <- what_was_read(readings)
  left <- attr(read, "left_out")
  columns <- attr(read, "columns")
  guessed <- columns[columns$by %in% "values" & columns$role %in% c("arm", "pass", "when", "metric") &
    !is.na(columns$name), ]
  source <- attr(read, "source")
  arms <- unique(read$arm)
  passes <- range(read$passes)
  metrics <- vapply(split_in_order(seq_len(nrow(read)), read$metric), function(at) {
    unit <- read$unit[at[1]]
    seen <- c(read$lowest[at], read$highest[at])
    seen <- seen[is.finite(seen)]
    span <- if (length(seen)) range(seen) else c(NA, NA)
    paste0(read$metric[at[1]], if (all(is.finite(span))) {
      paste0(
        " ", show_exact(signif(span[1], 5)), " to ", show_exact(signif(span[2], 5)),
        if (nzchar(unit) && unit != read$metric[at[1]]) paste0(" ", unit)
      )
    })
  }, "")
  workloads <- setdiff(unique(read$workload), "main")
  contexts <- stats::na.omit(unique(read$context))
  c(
    paste0(
      "Read ", count_of(attr(read, "values"), "value"), if (length(source)) paste0(" of ", source[1]), ": ",
      count_of(length(arms), "arm"), " (", some_of(arms), ") x ",
      if (passes[1] == passes[2]) {
        count_of(passes[1], "pass", "passes")
      } else {
        paste(passes[1], "to", passes[2], "passes")
      },
      if (length(workloads)) paste0(" x ", count_of(length(workloads), "workload"), " (", some_of(workloads), ")"),
      if (length(contexts)) paste0(" x ", count_of(length(contexts), "context"), " (", some_of(contexts), ")"),
      " x ", count_of(length(metrics), "metric"), " (", some_of(unname(metrics)), ")."
    ),
    if (nrow(guessed)) {
      paste0("By their cells alone: ", paste0("'", guessed$name, "' as ", guessed$role, collapse = ", "), ".")
    },
    if (nrow(left)) paste0("Left out: ", some_of(paste0(left$what, " (", left$why, ")"), 4), ".")
  )
}

# what the headline has to say of how the table was read
read_clause <- function(verdicts) {
  account <- attr(readings_behind(verdicts), "account")
  if (is.null(account)) {
    return(NULL)
  }
  left <- account_left(account)
  rows <- sum(!grepl("^column ", left$what) & !grepl("^\"", left$why))
  columns <- account_columns(account)
  guessed <- columns$name[columns$by %in% "values" & columns$role %in% c("arm", "pass") & !is.na(columns$name)]
  said <- c(
    if (rows) paste(count_of(rows, "row"), if (rows == 1) "was" else "were", "left out"),
    if (length(guessed)) paste0(some_of(paste0("'", guessed, "'"), 3), " read by its cells alone")
  )
  if (length(said)) paste0("(", paste(said, collapse = "; "), ": see Read.)")
}

#' The same as a list, for JSON
#' @noRd
read_as_list <- function(x) {
  readings <- readings_behind(x)
  if (is.null(attr(readings, "account"))) {
    return(NULL)
  }
  read <- what_was_read(readings)
  list(table = plain_table(read), columns = attr(read, "columns"), left_out = attr(read, "left_out"))
}
