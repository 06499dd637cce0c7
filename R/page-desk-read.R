# The first two pages of the desk: where things are dropped, and what was read of them.

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

#' What was read, each choice above what it is about, and the question below
#' @param found From `open_tray()` or `weigh_tray()`: a study, readings, or an error.
#' @noRd
reading_page <- function(desk, tray, said, found) {
  action <- function(page) paste0("/", desk$key, "/tray/", tray$id, "/", page)
  asked <- inherits(found, "honestmargin_error_asked")
  wrong <- inherits(found, "error") && !asked
  # what is wrong with the question is no reason not to show what was read
  read <- if (wrong) open_tray(desk, tray, said) else found
  if (inherits(read, "error")) read <- NULL
  account <- if (asked) found$account else if (!is.null(read)) attr(read, "account")
  list(
    htmltools::tags$h1(tray_name(tray)), if (wrong) what_is_wrong(tray, found),
    if (asked) questions_form(desk, tray, said, found, action("read")),
    if (!is.null(read)) list(read_section(desk, tray, said, read, action), question_form(read, said, action("answer"))),
    if (!is.null(account)) grid_form(tray, said, account, action("read")),
    if (is_study_folder(paths_of_tray(tray))) run_form(desk, tray, action)
  )
}

# a plan of which nothing has run is no mistake
what_is_wrong <- function(tray, found) {
  folder <- paths_of_tray(tray)
  unrun <- is_study_folder(folder) && !has_ledger(folder)
  if (unrun) htmltools::tags$p("No pass of this plan has run yet.") else problem_card(found)
}

read_section <- function(desk, tray, said, read, action) {
  tags <- htmltools::tags
  beside <- !desk$share && !isTRUE(tray$own) && !is_study(read) && length(layout_of_said(said))
  tags$section(
    tags$h2("What was read"), lapply(read_lines(read), tags$p), if (is_study(read)) passes_listed(read),
    if (beside) {
      tags$form(
        class = "row", method = "post", action = action("beside"), hidden_fields(said, c("out", "ask")),
        tags$button(type = "submit", class = "plain", "Keep this layout beside the table"),
        if (file.exists(layout_beside(paths_of_tray(tray)))) " (there is one)"
      )
    }
  )
}

is_study_folder <- function(paths) length(paths) == 1 && file.exists(file.path(paths, "study.yml"))

# the plan of a study, and the commands that its run would start
run_form <- function(desk, tray, action) {
  tags <- htmltools::tags
  folder <- paths_of_tray(tray)
  tryCatch({
    plan <- read_plan(folder)
    commands <- plan_commands(plan)[c("place", "command")]
    fields <- fields_of_plan(yaml::yaml.load_file(file.path(folder, "study.yml")))
    escape <- function(x) vapply(enc2utf8(x), utils::URLencode, "", reserved = TRUE)
    query <- paste0(escape(names(fields)), "=", escape(fields), collapse = "&")
    tags$section(
      tags$h2("Its run"),
      tags$p(if (nrow(commands)) "A run starts these commands:" else "A run starts no command: a person does it all."),
      if (nrow(commands)) html_table(commands),
      if (isTRUE(tray$own)) {
        tags$p("A study that was dropped runs nothing here.")
      } else {
        tags$form(
          method = "post", action = action("run"),
          tags$input(type = "hidden", name = "shown", value = plan_mark(folder)),
          tags$button(type = "submit", if (nrow(commands)) "Run these" else "Begin")
        )
      },
      tags$p(
        tags$a(href = action("board/"), "Look at its board"),
        # of a blind study the form would tell what is compared
        if (!is_blind(plan)) {
          where <- paste0("/", desk$key, "/plan?in=", escape(folder), "&", query)
          list(", ", tags$a(href = where, "the plan as a form"))
        }
      )
    )
  }, honestmargin_error = problem_card)
}

