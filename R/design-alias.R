# Attributes that change together cannot be separated. Which ones do follows
# from the table of attributes alone, by linear algebra.

#' The attribute table of a plan, the setting's own value first
#'
#' Where the arms are only named (a kit, a machine) and each names all its attributes, the name
#' stands for all of them: it is none itself, and no arm can have one name and another's attributes.
#' @noRd
attribute_table <- function(plan) {
  names <- unique(unlist(lapply(plan$arms, function(a) names(a$attributes))))
  table <- data.frame(setting = plan_arms(plan))
  for (name in names) {
    table[[name]] <- vapply(plan$arms, function(a) fact_text(empty_to(a$attributes[[name]], "not given")), "")
  }
  names(table)[1] <- plan$setting$name
  named <- anyNA(suppressWarnings(as.numeric(table[[1]]))) && ncol(table) > 1 && !any(table[-1] == "not given")
  if (named) table <- table[-1]
  table[vapply(table, function(v) length(unique(v)) > 1, NA)]
}

#' Attributes whose effect is not separable from that of others
#'
#' With main effects in mind, the differences between arms are all that the data
#' can speak about. Their null space holds the mixtures of effects that nobody can
#' see; attributes that share such a mixture belong to one group.
#' @param table Data frame of attributes, one row per arm.
#' @return A list of character vectors: groups of attributes that change together.
#'   Empty when each can be separated.
#' @references Searle (1971), Linear Models, section 5.4 (estimable functions).
#' @noRd
alias_groups <- function(table) {
  if (ncol(table) < 2) {
    return(list())
  }
  coded <- code_attributes(table)
  unseen <- null_space(sweep(coded[-1, , drop = FALSE], 2, coded[1, ]))
  owner <- colnames(coded)
  linked <- rowsum(t(rowsum(abs(unseen), owner, reorder = FALSE)), owner, reorder = FALSE) > 1e-8
  tied <- rownames(linked)[diag(linked)]
  groups <- list()
  while (length(tied)) {
    grown <- tied[1]
    repeat {
      wider <- tied[colSums(linked[grown, tied, drop = FALSE]) > 0]
      if (setequal(wider, grown)) break
      grown <- union(grown, wider)
    }
    groups <- c(groups, list(intersect(tied, grown)))
    tied <- setdiff(tied, grown)
  }
  # levels of one attribute that were never seen apart concern no other
  groups[lengths(groups) > 1]
}

# projection onto what the rows of `x` do not reach
null_space <- function(x) {
  parts <- svd(x, nu = 0, nv = ncol(x))
  reached <- parts$v[, seq_len(qr(x)$rank), drop = FALSE]
  diag(ncol(x)) - tcrossprod(reached)
}

code_attributes <- function(table) {
  parts <- lapply(names(table), function(name) {
    levels <- unique(table[[name]])
    out <- outer(table[[name]], levels[-1], "==") + 0
    colnames(out) <- rep(name, length(levels) - 1)
    out
  })
  do.call(cbind, parts)
}

#' Further arms that would take the groups apart
#'
#' Searched among all combinations of the attribute values that occur, one at a
#' time, each time the arm that leaves the fewest attributes tied and differs
#' least from an arm that is there.
#' @return Data frame of arms to add, no rows when none is needed.
#' @noRd
separating_arms <- function(table, most = 6) {
  every <- expand.grid(lapply(table, unique), stringsAsFactors = FALSE, KEEP.OUT.ATTRS = FALSE)
  if (nrow(every) > 4000) every <- every[seq_len(4000), ]
  tied <- function(t) sum(lengths(alias_groups(t)))
  added <- table[0, , drop = FALSE]
  while (tied(rbind(table, added)) > 0 && nrow(added) < most) {
    now <- rbind(table, added)
    left <- vapply(seq_len(nrow(every)), function(i) tied(rbind(now, every[i, , drop = FALSE])), 1)
    ranks <- vapply(seq_len(nrow(every)), function(i) qr(code_attributes(rbind(now, every[i, ])))$rank, 1L)
    steps <- vapply(seq_len(nrow(every)), function(i) min(rowSums(now != every[rep(i, nrow(now)), ])), 1)
    steps[steps == 0] <- Inf
    added <- rbind(added, every[order(left, -ranks, steps)[1], , drop = FALSE])
  }
  rownames(added) <- NULL
  added
}

#' Pairs of arms that are there and differ in one attribute only
#' @return Data frame `one`, `other`, `attribute`.
#' @noRd
single_differences <- function(table, arms) {
  pairs <- utils::combn(seq_along(arms), 2)
  differ <- lapply(seq_len(ncol(pairs)), function(i) {
    names(table)[unlist(table[pairs[1, i], ]) != unlist(table[pairs[2, i], ])]
  })
  single <- which(lengths(differ) == 1)
  data.frame(one = arms[pairs[1, single]], other = arms[pairs[2, single]], attribute = unlist(differ[single]))
}
