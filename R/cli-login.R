# The verb `login`: let a run go on by itself after the next login, or no longer.

cli_login <- function(files, options) {
  folder <- files[1]
  study_plan(folder)
  file <- login_file(folder)
  if (isTRUE(options$off)) {
    there <- file.exists(file)
    set_login(folder, FALSE)
    message(if (there) paste("taken away:", file) else "nothing was set up")
    return(0L)
  }
  message("This file would be written, and start the run at every login until it is done:\n  ", file)
  message(paste0("  | ", login_lines(folder), collapse = "\n"))
  yes <- isTRUE(options$yes) || (is_terminal() && tolower(read_answer("Write it? y/n: ")) %in% c("y", "yes"))
  if (!yes) {
    message("nothing written", if (!is_terminal()) " (--yes writes without asking)")
    return(0L)
  }
  set_login(folder, TRUE)
  message("written; take it away with: honestmargin login ", folder, " --off")
  0L
}
