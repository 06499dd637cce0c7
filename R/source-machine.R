# Which machine this is, which start of it, and in what state.

#' @return A list: `host`, `boot` (an id that changes with every start of the
#'   machine), `kernel`. HONESTMARGIN_BOOT names the start where the machine under
#'   test is not the one that this runs on.
#' @noRd
machine_identity <- function() {
  info <- Sys.info()
  boot <- Sys.getenv("HONESTMARGIN_BOOT", first_word("/proc/sys/kernel/random/boot_id"))
  list(host = info[["nodename"]], boot = if (nzchar(boot)) boot else "unknown", kernel = info[["release"]])
}

first_word <- function(path) {
  line <- suppressWarnings(tryCatch(readLines(path, n = 1, warn = FALSE), error = function(e) character()))
  if (length(line)) trimws(line) else ""
}

#' A snapshot of the machine
#'
#' @param variables Environment variables to note.
#' @param versions Named
#'   character: what the tester's version commands said.
#' @return Named character vector.
#' @noRd
machine_snapshot <- function(variables = character(), versions = character()) {
  info <- Sys.info()
  # those that a program finds
  found <- if (length(variables)) environment_for()
  own <- vapply(variables, function(name) if (name %in% names(found)) found[[name]] else "", "")
  c(
    host = info[["nodename"]], system = paste(info[["sysname"]], info[["release"]]),
    linux_snapshot(),
    if (length(variables)) stats::setNames(own, paste0("variable ", variables)),
    if (length(versions)) stats::setNames(versions, paste0("version ", names(versions)))
  )
}

# Where the kernel offers these as files; elsewhere there is nothing to read.
linux_snapshot <- function() {
  lines <- function(path) suppressWarnings(tryCatch(readLines(path, warn = FALSE), error = function(e) character()))
  value_of <- function(text, key) {
    hit <- grep(paste0("^", key, "\\s*:"), text, value = TRUE)
    if (length(hit)) trimws(sub("^[^:]*:", "", hit[1]))
  }
  processor <- lines("/proc/cpuinfo")
  clocks <- as.numeric(sub(".*: *", "", grep("^cpu MHz", processor, value = TRUE)))
  memory <- lines("/proc/meminfo")
  megabytes <- function(key) {
    text <- value_of(memory, key)
    if (!is.null(text)) as.character(round(as.numeric(sub(" kB", "", text)) / 1024))
  }
  load <- first_word("/proc/loadavg")
  c(
    processor = value_of(processor, "model name"),
    governor = non_empty(first_word("/sys/devices/system/cpu/cpu0/cpufreq/scaling_governor")),
    `processor clock MHz` = if (length(clocks)) as.character(round(mean(clocks))),
    `memory MB` = megabytes("MemTotal"), `memory free MB` = megabytes("MemAvailable"),
    `load 1 min` = non_empty(sub(" .*", "", load)), power_source(), screen_snapshot(), temperatures()
  )
}

#' How many processors others keep busy just now, while nothing of ours runs
#'
#' From the counts of busy and idle ticks in /proc/stat (proc(5)), over a twentieth of a second. Passes of a
#' moment follow each other faster than a machine changes, so they are not all held up for it.
#' @param every Seconds between two looks.
#' @return `NULL` in between, and where there is no such file.
#' @noRd
busy_processors <- function(every = 10) {
  if (monotonic_s() - empty_to(cache$busy_seen, -Inf) < every) {
    return(NULL)
  }
  cache$busy_seen <- monotonic_s()
  before <- stat_ticks()
  if (is.null(before)) {
    return(NULL)
  }
  Sys.sleep(0.05)
  gone <- stat_ticks() - before
  busy <- count_cores() * (1 - gone[["idle"]] / gone[["all"]])
  if (gone[["all"]] > 0) c(`processors busy` = show_exact(round(busy, 2)))
}

#' Ticks of all processors since the start of the machine: `all`, and `idle` among them
#' @return `NULL` where there is no such file.
#' @noRd
stat_ticks <- function() {
  text <- first_word("/proc/stat")
  if (!startsWith(text, "cpu ")) {
    return(NULL)
  }
  count <- as.numeric(strsplit(sub("^cpu +", "", text), " +")[[1]])[1:8]
  if (!anyNA(count)) c(all = sum(count), idle = sum(count[4:5]))
}

non_empty <- function(text) if (nzchar(text)) text

power_source <- function() {
  places <- list.files("/sys/class/power_supply", full.names = TRUE)
  mains <- Filter(function(p) first_word(file.path(p, "type")) == "Mains", places)
  battery <- Filter(function(p) first_word(file.path(p, "type")) == "Battery", places)
  c(
    `power source` = if (length(mains)) if (first_word(file.path(mains[1], "online")) == "1") "mains" else "battery",
    `battery %` = if (length(battery)) non_empty(first_word(file.path(battery[1], "capacity")))
  )
}

temperatures <- function() {
  zones <- list.files("/sys/class/thermal", pattern = "^thermal_zone", full.names = TRUE)
  degrees <- vapply(zones, function(z) suppressWarnings(as.numeric(first_word(file.path(z, "temp")))) / 1000, 1)
  names <- vapply(zones, function(z) first_word(file.path(z, "type")), "")
  ok <- is.finite(degrees)
  if (any(ok)) stats::setNames(show_exact(degrees[ok]), paste0("temperature ", names[ok], " C"))
}

#' The address under which others in the network reach this machine
#' @noRd
own_address <- function() {
  said <- suppressWarnings(tryCatch(
    system2("hostname", "-I", stdout = TRUE, stderr = FALSE),
    error = function(e) character()
  ))
  found <- grep("^[0-9]+([.][0-9]+){3}$", strsplit(paste(said, collapse = " "), " +")[[1]], value = TRUE)
  if (length(found)) found[1] else Sys.info()[["nodename"]]
}
