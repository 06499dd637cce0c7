# What readers of files noticed, in words.

copy_again <- "copy the file again if the source still has it"

# a log holds frames, a rate every so often, or what a program printed
counted_logs <- function(v) {
  switch(empty_to(v$of, "frames"),
    rates = count_of(v$logs, "log of rates", "logs of rates"),
    output = count_of(v$logs, "output"),
    results = count_of(v$logs, "result"),
    count_of(v$logs, "frame log")
  )
}

words_of_files <- list(
  cut_short = c("{file} is cut short: what could be read is kept", copy_again),
  empty_bytes = c("{file} ends in {bytes} empty bytes, as after a power cut: they are left out", copy_again),
  line_cut = c("{file} ends in the middle of a line: that frame is left out", copy_again),
  mixed_marks = c(
    "{file} mixes decimal points and commas (line {lines}): both are read as decimal marks", "check those lines"
  ),
  several_programs = c(
    "{file} holds frames of several programs: those of {taken} count ({frames}), not {others}",
    "say otherwise in a layout, program: NAME"
  ),
  heading_again = c(
    "{file} has its heading again in line {lines}: two runs in one file are read as one pass",
    "split the file if they are two passes"
  ),
  printed_several = c(
    "what finds '{metric}' fits several times, and the last counts ({files})",
    "narrow the pattern; if each is a pass, weigh a table of them (arm and score in each row)"
  ),
  times_back = c(
    "the times of {file} run backwards in line {lines}",
    "two logs in one file, or a clock that was set? split or fix it"
  ),
  folded_loops = "{rows} rows are loops of {passes} runs: a run counts once, with its mean and its worst loop",
  folded_looks = "{rows} rows are looks within {passes} passes: a pass counts once, with their mean",
  windows_text = "{n} written in Windows-1252 and read as that",
  tables_of_arms = "each file is the table of one arm: {arms}",
  not_judged = c(
    "{metrics} not judged: nothing tells which direction is better, and --primary names others",
    "say it if it matters: --better (in R: better =)"
  ),
  records_of_file = c(
    "the records of one file are taken as passes of one start: files are compared, not records",
    "where each was a start of its own, give each a file"
  ),
  sheets_of_arms = "each sheet is the table of one arm: {arms}",
  other_sheets = c(
    "only the sheet {sheet} is read, and the workbook has {others} too",
    "say which: --sheet NAME, or of sheets of one arm each --sheet NAME,NAME (in R: sheet =)"
  ),
  names_taken = "the names in it are taken as the {as} of each record: {names}",
  times_no_order = "column {columns} is not read: it tells no one order of the passes",
  order_by_column = "the order in which the passes ran is taken from {columns}",
  no_heading = c(
    "{columns} without a heading left out", "give each a heading if it matters"
  ),
  whose_end = c(
    "column {column} says how {n} ended, which hold a pass of each arm: {words}",
    "write crash (or freeze, ...) in place of the number of the arm that failed"
  ),
  ends_in_notes = c(
    "column {column} speaks of a failure beside a number that counts: {words}",
    "if the pass failed, write crash (or freeze, ...) in place of its number"
  ),
  rows_without_number = c(
    "there is no number in {n} of an arm: {row} {lines}",
    "if they ended otherwise, write how: crash, freeze, down, timeout, no start"
  ),
  said_in_names = c("taken from their names: {files}", "call them otherwise if that is wrong"),
  warm_ups_left_out = c(
    "left out, as a warm-up by its name: {what} ({named})", "if that is wrong, call it otherwise"
  ),
  columns_left_out = c("left out of {file}: {columns}", "map them in a layout if they matter"),
  rates_converted = "{file} is headed '{heading}': each number is read as a rate, and its frame time is 1000 over it",
  direction = function(v) {
    c(
      paste0(v$direction, " taken as better, from its ", v$from, ": ", some_of(paste0("'", v$metrics, "'"), 9)),
      "give a column better if that is wrong"
    )
  },
  long_pass = c("a pass took {hours} hours", "is its time in seconds?"),
  blocks_apart = c(
    "the passes of a block did not run together, so the blocks are numbers of repeats and were not used",
    "run every arm once before any runs again"
  ),
  order_unknown = c(
    "run order unknown: order effects (warming, practice) cannot be checked",
    "add a column order (1, 2, 3 ...)"
  ),
  saw_logs = function(v) {
    paste0(
      counted_logs(v), " here: ", some_of(v$arms, 8), " (from their names); the plan takes them in as its passes"
    )
  },
  log_column = "{holds}: column {column}, {unit}",
  saw_table = "{file}: scores of {arms}",
  saw_results = "{n} results of passes here: {arms} (from their names)",
  saw_program = "{program} can be run here",
  from_names = function(v) {
    paste0(
      counted_logs(v), ": ", some_of(v$arms, 8), " (from ",
      if (v$from == "names") "the names" else paste("names like", v$from), ")"
    )
  },
  sensors_beside = "{n|sensor log goes with its pass|sensor logs go with their passes}, by the names",
  stray_sensors = c(
    "sensor logs of no pass, by their names: {files}", "name each like the log of its pass, with a word more"
  ),
  results_beside = function(v) {
    paste("results of passes lie beside the logs, and are not read:", some_of(v$files, 3))
  },
  tried_after = c(
    "{n} after the first answer: {changes}",
    "what was chosen before the answer was seen is what counts; the first answer is the one to report"
  ),
  left_beside_results = "not read, beside results: {files}",
  stray_files = c("left out, as no log: {files}", "name it like the others if it is one"),
  rates_over_time = c(
    "the logs hold one rate every {every} s, not one a frame: their means are weighed, lows and stutters cannot be",
    "log every frame to judge lows"
  ),
  from_report = c(
    "read back from the report {file}: without its traces, and nothing proves that it was not altered",
    "ask for the study itself: honestmargin export"
  ),
  order_in_times = "the order in which they ran is that of the files' times",
  unreadable = function(v) c(paste0("pass ", v$pass, " is not summarised: ", v$what), v$remedy)
)
