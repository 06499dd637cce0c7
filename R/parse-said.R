# What the names of logs say of how their passes went: "off_4_crash", "on_1 - Copy".

word_alone <- function(words) vapply(words, sprintf, "", fmt = "(?<![[:alpha:]])(?:%s)(?![[:alpha:]])")

# how a pass ended, or that it does not count, as people write it into names
said_in_names <- word_alone(c(
  crash = "crash(ed)?|absturz|abgest(\u00fc|ue)rzt|dnf|failed|error", freeze = "freeze|froze|frozen|hang|hung",
  down = "bsod|black[ _-]?screen|blue[ _-]?screen|no[ _-]?signal|rebooted|shut[ _-]?down", artefact = "art[ei]facts?",
  timeout = "timed?[ _.-]*out", interrupted = "abort(ed)?|interrupted|abgebrochen",
  excluded = "bad|invalid|discard(ed)?|excluded|ung(\u00fc|ue)ltig"
))
copy_mark <- "( - (copy|kopie))?( ?[(][0-9]+[)])?$"

#' Group logs by their names, and take what these say of their passes out of them
#'
#' A word counts only where the names without it form the groups that the others form by themselves: an arm or a scene
#' may be called so.
#' @param files,names,baseline As in `group_names()`.
#' @return As `group_names()` gives it, with `said`, and `outcome`, `role` and `reason` where any name says one.
#' @noRd
group_said <- function(files, names = NULL, baseline = NULL) {
  said <- names_said(files)
  if (anyNA(said$as) && !all(is.na(said$as))) {
    group <- function(x) tryCatch(group_names(x, names, baseline), honestmargin_error = function(e) NULL)
    plain <- group(files[is.na(said$as)])
    for (tried in list(said$name, said$numbered)) {
      found <- if (!is.null(plain)) group(tried)
      if (is.null(found) || !same_groups(found, plain)) next
      found$file <- files
      found$said <- said$as
      if (any(said$as %in% outcomes)) found$outcome <- ifelse(said$as %in% outcomes, said$as, "ok")
      if (any(said$as %in% roles)) {
        found$role <- ifelse(said$as %in% roles, said$as, "counted")
        found$reason <- ifelse(said$as %in% roles, "called so by its name", NA)
      }
      return(found)
    }
  }
  group_names(files, names, baseline)
}

same_groups <- function(found, plain) {
  of <- function(x) unique(paste(x$arm, x$workload, sep = "\r"))
  setequal(of(found), of(plain))
}

#' @return A list: `as` (what each name says; `same` for a name that comes again, `NA` for nothing), `name` (without
#'   it), `numbered` (and with a number of its own).
#' @noRd
names_said <- function(files) {
  ending <- regmatches(files, regexpr(paste0(output_ending, "|$"), files))
  stem <- substr(files, 1, nchar(files) - nchar(ending))
  folder <- substr(stem, 1, nchar(stem) - nchar(basename(stem)))
  bare <- basename(stem)
  as <- rep(NA_character_, length(files))
  for (word in names(said_in_names)) {
    hit <- is.na(as) & grepl(said_in_names[[word]], bare, ignore.case = TRUE, perl = TRUE)
    as[hit] <- word
    rest <- sub(said_in_names[[word]], "", bare[hit], ignore.case = TRUE, perl = TRUE)
    bare[hit] <- gsub("^[^[:alnum:]]+|[^[:alnum:]]+$", "", rest)
  }
  base <- sub(copy_mark, "", stem, ignore.case = TRUE)
  copy <- is.na(as) & base != stem & base %in% stem
  as[copy] <- "same"
  own <- length(files) + seq_along(files)
  name <- paste0(folder, bare)
  # two of one name cannot be separated, so a copy has a number of its own from the start
  name[copy] <- paste0(ifelse(grepl("[0-9]$", base), sub("[0-9]+$", "", base), paste0(base, " ")), own)[copy]
  numbered <- name
  for (i in which(!is.na(as) & !copy)) {
    # as the others of its arm are numbered
    beside <- stem[is.na(as) & startsWith(stem, name[i]) & grepl("[0-9]$", stem)]
    # "higher_1" is none of "high"
    like <- beside[endsWith(name[i], "/") | grepl("^([^[:alnum:]]|[0-9]+$)", substring(beside, nchar(name[i]) + 1))]
    numbered[i] <- paste0(if (length(like)) sub("[0-9]+$", "", like[1]) else paste0(name[i], "_"), own[i])
  }
  list(as = as, name = paste0(name, ending), numbered = paste0(numbered, ending))
}

#' What was read off the names, as a finding
#' @noRd
findings_of_said <- function(found) {
  hit <- which(!is.na(empty_to(found$said, NA)))
  if (length(hit)) {
    same <- paste0("the same name again, taken as pass ", found$pass[hit])
    said <- ifelse(found$said[hit] == "same", same, found$said[hit])
    new_finding("note", "said_in_names", files = paste0(found$file[hit], " (", said, ")"))
  }
}
