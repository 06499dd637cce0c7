# A frame log that the workload itself wrote, where nothing else told its frames.

register("source", "log",
  rank = 3, wanted = function(workload, plan) !workload$probe && !is.null(workload$command) && writes_log(workload),
  begin = function(watch) {
    unlink(watch$log) # an old log must not pass for this pass's
    watch
  },
  end = function(watch, before, seconds) if (is.null(before$frames)) collect_frames(watch, seconds)
)

collect_frames <- function(watch, seconds) {
  if (!file.exists(watch$log)) {
    return(list(missing = "frame log"))
  }
  tryCatch(
    {
      frames <- read_frames(watch$log, watch$plan$frames_layout)
      unlink(watch$log)
      list(frames = log_on_pass(frames$frame_time_ms, seconds), found = attr(frames, "findings"))
    },
    honestmargin_error_input = function(e) {
      what <- sub("\n.*", "", conditionMessage(e))
      list(missing = "readable frame log", found = new_finding("warning", "log_refused", what = what))
    }
  )
}
