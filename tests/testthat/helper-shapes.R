# About twenty-five shapes of study, each made small, and every verb and figure that reads one. `shape_names`, and
# `make_shape(name, folder)` that gives the words of the command line which open it.

scores_of <- function(arms, n, seed = 1, level = 100, step = 2, sd = 1) {
  set.seed(seed)
  data.frame(
    arm = rep(arms, n), value = round(rnorm(length(arms) * n, level + step * (rep(seq_along(arms), n) - 1), sd), 2)
  )
}
in_blocks <- function(arms, blocks, ...) {
  rows <- scores_of(arms, blocks, ...)
  rows$block <- rep(seq_len(blocks), each = length(arms))
  rows$order <- unlist(lapply(seq_len(blocks), function(b) {
    (b - 1) * length(arms) + if (b %% 2) seq_along(arms) else rev(seq_along(arms))
  }))
  rows
}
# what goes wrong in some passes: their numbers are gone
ending <- function(rows, which, outcome = "crash") {
  rows$outcome <- ifelse(which, outcome, "ok")
  rows$value[which] <- NA
  rows
}
over <- function(column, levels, make) {
  do.call(rbind, lapply(seq_along(levels), function(i) {
    rows <- make(i)
    rows[[column]] <- levels[i]
    rows
  }))
}
three <- c("low", "mid", "high")
table_shapes <- list(
  two_unblocked = function() scores_of(c("off", "on"), 5),
  three_unblocked = function() scores_of(three, 4),
  seven_unblocked = function() scores_of(letters[1:7], 3),
  three_blocks = function() in_blocks(three, 5),
  blocks_with_holes = function() in_blocks(three, 5)[-c(4, 8), ],
  one_each_two = function() scores_of(c("off", "on"), 1),
  one_each_three = function() scores_of(three, 1),
  one_arm = function() scores_of("only", 5),
  workloads = function() over("workload", c("w1", "w2", "w3"), function(i) in_blocks(three, 4, seed = i)),
  workloads_once = function() over("workload", paste0("w", 1:5), function(i) scores_of(c("off", "on"), 1, seed = i)),
  contexts = function() over("context", c("day", "night"), function(i) in_blocks(c("off", "on"), 4, seed = i)),
  contexts_unblocked = function() {
    over("workload", c("w1", "w2"), function(w) {
      over("context", c("day", "night"), function(i) scores_of(three, 3, seed = 2 * w + i))
    })
  },
  boots = function() {
    rows <- scores_of(c("off", "on"), 8)
    rows$boot <- rep(1:8, each = 2)
    rows$arm <- rep(c("off", "on"), each = 2, times = 4)
    rows$order <- 1:16
    rows
  },
  one_stint_each = function() {
    rows <- scores_of(c("off", "on"), 4)
    rows <- rows[order(rows$arm), ]
    rows$order <- 1:8
    rows
  },
  a_crashing_arm = function() {
    rows <- in_blocks(three, 5)
    ending(rows, rows$arm == "high" & rows$block %in% 2:3)
  },
  an_arm_never_held = function() {
    rows <- in_blocks(three, 4)
    ending(rows, rows$arm == "high")
  },
  no_baseline_held = function() {
    rows <- in_blocks(three, 4)
    ending(rows, rows$arm == "low")
  },
  fails_elsewhere = function() {
    over("workload", c("w1", "w2"), function(i) {
      rows <- in_blocks(three, 4, seed = i)
      ending(rows, rows$arm == "high" & i == 2)
    })
  },
  outcomes_only = function() data.frame(arm = rep(three, 5), outcome = rep(c("ok", "ok", "crash"), 5), seconds = 60),
  equal_values = function() scores_of(c("off", "on"), 4, sd = 0, step = 0),
  excluded = function() {
    rows <- in_blocks(three, 5)
    rows$role <- ifelse(seq_len(nrow(rows)) == 4, "excluded", "counted")
    rows$reason <- ifelse(rows$role == "excluded", "an update ran", "")
    rows
  },
  wide = function() {
    set.seed(4)
    data.frame(
      arm = rep(c("off", "on"), 5), fps = rnorm(10, 100), watts = rnorm(10, 200, 3), load_s = rnorm(10, 12, 0.2)
    )
  },
  steps = function() {
    rows <- scores_of(c("stock", "memory", "pinned"), 1, step = 4)
    rows$load <- c(80, 84, 90)
    rows
  },
  loops = function() {
    rows <- over("run", 1:3, function(run) {
      over("loop", 1:8, function(i) scores_of(c("off", "on"), 1, seed = 9 * run + i))
    })
    rows[order(rows$arm, rows$run, rows$loop), ]
  },
  looks = function() {
    over("run", 1:3, function(run) over("look", 1:4, function(i) scores_of(c("off", "on"), 1, seed = 9 * run + i)))
  },
  kits = function() {
    rows <- in_blocks(three, 4)
    rows$capacity <- ifelse(rows$arm == three[1], "16 GB", "32 GB")
    rows$price <- c("60 EUR", "90 EUR", "120 EUR")[match(rows$arm, three)]
    rows
  },
  long_two_units = function() {
    rbind(
      cbind(in_blocks(c("off", "on"), 4), metric = "fps", unit = "fps", pass = 1:8),
      cbind(in_blocks(c("off", "on"), 4, seed = 2, level = 12), metric = "load", unit = "s", pass = 1:8)
    )
  }
)
# what each shape must be told beside its file: a direction where a heading says none, a role where it says none
told_of <- function(rows) {
  has <- function(name) name %in% names(rows)
  list(
    better = if (has("metric")) {
      c(fps = "higher", load = "lower")
    } else if (has("watts")) {
      c(fps = "higher", watts = "lower", load_s = "lower")
    } else if (has("load")) {
      c(load = "none")
    },
    columns = if (has("price")) c(attribute = "capacity", attribute = "price")
  )
}
of_table <- function(rows, folder) {
  path <- file.path(folder, "scores.csv")
  utils::write.csv(rows, path, row.names = FALSE, na = "")
  told <- told_of(rows)
  pairs <- function(option, x) if (length(x)) c(option, paste0(names(x), "=", x, collapse = ","))
  arms <- unique(rows$arm)
  c(path, if (length(arms) > 1) c("--baseline", arms[1], "--worth", "2"),
    pairs("--better", told$better), pairs("--columns", told$columns)
  )
}
of_logs <- function(arms, runs = 3) {
  function(folder) {
    for (i in seq_along(arms)) for (run in seq_len(runs)) {
      frames <- plain_frames(6, 8 - 0.2 * i, 10 * i + run)
      writeLines(c("frame_time_ms", sprintf("%.4f", frames)), file.path(folder, sprintf("%s_run%d.csv", arms[i], run)))
    }
    c(folder, if (length(arms) > 1) c("--baseline", arms[1]))
  }
}
of_plan <- function(folder, ..., most = Inf, ask = NULL) {
  writeLines(c(...), file.path(folder, "study.yml"))
  run_study(folder, most = most, ask = ask)
  folder
}
score_line <- "  scores: [{metric: score, pattern: 'score ([0-9.]+)'}]"
sample_command <- "  command: echo score {arm}$(date +%N | cut -c1-2).5"
of_ledger <- function(blocks = 3) {
  c(
    "setting: {name: level, baseline: 10}", "arms: [{value: 10}, {value: 11}]", paste("blocks:", blocks),
    "metrics: [{id: score, better: higher, worth: 2, primary: true}]", "sensors: {rate: 0}",
    "workloads:", "- id: w", sample_command, "  settle: 0", score_line
  )
}
other_shapes <- list(
  logs_of_one = of_logs("only"), logs_of_two = of_logs(c("off", "on")), logs_of_three = of_logs(three),
  results = function(folder) {
    for (arm in c("off", "on")) for (run in 1:3) {
      writeLines(c(
        paste("Average FPS:", 100 + 4 * (arm == "on") + run), paste("Load time:", 10 + run / 10, "s")
      ), file.path(folder, sprintf("%s_%d.txt", arm, run)))
    }
    c(folder, "--baseline", "off")
  },
  json = function(folder) {
    path <- file.path(folder, "scores.json")
    writeLines(jsonlite::toJSON(in_blocks(three, 4)), path)
    c(path, "--baseline", "low", "--worth", "2")
  },
  toggled = function(folder) {
    of_plan(folder,
      "setting: {name: option, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 2", "sensors: {rate: 0}",
      "metrics: [{id: fps_avg, worth: 2, primary: true}]",
      "workloads:", "- id: w", "  settle: 0", "  beacon: true", "  toggle: {settle: 0.1}", "  command: |",
      "    exec 3> \"$HONESTMARGIN_BEACON_FILE\"; echo beacon 1 >&3",
      "    for r in 1 2 3; do for a in 1 2; do echo arm $a >&3",
      "    for i in $(seq 60); do echo frame $((9 + a + (i + r) % 3)).0$a >&3; done; done; done"
    )
  },
  demo_study = function(folder) demo_study(),
  ledger_done = function(folder) of_plan(folder, of_ledger()),
  # stopped after two of its passes
  ledger_begun = function(folder) of_plan(folder, of_ledger(), most = 2),
  search = function(folder) {
    of_plan(folder,
      "setting: {name: clock}", "search: {goal: highest, from: 10, to: 14, step: 1, repeat: 1}", "blocks: 2",
      "metrics: [{id: score, better: higher, worth: 2}]", "sensors: {rate: 0}",
      "workloads:", "- id: w", "  command: test {arm} -lt 13 && echo score {arm}", "  settle: 0", score_line
    )
  },
  knobs = function(folder) {
    of_plan(folder,
      "setting: {name: clocks}", "search:", "  repeat: 1", "  knobs:", "  - {name: core, from: 0, to: 3, step: 1}",
      "  - {name: memory, from: 0, to: 30, step: 10}", "blocks: 2", "sensors: {rate: 0}",
      "workloads:", "- id: w", "  command: test {core} -lt 2 && echo score 1{memory}", "  settle: 0", score_line
    )
  },
  pairs = function(folder) {
    plan <- of_ledger()
    plan[grepl("^setting", plan)] <- "setting: {name: level, baseline: 10, command: 'true {arm}'}"
    of_plan(folder, c(plan, "  judge: blind"), ask = function(kind, facts) list(choice = "first"))
  },
  screen = function(folder) {
    of_plan(folder,
      "setting: {name: options}", "blocks: 2", "sensors: {rate: 0}", "screen:", "  way: singly", "  options:",
      "  - {name: shadows, from: low, to: high}", "  - {name: fog, from: none, to: full}",
      "  - {name: crowd, from: few, to: many}",
      "metrics: [{id: score, better: higher, worth: 2, primary: true}]",
      "workloads:", "- id: w", "  command: echo score 1$(date +%N | cut -c1-2).5", "  settle: 0", score_line
    )
  }
)
shape_names <- c(names(table_shapes), names(other_shapes))

