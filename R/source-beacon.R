# What a program told of its own frames, line by line (docs/beacon.md).

beacon_version <- "1"

#' Frames and marks from the lines of a beacon
#'
#' @param lines Data frame: `arrived_s` (monotonic, `NA` where the lines stood in a
#'   file), `client`, `text`.
#' @return A list: `frames` (data frame `start_s`, `frame_time_ms`), `marks` (see
#'   `capture-marks.R`), `refused` (how many lines said nothing).
#' @noRd
beacon_trace <- function(lines) {
  parts <- lapply(split(lines, factor(lines$client, unique(lines$client))), client_trace)
  marks <- do.call(rbind, c(list(no_marks()), unname(lapply(parts, `[[`, "marks"))))
  framed <- Filter(function(p) nrow(p$frames) > 0, parts)
  # two clients that both tell frames are two windows: the one with most is taken
  most <- if (length(framed)) framed[[which.max(vapply(framed, function(p) nrow(p$frames), 1L))]]
  list(
    frames = if (is.null(most)) data.frame(start_s = numeric(), frame_time_ms = numeric()) else most$frames,
    marks = marks[order(marks$time_s), , drop = FALSE],
    refused = sum(vapply(parts, `[[`, 1, "refused"))
  )
}

client_trace <- function(lines) {
  stamped <- startsWith(lines$text, "@")
  stamp <- rep(NA_real_, nrow(lines))
  first <- first_word_of(lines$text)
  stamp[stamped] <- told_number(substring(first[stamped], 2))
  text <- ifelse(stamped, without_word(lines$text, first), lines$text)
  word <- first_word_of(text)
  value <- trimws(without_word(text, word))
  greeted <- cumsum(word == "beacon" & value == beacon_version) > 0
  took <- told_number(value)
  frame <- word == "frame"
  good <- greeted & (word %in% mark_words | (frame & (value == "" | (!is.na(took) & took > 0)))) &
    !(stamped & is.na(stamp))
  refused <- sum(!good & word != "beacon") + sum(word == "beacon" & value != beacon_version)
  time <- line_times(lines$arrived_s, stamp, frame, took)
  # nothing says when this happened
  untimed <- good & is.na(time)
  good <- good & !untimed
  # several bare frames in one write arrive at one moment, and a clock that runs back tells no length either
  stray <- good & frame & out_of_turn(time, good & frame, strict = is.na(took))
  good <- good & !stray
  frames <- which(good & frame)
  list(
    frames = if (all(is.na(took[frames]))) {
      n <- length(frames)
      data.frame(start_s = time[frames[-n]], frame_time_ms = 1000 * diff(time[frames]))
    } else {
      # a bare frame among timed ones says nothing about how long it took
      frames <- frames[!is.na(took[frames])]
      data.frame(start_s = time[frames] - took[frames] / 1000, frame_time_ms = took[frames])
    },
    marks = data.frame(time_s = time, word = word, value = value)[good & word %in% mark_words, ],
    refused = refused + sum(untimed) + sum(stray)
  )
}

# by place, since patterns are slow where a pass has a million lines
first_word_of <- function(text) {
  at <- regexpr(" ", text, fixed = TRUE)
  ifelse(at > 0, substr(text, 1, at - 1L), text)
}
without_word <- function(text, word) sub("^ +", "", substring(text, nchar(word) + 1), perl = TRUE)

# digits, a point and an exponent; R itself would read 0x10 and Inf too
told_number <- function(text) {
  out <- rep(NA_real_, length(text))
  plain <- grepl("^([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][-+]?[0-9]+)?$", text, perl = TRUE)
  out[plain] <- as.numeric(text[plain])
  out[!is.finite(out)] <- NA
  out
}

# frames that are not after the one before them
out_of_turn <- function(time, frame, strict) {
  at <- which(frame)
  out <- rep(FALSE, length(time))
  if (length(at) > 1) {
    before <- c(-Inf, cummax(time[at])[-length(at)])
    out[at] <- time[at] < before | (strict[at] & time[at] == before)
  }
  out
}

# A stamp is the best time, then the sum of the frames so far, then the arrival.
line_times <- function(arrived, stamp, frame, took) {
  stamped <- !is.na(stamp)
  if (any(!is.na(stamp))) {
    offset <- stats::median(arrived - stamp, na.rm = TRUE)
    # a client on another clock is moved to ours as a whole
    if (isTRUE(abs(offset) > 60)) stamp <- stamp + offset
    # nothing is told before it happens
    stamp[!is.na(arrived) & stamp > arrived + 60] <- NA
    arrived[stamped & is.na(stamp)] <- NA
    return(ifelse(is.na(stamp), arrived, stamp))
  }
  timed <- frame & !is.na(took)
  if (!any(timed)) {
    return(arrived)
  }
  so_far <- cumsum(ifelse(timed, took, 0)) / 1000
  first <- which(timed)[1]
  start <- if (is.na(arrived[first])) 0 else arrived[first] - so_far[first]
  start + so_far
}

