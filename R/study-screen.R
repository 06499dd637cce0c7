# Which of many options matter, and what to turn down.

#' What each option changes
#'
#' A plan with a block `screen` looks at many options: one at a time against the start, or together, where every pass
#' changes half of them and each option's effect comes from all passes (least squares with a level for each block).
#' Intervals hold together over options, workloads and primary metrics.
#'
#' @param x A study with such a plan.
#' @param ... Not used.
#' @param primary,worth,confidence As in [weigh()].
#' @param target What is to be won, in percent of the first primary metric; the fewest options that are foreseen to
#'   reach it are named. A prediction from effects that are taken to add up, to be confirmed.
#' @return An object of class `honestmargin_screen`, a data frame, one row per workload, metric and option: `option`,
#'   `from`, `to`, `change` (from the start to the other level), `lower`, `upper`, `verdict` (`no basis` where options
#'   act on one another and the design mixes that up with the effects), `rank` (by what changing it brings; ties share
#'   one), `passes`, `p_interact` (small: options act on one another), and the change of loads where sensors ran
#'   (`processor`, `one_thread`, `graphics`, `memory`, in percent points or MB; each with its interval at 95 % on its
#'   own, columns `_lower`, `_upper`). Attributes: `way`, `aliases` (what each option is mixed up with), `target` (a
#'   list per workload: `options`, `gain`, `lower`, `upper`).
#' @section Errors: `honestmargin_error_input` for what is no screening, or has too few passes to tell options apart.
#' @references Box, Hunter and Hunter (2005), Statistics for Experimenters; Plackett and Burman (1946), Biometrika 33,
#'   305-325.
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: options}", "screen:", "  way: together", "  options:",
#'   "    - {name: fog, from: on, to: off}", "    - {name: water, from: fine, to: coarse}",
#'   "workloads: [{id: lap}]", "metrics: [{id: fps_avg, worth: 2}]", "blocks: 3"
#' ), file.path(folder, "study.yml"))
#' for (block in 1:3) for (arm in c("start", "mix01", "mix02", "mix03")) {
#'   add_pass(folder, arm = arm, values = c(fps_avg = 60 + block + 3 * (arm == "mix01")))
#' }
#' weigh_screen(read_study(folder))
weigh_screen <- function(x, ..., primary = NULL, worth = NULL, confidence = NULL, target = NULL) {
  assert_no_dots(...)
  if (!is_study(x) || !is_screen(x$plan)) {
    abort_input("this study has no block screen", todo = "see docs/plan.md, or weigh it: honestmargin weigh")
  }
  checkmate::assert_number(target, lower = 0, finite = TRUE, null.ok = TRUE)
  plan <- x$plan
  how <- how_to_weigh(x, plan, x$readings, list(primary = primary, worth = worth, confidence = confidence))
  cells <- overall_cells(rescale_nonpositive(x$readings), how)
  if (!length(cells)) abort_input("no counted pass has a value of a primary metric", todo = "see the outcomes")
  k <- length(screen_names(plan))
  alpha <- family_alpha(how$confidence, length(cells) * k)
  singly <- if (!is_together(plan)) plain_table(weigh(x, primary = primary, worth = worth, confidence = confidence))
  rows <- lapply(cells, function(cell) screen_rows(cell, plan, how, alpha, singly))
  out <- stack_rows(rows)
  out <- cbind(out, load_columns(x, out, plan))
  structure(out,
    class = c("honestmargin_screen", "data.frame"), labels = plan_labels(plan), confidence = how$confidence,
    way = plan$screen$way, aliases = if (is_together(plan)) screen_aliases(screen_levels(plan)),
    target = if (!is.null(target)) lapply(rows, screen_target, target = target, alpha = 1 - how$confidence),
    levels = stats::setNames(plan$screen$options, screen_names(plan)), folder = x$folder, asked = target,
    findings = x$findings
  )
}

