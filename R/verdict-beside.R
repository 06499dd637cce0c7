# What must be told beside a verdict, and what it takes of it: a fixed order, two lumps, passes that failed.

#' @param rows From `judge_contrasts()`. @param cells From `describe_cell()`. @param looks Are looks allowed for?
#' @return `rows` with their codes and verdicts complete.
#' @noRd
tell_contrasts <- function(rows, cells, looks) {
  found <- which(rows$found)
  for (i in found[rows$placed[found]]) {
    rows <- change_row(rows, i, tell_order, cells[[rows$cell[i]]]$order_finding$code, rows$moved[i], rows$estimate[i])
  }
  # arms whose order nobody knows: one may always have run before the other
  unknown <- rows$found & !rows$order_known & rows$differs %in% "yes"
  rows <- add_codes(rows, unknown, function(i) tipping_point(lapply(rows, `[[`, i), "order_not_known"))
  for (i in found[rows$verdict[found] == "unclear"]) {
    lump <- cells[[rows$cell[i]]]$lump
    if (!is.null(lump)) rows <- change_row(rows, i, tell_lump, lump, looks)
  }
  lacking <- which(!rows$found)
  rows$codes[lacking] <- lapply(rows$why[lacking], list)
  # that an arm never held is an answer
  never <- vapply(lacking, function(i) {
    why <- rows$why[[i]]
    why$code == "no_reading_failed" && why$values$arm == rows$arm[i]
  }, NA)
  rows$verdict[lacking[never]] <- "does not hold"
  rows <- add_failures(rows, cells)
  # that the means are alike says nothing of what happens in one pass of many
  rows <- add_codes(rows, rows$found & rows$verdict == "negligible", function(i) {
    new_code("rare_unseen", share = 100 * possible_share(0, rows$passes_arm[i])$upper)
  })
  rows$verdict <- unasked_word(rows$verdict, rows$role)
  rows
}

# what belongs to the design, then how passes of either arm ended
add_failures <- function(rows, cells) {
  failed <- !vapply(cells, function(cell) is.null(cell$failures), NA)
  for (i in which(lengths(rows$said) > 0 | failed[rows$cell])) {
    ended <- cells[[rows$cell[i]]]$failures
    rows$codes[i] <- list(c(rows$codes[[i]], rows$said[[i]], ended[[rows$arm[i]]], ended[[rows$baseline[i]]]))
  }
  rows
}

# a mean over two lumps has no answer that more of the same passes would settle soon: passes in the worse lump are
# what can be counted
tell_lump <- function(row, lump, looks) {
  arms <- c(row$arm, row$baseline)
  x <- vapply(lump[arms], sum, 1L)
  n <- lengths(lump[arms])
  if (!any(x)) {
    return(row)
  }
  row$codes <- c(
    list(new_code("two_lumps", arm = row$arm, baseline = row$baseline, low = unname(x), of = unname(n))), row$codes
  )
  row$more_passes <- passes_to_answer(x[[1]], n[[1]], x[[2]], n[[2]], row$alpha, NA_real_, looks)
  row
}