# questions of the reader: what was seen, and what each meaning would make of it
questions_form <- function(desk, tray, said, asked, action) {
  tags <- htmltools::tags
  made <- sum(lengths(lapply(asked$questions, `[[`, "choices"))) <= 12
  tags$form(
    class = "card", method = "get", action = action, `data-live` = NA,
    tags$p(class = "large", if (length(asked$questions) > 1) {
      paste(length(asked$questions), "things have to be said before this can be read")
    } else {
      "One thing has to be said before this can be read"
    }),
    hidden_fields(said, c("out", "ask")),
    lapply(asked$questions, function(q) {
      results <- lapply(if (made) q$choices, choice_makes, desk = desk, tray = tray, said = said)
      # what all of them make is no help in choosing
      apart <- length(unique(results)) > 1
      tags$fieldset(
        tags$legend(q$seen),
        if (!length(q$choices)) tags$p("Say above a column, below, what it is."),
        lapply(seq_along(q$choices), function(i) {
          one <- q$choices[[i]]
          tags$label(
            class = "choice",
            tags$input(type = "radio", name = paste0("choice.", q$code), value = paste0(one$option, "=", one$value)),
            tags$span(one$says, if (apart) tags$span(class = "small", results[[i]]))
          )
        })
      )
    }),
    tags$button(type = "submit", "Read it so")
  )
}

choice_makes <- function(one, desk, tray, said) {
  made <- open_tray(desk, tray, with_choice(said, one))
  if (inherits(made, "honestmargin_error_asked")) {
    NULL
  } else if (inherits(made, "error")) {
    made$what
  } else {
    read_lines(made)[1]
  }
}

#' The grid of a table: the role of each column as a choice above it, what became of each cell by its look
#' @noRd
grid_form <- function(tray, said, account, action, most = 60) {
  tags <- htmltools::tags
  grid <- tryCatch(grid_of_input(paths_of_tray(tray), said, said$sheet, said$names)$grid, error = function(e) NULL)
  left <- account_left(account)
  listed <- if (nrow(left)) {
    list(tags$h3("Left out"), tags$ul(lapply(paste0(left$what, ": ", left$why), tags$li)))
  }
  if (is.null(grid) || is.null(account$fates) || !identical(dim(grid$cells), dim(account$fates))) {
    return(if (length(listed)) tags$section(listed))
  }
  cells <- grid$cells
  shown <- seq_len(min(nrow(cells), most))
  columns <- account$columns
  struck <- which(apply(account$fates, 1, function(f) all(f[!is.na(f)] == "left out") && any(!is.na(f))))
  reason <- left$why[match(paste(grid$row, grid$line), left$what)]
  tags$form(
    method = "get", action = action, `data-live` = NA, hidden_fields(said, c("columns", "out", "ask")),
    tags$section(
      tags$h2("The table, cell by cell"),
      tags$p(
        class = "small", "Above each column is what it was read as; choose another, and it is read again. ",
        tags$span(class = "value", "a value"), " ", tags$span(class = "key", "says which value"), " ",
        tags$span(class = "heading", "a heading"), " ", tags$span(class = "left", "left out"), " ",
        tags$span(class = "asked", "asked about")
      ),
      tags$div(class = "scroll", tags$table(
        class = "sheet",
        tags$thead(tags$tr(tags$th(""), lapply(seq_len(ncol(cells)), function(j) {
          tags$th(role_choice(columns[j, ], said))
        }))),
        tags$tbody(lapply(shown, function(i) {
          tags$tr(
            class = if (i %in% struck) "struck", tags$th(scope = "row", grid$line[i]),
            lapply(seq_len(ncol(cells)), function(j) {
              tags$td(class = sub("left out", "left", empty_na(account$fates[i, j])), empty_na(cells[i, j]))
            }),
            if (i %in% struck && !is.na(reason[i])) tags$td(class = "why", reason[i])
          )
        }))
      )),
      if (nrow(cells) > most) tags$p(class = "small", paste("and", nrow(cells) - most, "rows more")),
      tags$noscript(tags$button(type = "submit", "Read it so")), listed
    )
  )
}

# what a column may be said to be
roles_to_say <- c(
  "arm", "value", "measured", "workload", "context", "segment", "attribute", "pass", "block", "order", "when", "boot",
  "metric", "unit", "outcome", "role", "reason", "note"
)

