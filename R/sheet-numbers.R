# The numbers of a table: their marks are settled for the whole of it, never for a cell or a column.

number_body <- "[0-9][0-9.,'\u2019\u202f ]*[0-9][.,]?|[0-9][.,]?|[.,][0-9]+"
number_shape <- paste0(
  "^([-+\u2212]?) ?(", number_body,
  ")([eE][-+]?[0-9]+)? ?((?:[[:alpha:]\u00b0\u00b5\u03bc%][[:alnum:]\u00b0\u00b2%/.]{0,11})?)$"
)
spread_mark <- "\\s*(\u00b1|[+]/-|[+]-).*$"

#' The parts of numbers as they are typed
#' @param text Character vector.
#' @return A data frame: `sign`, `body` (digits and marks), `power`, `unit`; `NA` in all where a text is no number.
#' @noRd
number_parts <- function(text) {
  none <- rep(NA_character_, length(text))
  out <- list(sign = none, body = none, power = none, unit = none)
  # most are digits with a mark at most
  plain <- grepl("^[0-9]+([.,][0-9]+)?$", text)
  out$body[plain] <- text[plain]
  out[c("sign", "power", "unit")] <- lapply(out[c("sign", "power", "unit")], replace, plain, "")
  rest <- which(!plain & !is.na(text) & grepl("[0-9]", text))
  bare <- sub("^[$\u20ac\u00a3] ?", "", sub(spread_mark, "", text[rest]))
  parts <- regmatches(bare, regexec(number_shape, bare, perl = TRUE))
  hit <- lengths(parts) == 5
  for (i in 1:4) out[[i]][rest[hit]] <- vapply(parts[hit], `[`, "", i + 1)
  out$proof <- mark_proof(out$body)
  # "1080p", "4K", "3rd" are names
  bad <- out$proof %in% "none"
  united <- which(nzchar(empty_na(out$unit)))
  bad[united] <- bad[united] | !is_unit(out$unit[united])
  lapply(out, replace, bad, NA)
}

#' What a number proves of the marks of its table
#' @return `point` or `comma` (the decimal mark), `open` (one mark before three digits, which may be either), `plain`
#' (no
#'   mark), `none` (no number).
#' @noRd
mark_proof <- function(body) {
  bare <- gsub("(?<=[0-9])['\u2019\u202f ](?=[0-9]{3})", "", body, perl = TRUE)
  out <- rep("none", length(body))
  out[is.na(body)] <- NA
  out[grepl("^[0-9]+$", bare)] <- "plain"
  out[grepl("^[1-9][0-9]{0,2}[.,][0-9]{3}$", bare)] <- "open"
  for (mark in c("point", "comma")) {
    own <- if (mark == "point") "[.]" else ","
    other <- if (mark == "point") "," else "[.]"
    sure <- paste0(
      "^([0-9]*", own, "([0-9]{0,2}|[0-9]{4,})|0+", own, "[0-9]+|", own, "[0-9]+|[0-9]{4,}", own, "[0-9]+|",
      "[1-9][0-9]{0,2}(", other, "[0-9]{3})+", own, "[0-9]*|[1-9][0-9]{0,2}(", other, "[0-9]{3}){2,})$"
    )
    out[out == "none" & grepl(sure, bare)] <- mark
  }
  out
}

# "0m12.345s", "1:05.2"
clock_shape <- "^[-+]?([0-9]+:)?[0-9]+:[0-5][0-9]([.,][0-9]+)?$"

is_number_cell <- function(text) {
  text <- as_clock(text)
  !is.na(text) & (!is.na(number_parts(text)$body) | grepl(clock_shape, text) & is.na(time_of_cell(text)))
}

#' The decimal mark of a table
#' @param columns List of character vectors: the cells that are numbers, by column.
#' @return `point`, `comma`; `torn` where two cells prove different marks; `unsure` where none proves any and it
#' matters.
#' @noRd
decimal_mark <- function(columns) {
  proofs <- lapply(columns, function(v) mark_proof_of(v))
  all <- unlist(proofs)
  if (any(all == "point") && any(all == "comma")) {
    return("torn")
  }
  if (any(all %in% c("point", "comma"))) {
    return(if (any(all == "point")) "point" else "comma")
  }
  open <- vapply(proofs, function(p) any(p == "open"), NA)
  if (!any(open)) {
    return("point")
  }
  # an unmarked 980 beside 1,041: only as thousands does the column stay together
  told <- unlist(Map(thousands_alone, columns[open], proofs[open]))
  if (length(told) && length(unique(told)) == 1) told[[1]] else "unsure"
}

mark_proof_of <- function(text) {
  text <- as_clock(text)
  proof <- number_parts(text)$proof
  timed <- is.na(proof) & grepl(clock_shape, text)
  proof[timed] <- ifelse(grepl("[.]", text[timed]), "point", ifelse(grepl(",", text[timed]), "comma", "plain"))
  ifelse(is.na(proof), "plain", proof)
}

thousands_alone <- function(text, proof) {
  if (!any(proof == "plain")) {
    return(NULL)
  }
  open <- text[proof == "open"]
  if (length(unique(grepl(",", open))) > 1) {
    return(NULL)
  }
  spread <- function(mark) {
    v <- abs(read_numbers(text, mark)$value)
    v <- v[!is.na(v) & v > 0]
    if (length(v)) max(v) / min(v) else 1
  }
  # the mark that parts thousands is not the decimal one
  grouped <- if (grepl(",", open[1])) "point" else "comma"
  fraction <- if (grouped == "point") "comma" else "point"
  if (spread(grouped) <= 20 && spread(fraction) > 20) grouped
}

#' Numbers as they were typed, by the decimal mark of their table
#' @return A list: `value`, `unit` (behind the number), `clock` (was minutes and seconds, now seconds), `spread` (a
#'   spread stood behind it), `ok`.
#' @noRd
read_numbers <- function(text, mark) {
  text <- as_clock(text)
  parts <- number_parts(text)
  body <- gsub("['\u2019\u202f ]", "", parts$body)
  decimal <- if (mark == "comma") "," else "."
  body <- gsub(if (mark == "comma") "." else ",", "", body, fixed = TRUE)
  if (decimal == ",") body <- sub(",", ".", body, fixed = TRUE)
  ok <- !is.na(body) & !(parts$proof %in% setdiff(c("point", "comma"), mark))
  value <- rep(NA_real_, length(text))
  value[ok] <- as.numeric(paste0(chartr("\u2212", "-", parts$sign[ok]), body[ok], parts$power[ok]))
  timed <- !is.na(text) & is.na(parts$body) & grepl(clock_shape, text)
  value[timed] <- clock_seconds(text[timed])
  unit <- ifelse(is.na(parts$unit) | !nzchar(parts$unit), NA, parts$unit)
  list(
    value = value, unit = unit, clock = timed, spread = !is.na(text) & grepl(spread_mark, text) & ok,
    ok = (ok | timed) & is.finite(value)
  )
}
