# A plan that looks which of many options matter: one at a time, or half of them changed in every pass.

plan_key("screen", "map", "many options are looked at; takes the place of `arms`")
plan_key("screen/way", "word", "one option at a time, or together: in every pass half of them are changed", "singly",
  words = c("singly", "together")
)
plan_key("screen/options", "maps", "the options; {NAME} stands for the level in commands", required = TRUE)
plan_key("screen/options/*/name", "text", "its name", example = "shadows", required = TRUE)
plan_key("screen/options/*/from", "text", "its level at the start", example = "high", required = TRUE)
plan_key("screen/options/*/to", "text", "the other level", example = "low", required = TRUE)
plan_key("screen/options/*/restart", "flag", "it needs a restart to take; such are changed as seldom as may be", FALSE,
  example = "true"
)
plan_key("screen/fold_over", "flag",
  "together: every pass has its mirror image too, so that no option is mixed up with a pair of others", FALSE,
  example = "true"
)

is_screen <- function(plan) !is.null(plan$screen)
is_together <- function(plan) is_screen(plan) && plan$screen$way == "together"
screen_names <- function(plan) vapply(plan$screen$options, `[[`, "", "name")

#' The arms of a screening: the start first
#' @noRd
fill_screen <- function(plan, where) {
  if (length(plan$arms) || is_search(plan)) {
    abort_input("a plan has arms, a search or a screen, one of them", where("screen"), "take the others out")
  }
  options <- plan$screen$options
  names <- screen_names(plan)
  if (length(options) < 2) abort_input("one option is no screening", where("screen/options"), "compare it as two arms")
  if (length(options) > 23) abort_input("more than 23 options", where("screen/options"), "split them into two studies")
  wrong <- names[duplicated(names) | names == "start" | !grepl("^[A-Za-z][A-Za-z0-9_-]*$", names)]
  if (length(wrong)) {
    abort_input(
      paste0("'", wrong[1], "' is no name for an option"), where("screen/options"),
      "each its own name, of letters, digits, - and _, and none of them 'start'"
    )
  }
  taken <- intersect(names, command_names)
  if (length(taken)) {
    abort_input(
      paste0("{", taken[1], "} stands for something else in commands"), where("screen/options"), "choose another name"
    )
  }
  same <- vapply(options, function(o) o$from == o$to, NA)
  if (any(same)) {
    abort_input(paste0("both levels of ", names[same][1], " are the same"), where("screen/options"), "give two levels")
  }
  plan$arms <- screen_arms(plan)
  plan$setting$baseline <- "start"
  if (!is.null(plan$context) || plan$setting$one_way || length(toggled_workloads(plan))) {
    abort_input("a screening has neither context, one_way nor toggle", where("screen"), "take it out")
  }
  plan
}

screen_arms <- function(plan) {
  changed <- screen_levels(plan)
  options <- plan$screen$options
  lapply(seq_len(nrow(changed)), function(i) {
    level <- ifelse(changed[i, ] == 1, vapply(options, `[[`, "", "to"), vapply(options, `[[`, "", "from"))
    level <- stats::setNames(as.list(level), screen_names(plan))
    moved <- paste(names(level), unlist(level))[changed[i, ] == 1]
    label <- if (length(moved)) paste(moved, collapse = ", ") else "start"
    list(value = rownames(changed)[i], label = label, settings = level, by_hand = paste(
      names(level), unlist(level),
      collapse = ", "
    ))
  })
}

#' Which options are changed in which arm
#' @return Matrix of 0 and 1, arms by options, the start first; named.
#' @noRd
screen_levels <- function(plan) {
  names <- screen_names(plan)
  k <- length(names)
  if (is_together(plan)) {
    at <- two_level_design(k)
    if (plan$screen$fold_over) at <- rbind(at, 1 - at)
    # the start, at which nothing is changed, heads the list
    at <- at[order(rowSums(at)), , drop = FALSE]
    rownames(at) <- c("start", sprintf("mix%02d", seq_len(nrow(at) - 1)))
  } else {
    at <- rbind(rep(0, k), diag(k))
    rownames(at) <- c("start", names)
  }
  colnames(at) <- names
  at
}

#' A two-level design in which every option is changed in half of the runs
#'
#' Sylvester's construction for powers of two, the cyclic rows of Plackett and Burman else; one run more than options at
#' least, so that something is left to tell the noise by.
#' @param k Options. @return Matrix of 0 and 1; one row has none changed.
#' @references Plackett and Burman (1946), Biometrika 33, 305-325; Sylvester (1867), Philosophical Magazine 34, 461-475.
#' @noRd
two_level_design <- function(k) {
  runs <- c(4, 8, 12, 16, 20, 24)
  n <- runs[runs >= k + 1][1]
  at <- if (n %in% c(4, 8, 16)) {
    h <- matrix(1)
    while (nrow(h) < n) h <- rbind(cbind(h, h), cbind(h, -h))
    # columns that are no product of fewer come first, so that few options are mixed up with few pairs
    generators <- 2^(seq_len(log2(n)) - 1) + 1
    h[, c(generators, setdiff(rev(seq_len(n)[-1]), generators))]
  } else {
    row <- strsplit(c(
      `12` = "++-+++---+-", `20` = "++--++++-+-+----++-", `24` = "+++++-+-++--++--+-+----"
    )[[as.character(n)]], "")[[1]]
    first <- ifelse(row == "+", 1, -1)
    cycle <- t(vapply(seq_len(n - 1), function(i) first[(seq_len(n - 1) - i) %% (n - 1) + 1], numeric(n - 1)))
    rbind(cycle, -1)
  }
  at <- at[, seq_len(k), drop = FALSE]
  # mirrored column by column until one run has nothing changed
  (sweep(at, 2, at[nrow(at), ], `*`) == -1) + 0
}
