# What a program told of its own frames, line by line (docs/beacon.md).

beacon_version <- "1"

#' Frames and marks from the lines of a beacon
#'
#' @param lines Data frame: `arrived_s` (monotonic, `NA` where the lines stood in a
#'   file), `client`, `text`.
#' @return A list: `frames` (data frame `start_s`, `frame_time_ms`), `marks` (see
#'   `frame_places()`), `refused` (how many lines said nothing).
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
  stamped <- grepl("^@", lines$text)
  stamp <- rep(NA_real_, nrow(lines))
  stamp[stamped] <- suppressWarnings(as.numeric(sub("^@([^ ]*).*$", "\\1", lines$text[stamped])))
  text <- trimws(sub("^@[^ ]* *", "", lines$text))
  word <- sub(" .*$", "", text)
  value <- trimws(sub("^[^ ]*", "", text))
  greeted <- cumsum(word == "beacon" & value == beacon_version) > 0
  took <- suppressWarnings(as.numeric(value))
  frame <- word == "frame"
  good <- greeted & (word %in% mark_words | (frame & (value == "" | (!is.na(took) & took > 0)))) &
    !(stamped & is.na(stamp))
  refused <- sum(!good & word != "beacon") + sum(word == "beacon" & value != beacon_version)
  time <- line_times(lines$arrived_s, stamp, frame, took)
  # nothing says when this happened
  untimed <- good & is.na(time)
  good <- good & !untimed
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
    refused = refused + sum(untimed)
  )
}

# A stamp is the best time, then the sum of the frames so far, then the arrival.
line_times <- function(arrived, stamp, frame, took) {
  if (any(!is.na(stamp))) {
    offset <- stats::median(arrived - stamp, na.rm = TRUE)
    # a client on another clock is moved to ours as a whole
    if (isTRUE(abs(offset) > 60)) stamp <- stamp + offset
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
