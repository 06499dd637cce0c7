# Traces of a ledger: Parquet files, on the disk before any row speaks of them; and
# the times that a ledger writes.

#' @return A row for the table `trace`.
#' @noRd
write_trace <- function(folder, pass, kind, table, nth = 0) {
  place <- file.path(folder, kind)
  dir.create(place, showWarnings = FALSE)
  # a second log of a pass stands beside the first
  name <- file.path(kind, paste0(pass, if (nth > 0) paste0("-", nth + 1), ".parquet"))
  path <- file.path(folder, name)
  write_whole(path, function(to) {
    nanoparquet::write_parquet(table, to)
    sync_path(to)
  })
  sync_path(place)
  data.frame(pass = pass, kind = kind, file = name, length = nrow(table), hash = cli::hash_file_sha256(path))
}

read_trace <- function(path) as.data.frame(nanoparquet::read_parquet(path))

# every trace was stored with its hash
trace_is_whole <- function(folder, file, hash) {
  path <- file.path(folder, file)
  stays_inside(file) && file.exists(path) && (is.na(hash) || identical(cli::hash_file_sha256(path), hash))
}

clock_now <- function() format(Sys.time(), "%Y-%m-%dT%H:%M:%OS3Z", tz = "UTC")

# a ledger that somebody sent names files of its own folder only
stays_inside <- function(file) !grepl("(^|[/\\\\])[.][.]([/\\\\]|$)|^[/\\\\~]|^[A-Za-z]:", file)
