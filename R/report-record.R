# What the report says of how the study was run: seal, conditions, read-back, methods.

# What was fixed before the first counted pass, and what was changed after.
report_seal <- function(study, otherwise, labels) {
  tags <- htmltools::tags
  sealed <- study$sealed
  if (is.null(sealed)) {
    return(NULL)
  }
  worth <- plan_worth(study$plan)
  tags$section(
    tags$h2("Fixed before, changed after"),
    tags$p(paste0(
      "Batch ", sealed$batch, " was sealed at ", sub("T", " ", substr(sealed$at, 1, 16)),
      " UTC, before its first counted pass (plan ",
      substr(sealed$hash, 1, 12), ")", if (length(plan_primary(study$plan))) {
        paste0(": ", some_of(plan_primary(study$plan), 9), " as primary")
      },
      if (length(worth)) paste0(", worth ", paste(names(worth), worth, collapse = ", ")), "."
    )),
    if (NROW(sealed$changes)) {
      list(
        tags$p("The plan was changed after that; the verdicts stand on the sealed one:"), html_table(sealed$changes)
      )
    } else {
      tags$p("The plan was not changed after that.")
    },
    if (!is.null(otherwise)) {
      list(
        tags$h3(after_heading), tags$p("What was asked for later, and what it would say:"),
        html_table(otherwise$changes), lapply(sentences(otherwise$verdicts), tags$p),
        html_table(verdict_cells(otherwise$verdicts[otherwise$verdicts$role == "primary", ], labels))
      )
    }
  )
}

report_conditions <- function(study) {
  tags <- htmltools::tags
  plan <- study$plan
  facts <- c(plan$machine, plan$conditions)
  notes <- lapply(plan$workloads, function(w) {
    c(empty_to(w$title, w$id), paste(c(w$kind, w$note), collapse = "; "))
  })
  rows <- rbind(
    data.frame(what = names(facts), value = vapply(facts, fact_text, "")),
    data.frame(what = vapply(notes, `[`, "", 1), value = vapply(notes, `[`, "", 2))
  )
  rules <- plan$exclusion_rules
  if (!nrow(rows) && is.null(study$conditions) && !length(rules) && is.null(report_read_back(study))) {
    return(NULL)
  }
  tags$section(
    tags$h2("Machine and conditions"), html_table(rows),
    report_read_back(study),
    if (!is.null(study$conditions)) {
      if (nrow(study$conditions)) {
        list(tags$p("Beside the setting, these differed between the arms or drifted:"), html_table(study$conditions))
      } else {
        tags$p("Of what was recorded before each pass, nothing differed between the arms and nothing drifted.")
      }
    },
    if (length(rules)) {
      tags$p(paste0(
        "Fixed before: a pass may be excluded for: ", paste(rules, collapse = "; "), "."
      ))
    }
  )
}

# asked value and what the machine said it was running with
report_read_back <- function(study) {
  passes <- study$passes[!is.na(empty_to(study$passes$effective, NA)), , drop = FALSE]
  if (!nrow(passes)) {
    return(NULL)
  }
  seen <- tapply(passes$effective, factor(passes$arm, unique(passes$arm)), function(v) some_of(unique(v)))
  list(
    htmltools::tags$p("The setting, as asked for and as read back:"),
    html_table(data.frame(asked = names(seen), `read back` = as.character(seen), check.names = FALSE))
  )
}

report_methods <- function(verdicts) {
  tags <- htmltools::tags
  unit <- unique(verdicts$unit_of_replication[!is.na(verdicts$unit_of_replication)])
  tags$section(
    tags$h2("How this was judged"),
    tags$p(
      "The pass is the unit, never the frame: frames of one pass share what that pass was like. ",
      "Here the unit of replication is the ",
      if (length(unit)) paste(unit, collapse = " and the ") else "pass",
      ". Metrics that are above zero are compared as ratios of geometric means; shares and temperatures as differences."
    ),
    tags$p(
      "Where passes ran in blocks, each arm is compared with the baseline inside the same block, and the range ",
      "comes from how much that difference moves between blocks (Student's t). Without blocks it is Welch's t. ",
      "The level is shared out over all primary comparisons (Sidak). The range that is printed is the range that ",
      "decided.", moderated_words(attr(verdicts, "moderated")),
      " Method ", if (is.null(attr(verdicts, "moderated"))) 1 else judging_method, " of this program."
    ),
    tags$p(
      "clear gain or loss: the whole range lies beyond the worth. gain or loss: it excludes zero. negligible: it ",
      "lies inside the worth. unclear: none of these; more passes would tell. blocked: these passes cannot answer ",
      "it. no basis: the noise was not measured."
    )
  )
}
