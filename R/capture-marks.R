# Marks divide a pass: segments, pauses, loops, and flips of the setting itself.

mark_words <- c("segment", "pause", "resume", "arm", "loop", "note")

no_marks <- function() list2DF(list(time_s = numeric(), word = character(), value = character()))

# A log has no clock in common with the sensors; programs load before their first
# frame and end soon after the last.
log_on_pass <- function(frame_time_ms, seconds) {
  end <- cumsum(frame_time_ms) / 1000
  data.frame(frame_time_ms = frame_time_ms, start_s = max(0, seconds - end[length(end)]) + end - frame_time_ms / 1000)
}
