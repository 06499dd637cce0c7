# Columns that are arms or passes by their place.

columns_of_layout <- function(sheet) {
  roles <- sheet$roles
  kind <- sheet$layout$kind
  open <- (is.na(roles$role) | roles$by %in% "values") & roles$type %in% c("number", "mixed", "end") &
    !roles$role %in% "arm"
  roles$arm <- NA_character_
  roles$pass <- NA_character_
  if (kind == "across") {
    arms <- open & !is.na(roles$name) & is.na(roles$label) & !is_summary(roles$name) &
      !names_a_difference(roles$name) & !columns_that_count(sheet, roles)
    # a "room temp" beside Off and On is none of them
    quantity <- has_word(empty_na(roles$name), quantity_words)
    if (!any(quantity & heads_arm(roles, sheet$said$baseline))) arms <- arms & !quantity
    parts <- split_label(roles$name)
    # "Kestrel 1" is an arm where the baseline is called so
    split <- !any(roles$name[arms] %in% sheet$said$baseline) && all(!is.na(parts$arm[arms]))
    roles$arm[arms] <- if (split) parts$arm[arms] else bare_name(roles$name[arms])
    if (split) roles$pass[arms] <- parts$pass[arms]
    roles$role[arms] <- "value"
    roles$by[arms] <- "values"
  } else if (kind == "below") {
    return(columns_below(sheet, roles, open))
  } else if (kind == "above") {
    under <- !is.na(roles$label) & roles$type %in% c("number", "mixed", "end", "empty")
    roles$arm[under] <- roles$label[under]
    number <- pass_number(empty_na(roles$name))
    passes <- all(!is.na(number[under]))
    if (!passes && !any(names_a_metric(unique(roles$name[under])))) {
      return(names_below_arms(sheet, roles, under))
    }
    if (passes) roles$pass[under] <- as.character(number[under])
    roles$role[under] <- if (passes) "value" else "measured"
    roles$by[under] <- "heading"
  } else if (sheet$head$row == 0 && sum(open) > 1) {
    return(headless_columns(sheet, roles, open))
  } else if (kind %in% c("rows", "given", "sections")) {
    roles$warm <- says_warm_up(empty_na(roles$name))
    number <- pass_number(trimws(gsub(
      "[(){}]|[][]", "",
      sub(warm_words, " ", empty_na(roles$name), ignore.case = TRUE)
    )))
    passes <- open & !is.na(number) & is.na(roles$label)
    stems <- unique(tolower(sub("[ _.#:-]*[0-9]+.*$", "", roles$name[passes])))
    if (sum(passes) > 1 && length(stems) == 1 && setequal(number[passes], seq_len(sum(passes)))) {
      roles$pass[passes] <- as.character(number[passes])
      roles$role[passes] <- "value"
      roles$by[passes] <- "heading"
    }
  }
  sheet$roles <- roles
  sheet
}

# names below the arms that are no metric that is known
names_below_arms <- function(sheet, roles, under) {
  as <- answered(sheet$said, "labels")
  told <- c(names(sheet$said$better), sheet$said$primary)
  if (is.null(as) && any(roles$name[under] %in% told)) as <- "metric"
  label_columns(sheet, roles, under, roles$name, as, "below", "declared")
}

# arms in the lower of two heading rows: the labels above are what was measured, or where
columns_below <- function(sheet, roles, open) {
  under <- open & !is.na(roles$label)
  roles$arm[under] <- roles$name[under]
  as <- if (any(names_a_metric(unique(roles$label[under])))) "metric" else answered(sheet$said, "labels")
  label_columns(sheet, roles, under, roles$label, as, "above", "heading")
}

#' What stands above or below the arms, as what was measured, what was run or a second factor
#' @param under Columns it is about. @param words What stands there, by column. @param as Its role; `NULL`: ask.
#' @noRd
label_columns <- function(sheet, roles, under, words, as, place, by) {
  if (is.null(as)) {
    return(asking(sheet, new_question(
      "labels", paste0("what are ", some_of(unique(words[under]), 4), ", ", place, " the arms?"),
      list(
        answer_choice("labels", "metric", "what was measured"), answer_choice("labels", "workload", "what was run"),
        answer_choice("labels", "context", "a second factor")
      )
    )))
  }
  roles$role[under] <- "value"
  roles$by[under] <- by
  roles[[as]] <- ifelse(under, words, NA)
  sheet$roles <- roles
  sheet
}

# numbers without a heading beside an arm: passes of it, or of several metrics
headless_columns <- function(sheet, roles, open) {
  said <- if (isTRUE(sheet$grid$said_passes)) "passes" else answered(sheet$said, "headless")
  if (is.null(said)) {
    row <- sheet$grid$cells[sheet$passes[1], ]
    return(asking(sheet, new_question(
      "headless", paste0("the table has no heading: what are the numbers behind '", row[!open][1], "'?"),
      list(
        answer_choice("headless", "passes", "passes of one metric"),
        answer_choice("headless", "metrics", "one pass of several metrics"),
        answer_choice("headless", "heading", "its first row is the heading")
      )
    )))
  }
  roles$by[open] <- "declared"
  roles$role[open] <- if (said == "passes") "value" else "measured"
  if (said == "passes") roles$pass[open] <- as.character(seq_len(sum(open)))
  roles$name[open & said == "metrics"] <- paste("column", roles$column[open & said == "metrics"])
  sheet$roles <- roles
  sheet
}

columns_that_count <- function(sheet, roles) {
  vapply(roles$column, function(j) counts_up(sheet$grid$cells[sheet$passes, j], 2), NA)
}

bare_name <- function(name) {
  unit <- vapply(name, function(n) unit_said(n)$inside && !is.na(unit_said(n)$unit), NA)
  ifelse(unit, without_unit(name), name)
}
