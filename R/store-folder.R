# A study as a plain folder: study.yml, passes.csv, readings.csv for what was typed,
# and frames/, sensors/ and marks/ with a log per pass. The exchange form.

#' @noRd
open_folder <- function(folder, write = FALSE) {
  if (!dir.exists(folder)) {
    abort_input("no such study folder", folder, "check the name; a study folder holds study.yml and passes.csv")
  }
  if (!file.exists(file.path(folder, "study.yml"))) {
    abort_input(
      "no study.yml in this folder", folder,
      "write the plan there (see the README), or weigh a readings file instead"
    )
  }
  kept <- any(file.exists(file.path(folder, c("passes.csv", "readings.csv"))))
  if (write && !kept) abort_input("nothing has run here yet", folder, paste0("start with: honestmargin run ", folder))
  plan <- read_plan(folder)
  own_layout <- file.path(folder, "frames", "layout.yml")
  store <- structure(list(
    folder = folder, plan = plan, layout = if (file.exists(own_layout)) own_layout else plan$frames_layout,
    files = lapply(stats::setNames(nm = c("frames", "sensors", "marks")), function(k) find_logs(file.path(folder, k)))
  ), class = c("honestmargin_folder", "honestmargin_store"))
  listed <- file.path(folder, "passes.csv")
  if (file.exists(listed)) {
    table <- read_text_table(listed, "list of passes")
    store$passes <- read_passes(table, listed)
    store$typed <- pass_scores(table, store$passes, plan, listed)
    assert_logs(store$files$frames, store$passes$pass, file.path(folder, "frames"), "frame log")
    assert_logs(store$files$sensors, store$passes$pass, file.path(folder, "sensors"), "sensor log")
  }
  with_typed_readings(store)
}

find_logs <- function(folder) {
  files <- plain_files(folder, pattern = log_ending)
  pass <- sub(log_ending, "", basename(files))
  # of a log that lies elsewhere, what is wrong with it is told by its own name
  linked <- nzchar(Sys.readlink(files)) & file.exists(files)
  files[linked] <- normalizePath(files[linked])
  stats::setNames(files, pass)
}

assert_logs <- function(logs, passes, folder, what) {
  stray <- setdiff(names(logs), passes)
  if (length(stray)) {
    abort_input(
      paste0(what, " '", stray[1], "' belongs to no pass in passes.csv"), folder, did_you_mean(stray[1], passes)
    )
  }
  twice <- names(logs)[duplicated(names(logs))]
  if (length(twice)) abort_input(paste0("two ", what, "s for pass '", twice[1], "'"), folder, "keep one of them")
}

with_typed_readings <- function(store) {
  path <- file.path(store$folder, "readings.csv")
  if (file.exists(path)) {
    read <- read_readings(path, metrics = plan_metrics(store$plan), answer = plan_answers)
    store$findings <- attr(read, "findings")
    read <- plain_table(read)
    store$typed <- stack_rows(list(store$typed, read[c(of_typed, "workload")]))
    unlisted <- read[!read$pass %in% store$passes$pass, intersect(pass_columns, names(read))]
    unlisted <- unlisted[!duplicated(joint_code(unlisted$pass, unlisted$part, unlisted$workload)), ]
    store$passes <- stack_rows(list(store$passes, unlisted))[pass_columns_of(store$passes, unlisted)]
  } else if (is.null(store$passes)) {
    abort_input(
      "no pass yet: neither a ledger, nor passes.csv, nor readings.csv", store$folder,
      paste0("run it: honestmargin run ", store$folder)
    )
  }
  store$passes <- with_columns(store$passes, pass_columns)[pass_columns]
  store
}

of_typed <- c("pass", "part", "segment", "metric", "value", "unit", "better", "scale")
pass_columns_of <- function(...) unique(unlist(lapply(list(...), names)))

