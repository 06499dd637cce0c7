# The variance of a contrast, moderated by what the other cells of its study vary by.

# 2: comparisons are moderated over the cells of their study
judging_method <- 2L

# as many cells as it takes, by the number of contrasts in each
cells_to_moderate <- function(contrasts) if (contrasts > 1) 8 else 15

#' What the cells of a study know of each other's noise
#'
#' The cells of one study (workloads and metrics) tell how noisy noises are. Of each contrast its level over the cells
#' and, from how far cells lie apart beyond what so few blocks explain, how many degrees of freedom that level is worth.
#' @param v,f Matrices, a row per cell and a column per contrast: variances from `helped_variance()` and their degrees
#'   of freedom. @param nu Own degrees of freedom of each.
#' @return A list: `df` (prior degrees of freedom), `scale` (prior variance by contrast).
#' @references Smyth (2004), Statistical Applications in Genetics and Molecular Biology 3, article 3.
#' @noRd
moderating_prior <- function(v, f, nu) {
  level <- log(v) - digamma(f / 2) + log(f / 2)
  each <- rowMeans(level)
  n <- length(each)
  apart <- stats::var(each)
  # of one contrast nothing else steadies it: as far apart as they may well be
  if (ncol(v) == 1) apart <- apart * (n - 1) / stats::qchisq(0.1, n - 1)
  excess <- apart - mean(trigamma(f / 2))
  df <- if (excess > 0) min(2 * inverse_trigamma(excess), 2 * nu) else 2 * nu
  list(df = df, scale = exp(colMeans(level) + digamma(df / 2) - log(df / 2)))
}

# by Newton's steps on its reciprocal, which is nearly straight
inverse_trigamma <- function(x) {
  y <- 0.5 + 1 / x
  for (step in 1:50) {
    change <- trigamma(y) * (1 - trigamma(y) / x) / psigamma(y, 2)
    y <- y + change
    if (-change / y < 1e-10) break
  }
  y
}

#' A variance beside a prior one
#'
#' Never less than a share of its own (all of it where there is one contrast), and never with more than three times its
#' own degrees of freedom.
#' @param own,helped,df One element a contrast. @param prior_df,prior,nu The same.
#' @return A list `variance`, `df`.
#' @noRd
moderated_variance <- function(own, helped, df, prior_df, prior, contrasts, nu) {
  mixed <- (df * helped + prior_df * prior) / (df + prior_df)
  list(
    variance = pmax(mixed, ifelse(contrasts > 1, 0.75, 1) * own), df = pmin(df + prior_df, 3 * nu)
  )
}

#' What the primary cells of a study lend each other, by the arm that the others are compared with
#'
#' Cells on the percent scale, in complete blocks that no order makes doubtful, or in boots of one arm each. Within a
#' workload, metrics whose differences hang together (a correlation above 0.9) count once towards the number that it
#' takes. Where the noise of every one of them is known from elsewhere, only how it was among themselves is used: each
#' variance is moderated relative to it, so that a noisy day cancels (as a prior for the variance itself it would be 7
#' to 31 % false on a day twice as noisy).
#' @param cells From `describe_cell()`, with `stored` where noise is known. @param compared From `compared_arms()`, a
#'   list by cell.
#' @return `cells`, those that are moderated with `priors`: by baseline a list `df`, `scale` (by arm), `cells`,
#'   `source` (of the noise that they are relative to, or `NULL`).
#' @noRd
with_priors <- function(cells, compared) {
  able <- which(vapply(cells, function(cell) {
    cell$role == "primary" && cell$first$scale == "percent" && is.null(cell$firsts) && is.null(cell$order_finding)
  }, NA))
  baselines <- unique(unlist(lapply(compared[able], function(sets) vapply(sets, `[[`, "", "baseline"))))
  for (baseline in baselines) {
    spreads <- lapply(able, function(i) spread_of_set(cells[[i]], compared[[i]], baseline))
    kind <- vapply(spreads, function(one) if (is.null(one)) NA_character_ else one$kind, "")
    if (all(is.na(kind))) next
    # those of one form: the same arms in as many blocks
    common <- names(sort(table(kind), decreasing = TRUE))[1]
    at <- which(kind %in% common)
    first <- spreads[[at[1]]]
    count <- count_apart(lapply(cells[able[at]], `[[`, "first"), lapply(spreads[at], `[[`, "differences"))
    if (count < cells_to_moderate(if (first$boots) 1 else length(first$own))) next
    known <- lapply(cells[able[at]], `[[`, "stored")
    all_known <- all(lengths(known) > 0)
    unit <- if (all_known) vapply(known, `[[`, 1, "sd")^2 else rep(1, length(at))
    of <- function(column) do.call(rbind, lapply(spreads[at], function(one) unname(one[[column]])))
    prior <- moderating_prior(of("variance") / unit, of("df"), first$nu)
    # boots of one arm each have up to twice these degrees of freedom by themselves
    if (first$boots && prior$df < first$nu) next
    prior$cells <- length(at)
    if (all_known) prior$source <- known[[1]]$source
    for (i in seq_along(at)) {
      own <- prior
      own$scale <- stats::setNames(prior$scale * unit[i], names(first$own))
      cells[[able[at[i]]]]$priors[[baseline]] <- own
    }
  }
  cells
}

