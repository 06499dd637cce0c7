# The first page of the desk: where things are dropped, and the studies of a folder.


desk_home <- function(desk) {
  tags <- htmltools::tags
  list(
    tags$h1("Is the difference larger than the noise?"),
    tags$form(
      id = "drop", class = "card", method = "post", action = paste0("/", desk$key, "/take"),
      enctype = "multipart/form-data",
      tags$p(class = "large", "Drop your files here"),
      tags$p("Tables of scores, frame logs, results, a workbook, an archive, a folder of them, or a report."),
      tags$label("Files ", tags$input(type = "file", name = "files", multiple = NA)),
      tags$label(class = "scripted", hidden = NA, "A folder ", tags$input(type = "file", id = "folder",
        webkitdirectory = NA, multiple = NA)),
      if (!desk$share) {
        tags$label("or a path on this machine ", tags$input(type = "text", name = "path", maxlength = 4000))
      },
      tags$label("or a table, pasted ", tags$textarea(name = "pasted", rows = 4, cols = 40)),
      tags$button(type = "submit", "Read it"),
      tags$progress(id = "sent", max = 1, value = 0, hidden = NA),
      tags$p(id = "problem", class = "problem", role = "alert"),
      tags$p(class = "small", "Nothing leaves this machine.")
    ),
    tags$p(tags$a(href = paste0("/", desk$key, "/plan"), "Or plan a study")),
    if (length(desk$studies)) desk_studies(desk)
  )
}

# studies of the folder that was opened, with how far each is
desk_studies <- function(desk) {
  tags <- htmltools::tags
  tags$section(
    tags$h2("Studies here"),
    tags$ul(lapply(desk$studies, function(folder) {
      tags$li(
        tags$form(
          class = "row", method = "post", action = paste0("/", desk$key, "/take"), enctype = "multipart/form-data",
          tags$input(type = "hidden", name = "path", value = folder),
          tags$button(type = "submit", class = "plain", basename(folder)), " ", study_state(folder)
        )
      )
    }))
  )
}

study_state <- function(folder) {
  tryCatch({
    pulse <- if (has_ledger(folder)) read_pulse(folder)
    title <- plan_title(read_plan(folder))
    if (is.null(pulse)) {
      paste0(title, " (no pass was run here)")
    } else {
      paste0(title, " (", pulse$progress$done, " of ", pulse$progress$planned, " passes)")
    }
  }, honestmargin_error = function(e) paste0("(", e$what, ")"))
}
