# The parts of the report, in the order in which a reader asks.

report_opening <- function(title, verdicts, told, limiting = character()) {
  tags <- htmltools::tags
  said <- sentences(verdicts)
  primary <- verdicts[verdicts$role == "primary", , drop = FALSE]
  place <- place_names(primary)
  answers <- lapply(names(said), function(name) {
    words <- unique(primary$verdict[place == name])
    words <- words[order(match(
      words, c("clear loss", "loss", "clear gain", "gain", "blocked", "no basis", "unclear", "negligible")
    ))]
    tags$div(
      class = "answer",
      tags$div(class = "words", lapply(words, function(w) tags$span(class = paste("word", verdict_family(w)), w))),
      tags$p(said[[name]]),
      if (name %in% names(limiting)) tags$p(class = "small", paste0("In these passes it was ", limiting[[name]]))
    )
  })
  tags$header(
    tags$h1(title), answers,
    tags$p(class = "small", paste0("Baseline ", arm_names(verdicts$baseline[1], told), ". ", family_words(verdicts)))
  )
}

report_findings <- function(found) {
  tags <- htmltools::tags
  if (!nrow(found)) {
    return(NULL)
  }
  items <- lapply(seq_len(nrow(found)), function(i) {
    f <- found[i, ]
    tags$li(
      tags$b(paste0(f$severity, ": ")), if (!is.na(f$workload)) paste0(f$workload, ": "), f$message,
      if (nzchar(f$todo)) tags$em(paste0(" \u2192 ", f$todo, "."))
    )
  })
  tags$section(tags$h2("What to keep in mind"), tags$ul(items))
}

report_figures <- function(x, verdicts, how) {
  tags <- htmltools::tags
  primary <- verdicts[verdicts$role == "primary", , drop = FALSE]
  shown <- utils::head(unique(primary$workload), 12)
  traced <- places_with(x, "traces")
  sensed <- places_with(x, "sensors")
  parts <- lapply(shown, function(workload) {
    metrics <- utils::head(unique(primary$metric[primary$workload == workload]), panel_limit)
    rows <- 1.1 + 0.62 * length(unique(primary$arm))
    height <- 0.9 + rows * ceiling(length(metrics) / 3)
    list(
      tags$h3(workload),
      figure_box(
        plot_change(verdicts, workload, metrics), 9.2, height, paste("change against the baseline in", workload)
      ),
      if (any(!is.na(primary$arm_value[primary$workload == workload]))) {
        figure_box(
          do.call(plot_passes, c(list(x, workload, metrics), how)), 9.2, 0.9 + 2.7 * ceiling(length(metrics) / 3),
          paste("every pass of", workload)
        )
      },
      if (workload %in% traced) {
        figure_box(
          plot_trace(x, workload), 9.2, 1.2 + 1.05 * length(unique(primary$arm)) + 1,
          paste("frame times over time in", workload)
        )
      },
      if (workload %in% sensed) {
        figure_box(plot_sensors(x, workload), 9.2, 6.4, paste("sensors over time in", workload))
      }
    )
  })
  tags$section(tags$h2("Figures"), parts)
}

# workloads that have a counted pass with frames, or with sensors
places_with <- function(x, kind) {
  if (inherits(x, "honestmargin_study")) {
    p <- x$passes
    unique(p$workload[p$pass %in% names(x[[kind]]) & p$role == "counted" & p$outcome == "ok"])
  }
}

figure_box <- function(figure, width, height, about) {
  htmltools::tags$figure(
    role = "img", `aria-label` = about,
    htmltools::tags$div(class = "scroll", htmltools::HTML(inline_svg(figure, width, height)))
  )
}

# One string, not a tree of tags: a study has thousands of cells.
html_table <- function(table, right = character()) {
  class <- ifelse(names(table) %in% right, "right", "left")
  cell <- function(tag, text, class) {
    paste0(
      "<", tag, " class=\"", class, "\">", htmltools::htmlEscape(empty_na(as.character(text))), "</", tag, ">"
    )
  }
  head <- paste(cell("th", names(table), class), collapse = "")
  rows <- do.call(paste0, unname(Map(function(column, c) cell("td", column, c), table, class)))
  htmltools::HTML(paste0(
    "<div class=\"scroll\"><table><thead><tr>", head, "</tr></thead><tbody>",
    paste0("<tr>", rows, "</tr>", collapse = "\n"), "</tbody></table></div>"
  ))
}

