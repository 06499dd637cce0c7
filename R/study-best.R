# Which arms could be the best, of each workload and over all of them.

best_of_cells <- function(cells, spec) {
  together <- Filter(length, lapply(cells_by(cells, c("metric", "context")), join_workloads, spec = spec))
  described <- c(
    described_with_priors(cells, spec, function(arms) {
      lapply(arms, function(arm) list(baseline = arm, arms = setdiff(arms, arm)))
    }),
    lapply(together, described_cell)
  )
  stack_rows(Map(function(cell, described) {
    place <- place_of(cell)
    set <- best_set(cell, spec$arms, cell$better[1], spec$confidence, described)
    set$at_least <- behind_by(set$at_least, place$scale, cell$better[1])
    set$mean <- from_analysis(set$mean, place$scale)
    set$identical <- length(unique(cell$value)) == 1
    list2DF(c(lapply(place, rep, nrow(set)), set))
  }, c(cells, together), described))
}

#' Cells as they are described for a verdict, with what those of a study know of each other's noise
#' @param cells From `overall_cells()`. @param sets A function of the arms of a cell: what is compared, as
#'   `compared_arms()` gives it.
#' @noRd
described_with_priors <- function(cells, spec, sets) {
  questions <- new.env(parent = emptyenv())
  described <- lapply(cells, described_cell, questions = questions, stored = spec$stored)
  if (isTRUE(spec$looks)) {
    # what allows for looks has its own variance
    return(lapply(described, utils::modifyList, list(all_in_blocks = FALSE)))
  }
  if (spec$own_noise) {
    return(described)
  }
  with_priors(described, lapply(cells, function(cell) sets(intersect(spec$arms, cell$arm))))
}

described_cell <- function(rows, questions = new.env(parent = emptyenv()), stored = NULL) {
  cell <- describe_cell(rows, TRUE, 1, questions)
  cell$stored <- if (is.data.frame(stored)) stored_noise(stored, cell$first)
  cell
}

# the mean over workloads in every block that has all of them: a workload of its own
join_workloads <- function(cells, spec) {
  arms <- intersect(spec$arms, unlist(lapply(cells, `[[`, "arm")))
  each <- lapply(cells, block_matrix, arms = arms)
  if (length(cells) < 2 || any(lengths(each) == 0)) {
    return(NULL)
  }
  blocks <- Reduce(intersect, lapply(each, rownames))
  mean <- Reduce(`+`, lapply(each, function(m) m[blocks, , drop = FALSE])) / length(each)
  at <- which(!is.na(mean), arr.ind = TRUE)
  if (length(blocks) < 2 || !nrow(at)) {
    return(NULL)
  }
  first <- lapply(cells[[1]][c("context", "metric", "unit", "scale", "better")], `[`, 1)
  y <- mean[at]
  data.frame(
    workload = NA_character_, segment = NA_character_, first, arm = arms[at[, 2]], block = blocks[at[, 1]],
    boot = NA_character_, order = NA_real_, seconds = NA_real_, role = "counted", outcome = "ok", y = y,
    value = from_analysis(y, first$scale)
  )
}
