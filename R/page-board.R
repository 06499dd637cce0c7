# The page of the board: what it is made of before anything is filled in.

#' @param nonce Marks the page's own style and script for the browser; nothing else may run.
#' @param parts From `board_parts()`: what stands in it when it is first shown.
#' @noRd
board_page <- function(title, nonce, parts) {
  tags <- htmltools::tags
  own <- function(file) page_file("board", file)
  slot <- function(name, ...) tags$section(id = name, htmltools::HTML(empty_to(parts[[name]], "")), ...)
  page <- htmltools::tagList(
    tags[["main"]](
      slot("head"), tags$p(id = "contact", role = "status", hidden = NA),
      tags$div(
        class = "two",
        tags$div(slot("card", `data-question` = parts$question), slot("progress"), slot("latest")),
        tags$div(slot("figure"), slot("warnings"))
      ),
      # without the script the card is a form as any other, and what waits for nobody looks again by itself
      if (!nzchar(parts$question)) tags$noscript(htmltools::HTML("<meta http-equiv=\"refresh\" content=\"5\">"))
    ),
    tags$script(nonce = nonce, own("board.js"))
  )
  paste0(
    "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">",
    as.character(htmltools::tagList(
      tags$meta(name = "viewport", content = "width=device-width, initial-scale=1"),
      tags$link(rel = "icon", href = "data:,"), tags$title(title), tags$style(nonce = nonce, own("board.css"))
    )),
    "</head><body>", as.character(page), "</body></html>"
  )
}

# a style or a script of a page, as it stands in it
page_file <- function(folder, file) {
  htmltools::HTML(paste(readLines(system.file(folder, file, package = "honestmargin")), collapse = "\n"))
}

#' The parts of the page as they stand, each a piece of HTML
#' @param pulse From `read_pulse()`. @param runner What the board knows of a run it started: a list `may` (whether it
#'   may start one), `said` (last line of one that ended). @param picture From `board_picture()`, or `NULL`.
#' @return A list of texts: `head`, `card`, `question` (its number, or empty), `progress`, `latest`, `figure`,
#'   `warnings`.
#' @noRd
board_parts <- function(pulse, runner, picture = NULL) {
  html <- function(...) as.character(htmltools::tagList(...))
  list(
    head = html(board_head(pulse)), card = html(board_card(pulse, runner)),
    question = as.character(empty_to(pulse$question$id, "")), progress = html(board_progress(pulse)),
    latest = html(board_latest(pulse)),
    figure = if (nzchar(empty_to(picture$figure, ""))) picture$figure else html(nothing_yet()),
    warnings = empty_to(picture$warnings, "")
  )
}

nothing_yet <- function() htmltools::tags$p(class = "small", "Each reading appears here as it arrives.")

withheld_note <- function() {
  htmltools::tags$p(
    class = "small",
    "Arms, readings and sensors are withheld until every pair is judged, so that nobody knows which is which."
  )
}

board_head <- function(pulse) {
  tags <- htmltools::tags
  list(
    tags$h1(plan_title(pulse$plan)),
    tags$p(
      class = paste("state", board_state(pulse)),
      switch(board_state(pulse),
        running = "running", asks = "waits for you", idle = "no run is active",
        over = if (is_search(pulse$plan)) "the search is over" else "all passes are done"
      )
    )
  )
}

board_state <- function(pulse) {
  if (pulse$running) {
    if (is.null(pulse$question)) "running" else "asks"
  } else if (pulse$over) {
    "over"
  } else {
    "idle"
  }
}

board_progress <- function(pulse) {
  tags <- htmltools::tags
  p <- pulse$progress
  open_ended <- is_search(pulse$plan)
  now <- pulse$now
  next_ones <- utils::head(pulse$due, 3)
  list(
    if (!open_ended) tags$progress(value = p$done, max = max(1, p$planned)),
    tags$p(paste0(
      if (open_ended) count_of(p$done, "pass", "passes") else paste0(p$done, " of ", p$planned, " passes"),
      if (p$seconds > 0) paste0(", ", long_words(p$seconds), " run"),
      if (!open_ended && isTRUE(p$left_s > 0)) paste0(", about ", long_words(p$left_s), " left")
    )),
    if (!is.null(now)) {
      tags$p(class = "now", paste0("Now ", pass_words(pass_facts(now$pass, pulse$plan)), ", ", clock_words(now$for_s)))
    },
    if (NROW(now$sensors)) {
      tags$p(class = "sensors", lapply(seq_len(nrow(now$sensors)), function(i) {
        s <- now$sensors[i, ]
        tags$span(series_words(s$series), " ", tags$b(paste(show_number(s$value, 3), s$unit)))
      }))
    },
    if (nrow(next_ones)) {
      tags$p(class = "small", "Then: ", paste0(
        vapply(seq_len(nrow(next_ones)), function(i) {
          paste0(turn_words(next_ones[i, ]), " ", next_ones$arm[i], " ", next_ones$workload[i])
        }, ""),
        collapse = "; "
      ))
    }
  )
}

board_latest <- function(pulse) {
  tags <- htmltools::tags
  if (!length(pulse$latest)) {
    return(NULL)
  }
  list(tags$h2("The last passes"), tags$ul(lapply(pulse$latest, function(one) {
    outcome <- if (identical(one$why$code, "not_held")) "failed" else one$pass$outcome
    why <- c(if (!is.null(one$why)) code_text(one$why), stats::na.omit(one$pass$note))
    words <- pass_line(one$pass, pulse$plan, outcome, one$readings, why)
    tags$li(class = if (!outcome %in% "ok") "fell", plain_text(paste(one$pass$pass, words)))
  })))
}
