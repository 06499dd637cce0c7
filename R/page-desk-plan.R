# A plan as a form, made from the table of keys: each with what it is for, its default, an example, and what is wrong
# with it beside it; below, what the plan could show and which commands it would run.

# what most plans say; all else stands behind "more"
plan_fields_first <- c(
  "question", "setting/name", "setting/baseline", "setting/unit", "setting/command", "setting/by_hand", "arms/*/value",
  "workloads/*/id", "workloads/*/command", "workloads/*/by_hand", "workloads/*/seconds", "workloads/*/frames",
  "workloads/*/scores/*/metric", "workloads/*/scores/*/pattern", "metrics/*/id", "metrics/*/worth", "metrics/*/better",
  "metrics/*/primary", "metrics/*/unit", "blocks", "passes_per_block", "warm_up", "order"
)

# the key that a field belongs to: `arms/*/value` of `arms/1/value`
key_of_field <- function(at) gsub("/[0-9]+(/|$)", "/*\\1", at)

#' The fields of a plan that exists, by place (`arms/1/value`)
#' @param plan From YAML, or a part of it. @return Named character.
#' @noRd
fields_of_plan <- function(plan, before = "") {
  unlist(lapply(names(plan), function(name) {
    value <- plan[[name]]
    at <- paste0(before, name)
    key <- registered("plan key", key_of_field(at))
    if (is.null(key) || !length(value)) {
      NULL
    } else if (key$type == "maps") {
      unlist(lapply(seq_along(value), function(i) fields_of_plan(as.list(value[[i]]), paste0(at, "/", i, "/"))))
    } else if (key$type == "map" && is.list(value)) {
      fields_of_plan(value, paste0(at, "/"))
    } else {
      stats::setNames(field_text(value, key$type), at)
    }
  }))
}

field_text <- function(value, type) {
  if (is.list(value) || !is.null(names(value))) {
    return(as.character(jsonlite::toJSON(as.list(value), auto_unbox = TRUE, digits = NA)))
  }
  if (is.logical(value)) {
    return(tolower(as.character(value)))
  }
  value <- if (is.numeric(value)) show_exact(value, 15) else as.character(value)
  if (length(value) == 1) value else paste(value, collapse = ", ")
}

#' A plan of the fields of the form: text in YAML, which says what is typed and no more
#' @param fields Named character, by place; those of keys that do not exist are left out.
#' @noRd
plan_of_fields <- function(fields) {
  fields <- fields[nzchar(trimws(fields))]
  known <- registered("plan key")
  fields <- fields[key_of_field(names(fields)) %in% names(known)]
  plan <- list()
  for (at in names(fields)) {
    type <- known[[key_of_field(at)]]$type
    plan <- put_field(plan, strsplit(at, "/", fixed = TRUE)[[1]], value_of_field(trimws(fields[[at]]), type))
  }
  # rows of a list that were left empty are none
  plan <- without_gaps(plan)
  strsplit(yaml::as.yaml(plan, handlers = list(logical = function(x) {
    structure(tolower(as.character(x)), class = "verbatim")
  })), "\n", fixed = TRUE)[[1]]
}

value_of_field <- function(text, type) {
  number <- suppressWarnings(as.numeric(text))
  structured <- grepl("^[[{]", text)
  if (type == "flag" && tolower(text) %in% c("true", "yes", "on")) {
    TRUE
  } else if (type == "flag" && tolower(text) %in% c("false", "no", "off")) {
    FALSE
  } else if (type == "count" && !is.na(number) && number == round(number) && abs(number) < 1e9) {
    as.integer(number)
  } else if (type == "number" && !is.na(number)) {
    number
  } else if (structured && type %in% c("free", "map", "maps", "texts", "command")) {
    tryCatch(yaml::yaml.load(text), error = function(e) text)
  } else if (type == "texts") {
    as.list(split_list(text))
  } else {
    text
  }
}

