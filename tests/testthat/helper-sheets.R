# Random tables as people keep them, each with its truth. `random_sheet(seed)` gives the lines of a file, the baseline,
# and the readings it holds; written without a look at the reader.

pick <- function(x) x[[sample.int(length(x), 1)]]
chance <- function(p) stats::runif(1) < p

sheet_names <- list(
  arms = list(
    c("off", "on"), c("low", "mid", "high"), c("stock", "tuned"), c("125 Hz", "500 Hz", "1000 Hz"),
    c("alt", "neu"), c("rich-wide", "lean-wide"), c("Kestrel 1", "Kestrel 2"), c("v2.1", "v2.2", "v2.3"),
    c("bad kit", "good kit"), c("3200", "3600", "4000")
  ),
  arm_heading = c("arm", "Setting", "Config", "card", "Driver", "Variante", "Memory", "Mode"),
  metrics = list(
    c(name = "fps", unit = "", level = 140), c(name = "Avg FPS", unit = "", level = 95),
    c(name = "load time (s)", unit = "s", level = 12), c(name = "score", unit = "", level = 10400),
    c(name = "1% low", unit = "", level = 71), c(name = "frame time (ms)", unit = "ms", level = 8.3),
    c(name = "bandwidth (GB/s)", unit = "GB/s", level = 48), c(name = "Punkte", unit = "", level = 1210)
  ),
  workload_heading = c("scene", "Spiel", "workload", "map"), workloads = list(
    c("Harbour", "Tunnel"),
    c("north", "south", "pit")
  ),
  pass_heading = c("run", "pass", "Lauf", "#", "Durchlauf", "run #"),
  sums = c("Average", "Mittelwert", "StdDev", "Stabw", "Min", "Max", "Geomean", "Range", "Median")
)

# numbers of one metric, few digits, each arm a bit apart
sheet_values <- function(level, digits, n, shift) round(stats::rnorm(n, level * (1 + shift), 0.01 * level), digits)

sheet_truth <- function(layout) {
  arms <- pick(sheet_names$arms)
  several <- !layout %in% c("across", "passes", "labels", "labels_across", "sections", "headless")
  metrics <- sheet_names$metrics[sample.int(length(sheet_names$metrics), if (several) sample(1:3, 1) else 1)]
  workloads <- if (layout %in% c("rows", "long", "merged", "passes_of", "metric_rows") && chance(0.5)) {
    pick(sheet_names$workloads)
  } else {
    NA
  }
  passes <- sample(3:6, 1)
  grid <- expand.grid(
    pass = seq_len(passes), arm = arms, workload = workloads, metric = seq_along(metrics), stringsAsFactors = FALSE
  )
  digits <- vapply(metrics, function(m) if (as.numeric(m[["level"]]) > 1000) sample(0:1, 1) else sample(1:2, 1), 1L)
  grid$value <- NA_real_
  for (m in seq_along(metrics)) {
    here <- grid$metric == m
    grid$value[here] <- sheet_values(
      as.numeric(metrics[[m]][["level"]]), digits[m], sum(here), 0.03 * match(grid$arm[here], arms)
    )
  }
  grid$digits <- digits[grid$metric]
  grid$heading <- vapply(metrics, `[[`, "", "name")[grid$metric]
  grid$name <- sub(" [(].*", "", grid$heading)
  # a pass of which nothing is left but how it ended
  if (chance(0.15)) {
    grid$value[sample.int(nrow(grid), 1)] <- NA
  }
  list(grid = grid, arms = arms, workloads = workloads, metrics = metrics, passes = passes)
}

# how the numbers of one file are written
number_writer <- function() {
  mark <- pick(c(".", ".", ","))
  thousands <- if (chance(0.3)) if (mark == ".") "," else "." else ""
  end <- pick(c("", "crash", "n/a", "DNF", "black screen"))
  list(
    mark = mark, end = end,
    write = function(value, digits) {
      out <- mapply(formatC, value, digits = digits, USE.NAMES = FALSE, MoreArgs = list(
        format = "f", big.mark = thousands, decimal.mark = mark
      ))
      ifelse(is.na(value), end, out)
    }
  )
}

