# The variance of a contrast in complete blocks, helped by that of the other arms.

# an own variance of few blocks counts with this many degrees of freedom of the others beside it
helping_df <- 4

#' How the contrasts of one cell vary, together
#'
#' An arm that misses one of the baseline's blocks keeps its own variance, and helps no other.
#' @param means From `block_means()`, every pass in a block. @param arms Compared with `baseline`.
#' @param least How many contrasts there must be.
#' @return `NULL` where fewer than two contrasts are complete in the baseline's blocks; else from `helping_spread()`.
#' @noRd
spread_in_blocks <- function(means, arms, baseline, least = 2) {
  if (!baseline %in% colnames(means)) {
    return(NULL)
  }
  means <- means[!is.na(means[, baseline]), , drop = FALSE]
  arms <- intersect(arms, colnames(means))
  arms <- arms[!is.na(colSums(means[, arms, drop = FALSE]))]
  if (length(arms) >= least && nrow(means) > 1) {
    helping_spread(stats::cov(means[, arms, drop = FALSE] - means[, baseline]))
  }
}

#' @param covariance Of the within-block differences.
#' @return A list for `helped_variance()`: `own` (variances, named by arm), `total` (their sum), `squares` (for each the
#'   sum of its squared covariances), `all` (the sum of those), `contrasts` (how many).
#' @noRd
helping_spread <- function(covariance) {
  own <- diag(covariance)
  squares <- rowSums(covariance^2)
  list(own = own, total = sum(own), squares = squares, all = sum(squares), contrasts = length(own))
}

#' Variance and degrees of freedom of one contrast
#'
#' Its own variance and, with the weight of four degrees of freedom, the mean of all; never less than three quarters
#' of its own, and never more than one and a half times its own degrees of freedom: without these two limits
#' small levels break, and pooling outright calls 12 to 17 % of studies different where the baseline is noisy.
#' @param own,total,squares,all,contrasts From `helping_spread()`, one element a contrast. @param nu Own degrees of
#'   freedom.
#' @return A list `variance`, `df`.
#' @references Box (1954), Annals of Mathematical Statistics 25, 290-302; Satterthwaite (1946), Biometrics Bulletin
#'   2, 110-114 (degrees of freedom of a weighted sum of variances that depend on one another).
#' @noRd
helped_variance <- function(own, total, squares, all, contrasts, nu) {
  mixed <- mix_variance(own, total, squares, all, contrasts, nu)
  list(variance = pmax(mixed$variance, 0.75 * own), df = pmin(mixed$df, 1.5 * nu))
}

# before the two limits
mix_variance <- function(own, total, squares, all, contrasts, nu) {
  other <- helping_df / contrasts / (nu + helping_df)
  more <- nu / (nu + helping_df)
  mixed <- other * total + more * own
  error <- other^2 * all + 2 * other * more * squares + (more * own)^2
  list(variance = mixed, df = nu * mixed^2 / error)
}

#' Degrees of freedom of a contrast beside others, where all arms are as noisy as each other
#' @param contrasts How many there are in the cell. @param blocks How many blocks.
#' @noRd
planned_df <- function(contrasts, blocks) {
  if (contrasts < 2) {
    return(blocks - 1)
  }
  # each varies by both arms, of which all share the baseline
  spread <- helping_spread(1 + diag(contrasts))
  helped_variance(spread$own[1], spread$total, spread$squares[1], spread$all, contrasts, blocks - 1)$df
}

#' What the two limits cost in few blocks: by how much a change must be larger to be found four times in five
#'
#' Over drawn studies of arms that are as noisy as each other, since no closed form is known: 1.05 to 1.3 with three
#' to five blocks, more in large families; nothing worth minding beyond eight.
#' @return A factor of the standard error.
#' @noRd
cost_of_limits <- function(contrasts, blocks, alpha) {
  if (contrasts < 2 || blocks > 8 || blocks < 2) {
    return(1)
  }
  # beyond ten more of them change nothing
  contrasts <- min(contrasts, 10)
  made_once(sprintf("cost of limits %d %d %.15g", as.integer(contrasts), as.integer(blocks), alpha), function() {
    cost_of_drawn(drawn_variances(contrasts, blocks), planned_df(contrasts, blocks), alpha)
  })
}

