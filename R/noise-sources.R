# Where the noise of passes comes from: blocks, boots, places in the block, heat at the start, other programs.

#' Shares of the variance of passes
#'
#' What differs between blocks (or boots) is a component of variance beside that of passes inside them. What correlates
#' with a fact of each pass (its place, how warm it began, what else ran) is the part of the variance inside blocks that
#' a straight line on it takes away, both with arms and blocks taken out.
#' @param rows Counted passes of one cell: `y`, `arm`, `block`, `boot`. @param facts List of numbers, one for each pass.
#' @return Data frame: `source`, `share` (of the variance of one pass for `block` and `boot`, of what blocks leave for
#'   facts; 0 to 1), `lower`, `upper` (95 %), `p`; `NULL` where fewer than four degrees of freedom are left.
#' @references Searle, Casella and McCulloch (1992), Variance Components, section 3.6 (interval of the ratio); Fisher
#'   (1921), Metron 1, 3-32 (interval of a correlation).
#' @noRd
noise_shares <- function(rows, facts) {
  blocked <- !anyNA(rows$block) && length(unique(rows$block)) > 1
  model <- additive_model(rows$arm, if (blocked) rows$block)
  left <- model$left(rows$y)
  df <- nrow(rows) - model$rank
  if (df < 4 || sum(left^2) <= 1e-20 * sum(rows$y^2)) {
    return(NULL)
  }
  stack_rows(c(
    if (blocked) list(group_share("block", rows$y, rows$arm, rows$block)),
    if (!anyNA(rows$boot) && anyDuplicated(rows$boot)) list(group_share("boot", rows$y, rows$arm, rows$boot)),
    lapply(names(facts), function(name) fact_share(name, facts[[name]], left, model, df))
  ))
}

# the part of the variance that lies between groups, from the ratio of mean squares
group_share <- function(source, y, arm, group) {
  without <- additive_model(arm)
  with <- additive_model(arm, group)
  df <- c(with$rank - without$rank, length(y) - with$rank)
  if (min(df) < 1) {
    return(NULL)
  }
  inside <- sum(with$left(y)^2)
  square <- c(sum(without$left(y)^2) - inside, inside) / df
  ratio <- square[1] / square[2]
  size <- length(y) / length(unique(group))
  part <- function(f) {
    over <- max(0, (f - 1) / size)
    over / (1 + over)
  }
  data.frame(
    source = source, share = part(ratio), lower = part(ratio / stats::qf(0.975, df[1], df[2])),
    upper = part(ratio / stats::qf(0.025, df[1], df[2])), p = stats::pf(ratio, df[1], df[2], lower.tail = FALSE)
  )
}

# how much of what is left a straight line on one fact takes away
fact_share <- function(source, x, left, model, df) {
  if (anyNA(x) || stats::var(x) == 0) {
    return(NULL)
  }
  own <- model$left(x)
  # a fact that is one thing with arm or block says nothing of its own
  if (sum(own^2) <= 1e-8 * sum((x - mean(x))^2)) {
    return(NULL)
  }
  r <- sum(own * left) / sqrt(sum(own^2) * sum(left^2))
  t <- r * sqrt((df - 1) / max(1e-12, 1 - r^2))
  ends <- tanh(atanh(min(abs(r), 1 - 1e-9)) + c(-1, 1) * stats::qnorm(0.975) / sqrt(max(1, df - 2)))
  data.frame(
    source = source, share = max(0, 1 - (1 - r^2) * df / (df - 1)), lower = max(0, ends[1])^2, upper = ends[2]^2,
    p = 2 * stats::pt(-abs(t), df - 1)
  )
}
