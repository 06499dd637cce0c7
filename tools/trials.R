# Trials by chance: every reader is fed a few hundred inputs that were spoilt at random, and
# the compiled code runs under the address and undefined-behaviour sanitizers, and runs are killed twenty times.
# Usage: Rscript tools/trials.R [SEED] [INPUTS]. The seed is new each time and is printed, so
# that what went wrong can be run again.
args <- commandArgs(TRUE)
seed <- if (length(args)) as.integer(args[1]) else as.integer(Sys.time()) %% 1e6L
inputs <- if (length(args) > 1) as.integer(args[2]) else 300L
cat("trials: seed", seed, "\n")
suppressMessages(library(honestmargin))
own <- asNamespace("honestmargin")
set.seed(seed)

# --- what is fed: whole examples of each kind of text -----------------------------------
demo <- demo_study()
frames <- c("frame,frame_time_ms", sprintf("%d,%.3f", 1:60, runif(60, 7, 12)))
alone <- c("frame_time_ms", sprintf("%.3f", runif(700, 7, 12)))
scores <- c(
  "pass,arm,block,metric,value,unit,better", sprintf(
    "p%d,%s,%d,score,%.2f,points,higher", 1:20, c("a", "b"), rep(1:10, each = 2), runif(20, 99, 105)
  )
)
sensors <- c(
  "seconds,load processor [%],temperature graphics [C],battery level [%]", sprintf(
    "%d,%d,%.1f,%d", 0:40, 40:80, 60 + runif(41), 90 - (0:40) %/% 20
  )
)
marks <- c(
  "time_s,word,value", "0.5,segment,harbour", "1.25,pause,", "2.5,resume,", "3,arm,1000 Hz", "4,note,some words"
)
beacon <- c(
  "beacon 1", "@10 segment harbour", sprintf(
    "@%.3f frame", 10 + cumsum(runif(40, 0.007, 0.012))
  ), "frame 8.3", "@11 pause", "@12 resume"
)
plan <- readLines(file.path(demo, "study.yml"))
passes <- readLines(file.path(demo, "passes.csv"))
layout <- c("column: 2", "holds: durations", "unit: ms", "delimiter: comma", "decimal: point", "header_lines: 1")
noise <- c("workload,metric,noise,df,source", "lap,score,1.2,12,last week", "lap,fps_avg,0.8,9,last week")

in_file <- function(read, ext) {
  function(bytes) {
    path <- tempfile(fileext = ext)
    on.exit(unlink(path))
    writeBin(bytes, path)
    read(path)
  }
}
in_folder <- function(name) {
  function(bytes) {
    folder <- tempfile("study-")
    dir.create(folder)
    on.exit(unlink(folder, recursive = TRUE))
    file.copy(file.path(demo, c("study.yml", "passes.csv")), folder)
    dir.create(file.path(folder, "frames"))
    writeBin(bytes, file.path(folder, name))
    read_study(folder)
  }
}
log_in_file <- in_file(function(p) frame_summary(read_frames(p)$frame_time_ms), ".csv")
readers <- list(
  frames = list(frames, log_in_file), alone = list(alone, log_in_file),
  readings = list(scores, in_file(function(p) weigh(read_readings(p), baseline = "a", worth = 1), ".csv")),
  sensors = list(sensors, in_file(function(p) own$sensor_readings(own$sensor_series(read_sensors(p))), ".csv")),
  marks = list(marks, in_file(own$read_marks, ".csv")),
  beacon = list(beacon, in_file(function(p) own$beacon_trace(own$read_beacon(p, FALSE)), ".txt")),
  plan = list(plan, in_file(plan_study, ".yml")),
  passes = list(passes, in_folder("passes.csv")),
  layout = list(layout, in_file(own$read_layout, ".yml")),
  noise = list(noise, in_file(own$read_noise, ".csv"))
)

# --- how it is spoilt --------------------------------------------------------------------
tokens <- c(
  "", "NA", "NaN", "Inf", "-1", "0", "1e999", "0x10", "1,5", "1.234.567", "\"", "'", ";", "\t", "\r", "#", "//", ": ",
  "[", "{", "&a", "*a", "!!binary x", "---", "\ufeff", "\u202e", "\u00df", "=cmd()", "../../x", strrep("9", 400),
  strrep("x", 5000), "@", "-", "%", "null", "true", "2026-13-45", "1:99:99"
)
spoil <- function(lines) {
  times <- sample(1:3, 1)
  for (i in seq_len(times)) {
    at <- sample(length(lines), 1)
    lines <- switch(sample(8, 1),
      lines[-at],
      append(lines, lines[at], sample(length(lines), 1)),
      replace(lines, at, sample(tokens, 1)),
      { # a token in the middle of a line
        cut <- sample(0:nchar(lines[at]), 1)
        replace(lines, at, paste0(substr(lines[at], 1, cut), sample(tokens, 1), substring(lines[at], cut + 1)))
      },
      { # a cell
        parts <- strsplit(lines[at], ",", fixed = TRUE)[[1]]
        if (length(parts)) parts[sample(length(parts), 1)] <- sample(tokens, 1)
        replace(lines, at, paste(parts, collapse = ","))
      },
      sample(lines),
      gsub(",", sample(c(";", "\t", ""), 1), lines, fixed = TRUE),
      utils::head(lines, at)
    )
    if (!length(lines)) lines <- ""
  }
  bytes <- charToRaw(enc2utf8(paste0(paste(lines, collapse = sample(c("\n", "\r\n"), 1, prob = c(9, 1))), "\n")))
  if (runif(1) < 0.3 && length(bytes)) {
    hit <- sample(length(bytes), min(length(bytes), sample(1:4, 1)))
    bytes[hit] <- as.raw(sample(0:255, length(hit), replace = TRUE))
  }
  if (runif(1) < 0.2 && length(bytes)) bytes <- utils::head(bytes, sample(length(bytes), 1))
  bytes
}

