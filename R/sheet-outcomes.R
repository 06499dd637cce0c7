# How the passes of a table ended, which are warm-ups and which do not count.

# a word of our own stays, another is translated
outcome_words <- function(text) {
  as <- ifelse(tolower(text) %in% words_fine, "ok", end_of_word(text))
  ifelse(text %in% outcomes | is.na(as) | as == "excluded", text, as)
}

#' Outcomes and roles of passes, by the cells that say them
#' @noRd
ends_of_rows <- function(rows, end, sheet) {
  roles <- sheet$roles
  cells <- sheet$grid$cells
  n <- nrow(rows)
  outcome <- if (!is.null(rows$outcome)) outcome_words(rows$outcome) else rep(NA_character_, n)
  role <- if (!is.null(rows$role)) rows$role else rep(NA_character_, n)
  reason <- if (!is.null(rows$reason)) rows$reason else rep(NA_character_, n)
  mark <- function(as, words) {
    ended <- !is.na(as) & as != "excluded" & outcome %in% c(NA, "ok")
    outcome[ended] <<- as[ended]
    out <- as %in% "excluded" & role %in% c(NA, "counted")
    role[out] <<- "excluded"
    reason[out & is.na(reason)] <<- words[out & is.na(reason)]
  }
  mark(end, rows$text)
  told <- function(j) cells[rows$.row, j]
  # where a row holds a pass of each arm, nobody knows whose end it was
  if (!holds_several_arms(sheet)) {
    for (j in which(roles$role %in% "status")) mark(end_of_word(told(j)), told(j))
    silent <- is.na(rows$value)
    names <- unlist(rows[intersect(c("arm", "workload"), names(rows))], use.names = FALSE)
    for (j in which(roles$role %in% c("note", "pass", "row number"))) {
      as <- end_in_text(told(j))
      # a name of an arm or a workload neither fails nor excludes a pass
      as[as %in% end_in_text(unique(names))] <- NA
      counts <- silent | roles$role[j] != "note" | as %in% "excluded" &
        grepl("^[^[:space:]]*(exclu|discard|invalid|ung)",
          told(j),
          ignore.case = TRUE
        )
      mark(ifelse(counts, as, NA), told(j))
    }
  }
  for (j in which(roles$role %in% c("valid", "excluded"))) {
    out <- tolower(told(j)) %in% if (roles$role[j] == "valid") words_no else words_yes
    mark(ifelse(out, "excluded", NA), paste0(roles$name[j], ": ", told(j)))
  }
  rows[c("outcome", "role", "reason")] <- list(outcome, warm_rows(rows, role, sheet), reason)
  rows$arm[rows$role %in% "warm_up"] <- warm_arm(rows$arm[rows$role %in% "warm_up"])
  if (any(!is.na(rows$outcome))) rows$outcome[is.na(rows$outcome)] <- "ok"
  if (any(!is.na(rows$role))) rows$role[is.na(rows$role)] <- "counted"
  whole_passes(rows)
}

# a row that holds a pass of each arm, or several passes
holds_several_arms <- function(sheet) {
  sheet$layout$kind %in% c("across", "above", "below") || any(sheet$roles$role %in% "value" & !is.na(sheet$roles$pass))
}

#' Warm-ups by what they are called: the label of a pass, a phase, a heading, an arm that has others of its name
#' @noRd
warm_rows <- function(rows, role, sheet) {
  roles <- sheet$roles
  if (any(roles$role %in% "role")) {
    return(role)
  }
  warm <- rep(FALSE, nrow(rows))
  for (j in which(roles$role %in% c("pass", "note", "pass note"))) {
    text <- sheet$grid$cells[rows$.row, j]
    said <- says_warm_up(text) & !grepl(negated, text, ignore.case = TRUE)
    # a note says more than that
    warm <- warm | said & (roles$role[j] != "note" | nchar(empty_na(text)) < 14)
  }
  for (j in which(roles$role %in% "warm_up")) warm <- warm | tolower(sheet$grid$cells[rows$.row, j]) %in% words_yes
  if (!is.null(roles$warm)) warm <- warm | roles$warm[rows$.column] %in% TRUE
  arm <- says_warm_up(rows$arm) & warm_arm(rows$arm) %in% rows$arm
  # an arm that has nothing else is not left without a pass
  if (all(rows$arm %in% rows$arm[!warm])) role[warm & role %in% c(NA, "counted")] <- "warm_up"
  role[arm & role %in% c(NA, "counted")] <- "warm_up"
  role
}

warm_arm <- function(arm) {
  ifelse(says_warm_up(arm), trimws(gsub("[[:space:]([{_.,:;-]+$", "", sub(paste0(warm_words, ".*$"), "", arm,
    ignore.case = TRUE
  ))), arm)
}

# what was said of one number of a pass holds for the whole pass, whatever else it gave
whole_passes <- function(rows) {
  pass <- do.call(paste, c(unname(as.list(rows[intersect(c("pass", "part", "workload"), names(rows))])), sep = "\r"))
  for (column in c("outcome", "role", "reason")) {
    v <- rows[[column]]
    said <- !is.na(v) & !v %in% c("ok", "counted")
    if (!any(said)) next
    rows[[column]] <- ifelse(said, v, ifelse(pass %in% pass[said], v[said][match(pass, pass[said])], v))
  }
  rows
}
