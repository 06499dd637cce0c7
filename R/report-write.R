# The report: one HTML file that can be sent, printed and opened without a network.

#' Write the report
#'
#' @param x A study, a readings table, what [weigh()] made of one, or a search ([read_search()]).
#' @param path Where to write it. An ending of `.md` gives Markdown for a forum post (the answer, the grid, the
#'   sentences and what to keep in mind), `.pdf` the page as a browser of this machine prints it, all else HTML.
#' @param ... Passed to [weigh()]: `baseline`, `worth` and so on.
#' @return `path`, invisibly. The file opens with the answer in one sentence per
#'   workload; figures, verdicts, readings, outcomes, conditions and methods
#'   follow. One arm alone is described, not judged (see [describe_passes()]). It needs no other file and no network.
#' @section Errors: As [weigh()]; `honestmargin_error_stuck` when the file cannot
#'   be written (nothing is left half-written).
#' @export
#' @examples
#' scores <- data.frame(arm = c("off", "on"), value = c(100, 104, 101, 104, 99, 103, 100, 103))
#' write_report(scores, tempfile(fileext = ".html"), baseline = "off", worth = 2)
write_report <- function(x, path, ...) {
  checkmate::assert_string(path)
  before <- options(plain_numbers)
  on.exit(options(before))
  form <- report_form(path)
  if (form == "md") {
    if (inherits(x, "honestmargin_search")) {
      abort_input(
        "a search that compares nothing yet has no report in Markdown", path,
        "print it for its text, or write it as .html"
      )
    }
    lines <- markdown_lines(weighed(x, ...))
    return(invisible(write_whole(path, function(to) writeLines(lines, to, useBytes = TRUE))))
  }
  page <- if (inherits(x, "honestmargin_search")) {
    search_page(x)
  } else if (is_study(x) && is_together(x$plan)) {
    screen_page(x)
  } else if (!inherits(x, "honestmargin_verdicts") && has_one_arm(x)) {
    description_page(describe_passes(x), x)
  } else {
    report_page(weighed(x, ...))
  }
  save <- function(to) htmltools::save_html(page, to, background = "white", libdir = NULL)
  write_whole(path, if (form == "html") {
    save
  } else {
    function(to) {
      html <- tempfile(fileext = ".html")
      on.exit(unlink(html))
      save(html)
      print_page(html, to)
    }
  })
}

report_form <- function(path) {
  ending <- tolower(sub("^.*[.]", "", basename(path)))
  if (grepl(".", basename(path), fixed = TRUE) && !ending %in% c("html", "htm", "md", "pdf")) {
    abort_usage(
      paste0("a report is written as .html, .md or .pdf, not as '", basename(path), "'"),
      todo = "name a file that ends so"
    )
  }
  if (ending %in% c("md", "pdf")) ending else "html"
}

report_page <- function(verdicts) {
  labels <- labels_of(verdicts)
  x <- what_was_weighed(verdicts)
  study <- is_study(x)
  limiting <- asked_by_report(verdicts, "limiting")
  limited <- limiting_sentences(if (!is.null(limiting)) plain_table(limiting), labels)
  title <- if (nzchar(labels$question)) labels$question else "Does it differ by more than the noise?"
  # the words are found while the figures are drawn
  words <- meanwhile(function() {
    firm <- asked_by_report(verdicts, "firm")
    list(
      before = list(
        report_opening(title, verdicts, labels, limited, firm),
        report_findings(findings(verdicts), check_passes(verdicts)),
        report_answer(asked_by_report(verdicts, "blind")),
        if (study) report_search(x$search),
        if (study && is_screen(x$plan)) report_screen(weigh_screen(x))
      ),
      after = list(
        report_verdicts(verdicts, labels),
        report_answer(firm),
        report_answer(asked_by_report(verdicts, "sources")),
        report_batches(verdicts),
        report_answer(limiting),
        report_outcomes(verdicts, labels),
        report_answer(asked_by_report(verdicts, "loops")),
        report_answer(asked_by_report(verdicts, "events")),
        report_readings(verdicts),
        if (study) report_seal(x, attr(verdicts, "otherwise"), labels),
        if (study) report_conditions(x),
        report_methods(verdicts), report_carried(verdicts)
      )
    )
  })
  overall <- asked_by_report(verdicts, "overall")
  figures <- drawn_figures(verdicts, overall)
  words <- words()
  do.call(page_of, c(
    list(title), words$before,
    list(report_figures(figures), report_answer(overall, over_all_pictures(figures))), words$after
  ))
}

# one page, whatever stands on it
page_of <- function(title, ...) {
  tags <- htmltools::tags
  parts <- lapply(list(...), with_address)
  htmltools::tagList(
    tags$head(
      tags$title(title), tags$meta(name = "viewport", content = "width=device-width, initial-scale=1"),
      htmltools::includeCSS(system.file("report", "report.css", package = "honestmargin"))
    ),
    tags[["main"]](
      with_contents(parts),
      tags$footer(paste0(
        "Honest Margin ", package_version_text(), ", written ", format(Sys.time(), "%Y-%m-%d %H:%M %Z")
      ))
    )
  )
}

is_section <- function(part) inherits(part, "shiny.tag") && part$name == "section"
heading_of <- function(section) paste(unlist(section$children[[1]]$children), collapse = "")

# each section has an address of its own, so that it can be pointed at
with_address <- function(part) {
  if (is_section(part)) {
    part$attribs$id <- gsub("^-|-$", "", gsub("[^a-z0-9]+", "-", tolower(heading_of(part))))
  }
  part
}

# after the opening, what else there is
with_contents <- function(parts) {
  tags <- htmltools::tags
  sections <- Filter(is_section, parts)
  if (length(sections) < 3) {
    return(parts)
  }
  links <- lapply(sections, function(s) tags$a(href = paste0("#", s$attribs$id), heading_of(s)))
  c(parts[1], list(tags$nav(class = "contents", `aria-label` = "contents", links)), parts[-1])
}
