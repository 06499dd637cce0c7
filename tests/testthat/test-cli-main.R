scores <- c(
  "arm,score", "off,100", "on,104.1", "off,101", "on,104.4", "off,99.5", "on,103.9", "off,100.2", "on,104.0",
  "off,100.1", "on,103.2"
)

test_that("a two-column file is weighed; data on standard output only", {
  file <- write_lines(scores)
  table <- run_cli("weigh", file, "--baseline", "off", "--worth", "2")
  expect_identical(table$status, 0L)
  expect_match(table$stdout, "^on gains: score \\+3\\.")
  expect_lte(max(nchar(grep("^  honestmargin", strsplit(table$stdout, "\n")[[1]], value = TRUE, invert = TRUE))), 80)
  expect_lte(length(strsplit(table$stdout, "\n")[[1]]), 14)
  json <- run_cli("weigh", file, "-b", "off", "-w", "score=2", "--format", "json")
  parsed <- jsonlite::fromJSON(json$stdout)
  expect_named(parsed, c("headline", "sentences", "verdicts", "findings", "left_out", "read", "version"))
  expect_identical(parsed$verdicts$verdict, "clear gain")
  t <- t.test(log(c(104.1, 104.4, 103.9, 104.0, 103.2)), log(c(100, 101, 99.5, 100.2, 100.1)))
  expect_equal(parsed$verdicts$lower, 100 * (exp(t$conf.int[1]) - 1))
  csv <- run_cli("weigh", file, "-b", "off", "-f", "csv")
  expect_identical(names(read.csv(text = csv$stdout)), names(weigh(read_readings(file), "off")))
  expect_identical(csv$stderr, "")
  wide <- run_cli("weigh", file, "-b", "off", "--wide")
  expect_match(wide$stdout, "detectable")
  expect_identical(wide$status, 0L)
})

test_that("exit statuses are as contracted, and messages say what to do", {
  file <- write_lines(scores)
  expect_cli <- function(args, status, pattern) {
    run <- do.call(run_cli, as.list(args))
    expect_identical(run$status, status, info = paste(args, collapse = " "))
    expect_match(paste(run$stdout, run$stderr), pattern)
  }
  expect_cli(c("weigh", file), 2L, "name the baseline.*off, on")
  expect_cli(c("weigh", file, "-b", "of"), 3L, "did you mean 'off'")
  expect_cli(c("weigh", "nowhere.csv", "-b", "off"), 3L, "no such readings file")
  expect_cli(c("wiegh", file), 2L, "did you mean 'weigh'")
  expect_cli(c("weigh", file, "--basline", "off"), 2L, "did you mean '--baseline'")
  expect_cli(c("weigh", file, "-b", "off", "--format", "xml"), 2L, "--format cannot be 'xml'")
  expect_cli(c("weigh", file, "-b", "off", "--worth", "much"), 2L, "not a number")
  expect_cli(c("weigh", file, "-b", "off", "--fail-on", "gain"), 1L, "on gains")
  expect_cli(c("weigh", file, "-b", "off", "--fail-on", "loss,unclear"), 0L, "on gains")
  expect_cli(c("weigh", file, "-b", "off", "--fail-on", "los"), 2L, "did you mean 'loss'")
  expect_cli(c("report", file, "-b", "off", "--file", "/no/such/folder/r.html"), 4L, "no such folder")
  expect_cli("--version", 0L, "honestmargin [0-9.]+")
  expect_cli("--help", 0L, "weigh.*figure.*report")
  expect_cli(c("weigh", "--help"), 0L, "--worth")
  expect_cli(c("weigh", write_lines("arm,score", "a,10", "b,11"), "-b", "a"), 0L, "no basis")
})