report_verdicts <- function(verdicts, told) {
  tags <- htmltools::tags
  table <- function(rows) {
    html_table(
      verdict_cells(rows, told),
      c("baseline", "arm mean", "change", "range", "worth", "noise", "detectable", "more")
    )
  }
  primary <- verdicts$role == "primary"
  tags$section(
    tags$h2("Verdicts"), table(verdicts[primary, ]),
    tags$p(
      class = "small", "noise: how much one ", verdicts$unit_of_replication[!is.na(verdicts$unit_of_replication)][1],
      " moves by itself (one standard deviation). detectable: the smallest change this study would have found ",
      "four times in five. more: further passes per arm that would settle it."
    ),
    if (any(!primary)) {
      tags$details(
        tags$summary(paste(
          count_of(sum(!primary), "exploratory comparison"),
          "(outside the family: some will look different by luck)"
        )),
        table(verdicts[!primary, ])
      )
    }
  )
}

verdict_cells <- function(rows, told) {
  number <- function(v) show_number(v)
  data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, told),
    arm = gsub(" ", "\u00a0", arm_names(rows$arm, told), fixed = TRUE),
    baseline = show_number(rows$baseline_value, 4),
    `arm mean` = paste(show_number(rows$arm_value, 4), empty_na(rows$unit)),
    change = ifelse(rows$verdict == "blocked", "", shown_change(rows)),
    range = ifelse(rows$verdict == "blocked", "", shown_interval(rows)),
    verdict = rows$verdict, worth = number(rows$worth), noise = number(rows$noise),
    detectable = number(rows$detectable),
    more = ifelse(rows$verdict == "unclear", format_count(rows$more_passes), ""), why = rows$reason,
    check.names = FALSE
  )
}

# which part limited each arm, with the numbers that say so
report_limiting <- function(rows, told) {
  tags <- htmltools::tags
  if (is.null(rows)) {
    return(NULL)
  }
  rows$arm <- arm_names(rows$arm, told)
  tags$section(
    tags$h2("What limited the passes"), html_table(rows),
    tags$p(
      class = "small",
      "A setting that loads a part which was idle changes nothing. Each second of a pass is given the ",
      "part that was at its limit; a pass is given the part that was so for most of its seconds, if that is a ",
      "third of them."
    )
  )
}

report_outcomes <- function(x) {
  tags <- htmltools::tags
  passes <- as.data.frame(if (inherits(x, "honestmargin_study")) x$passes else complete_readings(x))
  left <- unique(passes[passes$role == "excluded" | !passes$outcome %in% "ok", c(
    "pass", "workload", "arm", "outcome", "role", "reason"
  )])
  left[] <- lapply(left, empty_na)
  tags$section(
    tags$h2("Outcomes and exclusions"),
    html_table(outcome_table(x), setdiff(names(outcome_table(x)), c("workload", "arm"))),
    if (nrow(left)) {
      list(
        tags$p("Passes whose values do not count:"), html_table(left)
      )
    } else {
      tags$p("Every counted pass ended well; none was excluded.")
    }
  )
}

report_readings <- function(x, verdicts) {
  tags <- htmltools::tags
  readings <- as.data.frame(if (inherits(x, "honestmargin_study")) x$readings else complete_readings(x))
  primary <- unique(verdicts$metric[verdicts$role == "primary"])
  rows <- readings[readings$metric %in% primary, c(
    "pass", "workload", "arm", "block", "metric", "value", "unit", "outcome", "role"
  )]
  text <- as.data.frame(lapply(
    rows, function(v) if (is.numeric(v)) format(signif(v, 6), trim = TRUE) else empty_na(v)
  ))
  text$value[is.na(rows$value)] <- ""
  tags$section(
    tags$h2("Readings"),
    tags$details(tags$summary(paste(nrow(text), "readings of the primary metrics")), html_table(text, "value"))
  )
}

# What was fixed before the first counted pass, and what was changed after.
report_seal <- function(study) {
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
      substr(sealed$hash, 1, 12), "): ", some_of(plan_primary(study$plan), 9), " as primary",
      if (length(worth)) paste0(", worth ", paste(names(worth), worth, collapse = ", ")), "."
    )),
    if (length(sealed$changed)) {
      tags$ul(lapply(sealed$changed, tags$li))
    } else {
      tags$p("The plan was not changed after that.")
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
    data.frame(what = names(facts), value = vapply(facts, function(f) paste(format(f), collapse = ", "), "")),
    data.frame(what = vapply(notes, `[`, "", 1), value = vapply(notes, `[`, "", 2))
  )
  rules <- unlist(plan$exclusion_rules)
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
      "decided."
    ),
    tags$p(
      "clear gain or loss: the whole range lies beyond the worth. gain or loss: it excludes zero. negligible: it ",
      "lies inside the worth. unclear: none of these; more passes would tell. blocked: these passes cannot answer ",
      "it. no basis: the noise was not measured."
    )
  )
}
