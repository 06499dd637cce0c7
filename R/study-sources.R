# The noise of a study by where it comes from, and what each remedy would save.

#' Where the noise of a study comes from
#'
#' For every primary metric of every workload: how much of the variance of passes lies between blocks, between boots,
#' goes with the place of a pass in its block (warming), with how warm it began, or with what else ran before it; and
#' how many of the study's blocks the remedy would save.
#' @param x A study from [read_study()], or readings.
#' @param ... Not used.
#' @param primary Metrics; `NULL`: the plan's, or all.
#' @return An object of class `honestmargin_sources`, a data frame: `workload`, `segment`, `context`, `metric`, `source`
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
  structure(found, class = c("honestmargin_sources", "data.frame"), labels = plan_labels(plan))
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
