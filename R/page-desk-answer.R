# The answer on the desk: the opening of the report, and what else can be asked as tabs.

#' @param verdicts Weighed as it was said.
#' @noRd
answer_page <- function(desk, tray, said, verdicts) {
  tags <- htmltools::tags
  at <- function(page, ...) {
    address_of_said(tray_address(desk, tray, page), utils::modifyList(said, list(...)))
  }
  tab <- empty_to(said$ask, "answer")
  labels <- labels_of(verdicts)
  title <- if (nzchar(labels$question)) labels$question else tray_name(tray)
  body <- tryCatch(
    switch(tab,
      answer = report_opening(title, verdicts, labels, firm = NULL),
      figures = report_figures(drawn_figures(verdicts, NULL)),
      passes = left_out_form(desk, tray, said, verdicts),
      checks = report_findings(findings(verdicts), check_passes(verdicts)),
      more = more_questions(at),
      one_question(verdicts, tab)
    ),
    honestmargin_error = problem_card
  )
  list(
    tags$nav(class = "tabs", `aria-label` = "of this answer", lapply(names(desk_tabs), function(name) {
      tags$a(href = at("answer", ask = name), `aria-current` = if (name == tab) "page", desk_tabs[[name]])
    })),
    if (tab != "answer") tags$h1(title), body,
    if (tab == "answer") list(kept_in_mind(verdicts), settled_by(verdicts)),
    tags$section(
      class = "small", tags$h2("Take it along"),
      tags$p(lapply(names(desk_files), function(name) {
        list(tags$a(href = at(name), desk_files[[name]]), if (name != utils::tail(names(desk_files), 1)) ", ")
      })),
      if (!desk$share) keep_form(desk, tray, said, verdicts),
      tags$p(tags$a(href = at("read", ask = NULL), "Change what was read, or the question"))
    )
  )
}

desk_tabs <- c(answer = "Answer", figures = "Figures", passes = "Passes", checks = "Checks", more = "Ask more")
desk_files <- c(
  report.html = "report", report.md = "for a forum (Markdown)", picture.png = "picture",
  layout.yml = "layout of the table", study.tar.gz = "study folder"
)

# what must be kept in mind stands below the answer, each once
kept_in_mind <- function(verdicts) {
  tags <- htmltools::tags
  shown <- verdicts[verdicts$role == "primary", , drop = FALSE]
  said <- c(failure_notes(verdicts), caveats(verdicts, shown, findings(verdicts)))
  if (length(said)) tags$section(tags$h2("Keep in mind"), tags$ul(lapply(unique(said), tags$li)))
}

# what is open, and what would settle it
settled_by <- function(verdicts) {
  tags <- htmltools::tags
  rows <- plain_table(verdicts)[verdicts$role == "primary", , drop = FALSE]
  open <- rows[rows$verdict == "unclear", , drop = FALSE]
  needed <- ifelse(is.finite(open$more_passes), paste0(
    "about ", open$more_passes, " more of each arm as a fresh batch, weighed alone, settle it four times in five"
  ), "no number of such passes would settle it")
  said <- c(
    paste0(place_names(open), ", ", metric_labels(open$metric, labels_of(verdicts)), ", ", open$arm, ": ", needed,
      recycle0 = TRUE),
    next_steps(verdicts, rows, findings(verdicts))$said
  )
  if (length(said)) tags$section(tags$h2("What is open"), tags$ul(lapply(said, tags$li)))
}

# each is answered where it is asked: all at once would take long
more_questions <- function(at) {
  tags <- htmltools::tags
  asked <- Filter(function(q) is.null(q$elsewhere) && is.null(q$needs), registered("question"))
  tags$section(
    tags$h2("What else these passes can be asked"),
    tags$dl(lapply(asked, function(q) {
      list(tags$dt(tags$a(href = at("answer", ask = q$name), q$title)), tags$dd(q$about))
    }))
  )
}

one_question <- function(verdicts, question) {
  if (!question %in% names(registered("question"))) abort_input(paste0("no question '", question, "'"))
  found <- report_answer(ask_study(verdicts, question))
  if (is.null(found)) htmltools::tags$p("These passes have no answer to it.") else found
}

#' Every counted pass, each leads to leaving it out: the reason first
#' @noRd
left_out_form <- function(desk, tray, said, verdicts) {
  tags <- htmltools::tags
  x <- what_was_weighed(verdicts)
  labels <- labels_of(verdicts)
  rows <- plain_table(readings_of(x))
  arms <- unique(c(verdicts$baseline, verdicts$arm))
  judged <- rows$metric %in% verdicts$metric[verdicts$role == "primary"] & !is.na(rows$value)
  rows <- rows[judged, , drop = FALSE]
  places <- split_in_order(seq_len(nrow(rows)), rows$workload, rows$context, rows$metric)
  each <- function(at) {
    here <- rows[at, , drop = FALSE]
    tags$tr(
      tags$th(scope = "row", place_names(here[1, ]), " ", metric_labels(here$metric[1], labels)),
      tags$td(lapply(intersect(arms, here$arm), function(arm) {
        mine <- here[here$arm == arm, , drop = FALSE]
        called <- called_pass(mine)
        tags$p(tags$b(arm_names(arm, labels)), " ", lapply(seq_len(nrow(mine)), function(i) {
          list(tags$label(
            class = if (mine$role[i] == "counted") "pass" else "pass out", title = called[i],
            tags$input(type = "radio", name = "pass", value = called[i], form = "out",
              disabled = if (mine$role[i] != "counted") NA), show_exact(signif(mine$value[i], 6))
          ), " ")
        }))
      }))
    )
  }
  tags$section(
    tags$h2("Leave a pass out"),
    tags$p(
      "Choose a pass and write why it does not count.", "What is tried after the answer was seen stands in the report."
    ),
    tags$form(
      id = "out", class = "card", method = "post", action = tray_address(desk, tray, "out"),
      hidden_fields(said, "ask"),
      tags$label("Why it does not count ", tags$input(type = "text", name = "reason", required = NA, maxlength = 500)),
      tags$button(type = "submit", "Leave it out")
    ),
    tags$div(class = "scroll", tags$table(class = "passes", tags$tbody(lapply(places, each)))),
    if (length(said$out)) {
      tags$ul(lapply(said$out, function(pass) {
        back <- said
        back$out <- setdiff(said$out, pass)
        where <- address_of_said(tray_address(desk, tray, "answer"), back)
        tags$li(pass, ": ", tray$reasons[pass], " ", tags$a(href = where, "let it count again"))
      }))
    }
  )
}

keep_form <- function(desk, tray, said, verdicts) {
  tags <- htmltools::tags
  x <- what_was_weighed(verdicts)
  if (is_study(x) && file.exists(file.path(x$folder, "study.yml"))) {
    return(tags$p("A study: ", tags$code(x$folder)))
  }
  tags$form(
    class = "row", method = "post", action = tray_address(desk, tray, "keep"),
    hidden_fields(said, "ask"),
    tags$label("Keep as a study, in a new folder ", tags$input(type = "text", name = "folder", required = NA)),
    tags$button(type = "submit", class = "plain", "Keep")
  )
}