make_shape <- function(name, folder) {
  if (name %in% names(table_shapes)) of_table(table_shapes[[name]](), folder) else other_shapes[[name]](folder)
}

# every verb that reads, and every figure; SHAPE, METRIC, FOLDER stand for what was made and where things may be written
grid_verbs <- function() {
  figures <- names(honestmargin:::registered("figure"))
  plain <- c("weigh", "describe", "check", "history", "ask", "screen", "search")
  questions <- Filter(function(q) is.null(q$needs), honestmargin:::registered("question"))
  c(
    lapply(plain, function(verb) c(verb, "SHAPE")), lapply(names(questions), function(name) c("ask", "SHAPE", name)),
    lapply(figures, function(of) {
      c("figure", "SHAPE", "--of", of, "--file", "FOLDER/figure.png", if (of == "cost") c("--cost", "METRIC"))
    }),
    list(
      c("weigh", "SHAPE", "--format", "json"), c("weigh", "SHAPE", "--against", "all"), c("weigh", "SHAPE", "--looks"),
      c("weigh", "SHAPE", "--steady"), c("describe", "SHAPE", "--format", "csv"),
      c("ask", "SHAPE", "overall", "--format", "json"), c("figure", "SHAPE", "--of", "passes", "--format", "csv"),
      c("report", "SHAPE", "--file", "FOLDER/report.html"), c("report", "SHAPE", "--file", "FOLDER/report.md"),
      c("ask", "SHAPE", "together", "--claims", "METRIC=as_good"), c("choose", "SHAPE", "--floor", "METRIC=100"),
      c("choose", "SHAPE", "--floor", "METRIC=100", "--next-pass"), c("choose", "SHAPE", "--near-best", "2"),
      c("choose", "SHAPE", "--cost", "METRIC"), c("export", "SHAPE", "FOLDER/plain"), c("against", "SHAPE", "SHAPE")
    )
  )
}