read_passes <- function(table, path) {
  cells <- table$cells
  for (column in c("pass", "workload", "arm")) {
    if (!column %in% names(cells)) {
      abort_input(paste0("no column '", column, "'"), path, "a list of passes has at least pass, workload and arm")
    }
  }
  row_of <- function(i) c(path, paste0("line ", some_of(cells$.line[i])))
  cells <- number_columns(with_columns(cells, pass_columns, NA_character_), path)
  if (anyNA(cells$pass)) abort_input("a pass without an id", row_of(which(is.na(cells$pass))), "give each pass an id")
  twice <- which(duplicated(paste(cells$pass, cells$part, sep = "\r")))
  if (length(twice)) {
    id <- cells$pass[twice[1]]
    abort_input(paste0("pass '", id, "' is listed twice"), row_of(which(cells$pass == id)), "give each pass its own id")
  }
  cells$outcome[is.na(cells$outcome)] <- "ok"
  cells$role[is.na(cells$role)] <- "counted"
  cells$part <- as.integer(cells$part)
  cells$batch <- ifelse(is.na(cells$batch), 1L, as.integer(cells$batch))
  assert_word(cells$outcome, outcomes, "outcome", row_of)
  assert_word(cells$role, c(roles, search_roles), "role", row_of)
  cells[pass_columns]
}

# in a study that has a plan, what may be odd about its numbers is a finding and no question
plan_answers <- c(mean_rows = "pass", far = "right", unit = "right", lone = "right", unnumbered = "pass")

# every further column of passes.csv is a score that was typed in
pass_scores <- function(table, passes, plan, path) {
  metrics <- setdiff(names(table$cells), c(pass_columns, ".line"))
  if (!length(metrics)) {
    return(NULL)
  }
  cells <- cbind(passes[c("pass", "part", "arm", "workload")], table$cells[metrics])
  cells <- cells[vapply(cells, function(v) !all(is.na(v)), NA)]
  columns <- stats::setNames(
    intersect(metrics, names(cells)),
    rep("measured", length(intersect(metrics, names(cells))))
  )
  if (!length(columns)) {
    return(NULL)
  }
  grid <- grid_of_frame(cells, path, "line")
  grid$line <- c(1L, table$cells$.line)
  grid$typed <- FALSE
  read <- read_grid(grid, list(columns = columns, answer = plan_answers))
  if (length(read$questions)) abort_questions(read$questions, path)
  # a crashed pass still is a row where passes of its workload have that score
  kind <- paste(read$rows$metric, read$rows$workload)
  long <- read$rows[kind %in% kind[!is.na(read$rows$value)], , drop = FALSE]
  if (!nrow(long)) {
    return(NULL)
  }
  long <- long[c("pass", intersect("part", names(long)), "arm", "workload", "metric", "value", "unit")]
  full <- complete_readings(long, plan_metrics(plan), source = path)
  plain_table(full)[c(of_typed, "workload")]
}

#' @export
store_plan.honestmargin_folder <- function(store, batch = NULL) store$plan

#' @export
store_passes.honestmargin_folder <- function(store, batch = NULL) store$passes

#' @export
store_traces.honestmargin_folder <- function(store) {
  stack_rows(lapply(names(store$files), function(kind) {
    data.frame(pass = names(store$files[[kind]]), kind = rep(kind, length(store$files[[kind]])))
  }))
}

#' @export
store_capture.honestmargin_folder <- function(store, pass, kinds = c("frames", "sensors", "marks")) {
  path <- function(kind) {
    if (kind %in% kinds && pass$pass %in% names(store$files[[kind]])) store$files[[kind]][[pass$pass]]
  }
  frames <- if (!is.null(path("frames"))) read_frames(path("frames"), store$layout)
  sensors <- if (!is.null(path("sensors"))) read_sensors(path("sensors"))
  placed <- sensors_of_pass(sensors, frames, path("sensors"))
  found <- bind_findings(attr(frames, "findings"), attr(sensors, "findings"), placed$findings)
  if (nrow(found)) found$pass <- as.character(pass$pass)
  new_capture(pass,
    frames = if (!is.null(frames)) list2DF(list(frame_time_ms = frames$frame_time_ms, start_s = frames$time_s)),
    marks = if (!is.null(path("marks"))) read_marks(path("marks")), sensors = placed$sensors,
    findings = found
  )
}

