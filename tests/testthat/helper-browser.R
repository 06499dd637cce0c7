# Pages in headless Chromium, driven through ChromeDriver by the W3C WebDriver protocol.
need_browser <- function() {
  for (program in c("chromium", "chromedriver")) {
    if (!nzchar(Sys.which(program))) testthat::skip(paste(program, "is not here"))
  }
  testthat::skip_if_not_installed("curl")
  if (is.null(the$driver) || !the$driver$is_alive()) {
    the$driver_port <- httpuv::randomPort()
    the$driver <- processx::process$new("chromedriver", paste0("--port=", the$driver_port), cleanup_tree = TRUE)
    for (i in 1:100) if (is.null(tryCatch(web("GET", "status"), error = function(e) NULL))) Sys.sleep(0.1) else break
  }
  # a driver may be there whose browser never comes up: asked once a file, and not by every page for minutes
  if (is.null(the$browser)) {
    the$browser <- tryCatch(
      {
        opened <- open_session(withr::local_tempdir(), 1280, 800)
        if (is.null(opened$sessionId)) stop(empty_to(opened$message, "no session"))
        web("DELETE", paste0("session/", opened$sessionId))
        "comes up"
      },
      error = conditionMessage
    )
  }
  if (the$browser != "comes up") {
    testthat::skip(paste("chromium does not come up:", substr(gsub("\\s+", " ", the$browser), 1, 100)))
  }
}
empty_to <- function(x, default) if (length(x)) x else default

web <- function(method, where, body = NULL) {
  handle <- curl::new_handle(customrequest = method, timeout = 60)
  if (method == "POST") {
    curl::handle_setopt(handle, postfields = as.character(jsonlite::toJSON(
      if (length(body)) body else structure(list(), names = character()),
      auto_unbox = TRUE, null = "null"
    )))
    curl::handle_setheaders(handle, "Content-Type" = "application/json")
  }
  got <- curl::curl_fetch_memory(paste0("http://127.0.0.1:", the$driver_port, "/", where), handle)
  jsonlite::fromJSON(rawToChar(got$content), simplifyVector = FALSE)$value
}

# a window of its own; closed when the test ends
open_page <- function(address, width = 1280, height = 800, env = parent.frame()) {
  opened <- open_session(withr::local_tempdir(.local_envir = env), width, height)
  page <- paste0("session/", opened$sessionId)
  withr::defer(web("DELETE", page), envir = env)
  web("POST", paste0(page, "/url"), list(url = address))
  page
}

open_session <- function(profile, width, height) {
  options <- list(binary = Sys.which("chromium")[[1]], args = c(
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--hide-scrollbars",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    paste0("--user-data-dir=", profile), paste0("--window-size=", width, ",", height)
  ))
  if (width < 500) {
    options$mobileEmulation <- list(deviceMetrics = list(width = width, height = height, pixelRatio = 1, touch = TRUE))
  }
  web("POST", "session", list(capabilities = list(alwaysMatch = list(`goog:chromeOptions` = options))))
}

page_script <- function(page, script, ...) {
  web("POST", paste0(page, "/execute/sync"), list(script = script, args = list(...)))
}
page_text <- function(page, css = "body") {
  page_script(page, "const e = document.querySelector(arguments[0]); return e ? e.innerText : ''", css)
}
find_in_page <- function(page, css) {
  found <- web("POST", paste0(page, "/element"), list(using = "css selector", value = css))
  if (is.null(found$error)) found[[1]]
}
page_click <- function(page, css) {
  # a form that is still being sent takes no second click
  for (i in 1:50) {
    if (!isTRUE(page_script(page, "return document.querySelector('form.sent') !== null"))) break
    Sys.sleep(0.1)
  }
  web("POST", paste0(page, "/element/", find_in_page(page, css), "/click"))
}
page_type <- function(page, css, text) {
  web("POST", paste0(page, "/element/", find_in_page(page, css), "/value"), list(text = text))
}
page_fill <- function(page, css, text) {
  web("POST", paste0(page, "/element/", find_in_page(page, css), "/clear"))
  page_type(page, css, text)
}
page_picture <- function(page, path) {
  writeBin(jsonlite::base64_dec(web("GET", paste0(page, "/screenshot"))), path)
}
# until the page says so; what it says instead fails the test
page_waits_for <- function(page, pattern, css = "body", seconds = 20) {
  for (i in seq_len(seconds * 10)) {
    text <- page_text(page, css)
    # a browser that has no time for the question says so in its own way
    if (is.list(text)) text <- paste(unlist(text), collapse = " ")
    if (grepl(pattern, text)) break
    Sys.sleep(0.1)
  }
  testthat::expect_match(text, pattern)
}
