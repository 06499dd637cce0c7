# The study that confirms what a screening foresees.

#' Plan the study that confirms a screening
#'
#' @param x From [weigh_screen()] with a `target`.
#' @param folder Where the plan goes; made where it is not there.
#' @return Path of the plan, invisibly: two arms, the start and the settings that were foreseen to reach the target,
#'   with the workloads, commands and metrics of the screening.
#' @section Errors: `honestmargin_error_input` where nothing is foreseen to reach it, or a plan is there already.
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: options}", "screen:", "  way: together", "  options:",
#'   "    - {name: fog, from: on, to: off}", "    - {name: water, from: fine, to: coarse}",
#'   "workloads: [{id: lap}]", "metrics: [{id: fps_avg, worth: 2}]", "blocks: 3"
#' ), file.path(folder, "study.yml"))
#' for (block in 1:3) for (arm in c("start", "mix01", "mix02", "mix03")) {
#'   add_pass(folder, arm = arm, values = c(fps_avg = 60 + block + 3 * (arm == "mix01")))
#' }
#' confirm_screen(weigh_screen(read_study(folder), target = 2), tempfile("confirm-"))
confirm_screen <- function(x, folder) {
  if (!identical(attr(x, "question"), "screen")) {
    abort_input("this is no screening that was weighed", todo = "give what weigh_screen() returned")
  }
  checkmate::assert_string(folder)
  wanted <- Filter(function(t) length(t$options) > 0, attr(x, "target"))
  if (!length(wanted)) {
    abort_input("no settings are foreseen to reach the target", todo = "ask for less: honestmargin screen --target")
  }
  path <- file.path(folder, "study.yml")
  if (file.exists(path)) abort_input("there is a plan already", path, "name another folder")
  if (!dir.exists(folder) && !suppressWarnings(dir.create(folder, recursive = TRUE))) {
    abort_stuck("this folder cannot be made", folder, "name another")
  }
  chosen <- unique(unlist(lapply(wanted, `[[`, "options")))
  with_store(attr(x, "folder"), write = FALSE, code = function(store) {
    lines <- confirming_plan(attr(store_plan(store), "text"), attr(x, "levels"), chosen)
    write_whole(path, function(to) writeLines(lines, to))
  })
  invisible(path)
}

# the plan of before, its block screen replaced by two arms
confirming_plan <- function(text, levels, chosen) {
  lines <- strsplit(text, "\n", fixed = TRUE)[[1]]
  begins <- grep("^screen\\s*:", lines)
  # its block ends where the next key begins
  after <- which(grepl("^[^ #\t-]", lines) & seq_along(lines) > begins)
  rest <- lines[-seq(begins, if (length(after)) after[1] - 1 else length(lines))]
  side <- function(arm, which) {
    level <- lapply(names(levels), function(name) levels[[name]][[if (name %in% which) "to" else "from"]])
    quoted <- yaml_quoted(unlist(level))
    by_hand <- as.character(jsonlite::toJSON(paste(names(levels), unlist(level), collapse = ", "), auto_unbox = TRUE))
    paste0(
      "  - {value: ", arm, ", settings: {", paste0(names(levels), ": ", quoted, collapse = ", "), "}, by_hand: ",
      by_hand, "}"
    )
  }
  c(
    "# Confirms what a screening foresees; the settings were chosen there.", with_baseline(rest),
    "arms:", side("start", character()), side("proposed", chosen)
  )
}

# below `setting`, written on one line or on several
with_baseline <- function(lines) {
  at <- grep("^setting\\s*:", lines)[1]
  if (grepl("\\{", lines[at])) {
    ends <- at + grep("\\}", lines[at:length(lines)])[1] - 1
    lines[ends] <- sub("\\}([^}]*)$", ", baseline: start}\\1", lines[ends])
    return(lines)
  }
  indent <- sub("^( *).*", "\\1", lines[at + 1])
  append(lines, paste0(indent, "baseline: start"), at)
}
