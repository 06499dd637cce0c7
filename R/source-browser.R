# A browser of this machine prints a page, where there is one.

browser_names <- c("chromium", "chromium-browser", "google-chrome", "chrome", "msedge")

#' @param page,to Paths of an HTML file and of the PDF that is made of it.
#' @noRd
print_page <- function(page, to) {
  program <- Filter(nzchar, Sys.which(browser_names))
  if (!length(program)) {
    abort_stuck(
      "no browser here that can print a page", NULL, "install chromium, or open the HTML report and print it from there"
    )
  }
  profile <- tempfile("profile-")
  on.exit(unlink(profile, recursive = TRUE))
  run <- processx::run(program[[1]], c(
    "--headless", "--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", paste0("--user-data-dir=", profile), "--no-pdf-header-footer",
    paste0("--print-to-pdf=", normalizePath(to, mustWork = FALSE)), paste0("file://", normalizePath(page))
  ), error_on_status = FALSE, timeout = 120)
  if (!file.exists(to) || file.size(to) == 0) {
    abort_stuck(
      paste("the browser printed nothing:", utils::tail(strsplit(run$stderr, "\n")[[1]], 1)), NULL,
      "open the HTML report and print it from there"
    )
  }
}
