# The question: which of many options matter, and what should be turned down?

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
#' @return An answer ([ask_study()]), a data frame, one row per workload, metric and option: `option`,
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
  spec <- contrast_spec(x, plan, x$readings, list(primary = primary, worth = worth, confidence = confidence))
  cells <- overall_cells(rescale_nonpositive(x$readings), spec)
  if (!length(cells)) abort_input("no counted pass has a value of a primary metric", todo = "see the outcomes")
  k <- length(screen_names(plan))
  alpha <- family_alpha(spec$confidence, length(cells) * k)
  singly <- if (!is_together(plan)) plain_table(weigh(x, primary = primary, worth = worth, confidence = confidence))
  rows <- lapply(cells, function(cell) screen_rows(cell, plan, spec, alpha, singly))
  out <- stack_rows(rows)
  out <- cbind(out, load_columns(x, out, plan))
  new_answer("screen", out, x,
    confidence = spec$confidence, way = plan$screen$way,
    aliases = if (is_together(plan)) screen_aliases(screen_levels(plan)),
    target = if (!is.null(target)) lapply(rows, screen_target, target = target, alpha = 1 - spec$confidence),
    levels = stats::setNames(plan$screen$options, screen_names(plan)), folder = x$folder, asked = target,
    findings = x$findings
  )
}

screen_rows <- function(cell, plan, spec, alpha, singly) {
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
  shown <- function(v) to_shown(v, place$scale)
  range <- interval_about(effects$estimate, t_reach(alpha, effects$df) * effects$se, shown)
  worth <- worth_of(place$metric, spec$worth)
  out <- data.frame(
    place[rep(1, nrow(effects)), ],
    option = effects$option, from = vapply(options, `[[`, "", "from"), to = vapply(options, `[[`, "", "to"),
    change = shown(effects$estimate), lower = range$lower, upper = range$upper,
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

screen_target <- function(rows, target, alpha) {
  if (rows$scale[1] != "percent" || all(rows$verdict == "no basis")) {
    return(NULL)
  }
  found <- options_for(attr(rows, "gain"), attr(rows, "cov"), log1p(target / 100))
  shown <- function(v) to_shown(v, "percent")
  range <- interval_about(found$gain, t_reach(alpha, max(1, attr(rows, "df"))) * found$se, shown)
  list(
    workload = rows$workload[1], metric = rows$metric[1], options = rows$option[found$options],
    gain = shown(found$gain), lower = range$lower, upper = range$upper, passes = rows$passes[1]
  )
}

#' @param x From `weigh_screen()`.
#' @return Sentences: the answer of each workload first.
#' @noRd
screen_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  cells <- split(rows, factor(paste(place_names(rows), rows$metric), unique(paste(place_names(rows), rows$metric))))
  c(
    vapply(cells, screen_sentence, "", labels = labels, USE.NAMES = FALSE),
    unlist(lapply(attr(x, "target"), target_sentence, x = x, labels = labels)),
    unlist(lapply(cells, interact_sentence, labels = labels), use.names = FALSE)
  )
}

option_names <- function(rows) paste(rows$option, rows$to)

screen_sentence <- function(rows, labels) {
  about <- paste0(place_names(rows[1, ]), ", ", metric_labels(rows$metric[1], labels), ": ")
  rows <- rows[order(rows$rank, -abs(rows$change)), , drop = FALSE]
  family <- verdict_words_of(rows$verdict)
  said <- function(word, text) {
    mine <- rows[family == word, , drop = FALSE]
    if (nrow(mine)) {
      paste0(text, list_words(paste0(option_names(mine), " (", shown_change(mine), ", ", shown_interval(mine), ")")))
    }
  }
  few <- function(word, text) {
    mine <- rows[family == word, , drop = FALSE]
    if (nrow(mine)) paste0(text, list_words(option_names(mine)))
  }
  if (all(rows$verdict == "no basis")) {
    if (is.na(rows$p_interact[1])) {
      return(paste0(
        about, "no option can be judged alone: with as many options as these passes have room for, nothing shows ",
        "whether options act on one another, and what two do beyond their sum goes into others. Fold the design over ",
        "(fold_over: true, twice the passes), or change one at a time (way: singly)."
      ))
    }
    return(paste0(
      about, "no option can be judged alone: options act on one another (", interact_chance(rows), "), and these ",
      "passes mix that up with what each of them does. Fold the design over (fold_over: true), or compare the ",
      "settings that matter as arms."
    ))
  }
  parts <- c(
    said("gain", "most is won by "), said("loss", "lost by "), few("negligible", "nothing worth having by "),
    few("unclear", "unclear for ")
  )
  paste0(about, paste(parts, collapse = "; "), ".")
}

verdict_words_of <- function(verdict) {
  word <- sub("^clear ", "", verdict)
  ifelse(word %in% c("gain", "loss", "negligible"), word, "unclear")
}

target_sentence <- function(target, x, labels) {
  if (is.null(target)) {
    return(NULL)
  }
  asked <- paste0(show_exact(attr(x, "asked")), " %")
  about <- paste0(target$workload, ": ")
  if (!length(target$options)) {
    return(paste0(about, "all options together are not foreseen to win ", asked, "."))
  }
  levels <- attr(x, "levels")[target$options]
  paste0(
    about, "to win ", asked, " in ", metric_labels(target$metric, labels), ": ",
    list_words(paste(names(levels), vapply(levels, `[[`, "", "to"))), " (foreseen, if effects add up: ",
    show_change(target$gain, "percent", "", (target$upper - target$lower) / 2), ", ",
    show_change(target$lower, "absolute"), " to ", show_change(target$upper, "percent"), "; not measured together)."
  )
}

interact_sentence <- function(rows, labels) {
  p <- rows$p_interact[1]
  if (!is.na(p) && p < 0.05 && any(rows$verdict != "no basis")) {
    paste0(
      place_names(rows[1, ]), ", ", metric_labels(rows$metric[1], labels), ": options act on one another (",
      interact_chance(rows), "): each is given as its average over the others, and together they do not just add ",
      "up."
    )
  }
}

interact_chance <- function(rows) {
  p <- rows$p_interact[1]
  paste0("by chance in ", if (p < 0.001) "under 0.1 %" else paste(show_number(100 * p, 2), "%"), " of studies")
}

#' Options as a table for people
#' @noRd
screen_shown <- function(x) {
  rows <- plain_table(x)
  place <- place_names(rows)
  better <- ifelse(rows$better == "lower", -1, 1) * rows$change
  rows <- rows[order(match(place, unique(place)), match(rows$metric, unique(rows$metric)), rows$rank, -better), ]
  tied <- stats::ave(rows$rank, place_names(rows), rows$metric, rows$rank, FUN = length) > 1
  out <- data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, labels_of(x)),
    rank = paste0(rows$rank, ifelse(tied, "=", "")), option = paste0(rows$option, " ", rows$from, " -> ", rows$to),
    change = shown_change(rows), interval = shown_interval(rows), verdict = rows$verdict
  )
  loads <- intersect(names(screen_loads), names(rows))
  if (length(loads)) out$loads <- vapply(each_row(rows), load_words, "", loads = loads)
  if (length(unique(out$metric)) == 1) out$metric <- NULL
  out
}

