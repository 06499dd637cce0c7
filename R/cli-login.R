# The verb `login`: let a run go on by itself after the next login, or no longer.

cli_login <- function(files, options) {
  folder <- files[1]
  read_plan(folder)
  file <- login_file(folder)
  if (isTRUE(options$off)) {
    there <- file.exists(file)
    set_login(folder, FALSE)
    tell_user(if (there) paste("taken away:", file) else "nothing was set up")
    return(0L)
  }
  tell_user("This file would be written, and start the run at every login until it is done:\n  ", file)
  tell_user(paste0("  | ", login_lines(folder), collapse = "\n"))
  yes <- isTRUE(options$yes) || (is_terminal() && tolower(read_answer("Write it? y/n: ")) %in% c("y", "yes"))
  if (!yes) {
    tell_user("nothing written", if (!is_terminal()) " (--yes writes without asking)")
    return(0L)
  }
  set_login(folder, TRUE)
  tell_user("written; take it away with: honestmargin login ", folder, " --off")
  0L
}

register("verb", "login",
  takes = "STUDY", files = c(1, 1), run = cli_login,
  examples = c(
    "login my-study",
    "login my-study --off"
  ),
  about = "Let the run go on by itself after a login, or no longer.",
  options = function() c(shared_options("yes"), list(off = option_flag("take it away again"))), rank = 5
)
