# What the names of logs say: which arm, which workload, which pass.

log_ending <- "[.](csv|txt|tsv|log)([.]gz)?$"
# what stands in front of the number of a pass
words_before_number <- c("", "#", "r", "run", "pass", "p", "try", "take", "lauf", "durchlauf", "iteration", "n")
output_ending <- paste0("[.](csv|txt|tsv|log|xml|out|", json_kinds, ")([.]gz)?$")

arms_counted <- function(arm, arms = unique(arm)) {
  count <- table(factor(arm, arms))
  paste(names(count), "x", count)
}

#' What was made of the names and of the times, as findings
#' @param found From `group_names()`, with `order`. @param of What the files hold, as `counted_logs()` knows it.
#' @noRd
findings_of_names <- function(found, of, arms = unique(found$arm)) {
  bind_findings(
    new_finding("note", "from_names",
      logs = nrow(found), of = of, arms = arms_counted(found$arm, arms), from = attr(found, "from")
    ),
    # where they do not tell, that the order is not known is said of any study
    if (!anyNA(found$order)) new_finding("note", "order_in_times")
  )
}

# what all paths share says nothing of the arms
names_apart <- function(paths) {
  parts <- strsplit(normalizePath(paths), "/", fixed = TRUE)
  shared <- 0
  alike <- function(n) all(lengths(parts) > n) && length(unique(vapply(parts, `[`, "", n))) == 1
  while (alike(shared + 1)) shared <- shared + 1
  vapply(parts, function(p) paste(utils::tail(p, length(p) - shared), collapse = "/"), "")
}

#' Group logs by their names
#'
#' @param files Paths below a folder, with sub-folders, in any order.
#' @param names `NULL`, or how names are built: `"{arm}_run{pass}.csv"`, with `{arm}`, `{workload}`, `{pass}` and
#'   `{any}` for what does not matter.
#' @param baseline `NULL`, or the arm that others are compared with: it tells which part of the names is the arm.
#' @return Data frame, one row per file: `file`, `arm`, `workload`, `pass` (number within arm and workload). Attribute
#'   `from`: `"names"`, or the pattern.
#' @noRd
group_names <- function(files, names = NULL, baseline = NULL) {
  dated <- names_without_dates(files)
  found <- if (is.null(names)) groups_that_vary(dated$names, baseline, dated$when) else groups_by_pattern(files, names)
  found$file <- files
  found$when <- dated$when
  key <- intersect(c("arm", "workload", "context", "pass"), base::names(found))
  twice <- which(duplicated(found[key]))
  if (length(twice)) {
    both <- files[do.call(paste, found[key]) == do.call(paste, found[twice[1], key])]
    abort_needed(
      paste0("which passes are these? ", some_of(both, 2), " have the same arm and number"),
      todo = "say how the names are built: --names '{arm}_run{pass}.csv'"
    )
  }
  structure(found, from = empty_to(names, "names"))
}

groups_by_pattern <- function(files, names) {
  known <- c("arm", "workload", "context", "pass", "any")
  marks <- regmatches(names, gregexpr("\\{[a-z]+\\}", names))[[1]]
  wrong <- setdiff(marks, paste0("{", known, "}"))
  if (length(wrong)) {
    abort_usage(
      paste0("--names has ", wrong[1]),
      todo = "known are {arm}, {workload}, {context}, {pass} and {any}"
    )
  }
  if (!"{arm}" %in% marks) abort_usage("--names has no {arm}", todo = "for example --names '{arm}_run{pass}.csv'")
  bare <- gsub("([^A-Za-z0-9_ ])", "\\\\\\1", strsplit(paste0(names, " "), "\\{[a-z]+\\}")[[1]])
  bare[length(bare)] <- sub(" $", "", bare[length(bare)])
  shape <- paste0("^", paste0(bare, c(ifelse(marks == "{pass}", "([0-9]+)", "(.+?)"), ""), collapse = ""), "$")
  # with or without the sub-folder
  hit <- regmatches(files, regexec(shape, files, perl = TRUE))
  short <- lengths(hit) == 0
  hit[short] <- regmatches(basename(files[short]), regexec(shape, basename(files[short]), perl = TRUE))
  stray <- files[lengths(hit) == 0]
  if (length(stray)) {
    abort_input(
      paste0("'", stray[1], "' is not built like ", names), NULL,
      "fix the pattern, or name the files that are meant"
    )
  }
  part <- function(mark, default) {
    at <- match(mark, marks)
    if (is.na(at)) rep(default, length(files)) else vapply(hit, `[`, "", at + 1)
  }
  out <- data.frame(file = files, arm = part("{arm}", ""), workload = part("{workload}", "main"))
  if ("{context}" %in% marks) out$context <- part("{context}", NA_character_)
  number <- as.integer(part("{pass}", NA_character_))
  out$pass <- if (anyNA(number)) numbered(out) else number
  out
}

numbered <- function(rows) {
  stats::ave(seq_len(nrow(rows)), rows$arm, rows$workload, empty_to(rows$context, rep("", nrow(rows))), FUN = seq_along)
}

