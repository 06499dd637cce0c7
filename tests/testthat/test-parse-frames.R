ms <- round(simulate_frames(6, mean_ms = 9, stutters_per_min = 10, seed = 3), 3)

test_that("every way of writing the same frames is read alike", {
  stamps <- cumsum(c(0, ms))
  comma <- function(x) sub(".", ",", format(x, nsmall = 3, trim = TRUE, scientific = FALSE), fixed = TRUE)
  ways <- list(
    plain = c("frame_time_ms", ms),
    bare = as.character(ms),
    seconds = c("t", format(ms / 1000, digits = 9, trim = TRUE, scientific = FALSE)),
    micro = c("us", format(ms * 1000, trim = TRUE, scientific = FALSE)),
    semicolon = c("no;frame", paste(seq_along(ms), comma(ms), sep = ";")),
    tab = c("# made by a test", "no\tframe\tscreen", paste(seq_along(ms), ms, 1, sep = "\t")),
    space = paste(seq_along(ms), ms),
    stamps = c("time", format(stamps, trim = TRUE, scientific = FALSE)),
    nano = c("ns", format(stamps * 1e6 + 5e12, trim = TRUE, scientific = FALSE)),
    both = c("at_s,frame", paste(format(stamps[-1] / 1000, digits = 9, trim = TRUE), ms, sep = ",")),
    comments = c("frame_time_ms", ms[1:50], "# the tester said something here", ms[-(1:50)]),
    mark = c("\ufeffframe_time_ms", ms), crlf = paste0(c("frame_time_ms", ms), "\r")
  )
  for (way in names(ways)) {
    read <- read_frames(write_lines(ways[[way]]))
    expect_equal(read$frame_time_ms, ms, tolerance = 1e-6, info = way)
    expect_equal(read$time_s, (cumsum(ms) - ms) / 1000, tolerance = 1e-6, info = way)
  }
})

test_that("packed and wide-character files are read", {
  gz <- withr::local_tempfile(fileext = ".csv.gz")
  con <- gzfile(gz, "wb")
  writeLines(c("ms", ms), con)
  close(con)
  expect_equal(read_frames(gz)$frame_time_ms, ms)
  wide <- withr::local_tempfile()
  writeBin(
    iconv(paste0("\ufeff", paste(c("ms", ms), collapse = "\n"), "\n"), "UTF-8", "UTF-16LE", toRaw = TRUE)[[1]], wide
  )
  expect_equal(read_frames(wide)$frame_time_ms, ms)
})

test_that("what can be read of a file cut short is kept, and said", {
  gz <- withr::local_tempfile(fileext = ".csv.gz")
  con <- gzfile(gz, "wb")
  writeLines(c("ms", ms), con)
  close(con)
  bytes <- readBin(gz, "raw", file.size(gz))
  writeBin(bytes[seq_len(length(bytes) %/% 2)], gz)
  read <- read_frames(gz)
  expect_gt(nrow(read), 20)
  expect_equal(read$frame_time_ms[1:20], ms[1:20])
  expect_match(findings(read)$message[1], "cut short")
  cut <- write_lines(c("no,ms", paste(seq_along(ms), ms, sep = ","), "700,"))
  expect_equal(read_frames(cut)$frame_time_ms, ms)
  expect_match(findings(read_frames(cut))$message, "middle of a line")
})

test_that("a file with two readings stops instead of guessing", {
  two <- write_lines("a,b", paste(ms, ms + 1, sep = ","))
  expect_message_of(read_frames(two), "honestmargin_error_input", "two ways.*'a', 'b'")
  expect_equal(read_frames(two, list(column = "b", holds = "durations", unit = "ms"))$frame_time_ms, ms + 1)
  expect_message_of(
    read_frames(write_lines("16,67", "16,70", "17,01", "16,50")), "honestmargin_error_input", "decimal mark"
  )
})

test_that("layouts are checked and named columns found", {
  file <- write_lines("a;b", paste(ms, ms * 2, sep = ";"))
  yaml <- write_lines("column: b", "holds: durations", "unit: ms", ext = ".yml")
  expect_equal(read_frames(file, yaml)$frame_time_ms, ms * 2)
  expect_message_of(
    read_frames(file, list(column = "c", holds = "durations", unit = "ms")), "honestmargin_error_input",
    "no column 'c'"
  )
  expect_message_of(
    read_frames(file, list(colum = 1, holds = "durations", unit = "ms")), "honestmargin_error_input",
    "did you mean 'column'"
  )
  expect_message_of(
    read_frames(file, list(column = 1, holds = "frames", unit = "ms")), "honestmargin_error_input", "is no holds"
  )
})