#' @export
store_summaries.honestmargin_folder <- function(store, plan, passes, metrics = list()) {
  captured <- which(is.na(passes$part) & passes$pass %in% unlist(lapply(store$files[c("frames", "sensors")], names)))
  loaded <- kept_or_made(store, plan, passes[captured, , drop = FALSE], metrics, function(open) {
    logs <- unlist(lapply(store$files[c("frames", "sensors")], `[`, passes$pass[captured[open]]))
    on_all_cores(captured[open], function(i) summarise_stored(store, plan, passes[i, ], metrics),
      worth_it = sum(file.size(logs), na.rm = TRUE) > 5e5
    )
  })
  part <- function(name) stack_rows(lapply(loaded, `[[`, name))
  list(
    readings = part("readings"), piles = part("piles"), parts = part("parts"), limits = part("limits"),
    pace = part("pace"),
    findings = do.call(bind_findings, lapply(loaded, `[[`, "findings"))
  )
}

# a log that cannot be read becomes a finding, and the others go on
summarise_stored <- function(store, plan, pass, metrics) {
  tryCatch(
    {
      summary <- summarise_capture(store_capture(store, pass), plan, metrics)
      for (part in c("readings", "piles", "parts", "limits", "pace")) {
        if (NROW(summary[[part]])) summary[[part]] <- cbind(pass = pass$pass, summary[[part]])
      }
      summary
    },
    honestmargin_error_input = function(e) {
      list(findings = new_finding("warning", "unreadable",
        what = sub("\n.*", "", conditionMessage(e)), remedy = empty_to(e$todo, ""), pass = pass$pass
      ))
    }
  )
}

#' @export
store_typed.honestmargin_folder <- function(store, plan, passes) store$typed

#' @export
store_record.honestmargin_folder <- function(store, batch = NULL) {
  noted <- file.path(store$folder, "findings.csv")
  machine <- file.path(store$folder, "conditions.csv")
  pairs <- file.path(store$folder, "pairs.csv")
  passes <- store$passes[is.na(store$passes$part), , drop = FALSE]
  list(
    blind = if (file.exists(pairs)) read_pairs(pairs),
    findings = bind_findings(store$findings, if (file.exists(noted)) read_findings(noted)),
    snapshots = if (file.exists(machine)) read_snapshots(machine),
    begun = passes[order(passes$order), "pass", drop = FALSE]
  )
}

# what was said of blind pairs; whether their order was kept, only the ledger knows
read_pairs <- function(path) {
  cells <- read_text_table(path, "list of pairs")$cells
  gone <- setdiff(c("block", "workload", "first", "second", "choice", "note", "hash", "given_up"), names(cells))
  if (length(gone) || !nrow(cells)) {
    abort_input(
      if (nrow(cells)) paste0("no column '", gone[1], "'") else "no pairs", path, "export the study again, or remove it"
    )
  }
  assert_word(cells$choice[!is.na(cells$choice)], c("first", "second", "none"), "choice", function(i) path)
  list(pairs = cells, hash = cells$hash[1], given_up = cells$given_up[1] %in% "TRUE")
}

# what was recorded of the machine before and after each pass
read_snapshots <- function(path) {
  cells <- with_columns(read_text_table(path, "list of conditions")$cells, c("pass", "at", "key", "value"))
  cells$value[is.na(cells$value)] <- ""
  cells[c("pass", "at", "key", "value")]
}

# what the record of an exported study said
read_findings <- function(path) {
  cells <- read_text_table(path, "list of findings")$cells
  do.call(bind_findings, lapply(seq_len(nrow(cells)), function(i) {
    values <- if (!is.na(cells$values[i])) jsonlite::fromJSON(cells$values[i])
    place <- as.list(cells[i, intersect(names(cells), setdiff(finding_columns, c("severity", "code", "values")))])
    do.call(new_finding, c(list(cells$severity[i], cells$code[i]), values, place))
  }))
}

# of what is written in text files nothing is still to be run
#' @export
store_open.honestmargin_folder <- function(store, most = -1) {
  none <- character()
  list2DF(list(pass = none, arm = none, workload = none, role = none, extra = integer()))
}
