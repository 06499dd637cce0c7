# A total and the parts that it is made of: recognised by arithmetic, and parts that move apart behind an equal total.

#' Which metrics are worked out from others of the same pass, which workloads from other workloads
#'
#' A metric is one where it equals the sum, the mean or the geometric mean of all other metrics of its unit in every
#' counted pass, to half a step of its digits; a workload, where the means of its arms do so of those of all others.
#' @param rows Counted readings of what is judged.
#' @return Data frame: `by` (metric or workload), `total`, `kind`, `parts` (a list column).
#' @noRd
find_totals <- function(rows) {
  metrics <- lapply(unname(split(rows, rows$unit)), function(here) {
    wide <- wide_values(here, paste(here$workload, here$segment, here$context, here$pass, here$part), here$metric)
    totals_of(wide, "metric", step_of_digits(here))
  })
  workloads <- lapply(unname(split(rows, rows$metric)), function(here) {
    here <- here[is.na(here$segment), , drop = FALSE]
    if (!nrow(here)) {
      return(NULL)
    }
    wide <- wide_values(here, paste(here$context, here$arm), here$workload)
    # means of passes that are each rounded
    totals_of(wide, "workload", step_of_digits(here))
  })
  stack_rows(c(metrics, workloads))
}

wide_values <- function(rows, of, by) tapply(rows$value, list(of, factor(by, unique(by))), mean)

step_of_digits <- function(rows) {
  for (digits in 0:6) {
    scaled <- rows$value * 10^digits
    if (all(abs(scaled - round(scaled)) <= 1e-9 * pmax(1, abs(scaled)))) break
  }
  10^-digits
}

# one column that the others make, in every row; two rows at least, that differ by more than their digits would
totals_of <- function(wide, by, step) {
  wide <- wide[stats::complete.cases(wide), , drop = FALSE]
  k <- ncol(wide) - 1
  if (k < 2 || nrow(wide) < 2) {
    return(NULL)
  }
  sums <- rowSums(wide) - wide
  logs <- if (all(wide > 0)) log(wide)
  made <- list(sum = sums, mean = sums / k, `geometric mean` = if (!is.null(logs)) exp((rowSums(logs) - logs) / k))
  # the parts are rounded too
  room <- step * c(sum = (2 + k) / 2, mean = 1.01, `geometric mean` = 1.01)
  stack_rows(lapply(seq_len(k + 1), function(j) {
    fits <- vapply(names(Filter(length, made)), function(kind) {
      all(abs(made[[kind]][, j] - wide[, j]) <= room[[kind]])
    }, NA)
    if (any(fits) && max(wide[, j]) - min(wide[, j]) > 10 * step) {
      out <- data.frame(by = by, total = colnames(wide)[j], kind = names(fits)[fits][1])
      out$parts <- list(colnames(wide)[-j])
      out
    }
  }))
}

#' Totals that were found, and their parts that move apart while they do not
#' @param rows Counted readings of what is judged. @param verdicts Of them.
#' @noRd
total_findings <- function(rows, verdicts) {
  totals <- find_totals(rows)
  do.call(bind_findings, lapply(each_row(totals), function(total) {
    parts <- total$parts[[1]]
    bind_findings(
      new_finding("note", "total", total = total$total, kind = total$kind, parts = parts),
      parts_apart(total, parts, verdicts)
    )
  }))
}

parts_apart <- function(total, parts, verdicts) {
  name <- verdicts[[total$by]]
  others <- setdiff(c("workload", "segment", "context", "metric", "arm", "baseline"), total$by)
  key <- do.call(paste, c(unname(as.list(plain_table(verdicts)[others])), sep = "\r"))
  word <- sub("^clear ", "", verdicts$verdict)
  still <- which(name == total$total & word %in% c("negligible", "unclear"))
  do.call(bind_findings, lapply(still, function(i) {
    mine <- which(name %in% parts & key == key[i])
    up <- mine[word[mine] == "gain"]
    down <- mine[word[mine] == "loss"]
    if (length(up) && length(down)) {
      new_finding("warning", "parts_apart",
        total = total$total, verdict = verdicts$verdict[i], gains = name[up], losses = name[down],
        arm_said = verdicts$arm[i], arm = verdicts$arm[i], workload = verdicts$workload[i]
      )
    }
  }))
}