# of one cell: variances of its contrasts against one baseline, where all are complete and none is alike throughout
spread_of_set <- function(cell, sets, baseline) {
  arms <- unlist(lapply(sets, function(set) if (set$baseline == baseline) set$arms))
  if (boots_of_one_arm(cell)) {
    return(spread_of_boots(cell, arms, baseline))
  }
  if (!cell$all_in_blocks || !(cell$by_block || boots_in_blocks(cell))) {
    return(NULL)
  }
  spread <- spread_in_blocks(cell$means, arms, baseline, least = 1)
  if (is.null(spread) || !setequal(names(spread$own), arms) || any(spread$own <= 0)) {
    return(NULL)
  }
  means <- cell$means[!is.na(cell$means[, baseline]), , drop = FALSE]
  nu <- nrow(means) - 1
  # of two blocks nobody has tried it
  if (nu < 2) {
    return(NULL)
  }
  arms <- names(spread$own)
  helped <- helped_variance(spread$own, spread$total, spread$squares, spread$all, spread$contrasts, nu)
  differences <- means[, arms, drop = FALSE] - means[, baseline]
  list(
    own = spread$own, variance = helped$variance, df = helped$df, nu = nu, kind = paste(c(nu, arms), collapse = "\r"),
    boots = FALSE, differences = as.vector(differences - rep(colMeans(differences), each = nrow(means)))
  )
}

# passes of a start that belongs to one arm and lies in one block: the block is what is replicated
boots_in_blocks <- function(cell) {
  rows <- cell$counted
  !anyNA(rows$boot) && length(unique(rows$boot)) == length(unique(paste(rows$boot, rows$arm, rows$block, sep = "\r")))
}

# starts that belong to one arm each, and no blocks
boots_of_one_arm <- function(cell) {
  rows <- cell$counted
  is.null(cell$lay) && !anyNA(rows$boot) && belong_to_one_arm(rows$boot, rows$arm)
}

#' The same of boots, where every arm has as many: the variance of the difference of two means over them
#'
#' With the degrees of freedom of one arm, which is cautious: with Satterthwaite's, 7.0 % were false where one arm is
#' three times noisier and cells differ by a factor e^0.5; with these at most 2.7, and never more than without.
#' @noRd
spread_of_boots <- function(cell, arms, baseline) {
  rows <- cell$counted
  all <- c(baseline, sort(arms))
  mixed <- vapply(arms, function(arm) {
    recognise_design(take_rows(rows, which(rows$arm %in% c(arm, baseline))), arm, baseline)$kind == "groups"
  }, NA)
  if (!all(mixed)) {
    return(NULL)
  }
  groups <- group_means(list(by = rows$boot), rows)
  count <- table(factor(groups$arm, all))
  nu <- count[[1]] - 1
  if (any(count != nu + 1) || nu < 2) {
    return(NULL)
  }
  y <- vapply(all, function(arm) groups$y[groups$arm == arm], numeric(nu + 1))
  spread <- apply(y, 2, stats::var)
  own <- spread[-1] + spread[[1]]
  if (any(own <= 0)) {
    return(NULL)
  }
  list(
    own = own, variance = own, df = rep(nu, length(own)), nu = nu, kind = paste(c("boots", nu, all), collapse = "\r"),
    boots = TRUE, differences = as.vector(y - rep(colMeans(y), each = nu + 1))
  )
}

#' How many cells there are, counting those of one place that hang together once
#' @param first A list by cell, with the place. @param differences Vectors, one a cell.
#' @noRd
count_apart <- function(first, differences) {
  place <- vapply(first, function(one) paste(one$workload, one$segment, one$context, sep = "\r"), "")
  sum(vapply(split(differences, place), function(here) {
    if (length(here) < 2) {
      return(1)
    }
    together <- abs(stats::cor(do.call(cbind, here)))
    length(unique(stats::cutree(stats::hclust(stats::as.dist(1 - together), "single"), h = 0.1)))
  }, 1))
}

#' What was lent, for those who tell of it; `NULL` for nothing
#' @return A list: `cells`, `df` (the range of the prior's degrees of freedom), `source` (of the noise that variances
#'   are relative to, or `NULL`).
#' @noRd
moderated_by <- function(cells) {
  priors <- unlist(lapply(cells, `[[`, "priors"), recursive = FALSE)
  if (length(priors)) {
    df <- vapply(priors, `[[`, 1, "df")
    list(
      cells = max(vapply(priors, `[[`, 1, "cells")), df = range(df),
      source = unique(unlist(lapply(priors, `[[`, "source")))
    )
  }
}

#' Would the cells of a plan be moderated?
#' @param cells How many primary cells on the percent scale it has. @param contrasts In each.
#' @return `TRUE` where its arms run in complete blocks whose order can be trusted.
#' @noRd
plan_moderates <- function(plan, cells, contrasts) {
  trusted <- plan$order %in% c("shuffled", "balanced") || (plan$order == "mirrored" && contrasts == 1)
  cells >= cells_to_moderate(contrasts) && !plan$setting$one_way && trusted && !is_search(plan) &&
    !length(toggled_workloads(plan))
}

#' Degrees of freedom of a moderated contrast where all cells are as noisy as each other, and what its limits cost
#' @return A list for `plan_power()`: `df`, `cost` (a factor of the standard error).
#' @noRd
planned_moderation <- function(contrasts, blocks, alpha) {
  nu <- blocks - 1
  df <- min(planned_df(contrasts, blocks) + 2 * nu, 3 * nu)
  if (blocks > 8) {
    return(list(df = df, cost = 1))
  }
  contrasts <- min(contrasts, 10)
  name <- sprintf("cost of moderation %d %d %.15g", as.integer(contrasts), as.integer(blocks), alpha)
  cost <- made_once(name, function() {
    drawn <- drawn_variances(contrasts, blocks)
    with <- moderated_variance(drawn$own, drawn$variance, drawn$df, 2 * nu, 2, contrasts, nu)
    cost_of_drawn(with, df, alpha)
  })
  list(df = df, cost = cost)
}
