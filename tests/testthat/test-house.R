# The floors of the house, read from the code's own calls.
floors <- c(
  utils = 0, conditions = 0, honestmargin = 0, metric = 1, trace = 1, design = 1, noise = 1, check = 1, verdict = 1,
  tune = 1,
  read = 2, write = 2, ledger = 2, capture = 2, study = 3, plot = 4, report = 4, cli = 4, app = 4
)

rooms <- function() {
  files <- list.files(file.path(source_root(), "R"), "[.]R$", full.names = TRUE)
  files <- files[basename(files) != "RcppExports.R"]
  info <- lapply(files, function(f) {
    code <- parse(f, keep.source = FALSE)
    is_definition <- vapply(code, function(x) is.call(x) && as.character(x[[1]])[1] == "<-" && is.name(x[[2]]), NA)
    list(
      defines = vapply(code[is_definition], function(x) as.character(x[[2]]), ""),
      uses = unique(unlist(lapply(code, all.names))), code = code
    )
  })
  stats::setNames(info, sub("[.]R$", "", basename(files)))
}
# packages named with ::, and names of the functions called
find_calls <- function(code) {
  if (!is.call(code)) {
    return(if (is.pairlist(code) || is.expression(code)) unlist(lapply(as.list(code), find_calls)))
  }
  head <- if (is.name(code[[1]])) as.character(code[[1]])
  if (length(head) && head %in% c("::", ":::")) {
    return(as.character(code[[2]]))
  }
  c(head, unlist(lapply(as.list(code), find_calls)))
}

room_of <- function(file) sub("-.*", "", file)

test_that("every file stands in a room with a floor", {
  expect_setequal(setdiff(room_of(names(rooms())), names(floors)), character())
})

test_that("no arrow runs up a floor and no two files of different rooms call in a circle", {
  info <- rooms()
  owner <- unlist(lapply(
    names(info), function(n) stats::setNames(rep(n, length(info[[n]]$defines)), info[[n]]$defines)
  ))
  expect_identical(names(owner)[duplicated(names(owner))], character())
  arrows <- do.call(rbind, lapply(names(info), function(n) {
    used <- setdiff(intersect(info[[n]]$uses, names(owner)), info[[n]]$defines)
    if (length(used)) data.frame(from = n, to = unname(owner[used]), name = used)
  }))
  expect_gt(nrow(arrows), 50)
  up <- arrows[floors[room_of(arrows$from)] < floors[room_of(arrows$to)], ]
  expect_identical(sprintf("%s -> %s: %s", up$from, up$to, up$name), character())
  across <- unique(arrows[room_of(arrows$from) != room_of(arrows$to), c("from", "to")])
  circles <- merge(across, stats::setNames(across[2:1], c("from", "to")))
  expect_identical(sprintf("%s, %s", circles$from, circles$to), character())
})

test_that("the core names no interface and touches no file", {
  info <- rooms()
  core <- info[floors[room_of(names(info))] <= 1]
  outside <- c(
    "ggplot2", "htmltools", "optparse", "jsonlite", "yaml", "svglite", "ragg", "processx", "DBI", "RSQLite",
    "nanoparquet", "cli",
    "cat", "print", "readLines", "writeLines", "file", "readRDS", "message", "readline", "Sys.time", "Sys.getenv"
  )
  touched <- lapply(core, function(file) intersect(unlist(lapply(file$code, find_calls)), outside))
  expect_identical(Filter(length, touched), stats::setNames(list(), character()))
})
