# The question: what would each verdict be under every other reasonable choice?

#' How firm the verdicts are
#'
#' Weighs the primary comparisons again under each choice that a careful tester might have made otherwise: every
#' excluded pass counted, every flagged pass left out, what looks like loading trimmed off every pass of its workload,
#' the first block left out, the blocks not used, another definition of the same low or average, the noise of each
#' comparison by itself. Nothing of this changes a verdict; it shows which of them hang on a choice.
#' @param x A study, readings, or what [weigh()] returned.
#' @param ... Passed to [weigh()] where `x` is not weighed yet.
#' @return An answer ([ask_study()]), a data frame, one row per primary comparison and choice:
#'   `workload`, `segment`, `context`, `metric`, `arm`, `baseline`, `verdict` (as weighed), `choice` (in words), `then`
#'   (verdict under it), `agrees` (the same, whether or not it is clear).
#' @section Errors: As [weigh()].
#' @export
#' @examples
#' how_firm(read_study(demo_study()))
how_firm <- function(x, ...) {
  verdicts <- weighed(x, ...)
  x <- what_was_weighed(verdicts)
  plan <- if (is_study(x)) x$plan
  asked <- asked_of_verdicts(verdicts)
  spec <- contrast_spec(x, plan, readings_of(x), asked, declared_of_verdicts(verdicts))
  spec$words_only <- TRUE
  base <- plain_table(verdicts)
  base <- base[base$role == "primary" & base$metric %in% asked$primary, , drop = FALSE]
  readings <- rescale_nonpositive(readings_of(x))
  others <- unlist(lapply(asked$primary, other_definitions))
  readings <- readings[readings$metric %in% c(asked$primary, others), , drop = FALSE]
  choices <- c(
    pass_choices(x, readings), trim_choices(x, readings), block_choices(readings),
    definition_choices(readings, asked$primary), noise_choices(verdicts, readings)
  )
  rows <- lapply(choices, function(choice) firm_rows(base, choice, spec))
  out <- stack_rows(rows)
  if (is.null(out)) out <- cbind(base[0, firm_columns], choice = character(), then = character(), agrees = logical())
  new_answer("firm", out, x)
}

firm_columns <- c("workload", "segment", "context", "metric", "unit", "arm", "baseline", "verdict")

# a choice: what it is called, the readings under it, which metric stands for which, of which workload alone it is, and
# whether each comparison has its own noise only
new_choice <- function(code, readings, metric = NULL, workload = NULL, own_noise = FALSE) {
  list(code = code, readings = readings, metric = metric, workload = workload, own_noise = own_noise)
}

pass_choices <- function(x, readings) {
  excluded <- unique(readings$pass[readings$role == "excluded"])
  flagged <- if (is_study(x)) {
    found <- x$findings
    unique(c(
      x$passes$pass[x$passes$outcome == "artefact" & x$passes$role == "counted"],
      found$pass[!is.na(found$pass) & found$severity != "note"]
    ))
  }
  flagged <- intersect(flagged, readings$pass[readings$role == "counted"])
  c(
    lapply(excluded, function(pass) {
      with <- readings
      with$role[with$pass %in% pass & with$role == "excluded"] <- "counted"
      new_choice(new_code("firm_counted", pass = pass), with)
    }),
    lapply(flagged, function(pass) {
      new_choice(new_code("firm_left_out", pass = pass), readings[!readings$pass %in% pass, , drop = FALSE])
    })
  )
}

# passes whose start is unlike the rest, summarised again from their traces without it: all of a workload by one rule
trim_choices <- function(x, readings) {
  found <- if (is_study(x)) x$findings[x$findings$code == "loading", , drop = FALSE]
  # a report that was read back has no traces
  traced <- if (NROW(found)) unique(x$passes$workload[has_trace(x, x$passes, "frames")])
  lapply(which(found$workload %in% traced), function(i) {
    workload <- found$workload[i]
    trim <- found$values[[i]]$trim
    trimmed <- trimmed_readings(x, workload, trim)
    with <- readings
    key <- function(rows) paste(rows$pass, rows$part, rows$segment, rows$metric, sep = "\r")
    at <- match(key(with), key(trimmed))
    at[with$workload != workload] <- NA
    with$value[!is.na(at)] <- trimmed$value[at[!is.na(at)]]
    new_choice(new_code("firm_trimmed", seconds = trim, workload = workload), with, workload = workload)
  })
}

trimmed_readings <- function(x, workload, trim) {
  plan <- x$plan
  at <- which(plan_workloads(plan) == workload)
  plan$workloads[[at]]$trim <- trim
  passes <- x$passes[x$passes$workload == workload & x$passes$role != "warm_up", , drop = FALSE]
  passes <- passes[has_trace(x, passes, "frames"), , drop = FALSE]
  passes <- passes[!duplicated(passes$pass), , drop = FALSE]
  passes$part <- NA_integer_
  stack_rows(on_all_cores(seq_len(nrow(passes)), function(i) {
    readings <- readings_of_capture(study_capture(x, passes[i, ], c("frames", "marks")), plan)
    if (NROW(readings)) cbind(pass = passes$pass[i], readings)
  }))
}

