# The question: where does the noise come from, and what would each remedy save?

#' Where the noise of a study comes from
#'
#' For every primary metric of every workload: how much of the variance of passes lies between blocks, between boots,
#' correlates with the position of a pass in its block (warming), with how warm it began, or with what else ran before
#' it; and how many of the study's blocks the remedy would save.
#' @param x A study from [read_study()], readings, or what [weigh()] returned.
#' @param ... Not used.
#' @param primary Metrics; `NULL`: the plan's, or all.
#' @return An answer ([ask_study()]), a data frame: `workload`, `segment`, `context`, `metric`, `source`
#'   (`block`, `boot`, `place`, a sensor's lowest value in the pass, or a fact recorded before it), `share` (percent: of
#'   the variance of one pass for `block` and `boot`, else of what blocks leave), `lower`, `upper`, `p`, `saved` (so
#'   many of the `of` blocks would not be needed without it; `NA` where blocks take it out already or it is not told
#'   from none).
#' @section Errors: `honestmargin_error_input` where no cell has passes enough.
#' @references Searle, Casella and McCulloch (1992), Variance Components.
#' @export
#' @examples
#' noise_sources(read_study(demo_study()))
noise_sources <- function(x, ..., primary = NULL) {
  assert_no_dots(...)
  if (inherits(x, "honestmargin_verdicts")) {
    primary <- empty_to(primary, asked_of_verdicts(x)$primary)
    x <- what_was_weighed(x)
  }
  plan <- if (is_study(x)) x$plan
  readings <- readings_of(x)
  primary <- assert_metrics(primary, readings, "primary", plan_primary(plan))
  how <- list(
    primary = primary, anchors = if (!is.null(plan)) plan_anchors(plan),
    beside = if (!is.null(plan)) names(known_sensor_metrics())
  )
  scaled <- rescale_nonpositive(readings)
  facts <- facts_before(x)
  found <- stack_rows(lapply(overall_cells(scaled, how), function(cell) {
    shares <- noise_shares(cell, cell_facts(cell, plain_table(scaled), facts))
    if (NROW(shares)) cbind(as.data.frame(place_of(cell)), shares, of = length(unique(cell$block)))
  }))
  if (!NROW(found)) {
    abort_input("too few passes to tell where their noise comes from", todo = "three blocks of two arms, or more")
  }
  told <- found$p < 0.05 & !found$source %in% c("block", "boot")
  found$saved <- ifelse(told, floor(found$of * found$share), NA)
  for (column in c("share", "lower", "upper")) found[[column]] <- 100 * found[[column]]
  new_answer("sources", found, if (is_study(x)) x else readings)
}

# what was recorded before each pass, where a ledger holds it
facts_before <- function(x) {
  if (!is_study(x) || is.null(x$sealed)) {
    return(NULL)
  }
  taken <- with_store(x$folder, function(store) store_record(store, x$sealed$batch)$snapshots, write = FALSE)
  taken <- taken[taken$at == "before" & grepl(fleeting_facts, taken$key), , drop = FALSE]
  taken$value <- suppressWarnings(as.numeric(taken$value))
  taken[!is.na(taken$value), , drop = FALSE]
}

# what may change from pass to pass
fleeting_facts <- "^(processors busy|load 1 min|memory free|processor clock|temperature)"

cell_facts <- function(cell, readings, recorded) {
  out <- list()
  if (!anyNA(cell$order) && !anyNA(cell$block)) {
    out$place <- stats::ave(cell$order, cell$block, FUN = rank)
  }
  here <- readings$workload == cell$workload[1] & is.na(readings$segment) & readings$context %in% cell$context[1]
  for (id in c("processor_temperature_min", "graphics_temperature_min")) {
    of <- readings[here & readings$metric == id, , drop = FALSE]
    if (nrow(of)) out[[id]] <- of$value[match(paste(cell$pass, cell$part), paste(of$pass, of$part))]
  }
  for (key in unique(recorded$key)) {
    of <- recorded[recorded$key == key, , drop = FALSE]
    out[[key]] <- of$value[match(cell$pass, of$pass)]
  }
  out
}

source_words <- function(source) {
  known <- c(
    block = "between blocks", boot = "between boots", place = "the place of a pass in its block (warming)",
    processor_temperature_min = "how warm the processor began",
    graphics_temperature_min = "how warm the graphics part began",
    `processors busy` = "what else ran before the pass", `load 1 min` = "the load of the minute before"
  )
  ifelse(source %in% names(known), known[source], source)
}

remedy_words <- function(source) {
  known <- c(
    place = "a warm-up pass at the start of each block",
    processor_temperature_min = "cooling down to the same temperature first",
    graphics_temperature_min = "cooling down to the same temperature first",
    `processors busy` = "waiting until nothing else runs", `load 1 min` = "waiting until nothing else runs"
  )
  ifelse(source %in% names(known), known[source], "keeping it the same")
}

#' @param x From `noise_sources()`.
#' @return Character vector, one element a cell.
#' @noRd
sources_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  place <- paste0(place_names(rows), ", ", metric_labels(rows$metric, labels))
  vapply(split(rows, factor(place, unique(place))), function(mine) {
    name <- paste0(place_names(mine[1, ]), ", ", metric_labels(mine$metric[1], labels), ": ")
    groups <- mine[mine$source %in% c("block", "boot") & mine$p < 0.05, , drop = FALSE]
    facts <- mine[!mine$source %in% c("block", "boot") & mine$p < 0.05, , drop = FALSE]
    said <- c(
      if (nrow(groups)) {
        paste0(
          show_number(groups$share, 2), " % of the variance of a pass lies ", source_words(groups$source), " (",
          range_text(groups), ifelse(groups$source == "block", "), which the blocks take out", "), so more boots help")
        )
      },
      if (nrow(facts)) {
        paste0(
          show_number(facts$share, 2), " % of what is left correlates with ", source_words(facts$source), " (",
          range_text(facts), "): ", remedy_words(facts$source), " would save about ", facts$saved, " of ", facts$of,
          " blocks"
        )
      }
    )
    paste0(name, if (length(said)) paste(said, collapse = "; ") else "nothing recorded explains it", ".")
  }, "", USE.NAMES = FALSE)
}

sources_footing <- function(x) {
  paste0(
    "Each tested alone at 95 %: of ", nrow(x), ", expect ", round(0.05 * nrow(x)),
    " by chance. Correlation is not cause."
  )
}

range_text <- function(rows) paste0(show_number(rows$lower, 2), " to ", show_number(rows$upper, 2), " %")

sources_line <- function(x) {
  rows <- plain_table(x)
  rows <- rows[rows$p < 0.05, , drop = FALSE]
  if (!nrow(rows)) {
    return("nothing that was recorded explains the noise")
  }
  top <- rows[which.max(rows$share), , drop = FALSE]
  paste0(
    show_number(top$share, 2), " % of the noise of ", place_names(top), ", ", metric_labels(top$metric, labels_of(x)),
    ": ", source_words(top$source)
  )
}

register("question", "sources",
  rank = 6, title = "Where the noise comes from", about = "where the noise comes from, and what each remedy would save",
  answer = noise_sources, takes = "primary", lines = sources_words, line = sources_line, footing = sources_footing,
  report = function(verdicts) tryCatch(noise_sources(verdicts), honestmargin_error_input = function(e) NULL)
)