screen_rows <- function(cell, plan, how, alpha, singly) {
  levels <- screen_levels(plan)
  cell <- take_rows(cell, which(cell$arm %in% rownames(levels)))
  place <- as.data.frame(place_of(cell))
  options <- plan$screen$options
  grouped <- screen_names(plan)[vapply(options, `[[`, NA, "restart")]
  found <- screen_effects(cell$y, cell$block, levels[cell$arm, , drop = FALSE], cell$arm, grouped)
  effects <- found$effects
  if (all(is.na(effects$se))) {
    abort_input(
      paste0("too few passes to tell the options apart in ", place_names(place)),
      todo = "run more of the plan: honestmargin run"
    )
  }
  up <- if (cell$better[1] == "lower") -1 else 1
  half <- stats::qt(1 - alpha / 2, effects$df) * effects$se
  shown <- function(v) to_shown(v, place$scale)
  worth <- worth_of(place$metric, how$worth)
  out <- data.frame(
    place[rep(1, nrow(effects)), ],
    option = effects$option, from = vapply(options, `[[`, "", "from"), to = vapply(options, `[[`, "", "to"),
    change = shown(effects$estimate), lower = shown(effects$estimate - half), upper = shown(effects$estimate + half),
    worth = worth, better = cell$better[1], passes = length(cell$y), p_interact = found$p_interact, row.names = NULL
  )
  if (!is.null(singly)) out <- as_weighed(out, singly)
  # what two options do beyond their sum would be told as what a third one does, and in a saturated design nothing
  # shows whether they do (33 to 86 % false where two of them act on one another)
  mixed <- is_together(plan) && !isTRUE(found$p_interact >= 0.05) && NROW(screen_aliases(levels)) > 0
  out$verdict <- vapply(seq_len(nrow(out)), function(i) {
    if (is.na(out$lower[i]) || mixed) "no basis" else verdict_word(out$lower[i], out$upper[i], cell$better[1], worth)
  }, "")
  rank <- tied_ranks(up * effects$estimate, found$cov, max(1, min(effects$df)), alpha)
  out$rank <- rank
  attr(out, "gain") <- up * effects$estimate
  attr(out, "cov") <- found$cov
  attr(out, "df") <- min(effects$df)
  out
}

# one at a time: what weigh() says of the arm is what is said of its option
as_weighed <- function(out, verdicts) {
  key <- function(t, arm) paste(t$workload, t$segment, t$context, t$metric, arm, sep = "\r")
  at <- match(key(out, out$option), key(verdicts, verdicts$arm))
  out[c("change", "lower", "upper")] <- verdicts[at, c("change", "lower", "upper")]
  out
}

screen_loads <- c(
  processor = "processor_load_mean", one_thread = "busiest_core_load_mean", graphics = "graphics_load_mean",
  memory = "memory_used_mean"
)

# what an option costs besides: the change of each load, where sensors ran in every pass that counts
load_columns <- function(x, out, plan) {
  levels <- screen_levels(plan)
  rows <- plain_table(x$readings)
  rows <- rows[is_counted(rows) & is.na(rows$segment) & rows$arm %in% rownames(levels), , drop = FALSE]
  columns <- lapply(screen_loads, function(id) {
    mine <- rows[rows$metric == id, , drop = FALSE]
    blank <- data.frame(change = rep(NA_real_, nrow(out)), lower = NA_real_, upper = NA_real_)
    for (workload in unique(mine$workload)) {
      here <- mine[mine$workload == workload, , drop = FALSE]
      found <- screen_effects(here$value, here$block, levels[here$arm, , drop = FALSE], here$arm)$effects
      half <- stats::qt(0.975, pmax(1, found$df)) * found$se
      at <- match(paste(out$workload, out$option), paste(workload, found$option))
      blank[!is.na(at), ] <- cbind(found$estimate, found$estimate - half, found$estimate + half)[at[!is.na(at)], ]
    }
    blank
  })
  columns <- columns[vapply(columns, function(c) any(!is.na(c$lower)), NA)]
  if (length(columns)) {
    do.call(cbind, lapply(names(columns), function(name) {
      stats::setNames(columns[[name]], c(name, paste0(name, "_lower"), paste0(name, "_upper")))
    }))
  } else {
    data.frame(row.names = seq_len(nrow(out)))
  }
}

screen_target <- function(rows, target, alpha) {
  if (rows$scale[1] != "percent" || all(rows$verdict == "no basis")) {
    return(NULL)
  }
  found <- options_for(attr(rows, "gain"), attr(rows, "cov"), log1p(target / 100))
  half <- stats::qt(1 - alpha / 2, max(1, attr(rows, "df"))) * found$se
  list(
    workload = rows$workload[1], metric = rows$metric[1], options = rows$option[found$options],
    gain = to_shown(found$gain, "percent"), lower = to_shown(found$gain - half, "percent"),
    upper = to_shown(found$gain + half, "percent"), passes = rows$passes[1]
  )
}
