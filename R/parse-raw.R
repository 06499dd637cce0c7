# From a file as it lies there to plain UTF-8 text that the parser can take:
# gz, byte-order marks and UTF-16 undone, rubbish refused.

#' @return A list: `file` (plain text to parse; `path` itself or a temporary
#'   file), `temporary`, `findings`.
#' @noRd
open_text <- function(path, what = "file") {
  checkmate::assert_string(path)
  if (!file.exists(path)) abort_input(paste("no such", what), path, "check the name and the folder")
  if (dir.exists(path)) abort_input(paste0("is a folder, not a ", what), path, "name one file in it")
  if (file.size(path) == 0) abort_input("the file is empty", path, "capture the pass again, or record its outcome")
  head <- readBin(path, "raw", 65536)
  opened <- list(file = path, temporary = FALSE, findings = no_findings())
  if (identical(head[1:2], as.raw(c(0x1f, 0x8b)))) {
    opened <- unpack_gz(path)
    head <- readBin(opened$file, "raw", 65536)
  }
  if (identical(head[1:2], as.raw(c(0xff, 0xfe))) || identical(head[1:2], as.raw(c(0xfe, 0xff)))) {
    return(from_utf16(opened, path))
  }
  ended <- nul_tail(opened$file)
  if (ended > 0) {
    opened <- without_tail(opened, ended, path)
    head <- head[seq_len(min(length(head), file.size(opened$file)))]
  }
  if (any(head == 0)) {
    abort_input("binary content, not a text file", path, "export the log as delimited text (CSV)")
  }
  opened
}

# After a power cut a file may have its full length on the disk, but nothing in
# its last part. @return How many nul bytes stand at the end.
nul_tail <- function(path) {
  size <- file.size(path)
  at <- base::file(path, "rb")
  on.exit(close(at))
  seek(at, max(0, size - 65536))
  last <- readBin(at, "raw", 65536)
  if (!length(last) || last[length(last)] != 0) {
    return(0)
  }
  seek(at, 0)
  all <- readBin(at, "raw", size)
  size - max(0, which(all != 0))
}

without_tail <- function(opened, nuls, path) {
  out <- tempfile(fileext = ".csv")
  writeBin(readBin(opened$file, "raw", file.size(opened$file) - nuls), out)
  if (opened$temporary) unlink(opened$file)
  list(file = out, temporary = TRUE, findings = bind_findings(
    opened$findings, new_finding("warning", "empty_bytes", file = basename(path), bytes = nuls)
  ))
}

unpack_gz <- function(path) {
  out <- tempfile(fileext = ".csv")
  from <- gzfile(path, "rb")
  on.exit(close(from))
  to <- file(out, "wb")
  trouble <- NULL
  # room for more than is there has to be made and cleared too
  most <- max(2^16, min(2^22, 8 * file.size(path)))
  tryCatch(
    withCallingHandlers(
      repeat {
        piece <- readBin(from, "raw", most)
        if (!length(piece)) break
        writeBin(piece, to)
      },
      warning = function(w) {
        trouble <<- conditionMessage(w)
        invokeRestart("muffleWarning")
      }
    ),
    error = function(e) trouble <<- conditionMessage(e)
  )
  close(to)
  if (file.size(out) == 0) {
    abort_input("the gzip file holds nothing that can be read", path, "capture the pass again, or record its outcome")
  }
  # R's own reader ends quietly at a cut, so the length stored at the end decides
  findings <- no_findings()
  if (!is.null(trouble) || !gz_complete(path, file.size(out))) {
    findings <- new_finding("warning", "cut_short", file = basename(path))
  }
  list(file = out, temporary = TRUE, findings = findings)
}

# The last four bytes of a gzip file are its unpacked size; of one that was packed in several
# pieces, each has its own, before the mark with which the next begins (RFC 1952, 2.2 and 2.3).
gz_complete <- function(path, size) {
  bytes <- readBin(path, "raw", file.size(path))
  n <- length(bytes)
  marks <- if (n > 18) grepRaw(as.raw(c(0x1f, 0x8b, 0x08)), bytes, all = TRUE, fixed = TRUE)
  ends <- c(marks[marks > 18] - 1, n)
  stored <- vapply(ends, function(end) sum(as.integer(bytes[end - 3:0]) * 256^(0:3)), 1)
  stored[length(stored)] == size %% 2^32 || sum(stored) %% 2^32 == size %% 2^32
}

from_utf16 <- function(opened, path) {
  bytes <- readBin(opened$file, "raw", file.size(opened$file))
  text <- iconv(list(bytes), "UTF-16", "UTF-8")
  if (is.na(text)) abort_input("starts like UTF-16 but cannot be read as such", path, "save the log as UTF-8")
  out <- tempfile(fileext = ".csv")
  writeLines(sub("^\ufeff", "", text), out, sep = "", useBytes = TRUE)
  list(file = out, temporary = TRUE, findings = opened$findings)
}

first_lines <- function(file, n) {
  lines <- readLines(file, n = n, warn = FALSE, encoding = "UTF-8")
  lines <- iconv(lines, "UTF-8", "UTF-8", sub = "?")
  if (length(lines)) lines[1] <- sub("^\ufeff", "", lines[1])
  sub("\r$", "", lines)
}

#' Lines of a program's output, whatever it holds
#'
#' Scores stand near its start or its end, so of a flood the middle is left out;
#' the log itself keeps all of it.
#' @noRd
lines_of_output <- function(file, head = 1e6, tail = 4e6) {
  size <- file.size(file)
  from <- base::file(file, "rb")
  on.exit(close(from))
  bytes <- if (size <= head + tail) readBin(from, "raw", size) else readBin(from, "raw", head)
  if (size > head + tail) {
    seek(from, size - tail)
    bytes <- c(bytes, charToRaw("\n"), readBin(from, "raw", tail))
  }
  bytes[bytes == as.raw(0) | bytes == charToRaw("\r")] <- charToRaw("\n")
  held <- rawConnection(bytes)
  on.exit(close(held), add = TRUE)
  lines <- readLines(held, warn = FALSE)
  strange <- !validUTF8(lines)
  lines[strange] <- iconv(lines[strange], "latin1", "ASCII", sub = "?")
  Encoding(lines) <- "UTF-8"
  lines[nzchar(lines)]
}
