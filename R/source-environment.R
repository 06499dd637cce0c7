# What a program of the tester's finds in its environment: what whoever started us had, without what the start of R
# puts there. Libraries in LD_LIBRARY_PATH come before those that a program brings along, and an R that is measured
# would take packages of ours: a pass would not be what the same command is when it is typed.

# set by the front end of R (its shell script), whatever was there before
set_by_front_end <- c(
  "R_HOME", "R_SHARE_DIR", "R_INCLUDE_DIR", "R_DOC_DIR", "R_ARCH", "R_SESSION_TMPDIR", "R_DEFAULT_PACKAGES",
  "R_ENVIRON", "R_ENVIRON_USER", "R_PROFILE", "R_PROFILE_USER"
)

# set by the launcher (exec/honestmargin) where it was not set; no tester writes these two together
set_by_launcher <- c(GLIBC_TUNABLES = "glibc.malloc.hugetlb=1:glibc.malloc.arena_max=1")

#' The environment for programs of the tester's
#'
#' @param more Named character, put in besides.
#' @return Named character: the whole environment.
#' @noRd
environment_for <- function(more = character()) {
  now <- environment_with()
  usual <- c(usual_of_renviron(), set_by_launcher)
  ours <- names(now) %in% names(usual) & now == usual[names(now)]
  now <- now[!ours & !names(now) %in% set_by_front_end]
  if ("LD_LIBRARY_PATH" %in% names(now)) {
    path <- without_r(now[["LD_LIBRARY_PATH"]], libraries_of_r())
    now <- if (nzchar(path)) replace(now, "LD_LIBRARY_PATH", path) else now[names(now) != "LD_LIBRARY_PATH"]
  }
  put_in(now, more)
}

#' The environment of this process, whatever bytes are in it, with some variables set
#' @noRd
environment_with <- function(more = character()) put_in(environment_now(), more)

put_in <- function(now, more) c(now[!names(now) %in% names(more)], more)

#' What R's own file of variables gives those that were not set
#' @return Named character.
#' @noRd
usual_of_renviron <- function() {
  made_once("usual_of_renviron", function() {
    file <- file.path(R.home("etc"), "Renviron")
    lines <- if (file.exists(file)) grep("^[A-Za-z0-9_]+=", readLines(file, warn = FALSE), value = TRUE)
    values <- sub("^[^=]+=", "", lines)
    # NAME=${NAME-value}, where the value may be that of another in the same way
    while (any(named <- grepl("^\\$\\{[A-Za-z0-9_]+:?-.*\\}$", values))) {
      values[named] <- sub("^\\$\\{[A-Za-z0-9_]+:?-(.*)\\}$", "\\1", values[named])
    }
    values <- gsub("^'|'$", "", values)
    version <- paste(R.version$major, sub("[.].*", "", R.version$minor), sep = ".")
    own <- path.expand(file.path("~/R", paste0(R.version$platform, "-library"), version))
    for (part in list(c("%U", own), c("%S", file.path(R.home(), "site-library")))) {
      values <- gsub(part[1], part[2], values, fixed = TRUE)
    }
    stats::setNames(values, sub("=.*", "", lines))
  })
}

#' What the front end of R puts before LD_LIBRARY_PATH: asked of the file in which it says so
#' @noRd
libraries_of_r <- function() {
  made_once("libraries_of_r", function() {
    file <- file.path(R.home("etc"), "ldpaths")
    if (!file.exists(file)) {
      return("")
    }
    processx::run("sh", c("-c", ". \"$1\"; printf %s \"$LD_LIBRARY_PATH\"", "sh", file),
      env = environment_with(c(LD_LIBRARY_PATH = "")), error_on_status = FALSE
    )$stdout
  })
}

# one R started by another has put it there twice
without_r <- function(path, first) {
  while (nzchar(first) && startsWith(paste0(path, ":"), paste0(first, ":"))) {
    path <- substr(path, nchar(first) + 2, nchar(path))
  }
  path
}
