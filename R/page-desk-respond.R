# What the desk answers to a request.

respond_at_desk <- function(desk, request) {
  way <- address_parts(request)[-1]
  of_tray <- length(way) >= 3 && way[1] == "tray"
  tray <- if (of_tray) desk$trays[[way[2]]]
  if (of_tray && is.null(tray)) {
    return(reply_text(404L, "this is not on the desk any more: drop it again"))
  }
  what <- paste(request$REQUEST_METHOD, paste(if (of_tray) way[-(1:2)] else way, collapse = "/"))
  typed <- function() form_values(rawToChar(request$rook.input$read()))
  tryCatch(
    {
      if (of_tray && way[3] == "board") {
        return(respond_on_board(desk, tray, request, way[-(1:3)]))
      }
      values <- form_values(request$QUERY_STRING)
      switch(what,
        "GET " = reply_desk(desk, desk_home(desk)),
        "GET plan" = reply_desk(desk, plan_page(desk, plan_fields(values), typed_in(values, "in")), title = "A plan"),
        "POST save" = save_plan(desk, typed()),
        "POST take" = take_form(desk, request),
        "POST tray" = reply_json(list(tray = new_tray(desk)$id)),
        "POST piece" = take_piece(desk, tray, request, values),
        "GET read" = reply_reading(desk, tray, values),
        "GET answer" = reply_verdicts(desk, tray, said_of_values(values)),
        "POST out" = leave_out(desk, tray, typed()),
        "POST run" = run_tray(desk, tray, typed()),
        "POST beside" = keep_beside(desk, tray, typed()),
        "POST keep" = keep_tray(desk, tray, typed()),
        "GET report.html" = ,
        "GET report.md" = ,
        "GET picture.png" = ,
        "GET layout.yml" = ,
        "GET study.tar.gz" = send_file(desk, tray, said_of_values(values), way[3]),
        reply_text(404L, "nothing here")
      )
    },
    honestmargin_error = function(e) {
      if (identical(request$HTTP_ACCEPT, "application/json")) {
        reply_json(list(problem = conditionMessage(e)))
      } else {
        reply_desk(desk, desk_problem(e), 422L)
      }
    },
    error = function(e) reply_text(500L, paste("internal error (please report it):", conditionMessage(e)))
  )
}

typed_in <- function(values, name) trimws(empty_to(unname(values[names(values) == name]), "")[1])

# those of a plan that are filled in
plan_fields <- function(values) values[names(values) != "in" & nzchar(trimws(values))]

#' A page of the desk
#' @param content List of tags.
#' @noRd
reply_desk <- function(desk, content, status = 200L, title = "Honest Margin") {
  tags <- htmltools::tags
  nonce <- random_key()
  page <- paste0(
    "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">",
    as.character(htmltools::tagList(
      tags$meta(name = "viewport", content = "width=device-width, initial-scale=1"),
      tags$link(rel = "icon", href = "data:,"), tags$title(title),
      tags$style(page_file("report", "report.css")), tags$style(page_file("desk", "desk.css"))
    )),
    "</head><body><nav class=\"top\"><a href=\"/", desk$key, "/\">Desk</a></nav>",
    as.character(tags[["main"]](content)), as.character(tags$script(nonce = nonce, page_file("desk", "desk.js"))),
    "</body></html>"
  )
  # figures and the grid have styles of their own, which nothing can be sent away by
  reply(status, "text/html; charset=utf-8", page, paste0(
    "default-src 'none'; style-src 'unsafe-inline'; script-src 'nonce-", nonce, "'; connect-src 'self'; ",
    "img-src data:; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
  ))
}

tray_address <- function(desk, tray, page) paste0("/", desk$key, "/tray/", tray$id, "/", page)

go_to <- function(desk, where) {
  list(status = 303L, body = "", headers = list(
    Location = paste0("/", desk$key, "/", where), "Cache-Control" = "no-store", "Referrer-Policy" = "no-referrer"
  ))
}

desk_problem <- function(e) {
  tags <- htmltools::tags
  list(tags$h1("This cannot be done"), problem_card(e), tags$p("Go back, and change it."))
}

