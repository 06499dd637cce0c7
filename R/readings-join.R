# Readings from several sources, with what is known of their passes.

# What was typed or corrected stands over what was worked out, and takes its place
# among what else is known of its pass.
join_readings <- function(passes, captured, typed) {
  columns <- c("pass", "part", "workload", "segment", "metric", "value", "unit", "better", "scale")
  rows <- lapply(Filter(NROW, list(captured, typed)), function(rows) {
    rows <- with_columns(rows, columns)
    # in a table of readings alone, one id may stand for passes of several workloads
    blank <- is.na(rows$workload)
    rows$workload[blank] <- passes$workload[match(rows$pass[blank], passes$pass)]
    rows[columns]
  })
  if (!length(rows)) {
    return(NULL)
  }
  rows <- do.call(rbind, rows)
  key <- joint_code(rows$pass, rows$part, rows$workload, rows$segment, rows$metric)
  rows <- take_rows(rows, which(!duplicated(key, fromLast = TRUE)))
  at <- match(pass_key(rows), pass_key(passes))
  rows <- take_rows(rows, order(at, na.last = NA))
  at <- sort(at)
  list2DF(c(rows, take_rows(passes[setdiff(of_pass, "workload")], at)))
}

pass_key <- function(rows) paste(rows$pass, rows$part, rows$workload, sep = "\r")
