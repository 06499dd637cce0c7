# The parts of a study that come out of its ledger.

load_ledger <- function(path, batch, metrics) {
  ledger <- read_ledger(path, batch)
  own <- Filter(function(m) is.function(m$compute), metrics)
  ledger$readings <- failed_too(ledger$passes, rbind(ledger$scores, own_readings(ledger, own)))
  ledger$sealed <- sealed_words(ledger)
  ledger$findings <- ledger_findings(ledger)
  ledger
}

# the tester's own metrics of frame times were not known when the pass ran
own_readings <- function(ledger, metrics) {
  if (!length(metrics) || !length(ledger$traces)) {
    return(NULL)
  }
  do.call(rbind, lapply(names(ledger$traces), function(pass) {
    x <- read_trace(ledger$traces[[pass]])$frame_time_ms
    row <- ledger$passes[rep(
      match(pass, ledger$passes$pass), length(metrics)
    ), setdiff(pass_columns, c("started", "note"))]
    cbind(
      row,
      metric = names(by_id(metrics)), value = vapply(metrics, compute_metric, 1, x = x), unit = NA,
      better = NA, scale = NA
    )
  }))
}

#' Passes that gave no number keep a row in every metric of their workload
#' @noRd
failed_too <- function(passes, readings) {
  if (is.null(readings)) {
    return(NULL)
  }
  first <- !duplicated(paste(readings$workload, readings$metric, sep = "\r"))
  kinds <- readings[first, c("workload", "metric", "unit", "better")]
  silent <- passes[!passes$pass %in% readings$pass, setdiff(pass_columns, c("started", "note")), drop = FALSE]
  columns <- c(reading_columns, "scale")
  # a reading of a segment stands under "workload/segment", its pass under the workload
  kinds$place <- kinds$workload
  kinds$workload <- ifelse(
    kinds$place %in% passes$workload, kinds$place, sub("/[^/]*$", "", kinds$place)
  )
  rows <- merge(silent, kinds, by = "workload")
  rows$workload <- rows$place
  if (!nrow(rows)) {
    return(readings[columns])
  }
  rows[c("value", "scale")] <- list(NA_real_, NA_character_)
  rbind(readings[columns], rows[columns])
}

sealed_words <- function(ledger) {
  seal <- ledger$seal[ledger$seal$batch == ledger$batch, ]
  later <- ledger$plans[ledger$plans$version > seal$plan, , drop = FALSE]
  list(
    at = seal$sealed, hash = seal$hash, batch = ledger$batch,
    changed = if (nrow(later)) {
      paste0(
        "the plan was changed on ", substr(later$stored, 1, 16), ", after the seal"
      )
    } else {
      character()
    }
  )
}

ledger_findings <- function(ledger) {
  extra <- ledger$events[ledger$events$kind == "extra pass", , drop = FALSE]
  extra <- extra[extra$pass %in% ledger$passes$pass, , drop = FALSE]
  arms <- table(ledger$passes$arm[match(extra$pass, ledger$passes$pass)])
  # of a toggled pass only the parts are there
  ran <- c(ledger$passes$pass, whole_pass(ledger$passes$pass))
  left <- sum(!ledger$schedule$pass %in% ran)
  bind_findings(
    if (nrow(extra)) {
      new_finding("warning", "extra", paste0(
        "passes beyond the plan: ", paste0(names(arms), " ", arms, collapse = ", ")
      ),
      "a fresh batch judged alone is safer: honestmargin repeat",
      arm = paste(names(arms), collapse = ", ")
      )
    },
    if (length(ledger$sealed$changed)) {
      new_finding(
        "warning", "seal", ledger$sealed$changed[1], "the report tells it"
      )
    },
    if (left) {
      new_finding(
        "note", "unfinished", paste(count_of(left, "pass", "passes"), "of the plan not run yet"),
        "go on with: honestmargin run"
      )
    },
    noted_findings(ledger$notes), correction_findings(ledger$events, ledger$passes)
  )
}

correction_findings <- function(events, passes) {
  events <- events[events$kind %in% c("correct", "outcome") & events$pass %in% passes$pass, , drop = FALSE]
  do.call(bind_findings, lapply(seq_len(nrow(events)), function(i) {
    said <- jsonlite::fromJSON(events$detail[i])
    whole <- passes$workload[match(events$pass[i], passes$pass)]
    what <- if (events$kind[i] == "correct") {
      paste(reading_name(empty_to(said$workload, whole), whole, said$metric), "corrected to", said$value)
    } else {
      paste("outcome corrected to", said$outcome)
    }
    new_finding(
      "note", "corrected", paste0("pass ", events$pass[i], ": ", what, " (", events$reason[i], ")"),
      pass = events$pass[i]
    )
  }))
}

# The like of many passes is said once: they differ in numbers only. Where a pass came
# from is in the history, and no finding.
noted_findings <- function(notes) {
  notes$detail <- sub("(^|; )(taken from|a part of) [^;]*$", "", notes$detail)
  notes <- notes[nzchar(notes$detail), , drop = FALSE]
  like <- gsub("[0-9]+([.][0-9]+)?", "#", notes$detail)
  do.call(bind_findings, lapply(split(notes, factor(like, unique(like))), function(same) {
    more <- nrow(same) - 1
    others <- if (more > 0) paste0(" (and the like in ", count_of(more, "more pass", "more passes"), ")")
    new_finding("note", "noted", paste0("pass ", same$pass[1], ": ", same$detail[1], others), pass = same$pass[1])
  }))
}