put_field <- function(plan, way, value) {
  name <- way[1]
  if (grepl("^[0-9]+$", name)) name <- paste0("#", name)
  plan[[name]] <- if (length(way) == 1) value else put_field(as.list(plan[[name]]), way[-1], value)
  plan
}

without_gaps <- function(x) {
  if (!is.list(x)) {
    return(x)
  }
  x <- lapply(x, without_gaps)
  rows <- names(x)
  if (length(rows) && all(startsWith(rows, "#"))) unname(x[order(as.numeric(substring(rows, 2)))]) else x
}

#' The page of a plan
#' @param fields What is typed so far. @param folder Where it stands, or is to be saved.
#' @noRd
plan_page <- function(desk, fields, folder) {
  tags <- htmltools::tags
  seen <- if (length(fields)) plan_seen(desk, fields)
  wrong <- if (inherits(seen, "error")) seen
  list(
    tags$h1("A plan"),
    tags$p("What is changed, what runs, what is judged. Empty fields take their default."),
    tags$div(class = "planning", tags$form(
      id = "plan", method = "get", action = paste0("/", desk$key, "/plan"), class = "plan",
      tags$input(type = "hidden", name = "in", value = folder),
      plan_group("", "", fields, wrong), tags$button(type = "submit", "See what it can show")
    ), tags$aside(
      id = "seen", `aria-live` = "polite", if (!is.null(wrong)) problem_card(wrong),
      if (length(fields) && is.null(wrong)) plan_shown(desk, fields, seen, folder)
    ))
  )
}

# what lies directly below a place: fields, groups, and lists of groups
plan_group <- function(place, at, fields, wrong) {
  tags <- htmltools::tags
  known <- registered("plan key")
  below <- known[startsWith(names(known), place) & !grepl("/", substring(names(known), nchar(place) + 1), fixed = TRUE)]
  below <- Filter(function(key) nzchar(substring(key$name, nchar(place) + 1)), below)
  parts <- lapply(below, function(key) {
    plan_field(key, paste0(at, substring(key$name, nchar(place) + 1)), fields, wrong)
  })
  first <- vapply(below, function(key) {
    any(startsWith(plan_fields_first, paste0(key$name, "/"))) || key$name %in% plan_fields_first
  }, NA)
  # what is filled in, or wrong, is not hidden
  used <- vapply(below, function(key) {
    here <- paste0(at, substring(key$name, nchar(place) + 1))
    any(startsWith(paste0(names(fields)[nzchar(fields)], "/"), paste0(here, "/"))) || is_wrong(wrong, here)
  }, NA)
  list(parts[first], if (any(!first)) {
    tags$details(open = if (any(used & !first)) NA, tags$summary("more"), parts[!first])
  })
}

is_wrong <- function(wrong, at) {
  !is.null(wrong) && grepl(paste0("'", at, "'"), conditionMessage(wrong), fixed = TRUE)
}

plan_field <- function(key, at, fields, wrong) {
  tags <- htmltools::tags
  name <- sub("^.*/", "", key$name)
  below <- any(startsWith(names(registered("plan key")), paste0(key$name, "/")))
  if (key$type == "maps" && below) {
    rows <- suppressWarnings(as.integer(sub("/.*$", "", substring(
      names(fields)[startsWith(names(fields), paste0(at, "/")) & nzchar(fields)], nchar(at) + 2
    ))))
    n <- max(0, rows, na.rm = TRUE) + 1
    return(tags$fieldset(
      tags$legend(name), tags$p(class = "small", key$about),
      lapply(seq_len(max(n, if (at == "arms") 2 else 1)), function(i) {
        tags$fieldset(class = "row", tags$legend(class = "small", i),
          plan_group(paste0(key$name, "/*/"), paste0(at, "/", i, "/"), fields, wrong))
      })
    ))
  }
  if (key$type == "map" && below) {
    return(tags$fieldset(tags$legend(name), tags$p(class = "small", key$about),
      plan_group(paste0(key$name, "/"), paste0(at, "/"), fields, wrong)))
  }
  value <- if (at %in% names(fields)) fields[[at]] else ""
  words <- if (is.function(key$words)) key$words() else key$words
  usual <- if (length(key$default) == 1 && nzchar(as.character(key$default))) paste0("default ", key$default)
  if (key$type == "flag") {
    words <- c("true", "false")
    value <- tolower(value)
  }
  input <- if (key$type %in% c("word", "flag") && length(words)) {
    tags$select(name = at, id = at, tags$option(value = "", empty_to(usual, "")), lapply(words, function(w) {
      tags$option(value = w, selected = if (identical(value, w)) NA, w)
    }))
  } else {
    tags$input(
      type = "text", name = at, id = at, value = value, placeholder = empty_to(usual, empty_to(key$example, "")),
      `aria-invalid` = if (is_wrong(wrong, at)) "true"
    )
  }
  tags$label(
    `for` = at, class = if (is_wrong(wrong, at)) "wrong", name, " ", tags$span(class = "small", key$about), input,
    if (is_wrong(wrong, at)) tags$span(class = "problem", role = "alert", conditionMessage(wrong))
  )
}

