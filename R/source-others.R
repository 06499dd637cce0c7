# Processor time of everything that is not the workload's: other programs at work beside a pass.

# All busy time of the machine, less what this process and the programs that it has started and seen the end of
# have used: the workload, whatever it starts, and the recorder.
busy_and_own <- function() {
  ticks <- stat_ticks()
  if (is.null(ticks)) {
    return(NULL)
  }
  own <- proc.time()[c("user.self", "sys.self", "user.child", "sys.child")]
  c(busy = (ticks[["all"]] - ticks[["idle"]]) / ticks_per_second(), own = sum(own, na.rm = TRUE))
}

#' @param before,after From `busy_and_own()`. @param seconds Between them.
#' @return How many processors others kept busy, on average.
#' @noRd
others_share <- function(before, after, seconds) {
  gone <- after - before
  max(0, gone[["busy"]] - gone[["own"]]) / max(seconds, 0.01)
}

#' The busiest of the others
#' @param before,after From `process_ticks()`. @param own Process id that everything of ours comes from.
#' @return Up to two names.
#' @noRd
busiest_others <- function(before, after, own) {
  used <- after$ticks - before$ticks[match(after$pid, before$pid)]
  # what began meanwhile has used all of it since
  used <- ifelse(is.na(used), after$ticks, used)
  ours <- own
  repeat {
    more <- setdiff(after$pid[after$parent %in% ours], ours)
    if (!length(more)) break
    ours <- c(ours, more)
  }
  used[after$pid %in% ours] <- 0
  total <- sort(tapply(used, plain_text(after$name), sum), decreasing = TRUE)
  utils::head(names(total[total > 0.2 * sum(total)]), 2)
}

# A workload that is played by hand may run on another machine.
register("source", "others",
  rank = 5,
  wanted = function(workload, plan) !is.null(workload$command) && !is.null(stat_ticks()),
  begin = function(watch) {
    watch$others <- list(busy = busy_and_own(), processes = process_ticks(), at_s = monotonic_s())
    watch
  },
  end = function(watch, before, seconds) {
    share <- others_share(watch$others$busy, busy_and_own(), monotonic_s() - watch$others$at_s)
    # ticks of a hundredth of a second say little of a moment
    if (seconds < 0.5 || share < 0.1) {
      return(NULL)
    }
    names <- busiest_others(watch$others$processes, process_ticks(), Sys.getpid())
    list(found = new_finding("note", "others", share = round(share, 2), names = names))
  }
)
