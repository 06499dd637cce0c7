# Files of the frame probe (docs/frame-file.md): 64 bytes of head, 16 per frame.

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
