# The question: which arm was preferred by somebody who did not know which it was?

#' What blind pairs say
#'
#' Two passes whose arms nobody was shown make a pair; after it the tester said which was better. Judged is the number
#' of pairs that went to each arm, beside what was measured in the same passes.
#' @param x A study with a workload of `judge: blind`, or what [weigh()] returned of it.
#' @param ... Not used.
#' @param confidence Over all workloads together; `NULL`: the plan's.
#' @return An answer ([ask_study()]), a data frame, one row per workload: `workload`, `arm`, `baseline`, `pairs`
#'   (judged), `for_arm`, `for_baseline`, `none` (no difference; each counts half for both), `share` (percent of pairs
#'   for the arm), `lower`, `upper`, `p` (exact, two-sided, of this workload alone), `verdict` (`preferred`, `baseline
#'   preferred`, `unclear`, `no basis`), `settles` (pairs that would settle a share like this one with a chance of 80 %;
#'   `Inf`: beyond 1000), `finds` (chance in percent that these pairs had to find an arm that is preferred in nine of
#'   ten), `not_judged` (pairs without a word), `first` (pairs in which the first was chosen). Attribute `each`: every
#'   pair; `hash`, `secret`, `kept`: the order that was fixed beforehand, and whether it is the one that was run.
#' @section Errors: `honestmargin_error_input` where no pairs were judged blind; `honestmargin_error_stuck` while arms
#'   are withheld.
#' @references Roessler, Pangborn, Sidel and Stone (1978), Journal of Food Science 43, 940-943.
#' @export
#' @examples
#' # honestmargin ask STUDY blind
weigh_pairs <- function(x, ..., confidence = NULL) {
  assert_no_dots(...)
  checkmate::assert_number(confidence, lower = 0.5, upper = 1 - 1e-9, null.ok = TRUE)
  study <- what_was_weighed(x)
  if (!is_study(study) || is.null(study$blind)) {
    abort_input("no pairs were judged blind", todo = "a workload of the plan says judge: blind (docs/running.md)")
  }
  plan <- study$plan
  confidence <- empty_to(confidence, plan$confidence)
  baseline <- plan$setting$baseline
  arm <- setdiff(plan_arms(plan), baseline)
  each <- study$blind$pairs
  each$better <- ifelse(each$choice %in% "first", each$first, ifelse(each$choice %in% "second", each$second, NA))
  alone <- 1 - family_alpha(confidence, length(unique(each$workload)))
  rows <- stack_rows(lapply(split_in_order(seq_len(nrow(each)), each$workload), function(at) {
    here <- each[at, , drop = FALSE]
    for_arm <- sum(here$better %in% arm)
    for_baseline <- sum(here$better %in% baseline)
    none <- sum(here$choice %in% "none")
    found <- judge_pairs(for_arm, for_baseline, none, alone)
    data.frame(
      workload = here$workload[1], arm = arm, baseline = baseline, pairs = found$n, for_arm = for_arm,
      for_baseline = for_baseline, none = none, share = 100 * found$share, lower = 100 * found$lower,
      upper = 100 * found$upper, p = found$p, verdict = found$verdict,
      settles = if (found$n) pairs_to_settle(found$share, alone) else NA_real_,
      finds = 100 * pairs_power(found$n, 0.9, alone), not_judged = sum(is.na(here$choice)),
      first = sum(here$choice %in% "first")
    )
  }))
  new_answer("blind", rows, study,
    each = each, confidence = confidence, failed = failed_arms(study), measured = measured_beside(study, rows$workload),
    hash = study$blind$hash, secret = study$blind$secret, kept = study$blind$kept, given_up = study$blind$given_up
  )
}

# what was measured in the passes of these pairs
measured_beside <- function(study, workloads) {
  rows <- tryCatch(plain_table(weigh(study)), honestmargin_error = function(e) NULL)
  if (NROW(rows)) {
    rows[rows$workload %in% workloads & rows$role == "primary" & rows$metric != "failed", , drop = FALSE]
  }
}

blind_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  several <- nrow(rows) > 1
  said <- lapply(each_row(rows), function(row) {
    paste0(if (several) paste0(row$workload, ": "), pairs_sentence(row, labels), settle_sentence(row, labels))
  })
  first <- sum(rows$first)
  chosen <- first + sum(attr(x, "each")$choice %in% "second")
  c(
    failed_arm_sentences(attr(x, "failed"), labels), unlist(said), measured_sentence(attr(x, "measured"), labels),
    if (isTRUE(attr(x, "given_up"))) "It was given up before every pair was judged.",
    if (chosen > 0 && pairs_p(max(first, chosen - first), chosen) < 0.05) {
      paste0(
        "The first of a pair was chosen in ", first, " of ", chosen,
        ": a habit of the one who judges, which favours no arm, since the order was drawn."
      )
    },
    if (isFALSE(attr(x, "kept"))) {
      "The order that was run is not the one that was fixed beforehand: somebody changed the file."
    }
  )
}