test_that("a figure is a file of the size asked for, or its numbers", {
  folder <- withr::local_tempdir()
  png <- file.path(folder, "c.png")
  expect_identical(
    run_cli(
      "figure", demo_study(), "--of", "passes", "--workload", "harbour", "--size", "900x500", "--file", png
    )$status,
    0L
  )
  # width and height stand in the first chunk of a PNG
  head <- readBin(png, "raw", 24)
  expect_identical(as.integer(head[c(19, 20, 23, 24)]), c(900L %/% 256L, 900L %% 256L, 500L %/% 256L, 500L %% 256L))
  svg <- file.path(folder, "t.svg")
  expect_identical(run_cli("figure", demo_study(), "--of", "trace", "--workload", "tunnel", "--file", svg)$status, 0L)
  expect_match(
    paste(xml2::xml_text(xml2::xml_find_all(xml2::read_xml(svg), "//*[local-name()='text']")), collapse = "|"),
    "2000 Hz.*frame time \\(ms\\)"
  )
  # the same words, light on dark; and a page for print
  dark <- file.path(folder, "dark.svg")
  run_cli("figure", demo_study(), "--of", "trace", "--workload", "tunnel", "--dark", "--file", dark)
  nodes <- xml2::xml_find_all(xml2::read_xml(dark), "//*[local-name()='text']")
  expect_every(grepl("fill: #(E8EAED|B4BAC2|F2834A)", xml2::xml_attr(nodes, "style"), ignore.case = TRUE))
  expect_match(paste(readLines(dark), collapse = ""), "fill: #16191D", ignore.case = TRUE)
  unlink(dark)
  pdf <- withr::local_tempfile(fileext = ".pdf")
  expect_identical(run_cli("figure", demo_study(), "--of", "change", "--file", pdf)$status, 0L)
  expect_identical(readBin(pdf, "raw", 5), charToRaw("%PDF-"))
  numbers <- run_cli("figure", demo_study(), "--of", "change", "--metric", "fps_avg", "--format", "csv")
  expect_identical(read.csv(text = numbers$stdout)$arm, rep(c(500L, 1000L, 2000L), 2))
  expect_identical(run_cli("figure", demo_study())$status, 2L)
  expect_identical(run_cli("figure", demo_study(), "--file", file.path(folder, "x.gif"))$status, 2L)
  expect_identical(sort(list.files(folder, all.files = TRUE, no.. = TRUE)), c("c.png", "t.svg"))
})

test_that("text from outside cannot drive a terminal, a spreadsheet or a page", {
  file <- write_lines("arm,score", "=cmd(),100", "=cmd(),101", "<b>x</b>\033[31m,102", "<b>x</b>\033[31m,103")
  expect_no_match(run_cli("weigh", file, "-b", "=cmd()")$stdout, "\033", fixed = TRUE)
  csv <- run_cli("weigh", file, "-b", "=cmd()", "-f", "csv")$stdout
  expect_match(csv, "\"'=cmd\\(\\)\"")
  page <- withr::local_tempfile(fileext = ".html")
  write_report(read_readings(file), page, baseline = "=cmd()")
  expect_no_match(paste(readLines(page), collapse = ""), "<b>x</b>", fixed = TRUE)
})

test_that("a table of 80 columns cuts nothing, and no two rows look alike", {
  passes <- expand.grid(arm = paste0("memory kit of the ", c("first", "second", "third"), " maker"), block = 1:4)
  passes <- merge(passes, data.frame(
    metric = c("graphics_temperature_edge_max", "graphics_temperature_edge_mean"), better = "lower"
  ))
  passes$workload <- "harbour at night in heavy rain"
  passes$value <- 60 + 5 * as.integer(passes$arm) + passes$block / 7
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(passes, file, row.names = FALSE)
  run <- run_cli("weigh", file, "--baseline", "memory kit of the first maker", "--worth", "1")
  lines <- strsplit(run$stdout, "\n")[[1]]
  # a command to paste is one line
  lines <- lines[!grepl("^(  honestmargin|Next)", lines)]
  expect_every(nchar(lines) <= 80)
  expect_false(any(grepl("[.][.][.]|[.][.]$", lines)))
  expect_length(grep("clear loss$|clear loss ", lines), 4)
  squeezed <- gsub("\\s", "", run$stdout)
  expect_match(squeezed, "harbouratnightinheavyrain")
  expect_match(squeezed, "graphics_temperature_edge_mean|graphics_.*mean")
})