# a result, or an error that says what to do; nothing else, and not for long
bad <- 0
for (kind in names(readers)) {
  count <- c(read = 0, refused = 0)
  for (i in seq_len(inputs)) {
    bytes <- spoil(readers[[kind]][[1]])
    problem <- tryCatch(
      {
        setTimeLimit(elapsed = 20, transient = TRUE)
        suppressWarnings(readers[[kind]][[2]](bytes))
        count["read"] <- count["read"] + 1
        NULL
      },
      honestmargin_error = function(e) {
        count["refused"] <<- count["refused"] + 1
        NULL
      },
      error = function(e) conditionMessage(e)
    )
    setTimeLimit()
    if (!is.null(problem)) {
      bad <- bad + 1
      kept <- file.path(tempdir(), paste0("../trial-", kind, "-", seed, "-", i))
      writeBin(bytes, kept)
      cat(sprintf("  %s, input %d: %s\n    kept in %s\n", kind, i, sub("\n.*", "", problem), normalizePath(kept)))
    }
  }
  cat(sprintf("%-9s %d inputs: %d read, %d refused with a word\n", kind, inputs, count[["read"]], count[["refused"]]))
}

# --- the compiled code under sanitizers ----------------------------------------------------
sanitized <- function() {
  runtime <- suppressWarnings(system2("gcc", "-print-file-name=libasan.so", stdout = TRUE, stderr = FALSE))
  if (!length(runtime) || !file.exists(runtime)) {
    cat("sanitizers: no gcc with libasan here, skipped\n")
    return(0)
  }
  place <- tempfile("sanitized-")
  dir.create(place)
  on.exit(unlink(place, recursive = TRUE))
  flags <- "-fsanitize=address,undefined -fno-sanitize-recover=undefined -g -O1"
  makevars <- file.path(place, "Makevars")
  writeLines(
    c(
      paste("CXXFLAGS =", flags), paste("CXX14FLAGS =", flags), paste("CXX17FLAGS =", flags), paste("LDFLAGS =", flags)
    ), makevars
  )
  clean <- file.path(place, "src")
  dir.create(clean)
  tracked <- system2("git", c("ls-files", "-co", "--exclude-standard"), stdout = TRUE)
  tracked <- tracked[file.exists(tracked)]
  for (d in unique(dirname(tracked))) dir.create(file.path(clean, d), recursive = TRUE, showWarnings = FALSE)
  file.copy(tracked, file.path(clean, tracked))
  log <- file.path(place, "log")
  built <- system2(file.path(R.home("bin"), "R"),
    c("CMD", "INSTALL", "--no-test-load", "--no-docs", "--no-byte-compile", paste0("--library=", place), clean),
    env = paste0("R_MAKEVARS_USER=", makevars), stdout = log, stderr = log
  )
  helpers <- file.path(place, "helpers")
  dir.create(helpers)
  helped <- system2("sh", c(file.path(clean, "src/helpers/build.sh"), shQuote(paste("gcc", flags)), shQuote(helpers)))
  if (built != 0 || helped != 0) {
    writeLines(utils::tail(readLines(log), 20))
    cat("sanitizers: could not build\n")
    return(1)
  }
  script <- file.path(place, "kernels.R")
  writeLines(c(
    paste0("library(honestmargin, lib.loc = '", place, "')"), paste0("set.seed(", seed, ")"),
    "own <- asNamespace('honestmargin')",
    "odd <- list(8, c(8, 9), rexp(5000, 0.1), rep(8, 400), c(1e-9, 1e9), c(8, 1e6, 8), 10^runif(300, -6, 7))",
    "for (x in odd) {",
    "  frame_summary(x); deep_drops(x); own$frame_starts(x); own$hold_nanoseconds(x); own$first_bad_frame(c(x, NA, -1, Inf))",
    "  for (w in c(0.003, 0.04, 10)) own$densest_band(sort(x), w)",
    "  own$pile_of_frames(x); own$find_pace(x); own$find_loading(x); own$find_coarse_step(x)",
    "  own$histogram_quantiles(x, c(0, 0.5, 1), 0.01)",
    "}",
    "for (h in 0:9) own$bytes_of_numbers(charToRaw('/\\n# x\\n1\\n\\n \\n//\\n/'), h); own$bytes_of_numbers(raw(), 0L)",
    "own$turned_maxima(matrix(rnorm(60), 6), matrix(sample(c(-1, 1), 120, TRUE), ncol = 6))",
    "own$chances_in_errors(matrix(runif(80, 0, 5), 40), c(1L, 2L, 2L), c(1, 2, 9), c(0, 1.2, 30), c(-2, NA, 0), c(2, NA, 0))",
    "own$first_bad_frame(numeric()); own$hold_nanoseconds(numeric()); own$frame_starts(numeric())",
    "own$chance_in_errors(runif(40, 0, 5), 1.2, NA_real_, NA_real_); own$chance_in_errors(runif(40, 0, 5), 0, -2, 2)",
    "own$chance_in_errors(numeric(), 1, NA_real_, NA_real_); own$can_be_read(0L, 1L); own$monotonic_s()",
    "own$sync_path(tempdir()); own$sync_path('/no/such')",
    "own$create_new_file(tempfile()); own$create_new_file('/no/such/x')",
    "cat('kernels fine\\n')"
  ), script)
  run <- suppressWarnings(system2(file.path(R.home("bin"), "Rscript"), c("--vanilla", script),
    env = c(paste0("LD_PRELOAD=", runtime), "ASAN_OPTIONS=detect_leaks=0", "UBSAN_OPTIONS=halt_on_error=1"),
    stdout = TRUE, stderr = TRUE
  ))
  good <- any(run == "kernels fine")
  if (!good) writeLines(utils::tail(run, 40))
  good <- recorder_trial(helpers, place) && good
  cat("sanitizers:", if (good) "kernels and recorder clean" else "FAILED", "\n")
  as.integer(!good)
}