test_that("faults name file, line and what to do", {
  faults <- list(
    zero = list(c("ms", 8, 0, 8, 8), "line 3: frame time 0"),
    negative = list(c("ms", 8, 8, -8, 8), "line 4: frame time -8"),
    text = list(c("ms", 8, 8, 8, "oops", 8, 8, 8), "line 5: 'oops' is not a number"),
    backwards = list(c("at", 0, 8, 16, 24, 32, 30, 38, 46, 54, 62, 70, 78, 86, 94), "timestamps run backwards"),
    none = list(c("name", "a", "b"), "no numeric column")
  )
  for (fault in names(faults)) {
    file <- write_lines(faults[[fault]][[1]])
    expect_message_of(read_frames(file), "honestmargin_error_input", faults[[fault]][[2]])
  }
  expect_message_of(read_frames("nowhere.csv"), "honestmargin_error_input", "no such frame log")
  empty <- withr::local_tempfile()
  file.create(empty)
  expect_message_of(read_frames(empty), "honestmargin_error_input", "empty")
  rubbish <- withr::local_tempfile()
  writeBin(as.raw(c(1, 0, 7, 0, 200, 0, 3)), rubbish)
  expect_message_of(read_frames(rubbish), "honestmargin_error_input", "binary")
})

test_that("a heading that comes again, a tail of empty bytes and a long gap are told, and the rest is kept", {
  twice <- read_frames(write_lines(
    "no,ms", paste(1:40, ms[1:40], sep = ","), "no,ms", paste(1:30, ms[41:70], sep = ",")
  ))
  expect_equal(twice$frame_time_ms, ms[1:70])
  expect_match(findings(twice)$message, "heading again in line 42")
  path <- write_lines("ms", ms)
  at <- file(path, "ab")
  writeBin(raw(5000), at)
  close(at)
  tail <- read_frames(path)
  expect_equal(tail$frame_time_ms, ms)
  expect_match(findings(tail)$message, "5000 empty bytes")
  # nul bytes in the middle are no text
  bytes <- c(charToRaw("ms\n8\n9\n"), raw(3), charToRaw("8\n9\n"))
  writeBin(bytes, path)
  expect_message_of(read_frames(path), "honestmargin_error_input", "binary")
  comma <- sub(".", ",", ms[1:40], fixed = TRUE)
  mixed <- read_frames(write_lines("no;ms", paste0(1:40, ";", replace(comma, 7, "8.2"))))
  expect_equal(mixed$frame_time_ms, replace(ms[1:40], 7, 8.2))
  expect_match(findings(mixed)$message, "mixes decimal points and commas \\(line 8\\)")
  folder <- withr::local_tempdir()
  dir.create(file.path(folder, "frames"))
  writeLines(c(
    "setting: {name: a, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "workloads: [{id: w}]"
  ), file.path(folder, "study.yml"))
  writeLines(c("pass,workload,arm", "p1,w,1", "p2,w,2"), file.path(folder, "passes.csv"))
  writeLines(c("ms", ms, 7200000, ms), file.path(folder, "frames", "p1.csv"))
  writeLines(c("ms", ms), file.path(folder, "frames", "p2.csv"))
  study <- read_study(folder)
  fps <- study$readings$value[study$readings$metric == "fps_avg"]
  expect_equal(fps, rep(1000 / mean(ms), 2))
  expect_match(findings(study)$message, "p1: 7200 s without a frame do not count", all = FALSE)
})

test_that("a comment among many frames costs no reading line by line, and packed pieces are one log", {
  ms <- simulate_frames(20, mean_ms = 8, loading_seconds = 0, seed = 4)
  text <- format(ms, digits = 15, trim = TRUE)
  half <- length(text) %/% 2
  noted <- write_lines("frame_time_ms", text[1:half], "# the scene changes", text[-(1:half)], "// end")
  expect_equal(read_frames(noted)$frame_time_ms, ms)
  expect_null(honestmargin:::parse_quickly(noted, noted, attr(read_frames(noted), "layout")))
  bare <- honestmargin:::numbers_alone(noted, 1)
  expect_identical(readLines(bare), c("frame_time_ms", text))
  # empty ones and blanks alone too, and of those that begin with a blank no other
  blank <- write_lines("frame_time_ms", paste0("  ", text[1:half]), "", " \t ", "\r", text[-(1:half)], "   ")
  expect_identical(
    readLines(honestmargin:::numbers_alone(blank, 1)), c("frame_time_ms", paste0("  ", text[1:half]), text[-(1:half)])
  )
  expect_equal(read_frames(blank)$frame_time_ms, ms)
  # a line that is no comment is still named
  expect_message_of(
    read_frames(write_lines("frame_time_ms", text[1:half], "# note", "oops", text[-(1:half)])),
    "honestmargin_error_input", paste("line", half + 3)
  )
  pieces <- withr::local_tempfile(fileext = ".csv.gz")
  for (part in list(c("frame_time_ms", text[1:half]), text[-(1:half)])) {
    con <- gzfile(tmp <- tempfile(), "wb")
    writeLines(part, con)
    close(con)
    to <- file(pieces, "ab")
    writeBin(readBin(tmp, "raw", file.size(tmp)), to)
    close(to)
  }
  whole <- read_frames(pieces)
  expect_equal(whole$frame_time_ms, ms)
  expect_identical(nrow(findings(whole)), 0L)
  bytes <- readBin(pieces, "raw", file.size(pieces))
  writeBin(bytes[seq_len(length(bytes) - 200)], pieces)
  expect_match(findings(read_frames(pieces))$message, "cut short")
})

