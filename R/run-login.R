# Going on by itself after the next login: one file of the desktop's own kind
# (freedesktop.org, Desktop Application Autostart), which can be taken away again.

login_file <- function(folder) {
  base <- Sys.getenv("XDG_CONFIG_HOME", file.path(Sys.getenv("HOME"), ".config"))
  name <- paste0("honestmargin-", substr(cli::hash_sha256(normalizePath(folder)), 1, 12), ".desktop")
  file.path(base, "autostart", name)
}

login_lines <- function(folder) {
  # quoting of the Exec key: within double quotes, with these four escaped
  path <- gsub("([\"`$\\\\])", "\\\\\\1", normalizePath(folder))
  c(
    "[Desktop Entry]", "Type=Application", "Name=Honest Margin goes on", "Terminal=true",
    paste0("Exec=honestmargin run \"", path, "\"")
  )
}

set_login <- function(folder, on) {
  file <- login_file(folder)
  if (!on) {
    unlink(file)
    return(invisible(file))
  }
  dir.create(dirname(file), recursive = TRUE, showWarnings = FALSE)
  write_whole(file, function(to) writeLines(login_lines(folder), to))
}