metric_of_shape <- function(name) {
  if (grepl("^logs|toggled|demo", name)) return("fps_avg")
  if (name %in% c("wide", "long_two_units")) "fps" else if (name == "results") "Average FPS" else "score"
}

# the words of one cell: what a verb has no option for is left out of what opens the shape
grid_words <- function(verb, opened, metric, folder) {
  known <- names(honestmargin:::options_of(honestmargin:::registered("verb", verb[1])))
  options <- opened[-1]
  at <- which(startsWith(options, "--"))
  keep <- at[sub("^--", "", options[at]) %in% known]
  verb <- gsub("METRIC", metric, gsub("FOLDER", folder, verb, fixed = TRUE), fixed = TRUE)
  verb[verb == "SHAPE"] <- opened[1]
  c(verb, options[sort(c(keep, keep + 1))])
}

#' One cell: its exit status, what it said, and what it warned of
run_cell <- function(words) {
  warned <- character()
  said <- tempfile("said-")
  to <- file(said, "w")
  on.exit(unlink(said))
  sink(to)
  sink(to, type = "message")
  status <- tryCatch(
    withCallingHandlers(honestmargin:::run_command(words), warning = function(w) {
      warned <<- c(warned, conditionMessage(w))
      invokeRestart("muffleWarning")
    }),
    error = function(e) paste("error:", conditionMessage(e)),
    finally = {
      sink(type = "message")
      sink()
      close(to)
    }
  )
  list(status = status, warned = warned, said = paste(readLines(said, warn = FALSE), collapse = "\n"))
}

#' What is wrong in some cells of the grid: no answer and no classed refusal, or a warning that leaked
#' @param take A function of the number of cells of a shape: which of them.
faults_of_shape <- function(name, take = seq_len) {
  folder <- withr::local_tempdir()
  opened <- suppressMessages(make_shape(name, folder))
  verbs <- grid_verbs()
  out <- character()
  # a shape that nothing can read tests nothing
  opens <- run_cell(grid_words(c("describe", "SHAPE"), opened, metric_of_shape(name), folder))
  if (opens$status != 0) {
    return(paste0(name, ": is no study: ", opens$said))
  }
  for (verb in verbs[take(length(verbs))]) {
    where <- withr::local_tempdir()
    words <- grid_words(verb, opened, metric_of_shape(name), where)
    cell <- run_cell(words)
    if (!cell$status %in% 0:5 || length(cell$warned) || !nzchar(cell$said)) {
      out <- c(out, paste0(
        name, ": ", paste(sub(folder, "", words, fixed = TRUE), collapse = " "), " -> ", cell$status, "; ",
        paste(cell$warned, collapse = "; "), "\n    ", utils::tail(strsplit(cell$said, "\n")[[1]], 3)[1]
      ))
    }
  }
  out
}