# the recorder takes in whatever a client sends
recorder_trial <- function(helpers, place) {
  socket <- file.path(place, "s")
  told <- file.path(place, "told")
  errors <- file.path(place, "errors")
  recorder <- processx::process$new(file.path(helpers, "recorder"),
    c("--socket", socket, "--beacon", told, "--sensors", file.path(place, "sensors"), "--rate", "50"),
    stdout = "|", stderr = errors, env = c("current", ASAN_OPTIONS = "detect_leaks=1")
  )
  recorder$poll_io(10000)
  for (i in 1:40) {
    line <- tryCatch(processx::conn_connect_unix_socket(socket), error = function(e) NULL)
    if (is.null(line)) break
    bytes <- c(charToRaw("beacon 1\n"), spoil(beacon), as.raw(sample(0:255, sample(1:3000, 1), replace = TRUE)))
    tryCatch(processx::conn_write(line, bytes), error = function(e) NULL)
    close(line)
  }
  # not by processx: what ends within its signal() has no exit status there any more
  tools::pskill(recorder$get_pid(), tools::SIGTERM)
  recorder$wait(10000)
  clean <- identical(recorder$get_exit_status(), 0L) && file.exists(told)
  if (!clean) {
    writeLines(
      c(paste("recorder ended with", recorder$get_exit_status()), utils::tail(readLines(errors), 30))
    )
  }
  clean
}

# --- runs that are killed, the test of it with more of them ---------------------------------
killed <- function() {
  Sys.setenv(NOT_CRAN = "true", HONESTMARGIN_NOISE = "off")
  done <- processx::run(file.path(R.home("bin"), "Rscript"), c("--vanilla", "-e", paste0(
    "testthat::test_file('tests/testthat/test-run-kills.R', package = 'honestmargin', load_package = 'installed', ",
    "reporter = 'check', stop_on_failure = TRUE)"
  )), env = c("current", HONESTMARGIN_KILLS = "20"), error_on_status = FALSE)
  if (done$status != 0) cat(done$stdout, done$stderr)
  cat("kills: twenty,", if (done$status == 0) "nothing lost" else "FAILED", "\n")
  as.integer(done$status != 0)
}

# --- every verb on every shape of study ----------------------------------------------------
gridded <- function() {
  done <- processx::run(file.path(R.home("bin"), "Rscript"), c("--vanilla", "-e", paste0(
    "testthat::test_dir('tests/testthat', filter = '^(every-shape|tell-remedies|sheet-random)$', package = 'honestmargin', ",
    "load_package = 'installed', reporter = 'check', stop_on_failure = TRUE)"
  )), env = c(
    "current", HONESTMARGIN_GRID = "all", HONESTMARGIN_SHEETS = "all", HONESTMARGIN_NOISE = "off", HONESTMARGIN_SOURCE = getwd()
  ), error_on_status = FALSE)
  if (done$status != 0) cat(done$stdout, done$stderr)
  cat("grid: every verb on every shape,", if (done$status == 0) "an answer or a refusal each time" else "FAILED", "\n")
  as.integer(done$status != 0)
}

if (!nzchar(Sys.getenv("TRIALS_READERS_ONLY"))) bad <- bad + sanitized() + killed() + gridded()
cat(
  "trials:", if (bad) {
    paste(
      bad, "FAILED; again with: Rscript --vanilla tools/trials.R", seed
    )
  } else {
    "all as they should be"
  }, "\n"
)
quit(status = as.integer(bad > 0))