test_that("a closed pipe ends quietly", {
  run <- processx::run("sh", c("-c", paste0(
    launcher, " figure ", demo_study(), " --of passes --format csv | head -n 1"
  )))
  expect_identical(run$stderr, "")
  expect_match(run$stdout, "^\"workload\"[^\n]*\n$")
})

test_that("what few frames lie behind is told of the metrics that are judged or asked for", {
  ms <- function(seed) simulate_frames(3, mean_ms = 10, loading_seconds = 0, seed = seed)
  folder <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "blocks: 2",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads: [{id: w}]"
  )
  passes <- data.frame(pass = paste0("q", 1:4), arm = c("a", "b"), workload = "w", block = c(1, 1, 2, 2))
  utils::write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE)
  dir.create(file.path(folder, "frames"))
  for (i in 1:4) writeLines(c("frame_time_ms", ms(i)), file.path(folder, "frames", paste0("q", i, ".csv")))
  expect_no_match(run_cli("weigh", folder)$stdout, "frames? behind")
  asked <- run_cli("weigh", folder, "--metric", "low1_mean")$stdout
  # 1 % of 300 frames
  expect_match(gsub("\\s+", " ", asked), "only about 3 frames behind low1_mean in a pass;")
  expect_match(run_cli("weigh", folder, "--exploratory")$stdout, "behind[^;]*ms_p999")
})

test_that("help names every verb once, finds a word, and says what to type for a file or another word", {
  named <- unlist(strsplit(unlist(lapply(honestmargin:::help_groups, names)), ", ", fixed = TRUE))
  # `take` is add under its earlier name
  expect_setequal(c(named, "take"), names(honestmargin:::registered("verb")))
  expect_identical(anyDuplicated(named), 0L)
  found <- run_cli("help", "crash")
  expect_identical(found$status, 0L)
  expect_match(found$stdout, "Options\n")
  expect_match(run_cli("help", "distribution")$stdout, "honestmargin ask STUDY frames: where in the distribution")
  expect_identical(run_cli("help", "zebra")$status, 2L)
  file <- write_lines(scores)
  expect_match(run_cli(file, "-b", "off")$stderr, paste0("honestmargin weigh ", file, " -b off"), fixed = TRUE)
  expect_match(run_cli("compare", file)$stderr, "did you mean 'weigh'")
})

test_that("help of a verb, and completion of verbs and their options in a real shell", {
  expect_identical(run_cli("help", "weigh")$stdout, run_cli("weigh", "--help")$stdout)
  out <- run_cli("completion", "bash")
  expect_identical(out$status, 0L)
  script <- write_lines(out$stdout, ext = ".sh")
  complete <- function(...) {
    words <- c("honestmargin", ...)
    code <- paste0(
      "source ", script, "; COMP_WORDS=(", paste(shQuote(words), collapse = " "), "); COMP_CWORD=", length(words) - 1,
      "; _honestmargin; printf '%s\\n' \"${COMPREPLY[@]}\""
    )
    strsplit(processx::run("bash", c("-c", code))$stdout, "\n")[[1]]
  }
  expect_identical(complete("sea"), "search")
  expect_setequal(complete("choose", "--ne"), c("--near-best", "--next-pass"))
  expect_true(all(c("--skip", "--stop") %in% complete("search", "--s")))
  # every verb and every option is there, in each shell
  verbs <- names(honestmargin:::registered("verb"))
  for (shell in c("bash", "zsh", "fish")) {
    text <- run_cli("completion", shell)$stdout
    expect_every(vapply(verbs, grepl, NA, x = text, fixed = TRUE))
    expect_match(text, if (shell == "fish") "-l near-best -r" else "--near-best")
  }
  expect_match(run_cli("completion", "dosh")$stderr, "dosh")
})