block_choices <- function(readings) {
  counted <- readings[readings$role == "counted", , drop = FALSE]
  blocked <- !all(is.na(counted$block))
  list_of <- function(use, choice) if (use) list(choice)
  first <- if (blocked) counted$block[which.min(order_or_row(counted))]
  without <- readings
  without$block <- rep(NA_character_, nrow(without))
  c(
    list_of(blocked && length(unique(counted$block)) > 3, new_choice(
      new_code("firm_first_block"), readings[!readings$block %in% first, , drop = FALSE]
    )),
    list_of(blocked, new_choice(new_code("firm_no_blocks"), without))
  )
}

order_or_row <- function(rows) if (anyNA(rows$order)) seq_len(nrow(rows)) else rows$order

definition_choices <- function(readings, primary) {
  there <- unique(readings$metric[!is.na(readings$value)])
  unlist(lapply(primary, function(id) {
    lapply(setdiff(intersect(other_definitions(id), there), primary), function(other) {
      new_choice(new_code("firm_definition", metric = id, other = other), readings, stats::setNames(other, id))
    })
  }), recursive = FALSE)
}

# what is steadied by other cells, without them
noise_choices <- function(verdicts, readings) {
  if (!is.null(attr(verdicts, "moderated"))) {
    list(new_choice(new_code("firm_own_noise"), readings, own_noise = TRUE))
  }
}

firm_rows <- function(base, choice, spec) {
  spec$own_noise <- spec$own_noise || choice$own_noise
  if (!is.null(choice$workload)) base <- base[base$workload == choice$workload, , drop = FALSE]
  base <- if (is.null(choice$metric)) base else base[base$metric == names(choice$metric), , drop = FALSE]
  # the metric that stands in takes the place of the other in its family, and its worth
  if (!is.null(choice$metric)) {
    spec$primary[spec$primary == names(choice$metric)] <- choice$metric
    spec$worth[[choice$metric]] <- spec$worth[names(choice$metric)][[1]]
  }
  if (!nrow(base)) {
    return(NULL)
  }
  readings <- choice$readings[choice$readings$metric %in% spec$primary, , drop = FALSE]
  found <- tryCatch(weigh_cells(readings, spec)$verdicts, honestmargin_error = function(e) NULL)
  key <- function(v, metric) paste(v$workload, v$segment, v$context, metric, v$arm, v$baseline, sep = "\r")
  metric <- if (is.null(choice$metric)) base$metric else rep(choice$metric, nrow(base))
  then <- found$verdict[match(key(base, metric), key(found, found$metric))]
  plain <- function(word) sub("^clear ", "", word)
  data.frame(
    base[firm_columns],
    choice = code_text(choice$code), then = empty_to(then, NA_character_),
    agrees = plain(then) == plain(base$verdict), row.names = NULL
  )[!is.na(then), , drop = FALSE]
}

#' @param x From `how_firm()`.
#' @return Character vector: those that hang on a choice, then those that do not.
#' @noRd
firm_words <- function(x) {
  if (!nrow(x)) {
    return("No choice was made that could have been made otherwise.")
  }
  labels <- labels_of(x)
  rows <- plain_table(x)
  about <- paste0(place_names(rows), ", ", metric_labels(rows$metric, labels), ", ", arm_names(rows$arm, labels))
  if (length(unique(rows$baseline)) > 1) about <- paste0(about, " against ", arm_names(rows$baseline, labels))
  parts <- split(rows, factor(about, unique(about)))
  firm <- vapply(parts, function(p) all(p$agrees), NA)
  hangs <- vapply(names(parts)[!firm], function(name) {
    p <- parts[[name]]
    other <- p[!p$agrees, , drop = FALSE]
    then <- split(other$choice, factor(other$then, unique(other$then)))
    each <- vapply(names(then), function(word) {
      paste0(word, " under ", if (length(then[[word]]) == nrow(p)) {
        paste("all", count_of(nrow(p), "other choice"))
      } else {
        paste0(
          length(then[[word]]), " of ", count_of(nrow(p), "other choice"), " (", list_words(unique(then[[word]])), ")"
        )
      })
    }, "")
    paste0(name, ": ", p$verdict[1], "; ", paste(each, collapse = "; "), ".")
  }, "")
  c(
    unname(hangs),
    if (any(firm)) {
      of <- range(vapply(parts[firm], nrow, 1L))
      many <- if (of[1] == of[2]) count_of(of[1], "other choice") else paste(of[1], "to", of[2], "other choices")
      said <- paste0(names(parts)[firm], " (", vapply(parts[firm], function(p) p$verdict[1], ""), ")")
      paste0("The same under all ", many, ": ", paste(said, collapse = "; "), ".")
    }
  )
}

firm_line <- function(x) {
  rows <- plain_table(x)
  if (!nrow(rows)) {
    return("no choice was made that could have been made otherwise")
  }
  agrees <- tapply(rows$agrees, paste(cell_key(rows), rows$arm, rows$baseline), all)
  if (all(agrees)) {
    return("no verdict depends on a choice")
  }
  paste(sum(!agrees), "of", count_of(length(agrees), "verdict"), "would be another under some other choice")
}

register("question", "firm",
  rank = 3, title = "How firm it is", about = "what each verdict would be under every other reasonable choice",
  answer = how_firm, takes = "weighing", lines = firm_words, line = firm_line, key = "firmness",
  footing = function(x) {
    paste(
      "Weighed again with each excluded pass counted, each flagged pass or the first block left out, the blocks not",
      "used, or another definition of the same metric."
    )
  },
  report = function(verdicts) {
    found <- if (judges_numbers(verdicts)) how_firm(verdicts)
    if (NROW(found)) found
  }
)
