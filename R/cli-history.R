# The verb `history`.

cli_history <- function(files, options) {
  told <- study_history(files[1])
  if (one_word(options$format, "format", c("table", "csv", "json"), "table") == "table") {
    writeLines(history_lines(text_of(told)))
    return(0L)
  }
  emit_table(told, options)
}

# one act after the other, folded rather than cut
history_lines <- function(labels) {
  part <- ifelse(nzchar(labels$part), paste0(", part ", labels$part), "")
  what <- paste0(labels$kind, ifelse(nzchar(labels$pass), paste0(" ", labels$pass, part), ""))
  reason <- ifelse(nzchar(labels$reason), paste0(" - ", labels$reason), "")
  text <- paste0(local_time(labels$at), "  ", what, ifelse(nzchar(labels$said), paste0(": ", labels$said), ""), reason)
  unlist(lapply(text, fold, rest = "    "))
}

# the clock of the tester, with its zone
local_time <- function(at) {
  format(as.POSIXct(at, format = "%Y-%m-%dT%H:%M:%OS", tz = "UTC"), "%Y-%m-%d %H:%M:%S %Z", tz = "")
}

text_of <- function(table) as.data.frame(lapply(table, function(v) empty_na(as.character(v))))

emit_table <- function(table, options, short = identity) {
  switch(one_word(options$format, "format", c("table", "csv", "json"), "table"),
    csv = writeLines(csv_lines(table)),
    json = writeLines(json_text(rows = table, version = package_version_text())),
    table = writeLines(table_lines(short(text_of(table)), width = if (isTRUE(options$wide)) 400 else text_width()))
  )
  0L
}

register("verb", "history",
  takes = "STUDY", files = c(1, 1), run = cli_history,
  examples = c(
    "history my-study",
    "history my-study --format csv"
  ),
  about = "Everything that was done and said.",
  options = function() shared_options("format"), rank = 13
)
