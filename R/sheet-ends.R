# How passes ended and which do not count, as people write it in place of a number or beside it.

words_of_ends <- list(
  crash = c(
    "crash", "crashed", "absturz", "abgest\u00fcrzt", "dnf", "did not finish", "failed", "fail", "failure", "error",
    "fehler"
  ),
  freeze = c("freeze", "froze", "frozen", "hung", "hang"),
  down = c(
    "down", "went down", "machine down", "bsod", "blue screen", "bluescreen", "bluescreened", "black screen",
    "blackscreen", "no signal", "rebooted", "reboot", "shut down", "shutdown"
  ),
  artefact = c("artefact", "artefacts", "artifact", "artifacts"),
  timeout = c("timeout", "timed out", "time out"),
  no_start = c("no_start", "no start", "would not start", "did not start", "no boot")
)
words_of_exclusion <- c("excluded", "invalid", "discarded", "outlier", "ausrei\u00dfer", "ung\u00fcltig")
words_fine <- c(
  "ok", "okay", "done", "finished", "complete", "completed", "passed", "pass", "good", "success", "fertig"
)
words_yes <- c("yes", "y", "true", "1", "x", "ja", "j", "wahr")
words_no <- c("no", "n", "false", "0", "-", "nein", "falsch")

end_word <- function(text) tolower(gsub("[[:space:].!]+$", "", trimws(text)))

#' How a pass ended that a word stands for: an outcome, `excluded`, or `NA`
#' @noRd
end_of_word <- function(text) {
  word <- end_word(text)
  as <- meant_by(word, words_of_ends)
  as[word %in% words_of_exclusion] <- "excluded"
  as
}

negated <- "\\b(no|not|without|never|kein(e|en)?|ohne|nicht)\\b"

# a longer text that speaks of an end, and does not deny it
speaks_of_end <- function(text) {
  has_word(text, "crash|crashed|absturz|abgest\u00fcrzt|freeze|froze|frozen|hung|bsod|black screen|timed out|aborted") &
    !grepl(negated, text, ignore.case = TRUE)
}

# how a pass ended, by a longer text about it
end_in_text <- function(text) {
  as <- end_of_word(text)
  denied <- grepl(negated, text, ignore.case = TRUE)
  words <- c(
    crash = "crash|crashed|absturz|abgest\u00fcrzt", freeze = "freeze|froze|frozen|hang|hung",
    down = "bsod|blue screen|black screen|rebooted|shut down|no signal", timeout = "timed out|time out|timeout",
    interrupted = "abort|aborted|interrupted|abgebrochen"
  )
  for (word in names(words)) as[is.na(as) & !denied & has_word(text, words[[word]])] <- word
  as[is.na(as) & grepl("(^|[ (])(excluded|discarded|invalid|ung(\u00fc|ue)ltig)($|[^[:alpha:]])", text,
    ignore.case = TRUE
  ) &
    !denied] <- "excluded"
  replace(as, is.na(text), NA)
}

is_end <- function(text) !is.na(end_of_word(text))

warm_words <- "(^|[^[:alpha:]])(warm[ _.-]*up|warmlauf|aufw(\u00e4|ae)rm[[:alpha:]]*)([^[:alpha:]]|$)"
says_warm_up <- function(text) grepl(warm_words, text, ignore.case = TRUE)

# Words by which a table sums up what stands beside or above, in English and German, and how; NULL: not worked out here.
summary_words <- list(
  mean = c("mean", "average", "avg", "\u00f8", "mittel", "mittelwert", "durchschnitt", "schnitt"),
  median = "median", min = c("min", "minimum"), max = c("max", "maximum"),
  sum = c("total", "sum", "summe", "gesamt"), length = c("n", "count", "anzahl"),
  sd = c("sd", "std", "stdev", "stddev", "std dev", "standard deviation", "standardabweichung", "stabw"),
  geomean = c("geomean", "geometric mean", "geomittel"), range = c("range", "spannweite", "spread"),
  other = c(
    "cv", "sem", "variance", "varianz", "variation", "diff", "difference", "delta", "\u0394", "change", "gain",
    "improvement", "differenz", "unterschied", "\u00e4nderung", "abweichung", "% diff", "diff %", "delta %", "change %"
  )
)
# what somebody worked out from the passes is no number of one
names_a_difference <- function(name) {
  grepl(paste0(
    "(^|[^[:alpha:]])(vs|versus|diff|difference|delta|\u0394|change|improvement|gegen|gegen\u00fcber|unterschied|",
    "differenz|\u00e4nderung|ver\u00e4nderung|abweichung)($|[^[:alpha:]])"
  ), tolower(name))
}

summary_key <- function(text) {
  bare <- trimws(gsub("[[:space:]]+", " ", gsub("[.:()%]", " ", tolower(trimws(text)))))
  meant_by(bare, summary_words)
}
is_summary <- function(text) !is.na(text) & !is.na(summary_key(text))

# by themselves, since the command starts R without what it attaches
summary_functions <- list(
  mean = mean, median = stats::median, min = min, max = max, sum = sum, length = length, sd = stats::sd,
  geomean = function(x) if (all(x > 0)) exp(mean(log(x))) else NA, range = function(x) max(x) - min(x)
)

#' Does a number sum others up, as its word says and to the digits that are shown?
#' @param shown The number as text. @param values Those above or beside. @param key From `summary_key()`.
#' @return `NA` where it cannot be worked out.
#' @noRd
sums_up <- function(shown, value, values, key) {
  work <- summary_functions[[key]]
  values <- values[!is.na(values)]
  if (is.null(work) || is.na(value) || length(values) < 2 && key != "length") {
    return(NA)
  }
  decimals <- nchar(sub("^[^.,]*[.,]?", "", sub("[^0-9.,].*$", "", shown)))
  # sheets cut as well as round
  over <- (abs(work(values)) - abs(value)) * 10^decimals
  over > -0.5001 - 1e-9 * abs(value) && over < 1
}