screen_footing <- function(x) {
  rows <- plain_table(x)
  aliases <- attr(x, "aliases")
  paste0(
    "Intervals hold together at ", show_share(attr(x, "confidence")), ", from ",
    count_of(rows$passes[1], "pass", "passes"), " of each workload. =: not separable from the first of that rank.",
    if (NROW(aliases)) alias_words(aliases),
    if (any(names(screen_loads) %in% names(rows))) {
      " Loads: change in percent points (memory: MB), each at 95 % on its own."
    }
  )
}

alias_words <- function(aliases) {
  per <- table(aliases$option)
  first <- aliases[aliases$option == aliases$option[1], , drop = FALSE]
  most <- show_exact(signif(100 * max(aliases$share), 2))
  share <- if (all(aliases$share > 0.99)) "" else paste0(" (", most, " % of each)")
  paste0(
    " What two options do beyond the sum of both goes into others", share, ": into ", first$option[1], " that of ",
    some_of(first$pair, 3), if (length(per) > 1) ", and so on", "; fold_over: true takes it out."
  )
}

#' Both ways of a screening, before it begins
#' @noRd
ways_shown <- function(ways, scale) {
  data.frame(
    way = ways$way, `passes of each workload` = ways$passes, `would find` = ifelse(
      is.na(ways$effect), ifelse(ways$mixed, "nothing alone: fold it over", "nothing: more blocks"),
        show_change(to_shown(ways$effect, scale), scale)
    ),
    check.names = FALSE
  )
}

#' What a figure of a screening is headed by
#' @noRd
screen_title <- function(rows) {
  first <- rows[rows$workload == rows$workload[1] & rows$metric == rows$metric[1], , drop = FALSE]
  if (all(first$verdict == "no basis")) {
    return(if (is.na(first$p_interact[1])) {
      "No option can be judged alone: this design has no room to see whether options act on one another"
    } else {
      "Options act on one another: these passes cannot judge one alone"
    })
  }
  gains <- first[verdict_words_of(first$verdict) == "gain", , drop = FALSE]
  if (!nrow(gains)) {
    return("No option is shown to bring anything")
  }
  gains <- utils::head(gains[order(gains$rank), , drop = FALSE], 3)
  more <- length(unique(paste(rows$workload, rows$metric))) > 1
  paste0("Most is won by ", list_words(option_names(gains)), if (more) paste0(" (", place_names(first[1, ]), ")"))
}

register("question", "screen",
  rank = 5, title = "What each option does", about = "which of many options matter, and what to turn down for a target",
  answer = weigh_screen, takes = c("primary", "worth", "confidence"), key = "options",
  own = list(target = list(
    meta = "P", help = "what is to be won, in percent: names the fewest options foreseen to do it",
    read = function(text) named_numbers(sub(" *%$", "", text), "target")
  )),
  lines = screen_words, line = function(x) screen_title(plain_table(x)), footing = screen_footing,
  tables = function(x) {
    list(shown_table(screen_shown(x), "rank",
      whole = c("option", "change", "interval"), group = c("workload", "metric")
    ))
  }
)
