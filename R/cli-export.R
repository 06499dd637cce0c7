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
  study <- tryCatch(read_study(files[1], batch = batch), honestmargin_error_input = identity)
  if (!is_study(study)) {
    # a ledger that can be opened has another fault, which is told
    if (!is_damaged(files[1])) stop(study)
    lost <- rescue_study(files[1], files[2])
    tell_user(conditionMessage(study), "\nwritten: ", files[2], ", with what could be read", if (length(lost)) {
      paste0("; not whole: ", some_of(lost, 9))
    })
    return(0L)
  }
  write_study(study, files[2])
  tell_user("written: ", files[2], if (is.null(batch) && length(study_batches(files[1])) > 1) {
    " (batch 1; --batch N for another, --batch all for all of them)"
  })
}

register("verb", "export",
  takes = "STUDY FOLDER", files = c(2, 2), run = cli_export,
  examples = c(
    "export my-study plain",
    "export my-study plain2 --batch 1"
  ),
  about = "Write a study as a plain folder of text files.",
  options = function() shared_options("batch"), rank = 16
)
