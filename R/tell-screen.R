# What each of many options changes, in words.

#' @param x From `weigh_screen()`.
#' @return Sentences: the answer of each workload first.
#' @noRd
screen_words <- function(x) {
  told <- labels_of(x)
  rows <- plain_table(x)
  cells <- split(rows, factor(paste(place_names(rows), rows$metric), unique(paste(place_names(rows), rows$metric))))
  c(
    vapply(cells, screen_sentence, "", told = told, USE.NAMES = FALSE),
    unlist(lapply(attr(x, "target"), target_sentence, x = x, told = told)),
    unlist(lapply(cells, interact_sentence, told = told), use.names = FALSE)
  )
}

option_names <- function(rows) paste(rows$option, rows$to)

screen_sentence <- function(rows, told) {
  about <- paste0(place_names(rows[1, ]), ", ", metric_labels(rows$metric[1], told), ": ")
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
        about, "no option alone can be told: with as many options as these passes have room for, nothing shows ",
        "whether ",
        "options act on one another, and what two do beyond their sum goes into others. Fold the design over ",
        "(fold_over: true, twice the passes), or change one at a time (way: singly)."
      ))
    }
    return(paste0(
      about, "no option alone can be told: options act on one another (", interact_chance(rows), "), and these passes ",
      "mix that up with what each of them does. Fold the design over (fold_over: true), or compare the settings that ",
      "matter as arms."
    ))
  }
  parts <- c(
    said("gain", "most is won by "), said("loss", "lost by "), few("negligible", "nothing worth having by "),
    few("unclear", "cannot be told yet of ")
  )
  paste0(about, paste(parts, collapse = "; "), ".")
}

verdict_words_of <- function(verdict) {
  word <- sub("^clear ", "", verdict)
  ifelse(word %in% c("gain", "loss", "negligible"), word, "unclear")
}

target_sentence <- function(target, x, told) {
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
    about, "to win ", asked, " in ", metric_labels(target$metric, told), ": ",
    list_words(paste(names(levels), vapply(levels, `[[`, "", "to"))), " (foreseen, if effects add up: ",
    show_change(target$gain, "percent", "", (target$upper - target$lower) / 2), ", ",
    show_change(target$lower, "absolute"), " to ", show_change(target$upper, "percent"), "; not measured together)."
  )
}

interact_sentence <- function(rows, told) {
  p <- rows$p_interact[1]
  if (!is.na(p) && p < 0.05 && any(rows$verdict != "no basis")) {
    paste0(
      place_names(rows[1, ]), ", ", metric_labels(rows$metric[1], told), ": options act on one another (",
      interact_chance(rows), "): each is told as it is on average over the others, and together they do not just add ",
      "up."
    )
  }
}

interact_chance <- function(rows) {
  p <- rows$p_interact[1]
  paste0("by luck in ", if (p < 0.001) "under 0.1 %" else paste(show_number(100 * p, 2), "%"), " of studies")
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

# "graphics -12, memory -310": what an option changes surely, each by itself
load_words <- function(row, loads) {
  lower <- unlist(row[paste0(loads, "_lower")])
  upper <- unlist(row[paste0(loads, "_upper")])
  surely <- which(lower > 0 | upper < 0)
  if (all(is.na(lower))) {
    return("")
  }
  if (!length(surely)) {
    return("the same")
  }
  paste(gsub("_", " ", loads[surely]), show_change(unlist(row[loads[surely]]), "absolute"), collapse = ", ")
}

screen_footing <- function(x) {
  rows <- plain_table(x)
  aliases <- attr(x, "aliases")
  paste0(
    "Intervals hold together at ", show_share(attr(x, "confidence")), ", from ",
    count_of(rows$passes[1], "pass", "passes"), " of each workload. =: cannot be told from the first of that rank.",
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
      "No option can be told alone: this design has no room to see whether options act on one another"
    } else {
      "Options act on one another: none can be told alone from these passes"
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
