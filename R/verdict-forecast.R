# What a plan can and cannot show, before anything has run.

#' @param plan A checked plan.
#' @param noise Named numeric: noise of one pass by metric, on the shown scale;
#'   what it lacks comes from the plan's metrics, else `assumed`.
#' @param remembered Data frame `metric`, `noise`, `from`: measured before, or `NULL`.
#' @param assumed Noise where nobody knows it, in percent.
#' @return Data frame, one row per primary metric: `metric`, `scale`, `worth`, `noise`,
#'   `noise_from`, `detectable` (with 80 % power), `blocks_for_worth` (to see a
#'   change as large as the worth), `blocks_for_negligible` (to show that there is
#'   no difference worth having), `unit`, `family_size`, `precision` (half-width of
#'   the interval of one arm's mean).
#' @noRd
plan_power <- function(plan, noise = NULL, remembered = NULL, assumed = 1) {
  ids <- judged_metrics(plan)
  family <- planned_family(plan, ids)
  alpha <- family_alpha(plan$confidence, family)
  unit <- if (plan$setting$restart == "machine") "boot" else "pass"
  known <- described_metrics(plan)
  percent <- Filter(function(id) identical(empty_to(known[[id]]$scale, "percent"), "percent"), ids)
  percent <- setdiff(percent, names(known_outcome_metrics()))
  moderates <- plan_moderates(
    plan, planned_family(plan, percent, 2) * (length(percent) > 0), length(plan_arms(plan)) - 1
  )
  rows <- lapply(ids, function(id) {
    planned <- Filter(function(m) m$id == id, plan$metrics)
    own <- if (length(planned)) planned[[1]]$noise
    given <- if (id %in% names(noise)) noise[[id]]
    before <- remembered[remembered$metric == id, ]
    level <- empty_to(given, empty_to(own, empty_to(before$noise, assumed)))
    from <- if (!is.null(given)) "given" else if (!is.null(own)) "plan" else empty_to(before$from, "assumed")
    scale <- empty_to(known[[id]]$scale, "percent")
    worth <- plan_worth(plan)[id]
    if (id %in% names(known_outcome_metrics())) {
      return(outcome_power_row(id, scale, empty_to(unname(worth), NA_real_), plan, alpha, unit, family))
    }
    boots <- if (unit == "boot" && is.null(given) && is.null(own)) before$boots
    power_row(id, scale, worth, level, from, plan, alpha, unit, family, boots, scale == "percent" && moderates)
  })
  do.call(rbind, rows)
}

# how many primary comparisons a plan has
planned_family <- function(plan, ids, arms = length(plan_arms(plan))) {
  cells <- sum(vapply(plan$workloads, workload_cells, 1, plan = plan, ids = ids))
  max(1, (arms - 1) * cells * length(plan_contexts(plan)))
}

power_row <- function(id, scale, worth, level, from, plan, alpha, unit, family, boots = NULL, moderates = FALSE) {
  # further passes of one start do not lessen what that start brought; where it is not known, they count as one
  known <- length(boots) && is.finite(boots)
  repeats <- if (unit == "boot" && !known) 1 else plan$passes_per_block
  sd <- sqrt(
    to_analysis_noise(level, scale)^2 / repeats + (if (known) to_analysis_noise(boots, scale) else 0)^2
  )
  blocks <- plan$blocks
  contrasts <- if (plan$setting$one_way) 1 else length(plan_arms(plan)) - 1
  at <- function(n) {
    # nothing is steadied of two blocks
    moderated <- moderates && n > 2
    of <- if (moderated) {
      planned_moderation(contrasts, n, alpha)
    } else {
      list(cost = cost_of_limits(contrasts, n, alpha), df = planned_df(contrasts, n))
    }
    # where few blocks leave too much to chance, no interval is narrower than the widest swing of its metric
    few <- !moderated && !plan$setting$one_way && family * 2^(1 - 2 * n) > 0.05
    list(
      se = sd * sqrt(2 / n) * of$cost, df = of$df, least = if (few) sd * sqrt(2) * widest_swing(family, n) else 0
    )
  }
  band <- worth_band(empty_to(unname(worth), NA_real_), scale)
  data.frame(
    metric = id, scale = scale, worth = empty_to(unname(worth), NA_real_), noise = level, noise_from = from,
    detectable = if (blocks > 1) {
      here <- at(blocks)
      found <- detectable_effect(here$se, here$df, t_quantile(here$df, alpha))
      to_shown(max(found, if (here$least > 0) here$least + stats::qnorm(0.8) * here$se), scale)
    } else {
      NA_real_
    },
    blocks_for_worth = if (is.null(band)) {
      NA_real_
    } else {
      blocks_needed(function(e) {
        min(
          chance_of_answer(band[2], e$se, t_reach(alpha, e$df), error_nodes(e$df)),
          if (e$least > 0) stats::pnorm((band[2] - e$least) / e$se)
        )
      }, at)
    },
    blocks_for_negligible = if (is.null(band)) {
      NA_real_
    } else {
      blocks_needed(function(e) {
        if (e$least >= band[2]) 0 else chance_of_answer(0, e$se, t_reach(alpha, e$df), error_nodes(e$df), band)
      }, at)
    },
    unit = unit, family_size = family, precision = if (blocks > 1) {
      to_shown(t_reach(1 - plan$confidence, blocks - 1) * sd / sqrt(blocks), scale)
    } else {
      NA_real_
    },
    row.names = NULL
  )
}

# what will be judged: the primary metrics, and how passes end where they give no number
judged_metrics <- function(plan) {
  ended <- vapply(plan$workloads, judged_by_outcome, NA, plan = plan)
  union(empty_to(plan_primary(plan), if (!all(ended)) "score"), if (any(ended)) "failed")
}

# with none failing in the baseline: how many must fail in the arm to be told from it
outcome_power_row <- function(id, scale, worth, plan, alpha, unit, family) {
  per_block <- if (unit == "boot") 1 else plan$passes_per_block
  n <- plan$blocks * per_block
  needed <- function(chance) {
    for (blocks in unique(round(1.15^(0:45)))) if (chance(blocks * per_block) >= 0.8) {
      return(blocks)
    }
    Inf
  }
  known <- id == "failed" && !is.na(worth) && worth > 0
  data.frame(
    metric = id, scale = scale, worth = worth, noise = NA_real_, noise_from = "none failing",
    detectable = if (id == "failed") detectable_share(0, n, n, alpha) else NA_real_,
    blocks_for_worth = if (known) {
      needed(function(n) chance_of_shares(min(1, worth / 100), 0, n, n, alpha, words = "loss"))
    } else {
      NA_real_
    },
    blocks_for_negligible = if (known) {
      needed(function(n) chance_of_shares(0, 0, n, n, alpha, worth, words = "negligible"))
    } else {
      NA_real_
    },
    unit = unit, family_size = family, precision = NA_real_, row.names = NULL
  )
}

#' How wide the widest range of differences is that some of many comparisons have, in units of their spread
#' @return The median over drawn studies.
#' @noRd
widest_swing <- function(comparisons, blocks, studies = 200) {
  made_once(sprintf("widest swing %d %d", as.integer(comparisons), as.integer(blocks)), function() {
    d <- seeded(9, lapply(seq_len(blocks), function(block) stats::rnorm(comparisons * studies)))
    range <- matrix(do.call(pmax, d) - do.call(pmin, d), comparisons)
    stats::median(apply(range, 2, max))
  })
}

blocks_needed <- function(chance, at, power = 0.8, most = 1000) {
  for (n in 2:most) {
    if (chance(at(n)) >= power) {
      return(n)
    }
  }
  Inf
}
