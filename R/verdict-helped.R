# The variance of a contrast in complete blocks, helped by that of the other arms.

# an own variance of few blocks counts with this many degrees of freedom of the others beside it
helping_df <- 4

#' How the contrasts of one cell vary, together
#'
#' @param counted Counted passes of one cell: `arm`, `block`, `y`. @param compared A list `arms`, `baseline`.
#' @return `NULL` where fewer than two contrasts are complete in the baseline's blocks; else a list for
#'   `helped_variance()`: `own` (variances of the within-block differences, named by arm), `total` (their sum),
#'   `squares` (for each the sum of its squared covariances), `all` (the sum of those).
#' @noRd
spread_of_cell <- function(counted, compared) {
  if (anyNA(counted$block)) {
    return(NULL)
  }
  blocks <- unique(counted$block[counted$arm == compared$baseline])
  arms <- complete_arms(counted, compared$arms, blocks)
  if (length(arms) < 2 || length(blocks) < 2) {
    return(NULL)
  }
  arms <- c(compared$baseline, arms)
  at <- cbind(match(counted$block, blocks), match(counted$arm, arms))
  at <- at[!is.na(at[, 1] + at[, 2]), , drop = FALSE]
  if (nrow(at) == length(blocks) * length(arms)) {
    # one pass each, the usual
    means <- matrix(NA_real_, length(blocks), length(arms), dimnames = list(NULL, arms))
    means[at] <- counted$y[counted$block %in% blocks & counted$arm %in% arms]
  } else {
    means <- vapply(arms, function(arm) {
      block_means(counted, counted$block, arm)[as.character(blocks)]
    }, numeric(length(blocks)))
  }
  helping_spread(stats::cov(means[, -1, drop = FALSE] - means[, 1]))
}

#' @param covariance Of the within-block differences.
#' @noRd
helping_spread <- function(covariance) {
  own <- diag(covariance)
  squares <- rowSums(covariance^2)
  list(own = own, total = sum(own), squares = squares, all = sum(squares))
}

# an arm that misses one of the baseline's blocks keeps its own variance, and helps no other
complete_arms <- function(rows, arms, blocks) {
  arms <- intersect(arms, rows$arm)
  arms[vapply(arms, function(arm) all(blocks %in% rows$block[rows$arm == arm]), NA)]
}

#' Variance and degrees of freedom of one contrast
#'
#' Its own variance and, with the weight of four degrees of freedom, the mean of all; never less than three quarters
#' of its own, and never more than one and a half times its own degrees of freedom: without these two limits
#' small levels break, and pooling outright calls 12 to 17 % of studies different where the baseline is noisy.
#' @param spread From `helping_spread()`. @param arm Which contrast. @param nu Own degrees of freedom.
#' @return A list `variance`, `df`.
#' @references Box (1954), Annals of Mathematical Statistics 25, 290-302; Satterthwaite (1946), Biometrics Bulletin
#'   2, 110-114 (degrees of freedom of a weighted sum of variances that depend on one another).
#' @noRd
helped_variance <- function(spread, arm, nu) {
  own <- spread$own[[arm]]
  mixed <- mix_variance(own, spread$total, spread$squares[[arm]], spread$all, length(spread$own), nu)
  list(variance = max(mixed$variance, 0.75 * own), df = min(mixed$df, 1.5 * nu))
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
  helped_variance(helping_spread(1 + diag(contrasts)), 1, blocks - 1)$df
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
  key <- sprintf("%d %d %.15g", as.integer(contrasts), as.integer(blocks), alpha)
  if (is.null(costs[[key]])) {
    drawn <- drawn_variances(contrasts, blocks)
    crit <- stats::qt(1 - alpha / 2, drawn$df)
    short <- function(effect) chance_of_answer(effect, 1, crit, sqrt(drawn$variance / 2)) - 0.8
    found <- stats::uniroot(short, c(0, 10), extendInt = "upX", tol = 1e-3)$root
    df <- planned_df(contrasts, blocks)
    assign(key, max(1, found / effect_in_errors(df, stats::qt(1 - alpha / 2, df), 0.8)), costs)
  }
  costs[[key]]
}

costs <- new.env(parent = emptyenv())

# helped variances of one contrast in studies of unit noise
drawn_variances <- function(contrasts, blocks, studies = 1000) {
  y <- seeded(7, lapply(seq_len(contrasts + 1), function(arm) matrix(stats::rnorm(blocks * studies), blocks)))
  d <- lapply(y[-1], function(one) one - y[[1]])
  d <- lapply(d, function(one) one - rep(colMeans(one), each = blocks))
  of <- function(p, q) colSums(d[[p]] * d[[q]]) / (blocks - 1)
  own <- lapply(seq_along(d), function(p) of(p, p))
  squares <- lapply(seq_along(d), function(p) Reduce(`+`, lapply(seq_along(d), function(q) of(p, q)^2)))
  mixed <- mix_variance(own[[1]], Reduce(`+`, own), squares[[1]], Reduce(`+`, squares), contrasts, blocks - 1)
  list(variance = pmax(mixed$variance, 0.75 * own[[1]]), df = pmin(mixed$df, 1.5 * (blocks - 1)))
}

#' An estimate in blocks with the helped variance in place of its own
#' @param found From `estimate()`. @param spread From `spread_of_cell()`, or `NULL`.
#' @noRd
with_help <- function(found, spread, arm, alpha) {
  # differences that never vary are looked at as such
  if (is.null(spread) || !arm %in% names(spread$own) || spread$own[[arm]] == 0) {
    return(found)
  }
  at <- function(n) {
    helped <- helped_variance(spread, arm, n - 1)
    list(se = sqrt(helped$variance / n), df = helped$df)
  }
  found$at_size <- function(n) {
    planned <- at(n)
    planned$se <- planned$se * cost_of_limits(length(spread$own), n, alpha)
    planned
  }
  found[c("se", "df")] <- at(found$units)
  found
}