pairs_sentence <- function(row, labels) {
  name <- function(arm) arm_names(arm, labels)
  if (!row$pairs) {
    return("No pair was judged.")
  }
  paste0(
    switch(row$verdict,
      preferred = paste0(name(row$arm), " was preferred"),
      `baseline preferred` = paste0(name(row$baseline), " was preferred"),
      "The two were not told apart"
    ),
    ": of ", count_of(row$pairs, "pair"), " ", row$for_arm, " went to ", name(row$arm), ", ", row$for_baseline,
    " to ", name(row$baseline), if (row$none) paste0(", ", row$none, " to neither, counted half for each"),
    " (", round(row$lower), " to ", round(row$upper), " % of pairs go to ", name(row$arm), "; p ", signif(row$p, 2),
    ")."
  )
}

settle_sentence <- function(row, labels) {
  paste(c(
    if (row$verdict == "unclear") {
      paste0(
        " A preference in nine of ten pairs would have been found with a chance of ", round(row$finds), " %; ",
        if (is.finite(row$settles)) {
          paste0("a share like this one takes ", row$settles, " pairs to settle (80 %).")
        } else {
          "as even as this, 1000 pairs would not settle it."
        }
      )
    },
    if (row$not_judged) {
      paste0(" ", count_of(row$not_judged, "pair was", "pairs were"), " not judged.")
    }
  ), collapse = "")
}

measured_sentence <- function(rows, labels) {
  if (!NROW(rows)) {
    return(NULL)
  }
  each <- paste0(
    if (length(unique(rows$workload)) > 1) paste0(place_names(rows), " "), short_labels(rows$metric, labels), " ",
    ifelse(is.na(rows$change), "", paste0(shown_change(rows), ", ")), rows$verdict
  )
  paste0("Measured in the same passes: ", some_of(each, 6), ".")
}

pairs_shown <- function(x) {
  labels <- labels_of(x)
  each <- attr(x, "each")
  name <- function(arm) ifelse(is.na(arm), "", arm_names(arm, labels))
  out <- data.frame(
    workload = each$workload, pair = each$block, first = name(each$first), second = name(each$second),
    better = ifelse(is.na(each$choice), "not judged", ifelse(each$choice == "none", "neither", name(each$better))),
    note = empty_na(each$note)
  )
  if (!any(nzchar(out$note))) out$note <- NULL
  if (length(unique(out$workload)) < 2) out$workload <- NULL
  shown_table(out, "pair", group = intersect("workload", names(out)), whole = c("first", "second", "better"))
}

#' What the pairs of a plan can show, before any is run
#' @noRd
pairs_plan_words <- function(plan) {
  alone <- 1 - family_alpha(plan$confidence, length(blind_workloads(plan)))
  needed <- pairs_needed(plan$blocks, alone)
  paste0(
    "Blind pairs of ", some_of(blind_workloads(plan)), ": in an order that is drawn when it is sealed and told when ",
    "every pair is judged. ",
    if (is.finite(needed)) {
      paste0(
        needed, " of ", plan$blocks, " have to go one way to tell the arms apart (",
        show_share(plan$confidence), "); an arm that is preferred in nine of ten is found with a chance of ",
        round(100 * pairs_power(plan$blocks, 0.9, alone)), " %, in three of four with ",
        round(100 * pairs_power(plan$blocks, 0.75, alone)), " %."
      )
    } else {
      least <- which(is.finite(vapply(seq_len(50), pairs_needed, 1, confidence = alone)))[1]
      paste0("Not even all ", plan$blocks, " would tell the arms apart; plan at least ", least, ".")
    }
  )
}

register("question", "blind",
  rank = 2.5, title = "Blind pairs", about = "which arm was preferred by somebody who did not know which it was",
  answer = weigh_pairs, takes = "confidence", lines = blind_words,
  line = function(x) sub("[)][.] .*", ").", blind_words(x)[1]),
  report = function(verdicts) {
    x <- what_was_weighed(verdicts)
    if (is_study(x) && !is.null(x$blind)) weigh_pairs(x)
  },
  tables = function(x) list(pairs_shown(x)),
  footing = function(x) {
    paste0(
      "Exact (binomial), together at ", show_share(attr(x, "confidence")), ". The order was fixed before the first ",
      "pass (SHA-256 ", substr(attr(x, "hash"), 1, 16), "...); this guards against seeing, not against opening the ",
      "files."
    )
  }
)