role_choice <- function(column, said) {
  tags <- htmltools::tags
  if (is.na(column$name)) {
    return(tags$span(class = "small", empty_na(column$role)))
  }
  declared <- names(said$columns)[match(column$name, said$columns)]
  tags$select(
    name = paste0("col.", column$name), `aria-label` = paste("what is", column$name),
    tags$option(value = "", if (is.na(column$role)) "what is it?" else paste0(column$role, " (as read)")),
    lapply(roles_to_say, function(role) {
      tags$option(value = role, selected = if (role %in% declared) NA, role)
    })
  )
}

# the logs or passes of a study, as they were known
passes_listed <- function(study, most = 200) {
  tags <- htmltools::tags
  passes <- plain_table(study$passes)
  passes <- passes[!duplicated(pass_key(passes)), , drop = FALSE]
  shown <- passes[intersect(c("pass", "workload", "context", "arm", "block", "role", "outcome"), names(passes))]
  shown <- shown[vapply(shown, function(v) any(!is.na(v)), NA)]
  list(
    tags$details(
      tags$summary(count_of(nrow(shown), "pass", "passes")),
      html_table(utils::head(shown, most)), if (nrow(shown) > most) tags$p(class = "small", "and more")
    )
  )
}

#' What is asked of the study: baseline, worth, direction, primary metrics
#' @noRd
question_form <- function(read, said, action) {
  tags <- htmltools::tags
  study <- is_study(read)
  rows <- plain_table(readings_of(read))
  plan <- if (study) read$plan
  arms <- if (study) plan_arms(plan) else unique(rows$arm)
  if (length(arms) < 2) {
    return(tags$section(tags$h2("The question"), tags$p("One arm only: there is nothing to compare it with.")))
  }
  metrics <- rows[!duplicated(rows$metric) & rows$better != "none", , drop = FALSE]
  if (study) metrics <- metrics[metrics$metric %in% plan_primary(plan), , drop = FALSE]
  baseline <- empty_to(said$baseline, empty_to(plan$setting$baseline, arms[1]))
  tags$form(
    class = "card", method = "get", action = action,
    tags$p(class = "large", "What is the question?"),
    # what settled the reading stays with it
    hidden_fields(said, c("baseline", "worth", "better", "primary", "ask")),
    tags$label(
      "Compare the others with ",
      tags$select(name = "baseline", lapply(arms, function(arm) {
        tags$option(value = arm, selected = if (arm == baseline) NA, arm)
      }))
    ),
    tags$div(class = "scroll", tags$table(
      class = "asked", tags$thead(tags$tr(tags$th("metric"), tags$th("better"), tags$th("worth"), tags$th("judged"))),
      tags$tbody(lapply(seq_len(nrow(metrics)), function(i) metric_fields(metrics[i, ], said, plan, study)))
    )),
    tags$details(
      tags$summary("What these words mean"),
      tags$p("The baseline is the arm that the others are compared with: how it was before."),
      tags$p("The worth is the smallest change that is worth having. With it the answer can be that there is no ",
        "difference worth having; without it only whether there is one."),
      tags$p("Judged metrics decide, and their intervals hold together: each one more makes all of them wider.")
    ),
    tags$button(type = "submit", "Answer")
  )
}

metric_fields <- function(row, said, plan, study) {
  tags <- htmltools::tags
  metric <- row$metric
  worth <- empty_to(said$worth[metric], empty_to(unname(plan_worth_of(plan, metric)), ""))
  direction <- function(word) tags$option(value = word, selected = if (row$better == word) NA, word)
  unit <- if (row$scale == "percent") "%" else row$unit
  judged <- !length(said$primary) || metric %in% said$primary
  tags$tr(
    tags$th(scope = "row", metric),
    tags$td(if (study) {
      row$better
    } else {
      tags$select(name = paste0("better.", metric), `aria-label` = paste("which", metric, "is better"),
        direction("higher"), direction("lower"))
    }),
    tags$td(
      tags$input(type = "text", inputmode = "decimal", size = 6, name = paste0("worth.", metric), value = unname(worth),
        `aria-label` = paste("worth of", metric)), " ", unit
    ),
    tags$td(tags$input(type = "checkbox", name = "primary", value = metric, checked = if (judged) NA,
      `aria-label` = paste("judge", metric)))
  )
}

plan_worth_of <- function(plan, metric) {
  worth <- if (!is.null(plan)) plan_worth(plan)
  if (metric %in% names(worth)) show_exact(worth[[metric]])
}
