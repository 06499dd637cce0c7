# What is the same for every metric of the same passes, looked at once.

# The same passes pose the same question for every metric of theirs: how they lie is looked at once. They are told by a
# number, since their text may be long.
describe_order <- function(counted, first, role, questions) {
  question <- nth_of(questions, paste(counted$arm, counted$block, counted$boot, counted$order, collapse = "\r"))
  key <- paste("order", question)
  if (is.null(questions[[key]])) assign(key, c(list(question = question), pass_layout(counted)), questions)
  seen <- questions[[key]]
  seen$means <- if (!is.null(seen$lay)) block_means(seen$lay, counted$y)
  seen$y_of <- sum_by(counted$y, counted$arm) / seen$n_of
  seen$order_finding <- problem_with_order(counted, seen$rounds, first, role)
  seen
}

#' How the counted passes of a cell lie, whatever their values
#' @return A list, by arm `of_arm` (its passes), `n_of` (how many) and `order_of` (mean place, `NA` where it is not
#'   known); `rounds` (from `fixed_rounds()`), `lay` (from `lay_in_blocks()`, `NULL` without blocks), `all_in_blocks`,
#'   and `by_block`: whether arms that share blocks are compared in them.
#' @noRd
pass_layout <- function(counted) {
  of_arm <- split(seq_along(counted$arm), counted$arm)
  lay <- if (!all(is.na(counted$block))) lay_in_blocks(counted$block, counted$arm)
  list(
    of_arm = of_arm, n_of = lengths(of_arm), order_of = sum_by(counted$order, counted$arm) / lengths(of_arm),
    rounds = fixed_rounds(counted), lay = lay, firsts = if (!is.null(lay)) firsts_of_mirrored(counted),
    all_in_blocks = !is.null(lay) && length(lay$inside) == length(counted$arm),
    # boots that hold all arms of a block change nothing; others are looked at one contrast at a time
    by_block = !is.null(lay) && (all(is.na(counted$boot)) || fully_crossed(counted))
  )
}

nth_of <- function(questions, text) {
  at <- match(text, questions$.texts)
  if (is.na(at)) {
    at <- length(questions$.texts) + 1L
    questions$.texts[at] <- text
  }
  at
}

# The same passes pose the same question for every metric of theirs: the design is
# recognised once.
design_of <- function(two, arm, baseline, cell, spec, questions) {
  # short whatever the arms are called, since the name of a variable has a longest length
  key <- paste(match(arm, spec$arms), match(baseline, spec$arms), cell$question)
  if (is.null(questions[[key]])) assign(key, recognise_design(two, arm, baseline), questions)
  questions[[key]]
}