test_that("after a log with empty lines and text among its numbers, the next odd one is read too", {
  odd <- sprintf("%.3f", 8 + sin(1:700))
  odd[c(111, 386)] <- c("\t", "frame_time_ms")
  first <- write_lines(odd)
  odd[1] <- "frame_time_ms"
  second <- write_lines(odd)
  # in a process of its own: it waited for ever
  job <- parallel::mcparallel(lapply(c(first, second), function(path) {
    tryCatch(read_frames(path), error = function(e) conditionMessage(e))
  }))
  said <- parallel::mccollect(job, wait = FALSE, timeout = 20)[[1]]
  if (is.null(said)) tools::pskill(job$pid, tools::SIGKILL)
  expect_match(said[[1]], "line 386: 'frame_time_ms' is not a number")
  # here it is the heading once more, which is left out and said
  expect_identical(said[[2]]$frame_time_ms, as.numeric(odd[-c(1, 111, 386)]))
  expect_identical(attr(said[[2]], "findings")$code, "heading_again")
})

test_that("one odd row among many changes neither the mark, nor the column, nor the unit", {
  ms <- c(11.006, 10.485, 7.65, 9.787, 11.225, 10.951, 7.882, 14.839, 8.064, 10.396, 12.426, 10.159)
  at <- c(0, cumsum(ms)[-12]) / 1000
  rows <- sprintf("racer;123;%.6f;%.3f", at, ms)
  rows[10] <- gsub(".", ",", rows[10], fixed = TRUE)
  frames <- expect_silent(read_frames(write_lines(c("app;pid;time_s;frame_time_ms", rows))))
  expect_identical(frames$frame_time_ms, ms)
  expect_identical(attr(frames, "findings")$code, "mixed_marks")
  # where most cells of the column are none, another that looks like it does not stand in
  rows <- sprintf("racer,123,%s", c("n/a", "7.65", rep("-", 10)))
  expect_error(
    read_frames(write_lines(c("app,pid,frame time", rows))), "'frame time' does not hold a number",
    class = "honestmargin_error_input"
  )
  # a number of the frame is no time, though a row is missing
  rates <- sprintf("%d,%.2f", 1:400, 1000 / 10)
  frames <- read_frames(write_lines(c("frame,fps", sub(",.*", "", rates[7]), rates[-7])))
  expect_identical(attr(frames, "layout")$holds, "rates")
  expect_equal(frames$frame_time_ms, rep(10, 399))
  # times of a thousand frames a second are headed as times
  expect_equal(read_frames(write_lines(c("time_ms", 0:20, 22:60)))$frame_time_ms[1:3], c(1, 1, 1))
  torn <- sprintf("%.3f,%.2f", at, ms)
  torn[8] <- gsub(".", ",", torn[8], fixed = TRUE)
  expect_error(read_frames(write_lines(c("time_s,frametime", torn))), "line 9: 4 numbers where other lines have 2")
  # text behind the last column is none
  torn[8] <- sprintf("%.3f,%.2f,lap 2", at[8], ms[8])
  # and times that are written to a thousandth do not replace frame times that are written more finely
  expect_equal(read_frames(write_lines(c("time_s,frametime", torn)))$frame_time_ms, round(ms, 2), tolerance = 1e-3)
})

