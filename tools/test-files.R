# Rscript tools/test-files.R FOLDER FILE...: runs test files side by side. Each runs in a fork of this process, which
# has loaded and used once what they need: what every file and every command line in it would spend on that is most of
# what they do. FOLDER gets one .rds for each: its rows, how long it took, what it said where something failed.
folder <- commandArgs(TRUE)[1]
waiting <- commandArgs(TRUE)[-1]
for (package in c("testthat", "honestmargin", "ggplot2", "svglite", "ragg", "RSQLite", "optparse", "data.table")) {
  loadNamespace(package)
}
tell_failures <- function(result) {
  broken <- Filter(function(x) inherits(x, c("expectation_failure", "expectation_error")), result$results)
  for (x in broken) {
    line <- if (is.null(x$srcref)) "" else paste0(":", x$srcref[1])
    cat("-- ", result$file, line, ": ", result$test, "\n", format(x), "\n\n", sep = "")
  }
}

# why each test was skipped, a test without any expectation among them
skip_reasons <- function(results) {
  vapply(results, function(result) {
    skips <- Filter(function(x) inherits(x, "expectation_skip"), result$results)
    paste(unique(vapply(skips, conditionMessage, "")), collapse = "; ")
  }, "")
}

# the row of a file that did not get as far as its tests
no_tests <- function(file) {
  data.frame(
    file = basename(file), test = "the file itself", failed = 1, skipped = FALSE, error = TRUE, real = 0, why = ""
  )
}

run_file <- function(file) {
  begun <- proc.time()
  said <- tempfile()
  to <- file(said, "w")
  for (what in c("output", "message")) sink(to, type = what)
  rows <- tryCatch(
    {
      # a reporter that shows each warning spends more on that than the tests take
      results <- testthat::test_file(file,
        package = "honestmargin", load_package = "installed", stop_on_failure = FALSE, reporter = "silent"
      )
      for (result in results) tell_failures(result)
      rows <- as.data.frame(results)[c("file", "test", "failed", "skipped", "error", "real")]
      cbind(rows, why = skip_reasons(results))
    },
    error = function(e) {
      message(conditionMessage(e))
      no_tests(file)
    }
  )
  for (what in c("message", "output")) sink(type = what)
  close(to)
  # servers that its tests had in common end with it
  # (what ends by itself while it is listed is an error to ps)
  left <- tryCatch(ps::ps_children(recursive = TRUE), error = function(e) list())
  for (process in left) tryCatch(ps::ps_kill(process), error = function(e) NULL)
  spent <- proc.time() - begun
  list(
    file = basename(file), rows = rows, seconds = spent[["elapsed"]], processor = sum(spent[-3]), said = readLines(said)
  )
}

# what runs processes of its own needs nothing of what follows, and begins meanwhile
begin <- function(file) parallel::mcparallel(run_file(file))
first <- grep("readme", waiting, value = TRUE)
waiting <- setdiff(waiting, first)
running <- stats::setNames(lapply(first, begin), first)

# a study small enough to be read in this very process
use_once <- function() {
  study <- file.path(withr::local_tempdir(), "study")
  dir.create(study)
  demo <- honestmargin::demo_study()
  file.copy(file.path(demo, "study.yml"), study)
  passes <- utils::read.csv(file.path(demo, "passes.csv"), colClasses = "character", check.names = FALSE)
  few <- passes[passes$block %in% 1:2, ]
  utils::write.csv(few, file.path(study, "passes.csv"), row.names = FALSE, na = "")
  for (kind in c("frames", "sensors")) {
    dir.create(file.path(study, kind))
    logs <- list.files(file.path(demo, kind), full.names = TRUE)
    file.copy(logs[sub("[.].*", "", basename(logs)) %in% few$pass], file.path(study, kind))
  }
  honestmargin:::run_command(c("weigh", study))
  verdicts <- honestmargin::weigh(honestmargin::read_study(study))
  for (kind in c("change", "passes", "trace", "sensors")) {
    honestmargin:::inline_svg(honestmargin:::registered("picture", kind)$draw(verdicts, "tunnel"), 9, 4)
  }
}
use_once()

# Many tests look at the demo study, and all would read the same 62 passes: they are read once, by the same function.
# Processes of their own (the README's commands, the demo) read them anew.
read_demo_once <- function() {
  demo <- normalizePath(honestmargin::demo_study())
  name <- "store_summaries.honestmargin_folder"
  inside <- asNamespace("honestmargin")
  read <- get(name, inside)
  kept <- list()
  unlockBinding(name, inside)
  assign(name, envir = inside, function(store, plan, passes, metrics = list()) {
    if (!identical(normalizePath(store$folder), demo)) {
      return(read(store, plan, passes, metrics))
    }
    asked <- list(plan, passes, metrics)
    known <- Filter(function(k) identical(k$asked, asked), kept)
    if (!length(known)) {
      known <- list(list(asked = asked, given = read(store, plan, passes, metrics)))
      kept <<- c(kept, known)
    }
    known[[1]]$given
  })
  lockBinding(name, inside)
  invisible(honestmargin::read_study(demo))
}
read_demo_once()
invisible(gc())

# real renderers share one machine badly: their files begin first, one at a time
renders <- function(file) grepl("probe|demo-study|check-real", file)
waiting <- waiting[order(!renders(waiting))]
# many wait most of the time, for runs of others
side_by_side <- parallel::detectCores() + 2

while (length(running) || length(waiting)) {
  while (length(running) < side_by_side && length(waiting)) {
    one_renders <- any(renders(names(running)))
    nth <- which(!(one_renders & renders(waiting)))[1]
    if (is.na(nth)) break
    running[[waiting[nth]]] <- begin(waiting[nth])
    waiting <- waiting[-nth]
  }
  for (file in names(running)) {
    done <- parallel::mccollect(running[[file]], wait = FALSE)
    if (is.null(done)) next
    told <- done[[1]]
    if (!is.list(told)) {
      said <- if (is.null(told)) "its process died" else as.character(told)
      told <- list(file = basename(file), rows = no_tests(file), seconds = 0, processor = 0, said = said)
    }
    to <- file.path(folder, paste0(basename(file), ".rds"))
    saveRDS(told, paste0(to, ".part"))
    file.rename(paste0(to, ".part"), to)
    running[[file]] <- NULL
  }
  Sys.sleep(0.05)
}
