# Random tables with a known truth (helper-sheets.R): what is read is the truth, or the reader asks. Other numbers than
# the truth are the one thing that must not be, and every cell has a fate.
sheets_wanted <- function(few, many) if (nzchar(Sys.getenv("HONESTMARGIN_SHEETS"))) many else few

read_sheet <- function(lines, said) {
  file <- write_lines(lines)
  better <- c(
    fps = "higher", `Avg FPS` = "higher", `load time` = "lower", score = "higher", `1% low` = "higher",
    `frame time` = "lower", bandwidth = "higher", Punkte = "higher", value = "higher", result = "higher",
    Wert = "higher"
  )
  tryCatch(
    read_readings(file,
      baseline = said$baseline, better = better, answer = unlist(said$answer), columns = unlist(said$columns)
    ),
    honestmargin_error_asked = function(e) e,
    honestmargin_error = function(e) e
  )
}

# what counts, as sorted words; a table of one metric need not name it
as_words <- function(rows, metric, one) {
  sort(paste(
    rows$arm, ifelse(is.na(rows$workload), "main", rows$workload), if (one) "" else tolower(metric),
    sprintf("%.7g", rows$value)
  ))
}
is_truth <- function(read, sheet) {
  if (!inherits(read, "honestmargin_readings")) {
    return(NA)
  }
  good <- read[!is.na(read$value) & read$role == "counted", , drop = FALSE]
  truth <- sheet$truth
  if (sheet$layout == "labels_across") truth$workload <- "Harbour"
  one <- length(unique(truth$name)) == 1
  identical(as_words(good, good$metric, one), as_words(truth, truth$name, one)) &&
    (!one || length(unique(good$metric)) == 1)
}
fates_of <- function(read) attr(read, "account")$fates

test_that("a random sheet is read as it was meant, or asked about; each of its cells has one fate", {
  first <- if (nzchar(Sys.getenv("HONESTMARGIN_SHEETS"))) 0 else as.integer(Sys.Date())
  right <- 0
  n <- sheets_wanted(200, 2000)
  for (seed in first + seq_len(n)) {
    sheet <- random_sheet(seed)
    read <- read_sheet(sheet$lines, list(baseline = sheet$baseline))
    truth <- is_truth(read, sheet)
    if (isFALSE(truth)) fail(paste0("seed ", seed, " (", sheet$layout, ") is read as other numbers"))
    if (is.na(truth) && !inherits(read, "honestmargin_error_asked")) {
      fail(paste0("seed ", seed, " (", sheet$layout, ") is refused: ", conditionMessage(read)))
    }
    right <- right + isTRUE(truth)
    account <- if (isTRUE(truth)) attr(read, "account") else read$account
    fates <- account$fates
    expect_true(all(is.na(fates) | fates %in% c("value", "key", "heading", "left out", "asked")))
    # as many cells have a fate as the file has cells that hold something
    cells <- unlist(strsplit(sheet$lines, "[;\t]|,(?![0-9]{3}(?![0-9]))", perl = TRUE))
    if (isTRUE(truth) && !any(grepl("[0-9],[0-9]", sheet$lines))) {
      expect_identical(sum(!is.na(fates)), sum(nzchar(trimws(cells))), info = paste("seed", seed))
      expect_false("asked" %in% fates)
      # a value is a number or how a pass ended
      expect_identical(sum(fates %in% "value"), sum(!is.na(read$value) | read$outcome != "ok"),
        info = paste("seed", seed)
      )
    }
  }
  # the aim is nine of ten; far fewer would be a reader that asks for everything
  expect_gt(right / n, 0.8)
})

test_that("of the answers that a question offers, one ends in the truth", {
  asked <- 0
  for (seed in as.integer(Sys.Date()) + 1000 + seq_len(sheets_wanted(150, 600))) {
    sheet <- random_sheet(seed)
    read <- read_sheet(sheet$lines, list(baseline = sheet$baseline))
    if (!inherits(read, "honestmargin_error_asked")) next
    asked <- asked + 1
    found <- FALSE
    # each question by each of its choices
    choices <- lapply(read$questions, `[[`, "choices")
    ways <- utils::head(expand.grid(lapply(lengths(choices), seq_len)), 60)
    for (w in seq_len(nrow(ways))) {
      said <- list(baseline = sheet$baseline)
      for (q in seq_along(choices)) {
        one <- choices[[q]][[ways[w, q]]]
        if (one$option == "baseline") next
        parts <- strsplit(one$value, "=", fixed = TRUE)[[1]]
        said[[one$option]] <- c(said[[one$option]], stats::setNames(parts[2], parts[1]))
      }
      if (isTRUE(is_truth(read_sheet(sheet$lines, said), sheet))) {
        found <- TRUE
        break
      }
    }
    codes <- vapply(read$questions, `[[`, "", "code")
    # who tested, or how hard it was, is a note in the truth, and places in the answers
    if (!found) {
      fail(paste0(
        "seed ", seed, " (", sheet$layout, "): no answer to ", paste(codes, collapse = ", "),
        " is right"
      ))
    }
  }
  expect_gt(asked, 3)
})

# one cell or row spoilt: a name misspelt, a field missing, a value times ten
spoil_sheet <- function(sheet) {
  lines <- sheet$lines
  at <- sample(which(grepl("[;\t,]", lines)), 1)
  mark <- regmatches(lines[at], regexpr("[;\t]|,", lines[at]))
  cells <- strsplit(lines[at], mark, fixed = TRUE)[[1]]
  j <- sample(length(cells), 1)
  kind <- sample(3, 1)
  if (kind == 1) {
    words <- which(grepl("[[:alpha:]]{3}", cells))
    if (length(words)) {
      w <- words[sample.int(length(words), 1)]
      k <- sample(nchar(cells[w]) - 1, 1) + 1
      cells[w] <- paste0(substr(cells[w], 1, k - 1), "q", substring(cells[w], k + 1))
    }
  } else if (kind == 2) {
    cells <- cells[-j]
  } else {
    cells[j] <- sub("^([0-9]+)", "\\10", cells[j])
  }
  lines[at] <- paste(cells, collapse = mark)
  list(lines = lines, kind = c("misspelt", "missing", "times ten")[kind])
}

test_that("a sheet with one cell spoilt is asked about or read as it stands, not as something else", {
  set.seed(as.integer(Sys.Date()))
  wrong <- character()
  for (seed in as.integer(Sys.Date()) + 5000 + seq_len(sheets_wanted(100, 500))) {
    sheet <- random_sheet(seed)
    spoilt <- spoil_sheet(sheet)
    read <- read_sheet(spoilt$lines, list(baseline = sheet$baseline))
    if (!inherits(read, "honestmargin_readings")) next
    good <- read[!is.na(read$value) & read$role == "counted", , drop = FALSE]
    # no arm beside those that there are (one that is spelt so wherever it stands is called so)
    extra <- if (all(sheet$truth$arm %in% good$arm)) setdiff(good$arm, sheet$truth$arm)
    lost <- nrow(sheet$truth) - nrow(good)
    if (length(extra) || lost > 1 || lost < 0) {
      wrong <- c(wrong, paste0(
        seed, " (", sheet$layout, ", ", spoilt$kind, "): ", paste(extra, collapse = ","), " ",
        lost
      ))
    }
  }
  expect_identical(wrong, character())
})