test_that("of a log that names several programs the frames of one are read, and nobody guesses which", {
  racer <- c(10.1, 9.8, 10.4, 9.6, 10.2, 9.9, 10.3, 9.7, 10, 10.5)
  two <- rbind(
    data.frame(app = "racer", pid = 42, at = cumsum(c(0, racer[-10])), ms = racer),
    data.frame(app = "desktop", pid = 7, at = 3.1 + 16.7 * 0:5, ms = 16.7)
  )
  two <- two[order(two$at), ]
  rows <- sprintf("%s,%d,%.4f,%.1f", two$app, two$pid, two$at / 1000, two$ms)
  log <- write_lines(c("app,pid,time_s,frame_time_ms", rows))
  expect_error(
    read_frames(log), "several programs: racer 42 \\(10\\), desktop 7 \\(6\\).*program: racer,",
    class = "honestmargin_error_input"
  )
  meant <- read_frames(log, list(program = "Racer"))
  expect_equal(meant$frame_time_ms, racer)
  expect_match(findings(meant)$message, "those of racer 42 count \\(10\\), not desktop 7")
  # frames of one length say nothing that their times do not say better
  expect_equal(read_frames(log, list(program = "7"))$frame_time_ms, rep(16.7, 5))
  expect_error(read_frames(log, list(program = "race")), "no frames of 'race'", class = "honestmargin_error_input")
  # beside a layout of columns, by times alone
  by_time <- read_frames(log, list(program = "racer", column = "time_s", holds = "timestamps", unit = "s"))
  expect_equal(by_time$frame_time_ms, racer[-10], tolerance = 1e-6)
  # a splash screen is not asked about, and told
  splash <- write_lines(c("Application,frame_time_ms", "launcher,33.3", paste0("racer,", rep(racer, 3))))
  expect_equal(read_frames(splash)$frame_time_ms, rep(racer, 3))
  expect_match(findings(read_frames(splash))$message, "those of racer count \\(30\\), not launcher")
  alone <- write_lines(c("app,frame_time_ms", paste0("racer,", racer)))
  expect_identical(nrow(findings(read_frames(alone))), 0L)
  expect_equal(read_frames(alone, list(program = "racer"))$frame_time_ms, racer)
  expect_error(read_frames(alone, list(program = "other")), "no frames of 'other'", class = "honestmargin_error_input")
  expect_error(
    read_frames(write_lines(format(racer)), list(program = "racer")), "no column says whose",
    class = "honestmargin_error_input"
  )
})

test_that("a stray quote in a log that names programs ends nothing, and quotes hold what parts columns", {
  racer <- sprintf("%.1f", rep(c(10.1, 9.8, 10.4, 9.6), 60))
  rows <- paste0("\"racer\",", seq_along(racer), ",", racer)
  # far down, where nobody looks before: this ended the whole session
  stray <- write_lines(c("app,frame,frame_time_ms", append(rows, "\"", 150)))
  expect_error(read_frames(stray), "line 152: nothing in the column of frames", class = "honestmargin_error_input")
  cut <- write_lines(c("app,frame,frame_time_ms", rows, "\"rac"))
  expect_equal(read_frames(cut)$frame_time_ms, as.numeric(racer))
  named <- sub("racer", "Racer, the game", rows)
  one <- write_lines(c("app,frame,frame_time_ms", named, "desktop,1,16.7"))
  expect_equal(read_frames(one)$frame_time_ms, as.numeric(racer))
  expect_match(findings(read_frames(one))$message, "those of Racer, the game count \\(240\\), not desktop")
  two <- write_lines(c("app,frame,frame_time_ms", named, rep("desktop,1,16.7", 60)))
  expect_error(read_frames(two), "several programs: Racer, the game \\(240\\)", class = "honestmargin_error_input")
})

test_that("what stands above an empty line is not lost", {
  ms <- c(10.1, 10.2, 10.4, 10.3, 10.7)
  at <- sprintf("%.4f", cumsum(c(0, ms[-5])) / 1000)
  rows <- paste(at, ms, sep = ",")
  for (gap in list(c(1, 2), c(2, 3), 4)) {
    for (odd in c("", "  ", "# paused")) {
      lines <- append(rows, rep(odd, length(gap)), min(gap))
      expect_equal(read_frames(write_lines(c("time_s,ms", lines)))$frame_time_ms, ms)
    }
  }
  wide <- replace(rows, 1, paste0(rows[1], ",start"))
  expect_equal(read_frames(write_lines(c("time_s,ms", wide)))$frame_time_ms, ms)
})

test_that("a torn log in which no row is as long as the middle one is refused with a word", {
  torn <- write_lines("fFame,frame_time_ms", "1,7.151", "3,10.400", "4,8.518,5,11.988")
  expect_error(read_frames(torn), "no numeric column", class = "honestmargin_error_input")
})