problem_card <- function(e) {
  lines <- strsplit(conditionMessage(e), "\n", fixed = TRUE)[[1]]
  htmltools::tags$div(class = "card problem", role = "alert", lapply(lines, htmltools::tags$p))
}

#' What a form sends: files, a path on this machine, or a table that was pasted
#' @noRd
take_form <- function(desk, request) {
  sent <- form_sent(request)
  path <- trimws(plain_text(empty_to(sent$said$path, "")))
  if (nzchar(path)) {
    if (desk$share) abort_input("a desk that is shared opens no path of this machine", NULL, "drop the files")
    return(go_to(desk, paste0("tray/", tray_of_paths(desk, path.expand(path))$id, "/read")))
  }
  files <- sent$files
  pasted <- empty_to(sent$said$pasted, "")
  if (!length(files) && !nzchar(trimws(pasted))) {
    abort_input("nothing was given", NULL, "choose files, name a path, or paste a table")
  }
  tray <- new_tray(desk)
  for (file in files) {
    # several of one field come together
    for (i in seq_along(file$name)) {
      add_piece(tray, file$name[i], 0, readBin(file$datapath[i], "raw", file.size(file$datapath[i])))
    }
  }
  if (!length(files)) add_piece(tray, "pasted.csv", 0, charToRaw(pasted))
  go_to(desk, paste0("tray/", tray$id, "/read"))
}

take_piece <- function(desk, tray, request, values) {
  at <- suppressWarnings(as.numeric(values[["at"]]))
  if (!isTRUE(tray$own) || is.na(at)) abort_input("a piece needs its tray, its name and where it begins")
  reply_json(list(have = add_piece(tray, values[["name"]], at, request$rook.input$read())))
}

reply_reading <- function(desk, tray, values) {
  said <- said_of_values(values)
  # what was chosen stands in the address as what it says
  if (any(startsWith(names(values), "choice."))) {
    return(go_to(desk, address_of_said(paste0("tray/", tray$id, "/read"), said)))
  }
  if (!length(said)) said <- said_beside(tray)
  reply_desk(desk, reading_page(desk, tray, said, open_tray(desk, tray, said)), title = tray_name(tray))
}

reply_verdicts <- function(desk, tray, said) {
  verdicts <- weigh_tray(desk, tray, said)
  if (inherits(verdicts, "error")) {
    return(reply_desk(desk, reading_page(desk, tray, said, verdicts), title = tray_name(tray)))
  }
  tray <- note_tried(desk, tray, said)
  reply_desk(desk, answer_page(desk, tray, said, with_tried(verdicts, tray)), title = tray_name(tray))
}

#' Verdicts that say what was tried since the first of them
#' @noRd
with_tried <- function(verdicts, tray) {
  changes <- tried_words(tray)
  if (length(changes)) {
    found <- new_finding("warning", "tried_after", n = count_of(length(changes), "change"), changes = changes)
    attr(verdicts, "findings") <- bind_findings(attr(verdicts, "findings"), found)
  }
  verdicts
}

# a pass is left out with its reason, which stays with it
leave_out <- function(desk, tray, values) {
  said <- said_of_values(values)
  pass <- typed_in(values, "pass")
  reason <- typed_in(values, "reason")
  if (!nzchar(pass) || !nzchar(reason)) {
    abort_input("a pass is left out with a reason", pass, "choose the pass, and write why it does not count")
  }
  tray$reasons[[pass]] <- reason
  put_tray(desk, tray)
  said$out <- union(said$out, pass)
  go_to(desk, address_of_said(paste0("tray/", tray$id, "/answer"), said))
}

# as a study of its own, in a folder of this machine
keep_tray <- function(desk, tray, values) {
  said <- said_of_values(values)
  folder <- typed_in(values, "folder")
  if (desk$share) abort_input("a desk that is shared writes nothing on this machine", NULL, "download the study")
  if (!nzchar(folder)) abort_input("which folder?", NULL, "name one that does not exist yet")
  folder <- path.expand(folder)
  study_of_tray(desk, tray, said, folder)
  go_to(desk, paste0("tray/", tray_of_paths(desk, folder)$id, "/read"))
}

