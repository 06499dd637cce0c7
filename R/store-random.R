# Randomness that leaves the generator of whoever calls alone.

# nobody guesses it: 128 bits of the system's own
random_key <- function() {
  bytes <- tryCatch(readBin("/dev/urandom", "raw", 16), error = function(e) raw(), warning = function(w) raw())
  if (length(bytes) == 16) {
    return(paste(format(bytes), collapse = ""))
  }
  substr(cli::hash_sha256(paste(format(Sys.time(), "%OS6"), Sys.getpid(), tempfile(), stats::runif(1))), 1, 32)
}
