# The verb `take`: new logs out of a folder.

cli_take <- function(files, options) {
  tell_user("take is now part of add: honestmargin add ", files[1], " ", files[2])
  take_inbox(files[1], files[-1], options)
}

#' New logs out of folders or by name, matched to open passes
#' @noRd
take_inbox <- function(folder, inbox, options) {
  confirm <- function(matched) {
    writeLines(
      table_lines(text_of(matched[c("file", "written", "seconds", "fps_avg", "pass", "arm", "workload", "by")]))
    )
    isTRUE(options$yes) || (is_terminal() && tolower(read_answer("Store them so? y/n: ")) %in% c("y", "yes"))
  }
  matched <- take_logs(folder, inbox, confirm = confirm)
  for (i in which(nzchar(matched$problem))) {
    tell_user(
      "not taken: ", matched$file[i], ": ", sub("^.*?: ", "", matched$problem[i], perl = TRUE)
    )
  }
  if (!nrow(matched)) tell_user("nothing new in ", some_of(inbox, 3))
  over <- sum(is.na(matched$pass) & !nzchar(matched$problem))
  if (over) tell_user(count_of(over, "file"), " more than there are open passes")
  if (any(matched$stored)) {
    tell_user(
      count_of(sum(matched$stored), "log"), " stored"
    )
  } else {
    tell_user("nothing stored", if (!isTRUE(options$yes)) " (--yes stores without asking)")
  }
}

register("verb", "take",
  takes = "STUDY FOLDER", files = c(2, 2), run = cli_take,
  examples = c(
    "take my-study inbox",
    "take my-study inbox --yes"
  ),
  about = "The same as add STUDY FOLDER, under its earlier name.",
  options = function() shared_options("yes"), rank = 7
)
