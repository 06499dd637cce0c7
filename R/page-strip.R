# Every reading so far, drawn as the page needs it: small, quick, and again with each pass.

#' @param look From `look_now()`. @return A list of HTML texts: `figure`, `warnings`.
#' @noRd
board_picture <- function(look) {
  tags <- htmltools::tags
  if (is.null(look)) {
    return(list(figure = "", warnings = ""))
  }
  study <- look$study
  # until it compares, a search has nothing to hold against each other
  strips <- if (any(study$passes$role == "counted")) strip_data(study, look$seen)
  found <- findings(study)
  found <- found[found$severity != "note", , drop = FALSE]
  list(
    figure = as.character(htmltools::tagList(
      board_ladder(study$search), lapply(strips, board_strip),
      if (NROW(look$seen)) {
        tags$p(class = "small", paste(
          "These are looks at a study that runs: the intervals allow for looking at any time. At its planned end it is",
          "judged once, by narrower ones. Ending it early because of what stands here needs --until-settled."
        ))
      },
      if (any(study$passes$role == "counted")) tags$p(class = "small", read_lines(study))
    )),
    warnings = as.character(htmltools::tagList(if (nrow(found)) {
      list(tags$h2("What to keep in mind"), tags$ul(lapply(unique(found$message), tags$li)))
    }))
  )
}

# the values of a search, and how each fared
board_ladder <- function(search) {
  tags <- htmltools::tags
  if (is.null(search) || !any(search$steps$role %in% search_roles)) {
    return(NULL)
  }
  rungs <- search_data(search)
  words <- attr(rungs, "words")
  list(
    tags$p(class = "large", attr(rungs, "said")[1]), lapply(attr(rungs, "said")[-1], tags$p),
    tags$table(class = "strip", lapply(seq_len(nrow(words)), function(i) {
      tags$tr(
        tags$th(scope = "row", arm_names(words$arm[i], attr(rungs, "labels"))),
        tags$td(class = if (words$held[i]) "negligible" else "loss", words$words[i])
      )
    }))
  )
}

board_strip <- function(strip) {
  tags <- htmltools::tags
  tags$figure(
    tags$figcaption(strip$title),
    tags$table(
      class = "strip",
      lapply(strip$arms, function(arm) {
        tags$tr(
          tags$th(scope = "row", arm$name),
          tags$td(class = "points", htmltools::HTML(points_picture(arm, strip))),
          tags$td(class = "said", look_words(arm))
        )
      })
    ),
    tags$p(class = "axis", tags$span(number_words(strip$from, strip$unit)), tags$span(
      number_words(strip$to, strip$unit)
    ))
  )
}

# in shares of the width, so that points stay round however wide the page is
points_picture <- function(arm, strip) {
  at <- function(v) show_exact(round(2 + 96 * (v - strip$from) / max(strip$to - strip$from, 1e-12), 2))
  said <- paste0(
    arm$name, ": ", if (length(arm$value)) paste(four_digits(arm$value), collapse = ", ") else "nothing yet"
  )
  newest <- seq_along(arm$value) == arm$latest
  paste0(
    "<svg role=\"img\" aria-label=\"", htmltools::htmlEscape(said, attribute = TRUE),
    "\"><line x1=\"0\" x2=\"100%\" y1=\"50%\" y2=\"50%\"/>",
    if (length(arm$value)) {
      paste0(
        "<circle cx=\"", at(arm$value), "%\" cy=\"50%\" r=\"", ifelse(newest, 7, 5.5), "\" class=\"",
        ifelse(newest, "newest", ""), "\"/>",
        collapse = ""
      )
    },
    "</svg>"
  )
}

look_words <- function(arm) {
  tags <- htmltools::tags
  fell <- if (arm$fell > 0) paste0(arm$fell, " gave no value")
  more <- if (arm$left_out > 0) paste0(arm$left_out, " earlier ones not drawn")
  row <- arm$seen
  if (is.null(row)) {
    return(list(if (arm$baseline) "baseline", tags$div(class = "small", paste(c(fell, more), collapse = "; "))))
  }
  known <- is.finite(row$lower)
  list(
    tags$b(class = verdict_family(row$verdict), if (known) shown_change(row) else "too few yet"),
    if (known) {
      tags$div(paste0("(", shown_interval(row), ") ", if (row$state == "settled") row$verdict else "not settled"))
    },
    if (length(c(fell, more))) tags$div(class = "small", paste(c(fell, more), collapse = "; "))
  )
}