# what was settled, beside the table, so that nobody is asked again
keep_beside <- function(desk, tray, values) {
  if (desk$share || isTRUE(tray$own)) {
    abort_input("there is no place beside what was dropped", NULL, "download the layout, and put it beside the table")
  }
  said <- said_of_values(values)
  yaml::write_yaml(layout_of_said(said), layout_beside(paths_of_tray(tray)))
  go_to(desk, address_of_said(paste0("tray/", tray$id, "/read"), said))
}

study_of_tray <- function(desk, tray, said, folder) {
  verdicts <- weigh_tray(desk, tray, said)
  if (inherits(verdicts, "error")) stop(verdicts)
  x <- what_was_weighed(verdicts)
  if (is_study(x)) {
    if (!is.null(x$sealed) || file.exists(file.path(x$folder, "study.yml"))) {
      abort_input("this is a study already", x$folder, "open it, or copy its folder")
    }
    desk$opening(paths_of_tray(tray), list(baseline = said$baseline, save = folder))
  } else {
    keep_readings(x, folder, verdicts$baseline[1], worth_said(said$worth))
  }
}

#' What is downloaded: of what is shown, with what was tried
#' @noRd
send_file <- function(desk, tray, said, name) {
  path <- tempfile("send-", desk$folder, sub("^[^.]*", "", name))
  on.exit(unlink(path, recursive = TRUE))
  if (name == "layout.yml") {
    yaml::write_yaml(layout_of_said(said), path)
  } else if (name == "study.tar.gz") {
    folder <- tempfile("study-", desk$folder)
    on.exit(unlink(folder, recursive = TRUE), add = TRUE)
    study_of_tray(desk, tray, said, folder)
    withr::with_dir(folder, utils::tar(path, ".", compression = "gzip", tar = "internal"))
  } else {
    verdicts <- weigh_tray(desk, tray, said)
    if (inherits(verdicts, "error")) stop(verdicts)
    verdicts <- with_tried(verdicts, note_tried(desk, tray, said))
    if (name == "picture.png") {
      save_figure(registered("picture", "change")$draw(verdicts), path)
    } else {
      write_report(verdicts, path)
    }
  }
  out <- reply(200L, "application/octet-stream", readBin(path, "raw", file.size(path)))
  out$headers[["Content-Disposition"]] <- paste0("attachment; filename=\"honestmargin-", name, "\"")
  out
}

#' The board of a study that lies on the desk: the same page, below the address of its tray
#' @param rest What follows in the address.
#' @noRd
respond_on_board <- function(desk, tray, request, rest) {
  if (!length(rest) && !endsWith(request$PATH_INFO, "/")) {
    return(go_to(desk, paste0("tray/", tray$id, "/board/")))
  }
  board <- board_of_tray(desk, tray)
  # an environment of its own, since a request is one
  below <- as.environment(as.list(request))
  below$PATH_INFO <- paste0("/", board$key, "/", paste(rest, collapse = "/"))
  respond(board, below)
}

board_of_tray <- function(desk, tray) {
  if (is.null(desk$boards[[tray$id]])) {
    folder <- folder_of(paths_of_tray(tray))
    read_plan(folder)
    desk$boards[[tray$id]] <- new_board(folder, desk$key, FALSE)
  }
  desk$boards[[tray$id]]
}

#' Start the run of a plan, whose commands were shown on the page that asks for it
#' @noRd
run_tray <- function(desk, tray, values) {
  if (isTRUE(tray$own)) {
    abort_input("a study that was dropped runs nothing", NULL, "look at its plan, and name its folder on this machine")
  }
  board <- board_of_tray(desk, tray)
  shown <- typed_in(values, "shown")
  if (!identical(shown, plan_mark(board$folder))) {
    abort_input("the plan was changed since it was shown", board$folder, "look at its commands again")
  }
  board$may_run <- TRUE
  board$shown <- shown
  reply_go(board)
  go_to(desk, paste0("tray/", tray$id, "/board/"))
}