#' The lines of a beacon, as the recorder stored them or as a program wrote a file
#'
#' @param path File. @param arrived `TRUE` where each line begins with its time of
#'   arrival and the client's number, as the recorder writes it.
#' @return Data frame: `arrived_s`, `client`, `text`; the attribute `refused` counts
#'   the lines the recorder did not store.
#' @noRd
read_beacon <- function(path, arrived) {
  lines <- beacon_lines(path)
  beyond <- attr(lines, "beyond")
  counts <- grep("^# refused", lines, value = TRUE)
  lines <- lines[nzchar(lines) & !startsWith(lines, "#")]
  out <- if (arrived && length(lines)) {
    # the recorder writes two tabs before the text
    one <- regexpr("\t", lines, fixed = TRUE)
    rest <- substring(lines, one + 1)
    two <- regexpr("\t", rest, fixed = TRUE)
    data.frame(
      arrived_s = as.numeric(
        substr(lines, 1, one - 1)
      ), client = substr(rest, 1, two - 1), text = substring(rest, two + 1)
    )
  } else {
    data.frame(arrived_s = rep(NA_real_, length(lines)), client = rep("1", length(lines)), text = lines)
  }
  structure(out, refused = beyond + sum(as.numeric(unlist(regmatches(counts, gregexpr("[0-9]+", counts))))))
}

# as much as the recorder stores in a pass; what goes on without end is not read whole
beacon_most <- 32 * 2^20

beacon_lines <- function(path) {
  size <- file.size(path)
  if (is.na(size) || size <= beacon_most) {
    return(structure(first_lines(path, -1), beyond = 0))
  }
  part <- tempfile()
  on.exit(unlink(part))
  writeBin(readBin(path, "raw", beacon_most), part)
  lines <- first_lines(part, -1)
  # the last is cut; how many there would have been is told by their usual length
  lines <- lines[-length(lines)]
  structure(lines, beyond = round((size - beacon_most) / (beacon_most / max(1, length(lines)))))
}

# In a folder that nobody else can look into: R's own, which is there for this run only.
# A socket's path may not be longer than 107 bytes, so it is not in the study's folder.
beacon_socket <- function() file.path(tempdir(), "beacon.sock")

register("source", "beacon",
  rank = 2, wanted = function(workload, plan) workload$beacon,
  begin = function(watch) {
    unlink(paste0(watch$stem, c(".beacon", ".file")))
    socket <- beacon_socket()
    watch$env <- c(watch$env, HONESTMARGIN_BEACON = socket, HONESTMARGIN_BEACON_FILE = paste0(watch$stem, ".file"))
    watch$recorder[c("socket", "beacon")] <- list(socket, paste0(watch$stem, ".beacon"))
    watch
  },
  end = function(watch, before, seconds) {
    told <- beacon_told(watch)
    unlink(paste0(watch$stem, c(".beacon", ".file")))
    # a beacon may tell only the marks, beside a log of the frames
    silent <- is.null(before$frames) && !nrow(told$frames) && !writes_log(watch$workload)
    list(
      frames = if (nrow(told$frames)) told$frames, marks = told$marks, found = told$found,
      missing = if (silent) "frames"
    )
  }
)

beacon_told <- function(watch) {
  lines <- read_beacon(paste0(watch$stem, ".beacon"), TRUE)
  refused <- attr(lines, "refused")
  told <- beacon_trace(lines)
  if (!nrow(told$frames) && file.exists(paste0(watch$stem, ".file"))) {
    written <- beacon_trace(read_beacon(paste0(watch$stem, ".file"), FALSE))
    # a file has no times of arrival: stamps are by our clock, else the file begins the pass
    moved <- nrow(written$frames) && written$frames$start_s[1] > watch$started_s - 60
    if (!moved) written$frames$start_s <- written$frames$start_s + watch$started_s
    if (!moved) written$marks$time_s <- written$marks$time_s + watch$started_s
    told <- list(
      frames = written$frames, marks = rbind(told$marks, written$marks), refused = told$refused + written$refused
    )
  }
  told$frames$start_s <- told$frames$start_s - watch$started_s
  told$marks$time_s <- told$marks$time_s - watch$started_s
  refused <- refused + told$refused
  c(told, list(found = if (refused > 0) new_finding("note", "beacon_refused", lines = refused)))
}

#' Send lines to the recorder of a running pass
#' @return `FALSE` where nobody listens.
#' @noRd
tell_beacon <- function(socket, lines) {
  if (!file.exists(socket)) {
    return(FALSE)
  }
  line <- tryCatch(processx::conn_connect_unix_socket(socket), error = function(e) NULL)
  if (is.null(line)) {
    return(FALSE)
  }
  on.exit(close(line))
  processx::conn_write(line, paste0(lines, "\n", collapse = ""))
  TRUE
}
