# Calls that are not the same on every system, and what happens elsewhere instead. A new one must be written down here.
elsewhere <- c(
  "base-cores: mclapply" = "one after the other (can_fork())", "base-cores: mcparallel" = "made at once (can_fork())",
  "page-serve: mcparallel" = "drawn at once", "store-random: /dev/urandom" = "a hash of clock, number and chance",
  "cli-demo: sh" = "the live demo needs a shell, and says so",
  "plan-commands: sh" = "a plan's shell line needs a shell; a list of words starts as it is",
  "run-lock: file.link" = "refused by systems without hard links, with what to do",
  "run-lock: /proc" = "a process is known by its number alone",
    "source-command: /proc" = "leftovers are not looked for",
  "source-command: sh" = "the first word of a command is not looked up",
    "source-environment: sh" = "nothing of R's is known to be taken out",
  "source-machine: /proc" = "no boot id, no sensors: said in the conditions",
    "source-machine: /sys" = "no governor, mains or heat is noted",
  "source-screen: /proc" = "no lid is noted", "store-sqlite: file.link" = "renamed into place",
  "study-logs-written: file.symlink" = "copied where links are refused", "source-archive: /proc" = "not used",
  "plan-keys: /sys" = "an example in the documentation",
    "source-recorder: /proc" = "no recorder: no sensors, which is said"
)

test_that("every call that is not portable is written down with what happens on other systems", {
  files <- list.files(file.path(source_root(), "R"), "[.]R$", full.names = TRUE)
  found <- unlist(lapply(files, function(path) {
    code <- grep("^\\s*#", readLines(path), invert = TRUE, value = TRUE)
    text <- paste(code, collapse = "\n")
    patterns <- c(
      mclapply = "mclapply\\(", mcparallel = "mcparallel\\(", `/proc` = "\"/proc", `/sys` = "/sys/", sh = "\"sh\"",
      `/dev/urandom` = "/dev/urandom", file.link = "file\\.link\\(", file.symlink = "file\\.symlink\\(",
      `/bin/tar` = "/bin/tar"
    )
    hit <- names(patterns)[vapply(patterns, grepl, NA, text)]
    if (length(hit)) paste0(sub("[.]R$", "", basename(path)), ": ", hit)
  }))
  expect_identical(setdiff(found, names(elsewhere)), character())
})

test_that("where a process cannot be forked, no shell is there and links are refused, weighing goes on", {
  inside <- asNamespace("honestmargin")
  expect_identical(inside$on_all_cores(1:6, function(i) i^2, worth_it = FALSE), as.list((1:6)^2))
  expect_identical(.Platform$OS.type == "unix" || inside$can_start("anything", "."), TRUE)
})
