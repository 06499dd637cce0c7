# The floors of the house, read from the code's own calls.
floors <- c(
  aaa = 0, base = 0, honestmargin = 0, sheet = 2, plan = 1, metric = 1, series = 1, capture = 1, readings = 1,
  findings = 1, summarise = 2, design = 2, verdict = 2, noise = 2, check = 2, tune = 2, parse = 3, store = 3,
  ledger = 3,
  source = 3, study = 4, run = 4, record = 4, search = 4, tell = 5, ask = 5, figure = 5, plot = 6, report = 6,
  print = 6, cli = 6, page = 6
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

# from file to file: who calls what of whom
arrows_of <- function(info) {
  owner <- unlist(lapply(
    names(info), function(n) stats::setNames(rep(n, length(info[[n]]$defines)), info[[n]]$defines)
  ))
  expect_identical(names(owner)[duplicated(names(owner))], character())
  arrows <- do.call(rbind, lapply(names(info), function(n) {
    used <- setdiff(intersect(info[[n]]$uses, names(owner)), info[[n]]$defines)
    if (length(used)) data.frame(from = n, to = unname(owner[used]), name = used)
  }))
  expect_gt(nrow(arrows), 50)
  arrows
}

test_that("every file stands in a room with a floor, and the demo beside them", {
  expect_setequal(setdiff(room_of(names(rooms())), c(names(floors), "demo")), character())
})

test_that("no function decides more than a reader can follow", {
  # McCabe (1976), IEEE Transactions on Software Engineering SE-2, 308-320: decisions and one
  decides <- c("if", "for", "while", "repeat", "&&", "||")
  paths <- unlist(lapply(unname(rooms()), function(room) {
    made <- Filter(function(x) is.call(x) && is.name(x[[2]]) && is.call(x[[3]]), room$code)
    stats::setNames(
      vapply(made, function(x) 1 + sum(all.names(x[[3]]) %in% decides), 1),
      vapply(made, function(x) as.character(x[[2]]), "")
    )
  }))
  expect_gt(length(paths), 1000)
  expect_identical(names(paths)[paths > 20], character())
})

test_that("no arrow runs up a floor, and only the verb demo knows the demo", {
  arrows <- arrows_of(rooms())
  beside <- room_of(arrows$to) == "demo" & room_of(arrows$from) != "demo"
  expect_identical(unique(arrows$from[beside]), "cli-demo")
  arrows <- arrows[room_of(arrows$from) != "demo" & !beside, ]
  up <- arrows[floors[room_of(arrows$from)] < floors[room_of(arrows$to)], ]
  expect_identical(sprintf("%s -> %s: %s", up$from, up$to, up$name), character())
})

test_that("rooms form no circles", {
  arrows <- arrows_of(rooms())
  edges <- unique(data.frame(from = room_of(arrows$from), to = room_of(arrows$to)))
  edges <- edges[edges$from != edges$to, ]
  names <- unique(unlist(edges))
  reach <- matrix(FALSE, length(names), length(names), dimnames = list(names, names))
  reach[as.matrix(edges)] <- TRUE
  for (k in names) reach <- reach | outer(reach[, k], reach[k, ], "&")
  circle <- names[diag(reach)]
  through <- arrows[room_of(arrows$from) %in% circle & room_of(arrows$to) %in% circle &
    room_of(arrows$from) != room_of(arrows$to), ]
  expect_identical(sprintf("%s -> %s: %s", through$from, through$to, through$name), character())
})

test_that("the core names no interface and touches no file, and SQL stands with the ledger and its database", {
  info <- rooms()
  core <- info[!is.na(floors[room_of(names(info))]) & floors[room_of(names(info))] <= 2]
  outside <- c(
    "ggplot2", "htmltools", "optparse", "jsonlite", "yaml", "svglite", "ragg", "processx", "DBI", "RSQLite",
    "nanoparquet", "cli",
    "cat", "print", "readLines", "writeLines", "file", "readRDS", "message", "readline", "Sys.time", "Sys.getenv"
  )
  touched <- lapply(core, function(file) intersect(unlist(lapply(file$code, find_calls)), outside))
  expect_identical(Filter(length, touched), stats::setNames(list(), character()))
  elsewhere <- info[!grepl("^ledger-|^store-(sqlite|acts)", names(info))]
  asks <- lapply(elsewhere, function(file) intersect(unlist(lapply(file$code, find_calls)), c("DBI", "RSQLite")))
  expect_identical(names(Filter(length, asks)), character())
})

test_that("a public function with dots checks them", {
  methods <- grep("^findings[.]", ls(asNamespace("honestmargin")), value = TRUE)
  for (name in c(setdiff(getNamespaceExports("honestmargin"), "main"), methods)) {
    f <- get(name, asNamespace("honestmargin"))
    if (!"..." %in% names(formals(f))) next
    called <- all.names(body(f))
    # those that pass them on leave it to whom they pass them to
    expect_true(
      any(c("assert_no_dots", "weigh", "weighed", "figure_data", "UseMethod") %in% called) ||
        name %in% c("figure_data", "new_note", "ask_study"),
      info = name
    )
  }
})

test_that("every argument of a public function is told in its help, as it is called", {
  skip_if_not(dir.exists(system.file("help", package = "honestmargin")), "installed without its help")
  expect_length(unclass(tools::checkDocFiles("honestmargin")), 0)
  expect_length(unclass(tools::codoc("honestmargin")), 0)
})

test_that("every code that is made has words", {
  files <- list.files(file.path(source_root(), "R"), "[.]R$", full.names = TRUE)
  code <- paste(unlist(lapply(files, readLines)), collapse = "\n")
  made <- regmatches(code, gregexpr("(new_code\\(|new_finding\\(\"[a-z]+\", )\"[a-z_0-9]+\"", code))[[1]]
  made <- unique(sub(".*\"([a-z_0-9]+)\"$", "\\1", made))
  expect_gt(length(made), 100)
  own <- unlist(lapply(honestmargin:::registered("check"), function(check) names(check$words)))
  expect_identical(setdiff(made, c(ls(honestmargin:::code_words), own)), character())
})
