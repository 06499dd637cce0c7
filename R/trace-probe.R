# What the frame probe noted, sorted into windows.

#' The frames of the window that a pass is about
#'
#' @param notes Data frame: `time_s`, `process`, `window`, `api` (1 OpenGL on X11,
#'   2 EGL, 3 Vulkan), `lost` (frames that could not be noted there).
#' @return A list: `frames` (data frame `start_s`, `frame_time_ms`; `NULL` under
#'   two presents), `presented` (how many presents), `windows` (data frame
#'   `process`, `window`, `api`, `presented`, most first), `lost`.
#' @noRd
main_window <- function(notes) {
  shown <- notes[notes$lost == 0, , drop = FALSE]
  key <- paste(shown$process, shown$window, shown$api)
  first <- !duplicated(key)
  windows <- cbind(shown[first, c("process", "window", "api")], presented = as.integer(table(key)[key[first]]))
  windows <- windows[order(-windows$presented), , drop = FALSE]
  rownames(windows) <- NULL
  time <- sort(shown$time_s[key == paste(windows$process, windows$window, windows$api)[1]])
  list(
    frames = if (length(time) > 1) data.frame(start_s = time[-length(time)], frame_time_ms = 1000 * diff(time)),
    presented = length(time), windows = windows, lost = sum(notes$lost)
  )
}

api_names <- c("OpenGL on X11", "EGL", "Vulkan")
