# What was said and done, in words for the history.

words_of_events <- list(
  event_sealed = "batch {batch} is sealed, plan {plan}",
  `event_blind order` = "batch {batch}: the order of its pairs was fixed, SHA-256 {hash}, secret {secret}",
  event_revealed = function(v) {
    paste0("batch ", v$batch, ": its arms were revealed", if (isTRUE(v$given_up)) ", given up before its end")
  },
  event_judged = function(v) {
    paste0("pair ", v$block, ", ", v$workload, ": ", c(none = "no difference", first = "the first was better",
      second = "the second was better")[[v$choice]])
  },
  event_pass = function(v) paste0(v$workload, ", ", v$arm, ": ", v$outcome),
  event_exclude = "does not count", event_include = "counts again", event_note = "noted",
  event_correct = function(v) {
    paste0(typed_name(empty_to(v$segment, NA), v$metric), ": ", if (length(v$was)) paste0(v$was, " -> "), v$value)
  },
  event_outcome = function(v) paste0("outcome: ", if (length(v$was)) paste0(v$was, " -> "), v$outcome),
  event_place = function(v) place_words(v), event_undo = "taken back",
  event_extended = "{blocks|block} added after {after|pass|passes}",
  `event_arm settled` = "{arm} is settled after block {block} and left out of later ones",
  `event_block added` = "one block more: not settled yet",
  `event_fresh batch` = "batch {batch} has {blocks|block}",
  event_search = function(v) paste0("search: ", gsub("_", " ", v$say), if (length(v$value)) paste0(" ", v$value)),
  event_look = "looked at after block {block}: {settled} settled, {open} open",
  `event_run again` = "in place of {instead_of}",
  `event_extra pass` = function(v) paste0("beyond the plan: ", v$workload, ", ", v$arm),
  event_proof = "picture kept: {file}", `event_sensors added` = "sensors added",
  `event_plan changed` = "the plan was changed (version {version})"
)

# "arm: A -> B, block: 1 -> 2"
place_words <- function(v) {
  said <- v[intersect(c("arm", "workload", "block"), names(v))]
  was <- v$was[names(said)]
  was[lengths(was) == 0] <- NA
  paste0(names(said), ": ", said_or_none(empty_na(as.character(unlist(was)))), " -> ", said, collapse = ", ")
}