#' What a plan can show, of the fields as they are
#' @return From [plan_study()], or the error that stands in its way.
#' @noRd
plan_seen <- function(desk, fields) {
  folder <- tempfile("plan-", desk$folder)
  dir.create(folder)
  on.exit(unlink(folder, recursive = TRUE))
  tryCatch(
    {
      writeLines(plan_of_fields(fields), file.path(folder, "study.yml"))
      plan_study(file.path(folder, "study.yml"))
    },
    honestmargin_error = function(e) {
      e$message <- gsub(paste0(folder, "/"), "", conditionMessage(e), fixed = TRUE)
      e
    }
  )
}

plan_shown <- function(desk, fields, seen, folder) {
  tags <- htmltools::tags
  found <- findings(seen)
  commands <- seen$commands
  list(
    tags$section(
      tags$h2("What it can show"),
      tags$p(paste0(count_of(nrow(seen$schedule), "pass", "passes"), if (!is.na(seen$seconds)) {
        paste0(", about ", long_words(seen$seconds))
      }, ".")),
      if (!is.null(seen$power)) {
        list(
          tags$pre(paste(power_lines(seen$power), collapse = "\n")), tags$p(class = "small", power_words(seen$power)),
          tags$pre(paste(alternative_lines(seen$alternatives), collapse = "\n"))
        )
      },
      if (nrow(found)) tags$ul(lapply(unique(found$message), tags$li))
    ),
    tags$section(
      tags$h2("What it would run"),
      if (NROW(commands)) html_table(commands) else tags$p("No command: a person does it all."),
      if (!desk$share) {
        tags$form(
          class = "card", method = "post", action = paste0("/", desk$key, "/save"),
          hidden_inputs(fields),
          tags$label("Save it in the folder ", tags$input(type = "text", name = "in", value = folder, required = NA)),
          tags$button(type = "submit", "Save the plan")
        )
      }
    )
  )
}

# a plan whose passes have begun is changed in its file, where the seal keeps what was fixed
save_plan <- function(desk, values) {
  folder <- typed_in(values, "in")
  fields <- values[names(values) != "in"]
  if (desk$share) abort_input("a desk that is shared writes nothing on this machine", NULL, "open it without --share")
  seen <- plan_seen(desk, fields)
  if (inherits(seen, "error")) stop(seen)
  if (!nzchar(folder)) abort_input("which folder?", NULL, "name one")
  folder <- path.expand(folder)
  if (has_ledger(folder)) {
    abort_input("passes of this plan have run", folder, "change study.yml in an editor, or save it in another folder")
  }
  if (!dir.exists(folder) && !dir.create(folder, recursive = TRUE)) abort_stuck("cannot make this folder", folder)
  lines <- plan_of_fields(fields)
  write_whole(file.path(folder, "study.yml"), function(to) writeLines(lines, to, useBytes = TRUE))
  go_to(desk, paste0("tray/", tray_of_paths(desk, folder)$id, "/read"))
}
