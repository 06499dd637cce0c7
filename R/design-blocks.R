# Every arm runs once, or a few times, in each block: it is compared with the
# baseline inside the same block.

design_blocks <- function(rows, key, unit = "pass") {
  inside <- key %in% both_present(key[!is.na(key)], rows$arm[!is.na(key)])
  repeated <- anyDuplicated(paste(key[inside], rows$arm[inside])) > 0
  new_design("blocks", if (unit == "pass" && repeated) "block" else unit, by = ifelse(inside, key, NA))
}

register("design", "blocks", rank = 20, recognise = function(rows, arm, baseline, one_way) {
  if (all(is.na(rows$block)) || length(unique(rows$block)) < 2) {
    return(NULL)
  }
  known <- !is.na(rows$block)
  shared <- both_present(rows$block[known], rows$arm[known])
  if (!length(shared) && belong_to_one_arm(rows$block[known], rows$arm[known])) {
    # blocks that hold one arm each, one arm's before the other's, are stints in disguise
    in_time <- design_from_order(rows, arm, baseline)
    if (identical(in_time$kind, "stints")) {
      return(in_time)
    }
    return(design_groups(rows, arm, baseline, rows$block, "block"))
  }
  if (length(shared) < 2) {
    return(no_design(new_code("one_shared_block", arm = arm, baseline = baseline)))
  }
  design_blocks(rows, rows$block)
})

# Each arm has its own noise, so each contrast uses only its own differences:
# a variance pooled over arms is false in up to 14 % when one arm is noisier.
#' @export
estimate.honestmargin_design_blocks <- function(design, rows, arm, baseline, stored = NULL) {
  one <- block_means(rows, design$by, arm)
  other <- block_means(rows, design$by, baseline)
  d <- one - other[names(one)]
  n <- length(d)
  spread <- stats::sd(d)
  inside <- !is.na(design$by)
  list(
    estimate = mean(d), se = spread / sqrt(n), df = n - 1, sd = spread / sqrt(2),
    mean_arm = mean(one), mean_baseline = mean(other),
    n_arm = sum(inside & rows$arm == arm), n_baseline = sum(inside & rows$arm == baseline),
    units = n, at_size = function(n) list(se = spread / sqrt(n), df = n - 1)
  )
}

block_means <- function(rows, by, arm) {
  mine <- !is.na(by) & rows$arm == arm
  y <- rows$y[mine]
  by <- by[mine]
  if (!anyDuplicated(by)) {
    return(stats::setNames(y, by))
  }
  unlist(lapply(split(y, by), mean))
}
