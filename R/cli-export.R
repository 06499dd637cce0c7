# The verb `export`.

cli_export <- function(files, options) {
  batch <- if (!is.null(options$batch)) whole_number(options$batch, "batch")
  write_study(read_study(files[1], batch = batch), files[2])
  tell_user("written: ", files[2])
}

register("verb", "export",
  takes = "STUDY FOLDER", files = c(2, 2), run = cli_export,
  about = "Write a study as a plain folder of text files.",
  options = function() shared_options("batch"), rank = 16
)
