# Installs what Honest Margin needs and is not there yet, and says what it does.
# Usage: Rscript tools/setup.R [run] [test] [lint] [docs] [shots] [calibrate] [site]
# Debian's built packages come first where they are new enough, CRAN serves the rest.
# Base R only: this runs before anything else is installed.

dcf <- read.dcf("DESCRIPTION")

field <- function(name) {
  if (!name %in% colnames(dcf)) {
    return(NULL)
  }
  entries <- trimws(strsplit(dcf[1, name], ",")[[1]])
  needed <- data.frame(
    package = sub("\\s*\\(.*", "", entries),
    version = ifelse(grepl("\\(>=", entries), sub(".*>=\\s*([0-9.]+).*", "\\1", entries), "0")
  )
  needed[!needed$package %in% c("R", "stats", "utils", "grDevices", "parallel", "tools"), ]
}

levels_wanted <- commandArgs(TRUE)
if (!length(levels_wanted)) levels_wanted <- "run"
fields <- list(
  run = c("Imports", "LinkingTo"), test = "Suggests",
  lint = "Config/Needs/lint", docs = "Config/Needs/docs", site = "Config/Needs/site",
    calibrate = "Config/Needs/calibrate"
)
programs <- list(
  # real renderers, in software in a virtual X server, for the frame probe
  test = c(
    pandoc = "pandoc", chromium = "chromium", chromedriver = "chromium-driver", python3 = "python3",
    "/usr/lib/python3/dist-packages/jsonschema" = "python3-jsonschema", Xvfb = "xvfb", glxgears = "mesa-utils",
    vkcube = "vulkan-tools", "/usr/include/GL/glx.h" = "libgl-dev", "/usr/include/EGL/egl.h" = "libegl-dev",
    "/usr/share/vulkan/icd.d/lvp*" = "mesa-vulkan-drivers", "/usr/lib/*/dri/swrast_dri.so" = "libgl1-mesa-dri"
  ),
  docs = c(pandoc = "pandoc", qpdf = "qpdf"),
  shots = c(chromium = "chromium", xterm = "xterm", Xvfb = "xvfb", import = "imagemagick")
)
needed <- do.call(rbind, lapply(unlist(fields[levels_wanted]), field))
needed <- needed[!duplicated(needed$package), ]
tools_needed <- do.call(c, unname(programs[intersect(levels_wanted, names(programs))]))

say <- function(...) cat("setup: ", ..., "\n", sep = "")

is_there <- function(package, version) {
  found <- suppressWarnings(tryCatch(
    utils::packageVersion(package),
    error = function(e) NULL
  ))
  !is.null(found) && found >= version
}
still_missing <- function() {
  needed[!mapply(is_there, needed$package, needed$version), , drop = FALSE]
}
# `import` and friends must be the real program, so a path is all we ask for
program_missing <- function() {
  there <- nzchar(Sys.which(names(tools_needed))) | vapply(
    names(tools_needed), function(n) length(Sys.glob(n)) > 0, NA
  )
  tools_needed[!there]
}

# Debian's packages are built for Debian's R: another R must not take them.
is_debian <- nzchar(Sys.which("apt-get")) && nzchar(Sys.which("dpkg")) &&
  startsWith(normalizePath(R.home()), "/usr/lib/R")
is_root <- identical(unname(Sys.info()["effective_user"]), "root")
has_sudo <- !is_root && nzchar(Sys.which("sudo")) &&
  system2("sudo", c("-n", "true"), stdout = FALSE, stderr = FALSE) == 0
as_root <- function(args) {
  args <- c("DEBIAN_FRONTEND=noninteractive", args)
  if (is_root) system2("env", args) else system2("sudo", c("env", args))
}

candidates <- function(debs) {
  out <- suppressWarnings(system2("apt-cache", c("policy", debs), stdout = TRUE, stderr = FALSE))
  at <- grep("^[a-z]", out)
  stats::setNames(
    sub(".*Candidate: *", "", out[at + 2]),
    sub(":$", "", out[at])
  )
}
install_from_debian <- function() {
  missing <- still_missing()
  tools <- program_missing()
  if (!is_debian || !(is_root || has_sudo) || !(nrow(missing) || length(tools))) {
    return(invisible())
  }
  say("asking Debian for built packages")
  as_root(c("apt-get", "update", "-qq"))
  debs <- sprintf("r-cran-%s", tolower(missing$package))
  found <- candidates(c(debs, unname(tools)))
  upstream <- sub("[+~-].*", "", sub("^[0-9]+:", "", found))
  floor <- stats::setNames(missing$version, debs)
  wanted <- names(found)[found != "(none)" & mapply(function(have, name) {
    !name %in% names(floor) || utils::compareVersion(have, floor[[name]]) >= 0
  }, upstream, names(found))]
  if (length(wanted)) {
    say("installing from Debian: ", paste(wanted, collapse = " "))
    as_root(c("apt-get", "install", "-y", "-qq", "--no-install-recommends", wanted, ">/dev/null"))
  }
}

writable_library <- function() {
  ok <- .libPaths()[file.access(.libPaths(), 2) == 0]
  if (length(ok)) {
    return(ok[1])
  }
  own <- Sys.getenv("R_LIBS_USER", file.path("~", "R", "library"))
  dir.create(own, recursive = TRUE, showWarnings = FALSE)
  .libPaths(c(own, .libPaths()))
  own
}
install_from_cran <- function() {
  missing <- still_missing()
  if (!nrow(missing)) {
    return(invisible())
  }
  if (identical(unname(getOption("repos")["CRAN"]), "@CRAN@")) utils::chooseCRANmirror(ind = 1, local.only = TRUE)
  library_path <- writable_library()
  say("installing from CRAN into ", library_path, ": ", paste(missing$package, collapse = " "))
  utils::install.packages(missing$package,
    lib = library_path, quiet = TRUE,
    Ncpus = max(1, parallel::detectCores())
  )
}

install_from_debian()
install_from_cran()
left <- still_missing()
if (nrow(left)) {
  say(
    "could not install ", paste(left$package, left$version, collapse = ", "),
    ". Install these by hand (install.packages()) and try again."
  )
  quit(status = 1)
}
tools_left <- program_missing()
if (length(tools_left)) {
  say("not here, so what needs them is skipped: ", paste(names(tools_left), collapse = ", "))
}
say("everything for '", paste(levels_wanted, collapse = " "), "' is in place")
