# The comparisons of outcomes, row by row, with the columns of any other verdict.

#' @param seen List of what `count_contrast()` gave, each with the row of `cells` it is for.
#' @noRd
outcome_rows <- function(seen, cells, spec, family) {
  number <- vapply(seen, function(s) as.numeric(c(s$passes, s$fell, s$hours, s$x, s$n)), numeric(10))
  rownames(number) <- c("passes1", "passes2", "fell1", "fell2", "t1", "t2", "x1", "x2", "n1", "n2")
  cell <- take_rows(cells, vapply(seen, `[[`, 1L, "cell"))
  about <- function(part) {
    ids <- unique(cell$metric)
    vapply(ids, function(id) known_outcome_metrics()[[id]][[part]], "", USE.NAMES = FALSE)[match(cell$metric, ids)]
  }
  unit <- vapply(seen, `[[`, "", "unit")
  rows <- list(
    workload = cell$workload, segment = NA_character_, context = cell$context, metric = cell$metric,
    unit = about("unit"), better = about("better"), scale = about("scale"), arm = vapply(seen, `[[`, "", "arm"),
    baseline = vapply(seen, `[[`, "", "baseline"), n_arm = as.integer(number["passes1", ]),
    n_baseline = as.integer(number["passes2", ]),
    confidence = spec$confidence, worth = worth_of(cell$metric, spec$worth), unit_of_replication = unit,
    family_size = ifelse(cell$role == "primary", as.integer(family), 1L), role = cell$role
  )
  counts <- data.frame(
    share = cell$metric == "failed", t(number[c("x1", "n1", "x2", "n2", "t1", "t2"), , drop = FALSE]),
    family = rows$family_size, alpha = family_alpha(spec$confidence, rows$family_size), worth = rows$worth,
    goes_on = isTRUE(spec$looks)
  )
  spent <- ifelse(counts$goes_on, spent_by_look(pmin(counts$n1, counts$n2)), 1)
  counts$alpha <- counts$alpha * spent
  why <- no_counts(seen, counts, unit)
  found <- weigh_counts(counts, lengths(why) == 0)
  rows[names(found)] <- found
  # that an arm never held is an answer, however few its passes
  never <- number["fell1", ] == rows$n_arm & rows$n_arm > 0 & rows$verdict %in% c("no basis", "unclear")
  rows$verdict[never] <- "does not hold"
  rows$differs[never] <- NA_character_
  rows$more_passes[never] <- NA_real_
  rows$verdict <- unasked_word(rows$verdict, rows$role)
  counted <- counted_values(seen, number, cell$metric)
  rows$codes <- new_codes(unname(Map(
    function(v, w) c(list(list(code = "outcome_counts", values = v)), w), counted, why
  )))
  # worded by `new_verdicts()`
  rows$reason <- NA_character_
  as.data.frame(list2DF(lapply(rows, rep_len, length(seen)))[verdict_columns])
}

# what stands in the way of an answer, by contrast: a list of codes, empty where nothing does
no_counts <- function(seen, counts, unit) {
  why <- lapply(seen, function(s) if (!is.null(s$why)) list(s$why))
  open <- lengths(why) == 0 & !counts$share
  timed <- is.finite(counts$t1) & is.finite(counts$t2)
  why[open & !timed] <- list(list(new_code("no_exposure")))
  clustered <- which(open & timed & unit != "pass")
  why[clustered] <- lapply(clustered, function(i) list(new_code("clustered", unit = unit[i])))
  why
}

# what a teller needs to say of each contrast
counted_values <- function(seen, number, metric) {
  two <- function(part) as.vector(number[paste0(part, 1:2), ])
  # of few passes there are few different counts
  still <- function(limits, x, n) {
    key <- complex(real = x, imaginary = n)
    once <- which(!duplicated(key))
    matrix(limits(x[once], n[once])$upper[match(key, key[once])], 2)
  }
  possible <- 100 * still(possible_share, two("fell"), two("passes"))
  rate <- still(possible_rate, two("fell"), two("t"))
  lapply(seq_along(seen), function(i) {
    s <- seen[[i]]
    list(
      arm = s$arm, baseline = s$baseline, failed = s$fell, of = s$passes, hours = s$hours, unit = s$unit,
      groups_failed = s$x, groups = s$n, possible = possible[, i], possible_per_hour = rate[, i], metric = metric[i]
    )
  })
}

