# Passes come in groups that belong to one arm each (boots, long stints, blocks of one
# arm): the group is what is replicated, its passes are not.

design_groups <- function(rows, arm, baseline, key, unit) {
  count <- tapply(key, rows$arm, function(k) length(unique(k[!is.na(k)])))[c(arm, baseline)]
  if (any(count < 2)) {
    return(no_design(new_code("one_group", unit = unit, arm = c(arm, baseline)[count < 2][1])))
  }
  new_design("groups", unit, by = key)
}

#' @export
estimate.honestmargin_design_groups <- function(design, rows, arm, baseline, stored = NULL, alpha = 0.05) {
  groups <- group_means(design, rows)
  estimate_welch(
    groups$y, groups$arm, arm, baseline, alpha,
    passes = c(sum(groups$passes[groups$arm == arm]), sum(groups$passes[groups$arm == baseline]))
  )
}

#' The groups in which passes came, in the order in which they first come up
#' @return A list `arm`, `y` (mean), `order` (mean), `passes`.
#' @noRd
group_means <- function(design, rows) {
  inside <- which(!is.na(design$by))
  of_group <- split_in_order(inside, rows$arm[inside], design$by[inside])
  mean_of <- function(x) vapply(of_group, function(at) mean(x[at]), 1, USE.NAMES = FALSE)
  list(
    arm = rows$arm[vapply(of_group, `[`, 1L, 1L)], y = mean_of(rows$y), order = mean_of(rows$order),
    passes = lengths(of_group, use.names = FALSE)
  )
}

# An unknown boot must not pass for a known one; per arm it stands for one boot.
boot_keys <- function(rows) ifelse(is.na(rows$boot), paste("unknown", rows$arm), rows$boot)

register("design", "boots", rank = 10, recognise = function(rows, arm, baseline, one_way) {
  if (all(is.na(rows$boot))) {
    return(NULL)
  }
  boot <- boot_keys(rows)
  if (!belong_to_one_arm(boot, rows$arm)) {
    shared <- both_present(boot, rows$arm)
    if (all(boot %in% shared)) {
      # a boot that holds both arms is itself a block, unless finer blocks are given
      return(if (all(is.na(rows$block)) && length(shared) > 1) design_blocks(rows, boot))
    }
    # some boots hold one arm only: each is one piece of evidence for the arms it holds
    return(design_groups(rows, arm, baseline, boot, "boot"))
  }
  one_block_each <- !anyNA(rows$block) && all(tapply(rows$block, boot, function(b) length(unique(b))) == 1)
  if (one_block_each && length(both_present(rows$block, rows$arm)) > 1) {
    return(design_blocks(rows, rows$block, "boot"))
  }
  in_time <- design_from_order(rows, arm, baseline, boot)
  if (is.null(in_time)) {
    return(design_groups(rows, arm, baseline, boot, "boot"))
  }
  # whatever is declared of the time between, passes of one boot share what that start brought
  if (in_time$kind == "stints") in_time[c("by", "unit")] <- list(boot, "boot")
  in_time
})