# the effect that is found with drawn variances, over the one that the planned degrees of freedom promise
cost_of_drawn <- function(drawn, df, alpha) {
  crit <- t_reach(alpha, drawn$df)
  short <- function(effect) chance_of_answer(effect, 1, crit, sqrt(drawn$variance / 2)) - 0.8
  found <- stats::uniroot(short, c(0, 10), extendInt = "upX", tol = 1e-3)$root
  max(1, found / effect_in_errors(df, t_reach(alpha, df), 0.8))
}

#' The same for many contrasts
#' @noRd
costs_of_limits <- function(contrasts, blocks, alpha) {
  out <- rep(1, length(contrasts))
  few <- which(contrasts > 1 & blocks > 1 & blocks <= 8)
  if (!length(few)) {
    return(out)
  }
  key <- complex(real = 10 * contrasts[few] + blocks[few], imaginary = alpha[few])
  once <- few[!duplicated(key)]
  cost <- vapply(once, function(i) cost_of_limits(contrasts[i], blocks[i], alpha[i]), 1)
  out[few] <- cost[match(key, key[match(once, few)])]
  out
}

# helped variances of one contrast in studies of unit noise
drawn_variances <- function(contrasts, blocks, studies = 1000) {
  y <- seeded(7, lapply(seq_len(contrasts + 1), function(arm) matrix(stats::rnorm(blocks * studies), blocks)))
  d <- lapply(y[-1], function(one) one - y[[1]])
  d <- lapply(d, function(one) one - rep(colMeans(one), each = blocks))
  of <- function(p, q) colSums(d[[p]] * d[[q]]) / (blocks - 1)
  own <- lapply(seq_along(d), function(p) of(p, p))
  squares <- lapply(seq_along(d), function(p) Reduce(`+`, lapply(seq_along(d), function(q) of(p, q)^2)))
  c(
    helped_variance(own[[1]], Reduce(`+`, own), squares[[1]], Reduce(`+`, squares), contrasts, blocks - 1),
    list(own = own[[1]])
  )
}

#' Estimates in blocks with the helped variance in place of their own
#' @param e From `estimate_in_blocks()`. @param arms The arm of each. @param spread From `spread_in_blocks()`.
#' @param prior From `with_priors()`, or `NULL`: then the variance is moderated as well.
#' @noRd
pool_variance <- function(e, arms, spread, prior = NULL) {
  at <- match(arms, names(spread$own))
  # differences that never vary are looked at as such
  by <- which(!is.na(at) & spread$own[at] > 0)
  if (!length(by)) {
    return(e)
  }
  put <- function(column, values) replace(rep_len(column, length(arms)), by, values)
  own <- unname(spread$own[at[by]])
  squares <- unname(spread$squares[at[by]])
  nu <- e$units[by] - 1
  helped <- helped_variance(own, spread$total, squares, spread$all, spread$contrasts, nu)
  if (!is.null(prior)) {
    e$alone_se <- put(e$alone_se, sqrt(helped$variance / e$units[by]))
    e$alone_df <- put(e$alone_df, helped$df)
    e$prior_df <- put(e$prior_df, prior$df)
    e$prior <- put(e$prior, unname(prior$scale[arms[by]]))
    helped <- moderated_variance(own, helped$variance, helped$df, prior$df, e$prior[by], spread$contrasts, nu)
  }
  e$se <- put(e$se, sqrt(helped$variance / e$units[by]))
  e$df <- put(e$df, helped$df)
  e$own <- put(e$own, own)
  e$squares <- put(e$squares, squares)
  e[c("total", "all", "contrasts")] <- lapply(c("total", "all", "contrasts"), function(p) put(e[[p]], spread[[p]]))
  e
}

#' An estimate of boots with its variance moderated
#' @param e From `estimate_welch()`, of one arm. @param prior From `with_priors()`.
#' @noRd
moderate_boots <- function(e, arm, prior) {
  own <- stats::setNames(e$each, arm)
  out <- pool_variance(e, arm, list(own = own, total = e$each, squares = own^2, all = e$each^2, contrasts = 1), prior)
  out$alone_se <- e$se
  out$alone_df <- e$df
  out
}