# a day, with an hour or without, as programs write it into names
name_dates <- paste0(
  "(?<![0-9])(?:19|20)[0-9]{2}([-_.]?)(?:0[1-9]|1[0-2])\\1(?:0[1-9]|[12][0-9]|3[01])",
  "(?:[-_ T.]?(?:[01][0-9]|2[0-3])[-_.h]?[0-5][0-9](?:[-_.m]?[0-5][0-9])?)?(?![0-9])"
)

#' Names without the times in them, which say when and never what
#' @return A list: `names`, `when` (text that sorts, `NULL` where not every name has a time).
#' @noRd
names_without_dates <- function(files) {
  at <- regexpr(name_dates, files, perl = TRUE)
  if (any(at < 0)) {
    return(list(names = files))
  }
  when <- gsub("[^0-9]", "", regmatches(files, at))
  bare <- files
  regmatches(bare, at) <- ""
  # what parted the time from the rest parts nothing any more
  bare <- gsub("([/_ -])[/_ .-]+", "\\1", bare)
  bare <- gsub("(^|/)[_ .-]+", "\\1", gsub("[_ -]+([.][A-Za-z])", "\\1", bare))
  list(names = bare, when = when)
}

# names cut into words; what is the same in all says nothing
groups_that_vary <- function(files, baseline = NULL, when = NULL) {
  # where times alone tell the passes of an arm apart, they number them
  if (anyDuplicated(files) && !is.null(when)) {
    turn <- order(when)
    ending <- regmatches(files, regexpr(paste0(output_ending, "|$"), files))
    stem <- substr(files, 1, nchar(files) - nchar(ending))
    number <- integer(length(files))
    number[turn] <- stats::ave(seq_along(turn), stem[turn], FUN = seq_along)
    files <- paste0(stem, "_", number, ending)
  }
  files <- join_arms(files, baseline)
  whole <- words_of_names(files)
  # 2.1GHz and v1.10 are one word, but for names such as 125.1 and 125.2
  if (is.matrix(whole) && !anyDuplicated(words_but_pass(whole))) {
    parted <- words_of_names(files, decimals = FALSE)
    if (is.matrix(parted) && anyDuplicated(words_but_pass(parted))) whole <- parted
  }
  out <- if (is.matrix(whole)) groups_of_words(files, whole, baseline) else groups_by_last_number(files)
  for (part in c("arm", "workload")) out[[part]] <- chartr(inner_marks, parting, out[[part]])
  out
}

parting <- "_ .()-"
inner_marks <- "\002\003\004\005\006\007"

# an arm that holds the marks that part words ("rich-wide") is one word, and so is what stands in its place
join_arms <- function(files, baseline) {
  parts <- strsplit(empty_to(baseline, ""), "[/_ .()-]+")[[1]]
  if (length(parts) < 2) {
    return(files)
  }
  marks <- regmatches(baseline, gregexpr("[/_ .()-]+", baseline))[[1]]
  held <- regexpr(baseline, files, fixed = TRUE)
  if (!any(held > 0)) {
    return(files)
  }
  # at the place where the baseline stands in its names
  place <- unique(lengths(regmatches(
    substr(files, 1, held - 1),
    gregexpr("[/_ .()-]+", substr(files, 1, held - 1))
  ))[held > 0])
  if (length(place) != 1) {
    return(files)
  }
  skip <- paste0("^((?:[^/_ .()-]+[/_ .()-]+){", place, "})([^/_ .()-]+", paste0(
    gsub("([.()])", "\\\\\\1", marks), "[^/_ .()-]+",
    collapse = ""
  ), ")(?=$|[/_ .()-])")
  hit <- regmatches(files, regexec(skip, files, perl = TRUE))
  fits <- lengths(hit) == 3
  if (!all(fits)) {
    return(files)
  }
  arm <- vapply(hit, `[`, "", 3)
  paste0(
    vapply(hit, `[`, "", 2), chartr(parting, inner_marks, arm),
    substring(files, nchar(vapply(hit, `[`, "", 1)) + 1)
  )
}

#' @param decimals Whether a dot between digits is part of a word.
#' @return A matrix, one row a file; `NULL` where names have unequal numbers of words.
#' @noRd
words_of_names <- function(files, decimals = TRUE) {
  stem <- sub(output_ending, "", files)
  # held by a mark that parts nothing
  if (decimals) stem <- gsub("(?<=[0-9])[.](?=[0-9])", "\r", stem, perl = TRUE)
  words <- strsplit(stem, "[/_ .()-]+")
  if (length(unique(lengths(words))) == 1) {
    matrix(gsub("\r", ".", unlist(words), fixed = TRUE), nrow = length(files), byrow = TRUE)
  }
}

varying <- function(words) which(apply(words, 2, function(w) length(unique(w)) > 1))

words_at <- function(words, positions) apply(words[, positions, drop = FALSE], 1, paste, collapse = " ")

words_but_pass <- function(words) {
  varies <- varying(words)
  rest <- setdiff(varies, pass_position(words, varies))
  if (length(rest)) words_at(words, rest) else rep("", nrow(words))
}

