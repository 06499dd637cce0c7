# Claims in words that can be pasted.

#' @param claims From [weigh_claims()]. @param names What each is about, or `NULL`.
#' @return One sentence per claim.
#' @noRd
claim_sentences <- function(claims, names = NULL) {
  gap <- show_change(claims$change, "percent")
  each <- ifelse(claims$passes_from == 1 & claims$passes_to == 1, "one pass each",
    paste(claims$passes_from, "against", claims$passes_to, "passes")
  )
  sure <- show_share(claims$confidence)
  paste0(
    if (is.null(names)) "" else paste0(names, ": "),
    claimed(claims, "from"), " against ", claimed(claims, "to"), " is ", gap, ". ",
    ifelse(claims$break_even == 0, "Rounding alone may have made this gap: it shows nothing.", paste0(
      "It exceeds the noise at ", sure, if (claims$together[1] > 1) paste0(" (over all ", claims$together, " claims)"),
      " only if one pass varies by less than ", show_noise_percent(claims$break_even), " (", each,
      ifelse(claims$rounded > 0, paste0(", rounded to ", show_exact(claims$rounded)), ""), ")."
    )),
    spread_words(claims)
  )
}

# what the published spread says by itself
spread_words <- function(claims) {
  own <- mapply(function(...) paste(unique(format(c(...), trim = TRUE, decimal.mark = ".")), collapse = " and "),
    claims$spread_from, claims$spread_to
  )
  ifelse(is.na(claims$stands), "", paste0(
    " By the spread of its own passes (standard deviation ", own, ") it is ", claimed_range(claims), ": ",
    ifelse(claims$stands, "it stands, if nothing but the setting differed.", "it may be no change.")
  ))
}

claimed_range <- function(claims) {
  wide <- claims$upper - claims$lower
  end <- function(x) sub(" %", "", show_change(x, "percent", "", wide), fixed = TRUE)
  ifelse(is.na(claims$stands), "", paste0(end(claims$lower), " to ", end(claims$upper), " %"))
}

#' What passes like these varied by, where anything is remembered
#' @param usual From `usual_noise()`.
#' @noRd
usual_noise_words <- function(usual) {
  if (!is.null(usual)) {
    paste0(
      "In the noise memory here one pass varied by ", show_noise_percent(usual$low), " to ",
      show_noise_percent(usual$high), " (", count_of(usual$studies, "study", "studies"), ")."
    )
  }
}

# with the digits that were given
claimed <- function(claims, side) {
  digits <- ifelse(claims$rounded > 0, pmax(0, round(-log10(claims$rounded))), NA)
  exact <- vapply(claims[[side]], format, "")
  ifelse(is.na(digits), exact, sprintf("%.*f", as.integer(empty_zero(digits)), claims[[side]]))
}

show_noise_percent <- function(noise) paste0(show_number(noise, 2), " %")

claims_shown <- function(claims, names = NULL) {
  shown <- data.frame(
    claim = empty_to(names, as.character(seq_len(nrow(claims)))), from = claimed(claims, "from"),
    to = claimed(claims, "to"), change = show_change(claims$change, "percent"),
    passes = paste(claims$passes_from, "/", claims$passes_to),
    `stands below` = ifelse(claims$break_even == 0, "never (rounding)", show_noise_percent(claims$break_even)),
    check.names = FALSE
  )
  if (any(!is.na(claims$stands))) {
    shown$interval <- claimed_range(claims)
    shown$stands <- ifelse(is.na(claims$stands), "", ifelse(claims$stands, "yes", "no"))
  }
  shown
}
