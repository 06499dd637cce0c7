# Along the values of a setting that have an order: the trend, and where more brings nothing.

trend_sentence <- function(row, labels) {
  paste0(
    overall_place(row, labels), ": ", shown_change(row), " per ",
    if (row$step == "doubling") paste("doubling of", labels$setting) else paste(labels$unit, labels$setting), " (",
    range_of(row, "lower", "upper"), "), ", switch(row$verdict,
      gain = "it rises for the better", loss = "it goes for the worse", "no trend is clear"
    ), "."
  )
}

plateau_sentence <- function(row, labels) {
  worth <- sub("^[+]", "", show_change(row$worth, row$scale, row$unit))
  bound <- if (!is.na(row$fails)) {
    paste0(
      ": ", arm_names(row$fails, labels), " is up to ", sub("^[+-]", "", show_change(row$bound, row$scale, row$unit)),
      " worse than ", arm_names(row$against, labels)
    )
  }
  about <- paste0(overall_place(row, labels), ": ")
  if (is.na(row$from)) {
    return(paste0(about, "no value is shown to be within ", worth, " of every other above it", bound, "."))
  }
  from <- arm_names(row$from, labels)
  paste0(about, "from ", from, " on, more brings nothing worth having (", worth, ")", bound, ".")
}
