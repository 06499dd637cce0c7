# What runs beside a pass: the frame probe inside the program, the recorder beside it.

#' Path of a helper that the package built
#' @param name `probe.so` or `recorder`. @return `""` where it was not built.
#' @noRd
helper_path <- function(name) system.file("helpers", name, package = "honestmargin")

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

#' Environment that makes programs note their frames
#'
#' Added to what the tester has set already, never in its place.
#' @param stem Where to write; each program makes a file "STEM.PID".
#' @return Named character.
#' @noRd
probe_environment <- function(stem) {
  probe <- preloadable(need_helper("probe.so", "the frame probe"))
  joined <- function(variable, value) {
    before <- Sys.getenv(variable)
    if (nzchar(before)) paste(value, before, sep = ":") else value
  }
  c(
    HONESTMARGIN_PROBE = stem, LD_PRELOAD = joined("LD_PRELOAD", probe),
    # the Vulkan loader's own variables (LoaderLayerInterface.md of its sources)
    VK_ADD_LAYER_PATH = joined("VK_ADD_LAYER_PATH", dirname(probe)),
    VK_INSTANCE_LAYERS = joined("VK_INSTANCE_LAYERS", "VK_LAYER_HONESTMARGIN_probe")
  )
}

# In LD_PRELOAD spaces and colons part names, so a library below such a folder is
# taken from a copy.
preloadable <- function(probe) {
  if (!grepl("[ :]", probe)) {
    return(probe)
  }
  file.copy(file.path(dirname(probe), c("probe.so", "probe_layer.json")), tempdir(), overwrite = TRUE)
  file.path(tempdir(), "probe.so")
}

#' Start the recorder
#'
#' @param sensors File for the sensors, or `NULL`.
#' @param rate Samples a second.
#' @param commands Named character: further sensors, called "quantity part [unit]".
#' @param socket,beacon Socket to listen on and file for its lines, or `NULL`.
#' @param root Put before /proc and /sys.
#' @return A processx process, ready.
#' @noRd
start_recorder <- function(sensors = NULL, rate = 5, commands = character(), socket = NULL, beacon = NULL,
                           root = NULL) {
  given <- c(
    "--sensors" = sensors, "--rate" = if (!is.null(sensors)) format(rate), "--root" = root,
    "--socket" = socket, "--beacon" = beacon
  )
  asked <- if (length(commands)) paste0(names(commands), "=", commands)
  args <- c(rbind(names(given), unname(given)), if (length(asked)) c(rbind("--command", asked)))
  process <- processx::process$new(
    need_helper("recorder", "the recorder"), args,
    stdout = "|", stderr = "|", cleanup_tree = TRUE
  )
  process$poll_io(3000)
  if (!process$is_alive()) {
    abort_stuck(
      paste("the recorder did not start:", trimws(process$read_all_error())), NULL, "can the folder be written?"
    )
  }
  process
}

end_recorder <- function(process) {
  if (process$is_alive()) {
    process$signal(tools::SIGTERM)
    process$wait(3000)
    process$kill_tree()
  }
}

#' Send lines to the recorder of a running pass
#' @return `FALSE` where nobody listens.
#' @noRd
tell_beacon <- function(socket, lines) {
  if (!file.exists(socket)) {
    return(FALSE)
  }
  line <- tryCatch(processx::conn_connect_unix_socket(socket), error = function(e) NULL)
  if (is.null(line)) {
    return(FALSE)
  }
  on.exit(close(line))
  processx::conn_write(line, paste0(lines, "\n", collapse = ""))
  TRUE
}
