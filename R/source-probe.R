# Frames noted inside a program: files of the probe (docs/frame-file.md, 64 bytes of head,
# 16 per frame), sorted into windows.

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

#' @param stem As given to the probe; each program that presented has a file
#'   "STEM.PID".
#' @return Data frame, see `main_window()`; `NULL` where nothing was presented.
#' @noRd
read_probe <- function(stem) {
  files <- list.files(dirname(stem), pattern = "[.][0-9]+$", full.names = TRUE)
  files <- files[startsWith(basename(files), paste0(basename(stem), "."))]
  notes <- do.call(rbind, lapply(files, read_probe_file))
  if (NROW(notes)) notes
}

read_probe_file <- function(path) {
  size <- file.size(path)
  bytes <- readBin(path, "raw", size)
  if (size < 64 || !identical(rawToChar(bytes[1:21]), "honestmargin frames 1")) {
    return(NULL)
  }
  little <- readBin(bytes[33:36], "integer", 1, endian = "little") == 0x01020304L
  order <- if (little) "little" else "big"
  # a crash may have cut the last note; whole ones are kept
  n <- (size - 64) %/% 16
  if (n < 1) {
    return(NULL)
  }
  words <- matrix(readBin(bytes[65:(64 + 16 * n)], "integer", 4 * n, endian = order), nrow = 4)
  unsigned <- function(x) ifelse(is.na(x), 2^31, x + 2^32 * (x < 0)) # NA is the integer with only the top bit set
  halves <- if (little) 1:2 else 2:1
  kinds <- unsigned(words[4, ])
  lost <- (if (little) kinds %/% 65536 else kinds %% 65536) == 2
  window <- unsigned(words[3, ])
  data.frame(
    time_s = (unsigned(words[halves[2], ]) * 2^32 + unsigned(words[halves[1], ])) / 1e9,
    process = readBin(bytes[37:40], "integer", 1, endian = order), window = window,
    api = if (little) kinds %% 65536 else kinds %/% 65536, lost = ifelse(lost, window, 0)
  )
}

# A source is a value: whether it is `wanted` for a workload of a plan, how it begins (a function
# of the watch that gives it back with what it added: `env`, arguments of the `recorder`), and how it
# ends (a function of the watch, what other sources gave before, and the seconds it took; it gives any of
# `frames`, `marks`, `sensors`, `windows`, `found`, `missing`).
register("source", "probe",
  rank = 1, wanted = function(workload, plan) workload$probe,
  begin = function(watch) {
    clear_probe(watch)
    watch$env <- c(watch$env, probe_environment(paste0(watch$stem, ".frames")))
    watch
  },
  end = function(watch, before, seconds) probed_frames(watch)
)

clear_probe <- function(watch) {
  unlink(list.files(
    dirname(watch$stem), paste0("^", basename(watch$stem), "[.]frames[.][0-9]+$"),
    full.names = TRUE
  ))
}

probed_frames <- function(watch) {
  notes <- read_probe(paste0(watch$stem, ".frames"))
  clear_probe(watch)
  if (is.null(notes)) {
    return(list(missing = "presented frames"))
  }
  found <- main_window(notes)
  if (is.null(found$frames)) {
    return(list(missing = "presented frames"))
  }
  found$frames$start_s <- found$frames$start_s - watch$started_s
  others <- found$windows$presented[-1]
  list(frames = found$frames, windows = if (length(others)) notes, found = bind_findings(
    if (length(others)) new_finding("note", "windows", presented = found$presented, others = others),
    if (found$lost > 0) new_finding("note", "frames_lost", frames = found$lost)
  ))
}

#' Environment that makes programs note their frames
#'
#' Added to what the tester has set already, never in its place.
#' @param stem Where to write; each program makes a file "STEM.PID".
#' @return Named character.
#' @noRd
probe_environment <- function(stem) {
  probe <- preloadable(need_helper("probe.so", "the frame probe"))
  joined <- function(variable, value) {
    before <- Sys.getenv(variable)
    if (nzchar(before)) paste(value, before, sep = ":") else value
  }
  c(
    HONESTMARGIN_PROBE = stem, LD_PRELOAD = joined("LD_PRELOAD", probe),
    # the Vulkan loader's own variables (LoaderLayerInterface.md of its sources)
    VK_ADD_LAYER_PATH = joined("VK_ADD_LAYER_PATH", dirname(probe)),
    VK_INSTANCE_LAYERS = joined("VK_INSTANCE_LAYERS", "VK_LAYER_HONESTMARGIN_probe")
  )
}

# In LD_PRELOAD spaces and colons part names, so a library below such a folder is
# taken from a copy.
preloadable <- function(probe) {
  if (!grepl("[ :]", probe)) {
    return(probe)
  }
  file.copy(file.path(dirname(probe), c("probe.so", "probe_layer.json")), tempdir(), overwrite = TRUE)
  file.path(tempdir(), "probe.so")
}
