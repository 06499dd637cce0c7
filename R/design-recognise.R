# Which design the passes of one contrast form. Only the passes are looked at,
# never the values, so the choice of method cannot follow the result.

#' Recognise the design of one contrast
#'
#' @param rows Counted passes of one cell, both arms: `arm`, `block`, `boot`, `order`.
#' @param arm,baseline The two arms.
#' @param one_way `TRUE` where what time did is already taken out by an anchor, so
#'   that one stint per arm is as good as a session.
#' @return A list: `kind` (`blocks`, `session`, `groups`, `stints`, `single`,
#'   `none`), `unit` (what is replicated: `pass`, `block`, `boot`, `stint`), `by` (for each
#'   row the block or group it belongs to), `reason` (why there is no basis) and
#'   `todo` (the remedy).
#' @noRd
recognise_design <- function(rows, arm, baseline, one_way = FALSE) {
  rows <- rows[rows$arm %in% c(arm, baseline), , drop = FALSE]
  n <- c(sum(rows$arm == arm), sum(rows$arm == baseline))
  if (any(n == 0)) {
    return(no_design(paste0("no counted reading of ", c(arm, baseline)[n == 0][1]), "run passes of this arm"))
  }
  if (!all(is.na(rows$boot))) {
    found <- design_from_boots(rows, arm, baseline)
    if (!is.null(found)) {
      return(found)
    }
  }
  if (!all(is.na(rows$block)) && length(unique(rows$block)) > 1) {
    return(design_from_blocks(rows, arm, baseline, rows$block, "pass"))
  }
  if (min(n) == 1) {
    return(list(
      kind = "single", unit = "pass", by = NULL,
      reason = if (max(n) == 1) {
        "one pass per arm: noise not measured"
      } else {
        paste0(
          "one pass of ", c(arm, baseline)[n == 1][1], ": its noise not measured"
        )
      },
      todo = "run every arm at least three times, interleaved, or give noise known from the same machine and workload"
    ))
  }
  if (one_way) session_design() else design_from_order(rows, arm, baseline)
}

session_design <- function() list(kind = "session", unit = "pass", by = NULL, reason = "", todo = "")

no_design <- function(reason, todo) list(kind = "none", unit = NA_character_, by = NULL, reason = reason, todo = todo)

# An unknown boot must not pass for a known one; per arm it stands for one boot.
boot_keys <- function(rows) ifelse(is.na(rows$boot), paste("unknown", rows$arm), rows$boot)

belong_to_one_arm <- function(key, arm) !length(both_present(key, arm))

design_from_boots <- function(rows, arm, baseline) {
  boot <- boot_keys(rows)
  if (!belong_to_one_arm(boot, rows$arm)) {
    # a boot that holds both arms is itself a block, unless finer blocks are given
    shared <- both_present(boot, rows$arm)
    if (all(is.na(rows$block)) && length(shared) > 1) {
      return(design_from_blocks(rows, arm, baseline, boot, "pass"))
    }
    return(NULL)
  }
  one_block_each <- !anyNA(rows$block) && all(tapply(rows$block, boot, function(b) length(unique(b))) == 1)
  if (one_block_each && length(both_present(rows$block, rows$arm)) > 1) {
    return(design_from_blocks(rows, arm, baseline, rows$block, "boot"))
  }
  design_from_groups(rows, arm, baseline, boot, "boot")
}

both_present <- function(key, arm) {
  first <- arm == arm[1]
  intersect(key[first], key[!first])
}

design_from_groups <- function(rows, arm, baseline, key, unit) {
  count <- tapply(key, rows$arm, function(k) length(unique(k[!is.na(k)])))[c(arm, baseline)]
  if (any(count < 2)) {
    return(no_design(
      paste0("one ", unit, " of ", c(arm, baseline)[count < 2][1], ": its passes are not repetitions of the setting"),
      paste0("set each arm again in at least three ", unit, "s")
    ))
  }
  list(kind = "groups", unit = unit, by = key, reason = "", todo = "")
}

design_from_blocks <- function(rows, arm, baseline, key, unit) {
  shared <- both_present(key[!is.na(key)], rows$arm[!is.na(key)])
  if (!length(shared) && belong_to_one_arm(key[!is.na(key)], rows$arm[!is.na(key)])) {
    # blocks that hold one arm each, one arm's before the other's, are stints in disguise
    in_time <- if (!anyNA(rows$order)) design_from_order(rows, arm, baseline)
    if (identical(in_time$kind, "stints")) {
      return(in_time)
    }
    return(design_from_groups(rows, arm, baseline, key, "block"))
  }
  if (length(shared) < 2) {
    return(no_design(paste0(arm, " and ", baseline, " share one block only"), "run both in at least three blocks"))
  }
  inside <- key %in% shared
  repeated <- anyDuplicated(paste(key[inside], rows$arm[inside])) > 0
  list(
    kind = "blocks", unit = if (unit == "pass" && repeated) "block" else unit,
    by = ifelse(inside, key, NA), reason = "", todo = ""
  )
}

design_from_order <- function(rows, arm, baseline) {
  if (anyNA(rows$order)) {
    return(session_design())
  }
  runs <- rle(rows$arm[order(rows$order)])$lengths
  stints <- length(runs)
  # long stints share what the machine was like then, so they are what is
  # replicated; in a mixed order runs are about two passes long
  if (stints > 3 && mean(runs) >= 3) {
    stint <- integer(nrow(rows))
    stint[order(rows$order)] <- rep(seq_len(stints), runs)
    return(design_from_groups(rows, arm, baseline, stint, "stint"))
  }
  if (stints > 3) {
    return(session_design())
  }
  list(
    kind = "stints", unit = "pass", by = NULL, returned = stints == 3,
    reason = "one stint per arm: time and setting cannot be told apart",
    todo = "go back to the first arm once more, or interleave the arms"
  )
}
