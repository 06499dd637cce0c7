# The verb `export`.

cli_export <- function(files, options) {
  if (identical(options$batch, "all")) {
    for (batch in study_batches(files[1])) {
      to <- file.path(files[2], paste0("batch-", batch))
      write_study(read_study(files[1], batch = batch), to)
      tell_user("written: ", to)
    }
    return(0L)
  }
  batch <- if (!is.null(options$batch)) whole_number(options$batch, "batch")
  write_study(read_study(files[1], batch = batch), files[2])
  tell_user("written: ", files[2], if (is.null(batch) && length(study_batches(files[1])) > 1) {
    " (batch 1; --batch N for another, --batch all for all of them)"
  })
}

register("verb", "export",
  takes = "STUDY FOLDER", files = c(2, 2), run = cli_export,
  about = "Write a study as a plain folder of text files.",
  options = function() shared_options("batch"), rank = 16
)