# rows that sum up a column of numbers, as sheets have them
sum_of <- function(word, v) {
  v <- v[!is.na(v)]
  switch(word,
    Average = ,
    Mittelwert = mean(v),
    StdDev = ,
    Stabw = stats::sd(v),
    Min = min(v),
    Max = max(v),
    Geomean = exp(mean(log(v))),
    Range = diff(range(v)),
    Median = stats::median(v)
  )
}

#' @return A list: `lines`, `baseline`, `truth` (data frame of `arm`, `workload`, `metric`, `value`), `layout`, `cells`.
#' @noRd
random_sheet <- function(seed, layout = NULL) {
  set.seed(seed)
  layout <- empty_layout(layout)
  made <- sheet_truth(layout)
  numbers <- number_writer()
  cells <- sheet_layouts[[layout]](made, numbers$write)
  grid <- made$grid
  text <- numbers$write(grid$value, grid$digits)
  separator <- if (numbers$mark == "," || any(grepl(",", cells))) pick(c(";", "\t")) else pick(c(",", ";", "\t"))
  lines <- apply(cells, 1, paste, collapse = separator)
  if (chance(0.2) && layout != "headless") {
    lines <- c(pick(c("Benchmarks of spring", "My notes on the new kit", "Messreihe 4")), if (chance(0.5)) "", lines)
  }
  list(
    lines = lines, baseline = made$arms[1], layout = layout, cells = cells,
    truth = grid[!is.na(grid$value), c("arm", "workload", "name", "value")]
  )
}
empty_layout <- function(layout) if (is.null(layout)) pick(names(sheet_layouts)) else layout

# with a note, a date, a column of order or of unknown words beside; sums below
dress <- function(cells, made, sums = TRUE, wide = TRUE, pass_column = NULL) {
  head <- cells[1, ]
  body <- cells[-1, , drop = FALSE]
  n <- nrow(body)
  if (wide && chance(0.15)) {
    head <- c(head, pick(c("Notes", "Bemerkung", "comment")))
    body <- cbind(body, ifelse(stats::runif(n) < 0.2, "fan was loud", ""))
  }
  if (wide && chance(0.1)) {
    head <- c(head, pick(c("date", "Datum")))
    body <- cbind(body, sprintf("2026-03-%02d", 1 + (seq_len(n) - 1) %/% 4))
  }
  if (wide && chance(0.1)) {
    head <- c(pick(c("time", "Uhrzeit")), head)
    body <- cbind(sprintf("%02d:%02d", 9 + seq_len(n) %/% 6, 10 * (seq_len(n) %% 6)), body)
  }
  if (wide && chance(0.05)) {
    head <- c(head, pick(c("tester", "difficulty", "Kulisse")))
    body <- cbind(body, sample(c("Ada", "Bo"), n, TRUE))
  }
  rbind(head, body, deparse.level = 0)
}

# one row a pass: keys, then metrics
wide_rows <- function(made, write, keys) {
  grid <- made$grid
  first <- grid[grid$metric == 1, ]
  numbers <- lapply(seq_along(made$metrics), function(m) {
    here <- grid[grid$metric == m, ]
    write(here$value, here$digits)
  })
  names(numbers) <- vapply(made$metrics, `[[`, "", "name")
  list(first = first, numbers = do.call(cbind, numbers))
}

with_sums <- function(rows, numbers, made, label_at, key_at, arms, write) {
  # after each arm, in the column of the pass
  word <- pick(sheet_names$sums)
  grid <- made$grid
  out <- NULL
  for (arm in unique(arms)) {
    here <- which(arms == arm)
    sum_row <- rep("", ncol(rows))
    sum_row[key_at] <- rows[here[1], key_at]
    sum_row[label_at] <- word
    for (m in seq_along(made$metrics)) {
      of <- grid$metric == m & grid$arm == arm
      sum_row[ncol(rows) - length(made$metrics) + m] <- write(sum_of(word, grid$value[of]), grid$digits[of][1])
    }
    out <- rbind(out, rows[here, , drop = FALSE], sum_row, deparse.level = 0)
  }
  out
}

