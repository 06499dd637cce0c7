# What was read, on the desk: the account, the table cell by cell, what the reader asks, and the run of a study.

#' What was read, each choice above what it is about, and the question below
#' @param found From `open_tray()` or `weigh_tray()`: a study, readings, or an error.
#' @noRd
reading_page <- function(desk, tray, said, found) {
  action <- function(page) tray_address(desk, tray, page)
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
          where <- address_with(paste0("/", desk$key, "/plan"), c(`in` = folder, fields))
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
