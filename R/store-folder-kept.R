# What the logs of a plain folder gave, kept from one command to the next: a shell starts anew each time, where R holds
# its study. A pass is known by what its logs hold, byte by byte, and by all else that its numbers come from.

#' Summaries of passes, those that are kept as they are and the others by `make`
#'
#' Only the command keeps any: in R there may be metrics and checks of the tester's own.
#' @param passes Rows of passes. @param metrics The tester's own.
#' @param make Function of the numbers of rows, that gives their summaries.
#' @noRd
kept_or_made <- function(store, plan, passes, metrics, make) {
  kept <- if (!length(metrics)) summaries_kept()
  keys <- if (!is.null(kept) && nrow(passes)) summary_keys(store, plan, passes)
  if (is.null(keys)) {
    return(make(seq_len(nrow(passes))))
  }
  out <- lapply(keys, kept$get)
  open <- which(!vapply(out, inherits, NA, "honestmargin_summary"))
  out[open] <- make(open)
  sound <- open[vapply(out[open], inherits, NA, "honestmargin_summary")]
  # a full disk is no reason to stop
  try(for (i in sound) kept$set(keys[i], out[[i]]), silent = TRUE)
  out
}

#' @return `NULL` where nothing is to be kept, or nothing can be written.
#' @noRd
summaries_kept <- function() {
  folder <- Sys.getenv("HONESTMARGIN_CACHE", tools::R_user_dir("honestmargin", "cache"))
  if (!isTRUE(getOption("honestmargin.command")) || folder == "off") {
    return(NULL)
  }
  dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  if (file.access(folder, 2) != 0 || !dir.exists(folder)) {
    return(NULL)
  }
  # those that nobody asked for the longest go first
  cachem::cache_disk(folder, max_size = 100 * 2^20, max_age = 60 * 86400, missing = NULL)
}

summary_keys <- function(store, plan, passes) {
  build <- file.info(system.file("R", "honestmargin.rdb", package = "honestmargin"))[c("size", "mtime")]
  if (is.na(build$size)) {
    return(NULL)
  }
  layout <- store$layout
  if (is.character(layout)) layout <- cli::hash_file_sha256(layout)
  # how the file of the plan is written changes nothing
  attr(plan, "text") <- NULL
  common <- list(build, R.version.string, Sys.getlocale("LC_CTYPE"), plan, layout)
  files <- lapply(store$files, function(of_kind) unname(of_kind[passes$pass]))
  held <- lapply(files, function(paths) {
    there <- !is.na(paths)
    paths[there] <- paste(basename(paths[there]), cli::hash_file_sha256(paths[there]))
    paths
  })
  vapply(seq_len(nrow(passes)), function(i) {
    cli::hash_obj_md5(list(common, as.list(passes[i, ]), lapply(held, `[`, i)))
  }, "")
}
