# Which arms could be the best, of each workload and over all of them.

best_of_cells <- function(cells, spec) {
  together <- lapply(cells_by(cells, c("metric", "context")), join_workloads, spec = spec)
  stack_rows(lapply(c(cells, Filter(length, together)), function(cell) {
    place <- place_of(cell)
    set <- best_set(cell, spec$arms, cell$better[1], spec$confidence)
    set$at_least <- behind_by(set$at_least, place$scale, cell$better[1])
    set$mean <- from_analysis(set$mean, place$scale)
    set$identical <- length(unique(cell$value)) == 1
    list2DF(c(lapply(place, rep, nrow(set)), set))
  }))
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
  data.frame(
    workload = NA_character_, segment = NA_character_, first, arm = arms[at[, 2]], block = blocks[at[, 1]],
    boot = NA_character_, order = NA_real_, y = mean[at], value = mean[at]
  )
}
