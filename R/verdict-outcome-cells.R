# Which outcomes are compared with which, and what is counted in each comparison.

#' Which comparisons of outcomes a study has
#'
#' Where no pass of a place gave a number, how they ended is what is judged. Elsewhere outcomes are judged
#' where they are named, and looked at where a pass failed.
#' @param passes All passes. @param readings Their readings.
#' @param spec As in `weigh_cells()`, and `listed`: metrics that the plan names.
#' @return Data frame: `workload`, `context`, `metric`, `role`; `NULL` where nothing failed, nothing of the kind is
#'   named and every place has numbers.
#' @noRd
outcome_cells <- function(passes, readings, spec) {
  passes <- passes[tried(passes) & !passes$workload %in% spec$anchors, , drop = FALSE]
  key <- function(rows) paste(rows$workload, rows$context, sep = "\r")
  place <- key(passes)
  first <- which(!duplicated(place))
  # sensors are recorded whether or not anybody asked
  asked <- readings$metric %in% spec$primary | !readings$metric %in% spec$beside
  judged <- asked & readings$better != "none" & !is.na(readings$value)
  silent <- !place[first] %in% key(readings)[judged]
  named <- any(names(known_outcome_metrics()) %in% c(spec$primary, spec$listed))
  if (!named && !any(silent) && !any(fell(passes))) {
    return(NULL)
  }
  silent <- silent & !any(names(known_outcome_metrics()) %in% spec$primary)
  failing <- place[first] %in% place[fell(passes)]
  longer <- vapply(place[first], function(p) longest_exposure(passes[place == p, , drop = FALSE]), 1)
  uneven <- longer > 1.1
  far_longer <- longer > 5
  cells <- lapply(names(known_outcome_metrics()), function(id) {
    of_share <- id == "failed"
    # where only ends are judged and one arm was tried far longer, a share of passes says little and the rate is asked
    must <- id %in% spec$primary | (silent & (of_share | (failing & far_longer)))
    may <- id %in% spec$listed | (failing & (of_share | uneven))
    data.frame(
      passes[first, c("workload", "context"), drop = FALSE],
      metric = rep(id, length(first)), role = ifelse(must, "primary", ifelse(may, "exploratory", NA_character_))
    )
  })
  cells <- do.call(rbind, cells)
  cells[!is.na(cells$role), , drop = FALSE]
}

# how many times as long as in another arm a typical pass ran, 1 where it is not known; where they are about as long,
# failures an hour say nothing new
longest_exposure <- function(passes) {
  if (anyNA(passes$seconds) || any(passes$seconds <= 0)) {
    return(1)
  }
  typical <- vapply(split(passes$seconds, passes$arm), mean, 1)
  max(typical) / min(typical)
}

#' @param cells From `outcome_cells()`. @param family How many primary comparisons there are in all.
#' @param compared From `compared_arms()`.
#' @return Data frame of verdicts, or `NULL`.
#' @noRd
weigh_outcomes <- function(passes, cells, compared, spec, family) {
  columns <- c("workload", "context", "arm", "block", "boot", "order", "seconds", "outcome", "role", "part")
  passes <- take_rows(passes[columns], which(tried(passes)))
  passes$fell <- fell(passes)
  here <- split(seq_along(passes$arm), paste(passes$workload, passes$context, sep = "\r"))
  place <- paste(cells$workload, cells$context, sep = "\r")
  # both metrics of a place rest on the same counts
  counted <- lapply(stats::setNames(nm = unique(place)), function(p) {
    count_place(take_rows(passes, empty_to(here[[p]], integer())), compared[[match(p, place)]], spec)
  })
  seen <- unlist(lapply(seq_len(nrow(cells)), function(i) {
    lapply(counted[[place[i]]], function(s) c(list(cell = i), s))
  }), recursive = FALSE)
  if (length(seen)) outcome_rows(seen, cells, spec, family)
}

count_place <- function(rows, compared, spec) {
  unlist(lapply(compared, count_set, rows = rows, spec = spec), recursive = FALSE)
}

count_set <- function(set, rows, spec) {
  # arms without a pass have none of each
  of_arm <- split(seq_along(rows$arm), factor(rows$arm, unique(c(set$arms, set$baseline, rows$arm))))
  cell <- list(question = "1")
  questions <- new.env(parent = emptyenv())
  spec$baseline <- set$baseline
  crossed <- fully_crossed(rows)
  each <- count_passes(rows, of_arm)
  lapply(set$arms, function(arm) {
    counted <- counts_of_two(each, arm, spec$baseline)
    lacking <- c(arm, spec$baseline)[counted$passes == 0]
    if (length(lacking)) {
      counted$why <- new_code("no_reading", arm = lacking[1])
    } else if (!crossed) {
      two <- take_rows(rows, sort(c(of_arm[[arm]], of_arm[[spec$baseline]])))
      counted <- count_contrast(counted, two, arm, cell, spec, questions)
    }
    counted
  })
}

# where every block (and boot) holds every arm, passes are what is counted in each contrast
fully_crossed <- function(rows) {
  arms <- length(unique(rows$arm))
  full <- function(by) !anyNA(by) && length(unique(joint_code(by, rows$arm))) == arms * length(unique(by))
  length(unique(rows$block)) > 1 && full(rows$block) && (all(is.na(rows$boot)) || full(rows$boot))
}

# passes, failures and hours of each arm
count_passes <- function(rows, of_arm) {
  timed <- is.finite(rows$seconds) & rows$seconds > 0
  list(
    passes = lengths(of_arm), fell = vapply(of_arm, function(at) sum(rows$fell[at]), 1L),
    hours = vapply(of_arm, function(at) if (length(at) && all(timed[at])) sum(rows$seconds[at]) / 3600 else NA_real_, 1)
  )
}

counts_of_two <- function(each, arm, baseline) {
  two <- match(c(arm, baseline), names(each$passes))
  passes <- unname(each$passes[two])
  fell <- unname(each$fell[two])
  list(
    arm = arm, baseline = baseline, unit = "pass", why = NULL, passes = passes, fell = fell,
    hours = unname(each$hours[two]), x = fell, n = passes
  )
}

#' One contrast that is not in blocks: what stands in the way, or failures and tries in groups of passes
#' @param out From `counts_of_two()`. @param two Passes of both arms.
#' @noRd
count_contrast <- function(out, two, arm, cell, spec, questions) {
  base <- spec$baseline
  design <- design_of(two, arm, base, cell, spec, questions)
  if (design$kind == "stints" && !spec$steady || identical(design$why$code, "one_group")) {
    out$why <- no_basis_code(design$why, two, spec)
  } else if (design$kind == "groups" || design$unit %in% "boot") {
    out <- count_groups(out, two, design, arm, base)
  }
  out
}

# failures that share a boot are one piece of evidence: boots with a failure are counted
count_groups <- function(out, two, design, arm, base) {
  inside <- !is.na(design$by)
  group <- paste(two$arm, design$by, sep = "\r")[inside]
  any_fell <- tapply(two$fell[inside], group, any)
  owner <- tapply(two$arm[inside], group, `[`, 1)
  if (all(table(group) == 1)) {
    return(out)
  }
  out$unit <- design$unit
  out$x <- c(sum(any_fell[owner == arm]), sum(any_fell[owner == base]))
  out$n <- c(sum(owner == arm), sum(owner == base))
  out
}