groups_of_words <- function(files, words, baseline) {
  varies <- varying(words)
  if (!length(varies)) {
    return(data.frame(file = files, arm = "one", workload = "main", pass = seq_along(files)))
  }
  pass <- pass_position(words, varies)
  rest <- setdiff(varies, pass)
  groups <- distinct_positions(words, rest)
  at <- if (length(groups) > 1) arm_group(lapply(groups, words_at, words = words), baseline) else length(groups)
  if (is.null(at)) abort_two_factors(files, words, groups, pass)
  arm <- words_at(words, if (length(groups)) groups[[at]] else setdiff(seq_len(ncol(words)), varies))
  workload <- if (length(groups) > 1) words_at(words, sort(unlist(groups[-at]))) else "main"
  out <- data.frame(file = files, arm = ifelse(nzchar(arm), arm, "one"), workload = workload)
  out$pass <- if (length(pass)) as.integer(sub("^.*?([0-9]+)$", "\\1", words[, pass])) else numbered(out)
  out
}

# of what varies, that which the baseline is a value of
arm_group <- function(values, baseline) {
  at <- which(vapply(values, function(v) named_by(baseline, unique(chartr(inner_marks, parting, v))) > 0, NA))
  if (length(at) == 1) at
}

#' The one of several values that somebody means: itself, or the end of what was said (`ddr5-6000` for 6000)
#' @return Its number, 0 where there is none.
#' @noRd
named_by <- function(said, values) {
  if (is.null(said)) {
    return(0L)
  }
  plain <- function(x) paste0(" ", tolower(gsub("[/_ ()-]+", " ", x)))
  at <- which(values == said)
  if (!length(at)) at <- which(endsWith(plain(said), plain(values)))
  if (length(at) == 1) at else 0L
}

# the word that counts: the same in front of a number in all, and no two of one group alike; a number alone or behind a
# word for passes, else the last such
pass_position <- function(words, varies) {
  counts <- vapply(varies, function(p) {
    word <- words[, p]
    if (!all(grepl("[0-9]+$", word)) || length(unique(sub("[0-9]+$", "", word))) > 1) {
      return(FALSE)
    }
    number <- as.numeric(sub("^.*?([0-9]+)$", "\\1", word))
    rest <- do.call(paste, c(as.data.frame(words[, setdiff(varies, p), drop = FALSE]), list("")))
    repeats <- length(varies) == 1 || anyDuplicated(rest) > 0
    repeats && !anyDuplicated(paste(rest, number)) && max(number) <= 10 * nrow(words)
  }, NA)
  able <- varies[counts]
  before <- tolower(sub("[0-9]+$", "", words[1, able]))
  usual <- able[before %in% words_before_number]
  utils::tail(if (length(usual)) usual else able, 1)
}

# words that go together are one
distinct_positions <- function(words, positions) {
  code <- lapply(positions, function(p) match(words[, p], unique(words[, p])))
  key <- vapply(code, paste, "", collapse = " ")
  unname(split(positions, factor(key, unique(key))))
}

abort_two_factors <- function(files, words, groups, pass) {
  said <- function(p) paste0(some_of(unique(words[, p[1]]), 3))
  shape <- function(first, second) {
    marks <- rep("{any}", ncol(words))
    marks[groups[[first]][1]] <- "{arm}"
    marks[groups[[second]][1]] <- "{workload}"
    marks[pass] <- paste0(sub("[0-9]+$", "", words[1, pass]), "{pass}")
    same <- apply(words, 2, function(w) length(unique(w)) == 1)
    marks[same] <- words[1, same]
    name_like(files[1], words[1, ], marks)
  }
  abort_needed(
    paste0(
      "the names differ in more than one way (", said(groups[[1]]), "; ", said(groups[[2]]), "): which are the arms?"
    ),
    todo = paste0("--names '", shape(1, 2), "' or --names '", shape(2, 1), "', or name the baseline: --baseline")
  )
}

# the first name with its words replaced, so that the pattern can be pasted as it is
name_like <- function(file, words, marks) {
  out <- ""
  rest <- file
  for (i in seq_along(words)) {
    at <- regexpr(words[i], rest, fixed = TRUE)
    out <- paste0(out, substr(rest, 1, at - 1), marks[i])
    rest <- substring(rest, at + nchar(words[i]))
  }
  paste0(out, rest)
}

groups_by_last_number <- function(files) {
  stem <- sub(output_ending, "", files)
  number <- ifelse(grepl("[0-9]+[)]?$", stem), sub("^.*?([0-9]+)[)]?$", "\\1", stem), NA)
  arm <- ifelse(is.na(number), stem, sub("[/_ .(-]*(run|pass)?[/_ .(-]*[0-9]+[)]?$", "", stem, ignore.case = TRUE))
  arm <- trimws(gsub("[/_]+", " ", arm))
  out <- data.frame(file = files, arm = ifelse(nzchar(arm), arm, "one"), workload = "main")
  out$pass <- ifelse(is.na(number), 1L, as.integer(number))
  out
}
