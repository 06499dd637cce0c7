# Sensor logs that lie beside logs of frames: each goes with the pass that its name names.

#' @param logs From `find_named_logs()`. @param layout Of the logs of frames, where one is given.
#' @return `logs` without sensor logs; `sensors` (data frame `name`, `path`) holds them. Where nothing holds frames, all
#'   stay: rates over time are weighed by themselves.
#' @noRd
set_sensors_aside <- function(logs, layout = NULL) {
  # with a layout, only what it fits is known to hold frames
  if (!is.null(layout)) layout <- layout_of_frames(read_layout(layout))
  frames <- unlist(on_all_cores(logs$path, function(path) holds_frames(path, layout), length(logs$path) > 40))
  aside <- !frames & any(frames)
  aside[aside] <- vapply(logs$path[aside], holds_sensors, NA)
  logs$sensors <- list2DF(list(name = logs$name[aside], path = logs$path[aside]))
  logs[c("name", "path")] <- list(logs$name[!aside], logs$path[!aside])
  logs
}

# by its first lines: what is wrong further on is told where it is read
holds_frames <- function(path, layout) {
  tryCatch(
    {
      opened <- open_text(path, "frame log")
      if (opened$temporary) on.exit(unlink(opened$file))
      lines <- first_lines(opened$file, 500)
      clocked <- frames_by_clock(opened$file, lines, path, layout)
      if (!is.null(clocked)) {
        on.exit(unlink(clocked), add = TRUE)
        lines <- first_lines(clocked, 500)
      }
      is.list(settle_layout(path, lines, layout))
    },
    honestmargin_error = function(e) FALSE
  )
}

#' Is this file, alone, a log of frames and no table of scores? By its first thousand lines
#'
#' Nobody types so many passes, and a table says of each which arm it was; a log has no column of words that vary.
#' @noRd
is_frame_log <- function(path, layout = NULL) {
  if (!is_plain_file(path) || !grepl(log_ending, path)) {
    return(FALSE)
  }
  lines <- tryCatch(first_lines(path, 1000), error = function(e) character())
  if (length(lines) < 1000 && !any(grepl("frame_time_ms", lines[seq_len(min(5, length(lines)))], fixed = TRUE))) {
    return(FALSE)
  }
  separator <- stats::na.omit(c(separator_of(utils::head(lines, 60)), ","))[1]
  headings <- trimws(gsub("\"", "", strsplit(lines[1], separator, fixed = TRUE)[[1]]))
  if (name_the_arm(headings) || any(tolower(headings) %in% reading_columns)) {
    return(FALSE)
  }
  fields <- split_cells(lines[seq(min(50, length(lines)), length(lines))], separator)
  cells <- do.call(rbind, lapply(fields, `[`, seq_len(max(lengths(fields)))))
  words <- apply(cells, 2, function(v) length(unique(v[grepl("^[[:alpha:]][[:alpha:] ]", v)])))
  # what cannot be settled of so long a log is asked where it is read
  all(words < 2) && (length(lines) >= 1000 || holds_frames(path, layout))
}

holds_sensors <- function(path) {
  tryCatch(is.data.frame(read_sensors(path)), honestmargin_error = function(e) FALSE)
}

#' The sensor log of each log of frames, by their names
#' @param found From `group_names()`. @param sensors Data frame `name`, `path`.
#' @return A list: `found` with a column `sensors` (paths, `NA` where there is none), `strays` (those of no pass).
#' @noRd
pair_sensor_logs <- function(found, sensors) {
  found$sensors <- rep(NA_character_, nrow(found))
  if (!nrow(sensors)) {
    return(list(found = found))
  }
  words <- function(files) strsplit(sub(log_ending, "", files), "[/_ ()-]+")
  own <- words(found$file)
  shared <- Reduce(intersect, own)
  key <- lapply(own, setdiff_kept, shared)
  pass <- vapply(words(sensors$name), named_pass, 1L, key = key)
  taken <- !is.na(pass) & !duplicated(pass)
  found$sensors[pass[taken]] <- sensors$path[taken]
  list(found = found, strays = sensors$name[!taken])
}

# words that do not tell the passes apart; what stands twice counts twice
setdiff_kept <- function(words, shared) if (all(words %in% shared)) words else words[!words %in% shared]

#' @return Number of the one whose words stand in these in their order, the longest of several; `NA` of two alike.
#' @noRd
named_pass <- function(words, key) {
  held <- which(vapply(key, stands_within, NA, words = words))
  longest <- held[lengths(key[held]) == max(0L, lengths(key[held]))]
  if (length(longest) == 1) longest else NA_integer_
}

stands_within <- function(key, words) {
  at <- 0
  for (word in key) {
    at <- which(words == word & seq_along(words) > at)[1]
    if (is.na(at)) {
      return(FALSE)
    }
  }
  TRUE
}