# a row for each workload, metric and pass, or each workload, arm and metric: its keys, then its numbers
rows_by <- function(made, write, by) {
  grid <- made$grid
  one <- unique(grid[c("workload", "metric", by)])
  body <- t(vapply(seq_len(nrow(one)), function(i) {
    here <- grid$metric == one$metric[i] & grid[[by]] == one[[by]][i] & grid$workload %in% one$workload[i]
    keys <- c(grid$heading[here][1], one[[by]][i])
    c(if (by == "arm") rev(keys) else keys, write(grid$value[here], grid$digits[here]))
  }, character(2 + if (by == "arm") made$passes else length(made$arms))))
  list(workload = one$workload, body = if (anyNA(one$workload)) body else cbind(one$workload, body))
}

sheet_layouts <- list(
  rows = function(made, write) {
    wide <- wide_rows(made, write)
    first <- wide$first
    numbered <- chance(0.6)
    keys <- cbind(if (!anyNA(first$workload)) first$workload, first$arm, if (numbered) first$pass)
    heads <- c(
      if (!anyNA(first$workload)) pick(sheet_names$workload_heading), pick(sheet_names$arm_heading),
      if (numbered) pick(sheet_names$pass_heading), colnames(wide$numbers)
    )
    rows <- cbind(keys, wide$numbers, deparse.level = 0)
    if (numbered && anyNA(first$workload) && chance(0.3)) {
      rows <- with_sums(rows, wide$numbers, made, 2, 1, first$arm, write)
    } else if (chance(0.4)) {
      rows <- rows[order(first$pass), , drop = FALSE]
    }
    dress(rbind(heads, rows, deparse.level = 0), made)
  },
  merged = function(made, write) {
    wide <- wide_rows(made, write)
    first <- wide$first
    arm <- first$arm
    arm[c(FALSE, arm[-1] == arm[-length(arm)] & first$pass[-1] > 1)] <- ""
    workload <- first$workload
    if (!anyNA(workload)) workload[c(FALSE, workload[-1] == workload[-length(workload)])] <- ""
    heads <- c(
      if (!anyNA(first$workload)) pick(sheet_names$workload_heading), pick(sheet_names$arm_heading),
      pick(sheet_names$pass_heading), colnames(wide$numbers)
    )
    rbind(heads, cbind(if (!anyNA(first$workload)) workload, arm, first$pass, wide$numbers, deparse.level = 0),
      deparse.level = 0
    )
  },
  long = function(made, write) {
    grid <- made$grid
    metric <- length(made$metrics) > 1
    body <- cbind(
      if (!anyNA(grid$workload)) grid$workload, grid$arm, grid$pass, if (metric) grid$name,
      if (metric) vapply(made$metrics, `[[`, "", "unit")[grid$metric], write(grid$value, grid$digits)
    )
    heads <- c(
      if (!anyNA(grid$workload)) "workload", pick(c("arm", "Setting", "Variante")), pick(c("pass", "run")),
      if (metric) c("metric", "unit"), pick(c("value", "result", "Wert"))
    )
    rbind(heads, body, deparse.level = 0)
  },
  across = function(made, write) {
    grid <- made$grid
    numbers <- vapply(
      made$arms, function(arm) write(grid$value[grid$arm == arm], grid$digits[1]),
      character(made$passes)
    )
    numbered <- chance(0.6)
    rows <- cbind(if (numbered) seq_len(made$passes), numbers, deparse.level = 0)
    rows <- rbind(c(if (numbered) pick(sheet_names$pass_heading), made$arms), rows, deparse.level = 0)
    if (numbered && chance(0.4)) {
      word <- pick(sheet_names$sums)
      rows <- rbind(rows, c(word, vapply(made$arms, function(arm) {
        write(sum_of(word, grid$value[grid$arm == arm]), grid$digits[1])
      }, "")), deparse.level = 0)
    }
    rows
  },
  metric_rows = function(made, write) {
    one <- rows_by(made, write, "pass")
    rbind(
      c(
        if (!anyNA(one$workload)) pick(sheet_names$workload_heading), pick(c("metric", "Metrik", "what")), "run",
        made$arms
      ),
      one$body,
      deparse.level = 0
    )
  },
  passes = function(made, write) {
    grid <- made$grid
    numbers <- t(vapply(
      made$arms, function(arm) write(grid$value[grid$arm == arm], grid$digits[1]),
      character(made$passes)
    ))
    heads <- paste0(pick(c("run ", "Run", "", "Lauf ", "#")), seq_len(made$passes))
    rows <- rbind(c(pick(sheet_names$arm_heading), heads), cbind(made$arms, numbers), deparse.level = 0)
    if (chance(0.3)) {
      word <- pick(sheet_names$sums)
      rows <- cbind(rows, c(word, vapply(made$arms, function(arm) {
        write(sum_of(word, grid$value[grid$arm == arm]), grid$digits[1])
      }, "")), deparse.level = 0)
    }
    rows
  },
  passes_of = function(made, write) {
    one <- rows_by(made, write, "arm")
    rbind(
      c(
        if (!anyNA(one$workload)) pick(sheet_names$workload_heading), pick(sheet_names$arm_heading), "metric",
        paste("run", seq_len(made$passes))
      ),
      one$body,
      deparse.level = 0
    )
  },
  two_heads = function(made, write) {
    grid <- made$grid
    k <- length(made$metrics)
    numbers <- do.call(cbind, lapply(made$arms, function(arm) {
      matrix(write(grid$value[grid$arm == arm], grid$digits[grid$arm == arm]), made$passes)
    }))
    top <- c("", unlist(lapply(made$arms, function(a) c(a, rep("", k - 1)))))
    low <- c(pick(sheet_names$pass_heading), rep(vapply(made$metrics, `[[`, "", "name"), length(made$arms)))
    rbind(top, low, cbind(seq_len(made$passes), numbers), deparse.level = 0)
  },
  sections = function(made, write) {
    grid <- made$grid
    out <- NULL
    head <- c(pick(sheet_names$pass_heading), grid$heading[1])
    again <- chance(0.5)
    for (arm in made$arms) {
      here <- grid$arm == arm
      out <- rbind(
        out, if (is.null(out) && !again) head, c(paste0(arm, pick(c("", ":"))), ""), if (again) head,
        cbind(grid$pass[here], write(grid$value[here], grid$digits[here])),
        deparse.level = 0
      )
    }
    out
  },
  labels = function(made, write) {
    grid <- made$grid
    label <- paste0(grid$arm, pick(c(" ", "-", "_", " run ", " #")), grid$pass)
    rbind(c(pick(c("run", "what", "Config", "name")), grid$heading[1]), cbind(label, write(grid$value, grid$digits)),
      deparse.level = 0
    )
  },
  labels_across = function(made, write) {
    grid <- made$grid
    rbind(
      c("map", paste0(grid$arm, pick(c(" ", "_", " run ", " #")), grid$pass)),
      c("Harbour", write(grid$value, grid$digits)),
      deparse.level = 0
    )
  },
  headless = function(made, write) {
    grid <- made$grid
    numbers <- t(vapply(
      made$arms, function(arm) write(grid$value[grid$arm == arm], grid$digits[1]),
      character(made$passes)
    ))
    cbind(made$arms, numbers, deparse.level = 0)
  },
  units = function(made, write) {
    wide <- wide_rows(made, write)
    units <- c(
      fps = "fps", `Avg FPS` = "fps", `load time (s)` = "s", score = "points", `1% low` = "fps",
      `frame time (ms)` = "ms", `bandwidth (GB/s)` = "GB/s", Punkte = "pts"
    )
    for (m in seq_along(made$metrics)) {
      u <- units[[made$metrics[[m]][["name"]]]]
      v <- wide$numbers[, m]
      wide$numbers[, m] <- ifelse(grepl("[0-9]", v), paste(v, u), v)
    }
    heads <- c("arm", "run", sub(" [(].*", "", colnames(wide$numbers)))
    rbind(heads, cbind(wide$first$arm, wide$first$pass, wide$numbers, deparse.level = 0), deparse.level = 0)
  },
  names_across = function(made, write) {
    # arms above, no number of a pass, the metric in each row
    grid <- made$grid
    numbers <- vapply(made$arms, function(arm) {
      write(grid$value[grid$arm == arm], grid$digits[grid$arm == arm])
    }, character(sum(grid$arm == made$arms[1])))
    rows <- cbind(grid$heading[grid$arm == made$arms[1]], numbers, deparse.level = 0)
    rbind(c(pick(c("", "metric", "Metrik")), made$arms), rows, deparse.level = 0)
  }
)