#' @param counts Data frame `share` (else a rate), `x1`, `n1`, `x2`, `n2` (units), `t1`, `t2` (hours), `family`,
#'   `alpha`, `worth`, `goes_on` (whether looks are allowed for). @param able Which can be weighed.
#' @return A list of columns.
#' @noRd
weigh_counts <- function(counts, able) {
  blank <- rep(NA_real_, nrow(counts))
  level <- function(x, n, hours) {
    value <- ifelse(counts$share, 100 * x / n, x / hours)
    ifelse(is.finite(value), value, NA_real_)
  }
  out <- list(
    arm_value = level(counts$x1, counts$n1, counts$t1), baseline_value = level(counts$x2, counts$n2, counts$t2),
    change = blank, lower = blank, upper = blank, differs = rep(NA_character_, nrow(counts)),
    verdict = rep("no basis", nrow(counts)), ruled_out = blank, noise = blank, detectable = blank,
    more_passes = blank, p_value = blank, p_adjusted = blank
  )
  shares <- weigh_shares(counts, which(able & counts$share))
  rates <- weigh_rates(counts, which(able & !counts$share))
  for (found in Filter(function(f) length(f$at), list(shares, rates))) {
    for (part in setdiff(names(found), "at")) out[[part]][found$at] <- found[[part]]
  }
  at <- which(able)
  out$ruled_out[at] <- pmax(abs(out$lower[at]), abs(out$upper[at]))
  spent <- ifelse(counts$goes_on, spent_by_look(pmin(counts$n1, counts$n2)), 1)
  out$p_adjusted[at] <- family_p(pmin(1, out$p_value / spent)[at], counts$family[at])
  out$differs[at] <- ifelse(out$lower[at] > 0 | out$upper[at] < 0, "yes", "no")
  out$verdict[at] <- verdict_word(out$lower[at], out$upper[at], "lower", counts$worth[at])
  out$more_passes[at][out$verdict[at] != "unclear"] <- 0
  out
}

# few passes pose few different questions, so each is answered once
weigh_shares <- function(counts, at) {
  asked <- counts[at, c("x1", "n1", "x2", "n2", "alpha", "worth", "goes_on")]
  key <- do.call(paste, unname(as.list(asked)))
  first <- which(!duplicated(key))
  q <- as.list(asked[first, ])
  limits <- function(alpha) share_difference(q$x1, q$n1, q$x2, q$n2, alpha)
  range <- limits(q$alpha)
  share <- list(q$x1 / q$n1, q$x2 / q$n2)
  open <- verdict_word(100 * range$lower, 100 * range$upper, "lower", q$worth) == "unclear"
  more <- numeric(length(first))
  more[open] <- vapply(which(open), function(i) {
    passes_to_answer(q$x1[i], q$n1[i], q$x2[i], q$n2[i], q$alpha[i], q$worth[i], q$goes_on[i])
  }, 1)
  found <- list(
    change = 100 * (share[[1]] - share[[2]]), lower = 100 * range$lower, upper = 100 * range$upper,
    noise = 100 * sqrt((share[[1]] * (1 - share[[1]]) + share[[2]] * (1 - share[[2]])) / 2),
    p_value = p_of_limits(limits, length(first)), more_passes = more,
    detectable = vapply(seq_along(first), function(i) detectable_share(q$x2[i], q$n1[i], q$n2[i], q$alpha[i]), 1)
  )
  c(list(at = at), columns_at(found, match(key, key[first])))
}

weigh_rates <- function(counts, at) {
  one <- as.list(counts[at, ])
  range <- rate_ratio(one$x1, one$t1, one$x2, one$t2, one$alpha)
  list(
    at = at, change = 100 * (one$x1 / one$t1 / (one$x2 / one$t2) - 1), lower = 100 * (range$lower - 1),
    upper = 100 * (range$upper - 1), p_value = rate_p(one$x1, one$t1, one$x2, one$t2),
    more_passes = rates_to_answer(
      one$x1, one$t1, one$x2, one$t2, pmin(one$n1, one$n2), one$alpha, one$worth, one$goes_on
    )
  )
}
