# What stands between a program and the screen: a closed lid, a compositor, what is loaded into every renderer.

#' @return Named character vector, only of what can be told: `lid` (`open`, `closed`), `compositor` (`yes`, `none`) and
#'   `drawing variables` (those that are set, or `none`).
#' @noRd
screen_snapshot <- function(lids = "/proc/acpi/button/lid") {
  lid <- list.files(lids, "^state$", recursive = TRUE, full.names = TRUE)
  drawn <- any(nzchar(Sys.getenv(c("DISPLAY", "WAYLAND_DISPLAY"))))
  c(
    lid = if (length(lid)) non_empty(sub("^state: *", "", first_word(lid[1]))),
    if (drawn) c(compositor = compositor_seen(), `drawing variables` = drawing_variables())
  )
}

# that of another machine is not a condition of this one, and may be long in answering
compositor_seen <- function(display = Sys.getenv("DISPLAY")) {
  # there everything is drawn by way of it
  if (nzchar(Sys.getenv("WAYLAND_DISPLAY"))) {
    return("yes")
  }
  seen <- if (startsWith(display, ":")) compositor_owns(display) else NA
  if (!is.na(seen)) c("none", "yes")[seen + 1]
}

# of the loader, of the renderers' library and of the Vulkan loader: they limit frames, or load what does
drawing_variables <- function() {
  set <- Sys.getenv(c(
    "LD_PRELOAD", "vblank_mode", "VK_INSTANCE_LAYERS", "VK_LOADER_LAYERS_ENABLE", "VK_LOADER_LAYERS_DISABLE"
  ))
  set <- set[nzchar(set)]
  if (length(set)) paste0(names(set), "=", set, collapse = " ") else "none"
}
