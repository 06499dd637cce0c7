# The recorder beside a workload: it samples sensors and takes the lines of a beacon.

#' Path of a helper that the package built
#' @param name `probe.so` or `recorder`. @return `""` where it was not built.
#' @noRd
helper_path <- function(name) {
  # every pass asks, and finding it takes as long as looking at the machine
  made_once(paste("helper", name), function() system.file("helpers", name, package = "honestmargin"))
}

need_helper <- function(name, what) {
  path <- helper_path(name)
  if (!nzchar(path)) {
    abort_stuck(
      paste(what, "is not here"), NULL,
      "it is built with the package on Linux; elsewhere write a frame log to {log} instead"
    )
  }
  path
}

#' Start the recorder
#'
#' @param sensors File for the sensors, or `NULL`.
#' @param rate Samples a second.
#' @param commands Named character: further sensors, called "quantity part [unit]".
#' @param socket,beacon Socket to listen on and file for its lines, or `NULL`.
#' @param root Put before /proc and /sys. @param wd Where the commands run.
#' @return A processx process, ready.
#' @noRd
start_recorder <- function(sensors = NULL, rate = 5, commands = character(), socket = NULL, beacon = NULL,
                           root = NULL, wd = NULL) {
  given <- c(
    "--sensors" = sensors, "--rate" = if (!is.null(sensors)) show_exact(rate), "--root" = root,
    "--socket" = socket, "--beacon" = beacon
  )
  asked <- if (length(commands)) paste0(names(commands), "=", commands)
  args <- c(rbind(names(given), unname(given)), if (length(asked)) c(rbind("--command", asked)))
  process <- processx::process$new(
    need_helper("recorder", "the recorder"), args,
    stdout = "|", stderr = "|", cleanup_tree = length(commands) > 0, wd = wd, env = environment_for()
  )
  # it says so when it listens; on the other line, why it cannot begin
  until <- monotonic_s() + 30
  while (!length(process$read_output_lines(1)) && process$is_alive() && monotonic_s() < until) {
    process$poll_io(200)
    process$wait(5)
  }
  if (!process$is_alive()) {
    abort_stuck(
      paste("the recorder did not start:", trimws(process$read_all_error())), NULL, "can the folder be written?"
    )
  }
  process
}

# only with further commands has it children; looking for any asks every process of the machine
end_recorder <- function(process, children = TRUE) {
  if (process$is_alive()) {
    process$signal(tools::SIGTERM)
    process$wait(3000)
    if (children || process$is_alive()) process$kill_tree()
  }
}

# By itself where the workload is started from here and the helper is there; a
# workload that is played by hand may run on another machine.
register("source", "sensors",
  rank = 4,
  wanted = function(workload, plan) {
    plan$sensors$rate > 0 && nzchar(helper_path("recorder")) && (!is.null(workload$command) || plan$sensors$asked)
  },
  begin = function(watch) {
    path <- paste0(watch$stem, ".sensors")
    unlink(path)
    watch$recorder[c("sensors", "rate", "commands")] <- list(
      path, watch$plan$sensors$rate, vapply(watch$plan$sensors$commands, as.character, "")
    )
    watch
  },
  end = function(watch, before, seconds) {
    path <- paste0(watch$stem, ".sensors")
    on.exit(unlink(path))
    list(sensors = if (file.exists(path)) sampled(path, watch$started_s))
  }
)

sampled <- function(path, zero_s) {
  rows <- data.table::fread(
    path,
    header = TRUE, sep = ",", data.table = FALSE, fill = TRUE, showProgress = FALSE, check.names = FALSE
  )
  if (!enough_samples(rows$time_s)) {
    return(NULL)
  }
  rows$time_s <- rows$time_s - zero_s
  # a sensor that never gave a value is none
  rows[vapply(rows, function(v) is.numeric(v) && any(is.finite(v)), NA)]
}

#' What the sensors of a running pass showed last
#' @return Data frame `series`, `value`, `unit`; `NULL` where none is there yet.
#' @noRd
latest_sample <- function(path) {
  if (!file.exists(path)) {
    return(NULL)
  }
  # the last line may be half-written
  rows <- tryCatch(sampled(path, 0), error = function(e) NULL)
  if (!is.null(rows)) {
    series <- as.list(sensor_series(utils::tail(rows, 20)))
    series$time_s <- NULL
    value <- vapply(series, function(v) utils::tail(c(NA_real_, v[is.finite(v)]), 1), 1)
    series <- names(series)[!is.na(value)]
    unit <- vapply(series, function(id) empty_to(series_about(id)$unit, ""), "")
    data.frame(series = series, value = value[!is.na(value)], unit = unit, row.names = NULL)
  }
}
