browser <- Sys.which("chromium")

dom_of <- function(page, extra = character()) {
  flags <- c(
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
    paste0("--user-data-dir=", withr::local_tempdir(.local_envir = parent.frame()))
  )
  processx::run(browser, c(flags, extra, paste0("file://", page)), timeout = 90, error_on_status = FALSE)$stdout
}

# the report that the demo writes is the one that is looked at here
demo_folder <- tempfile("demo-")
demo_run <- run_cli("demo", demo_folder)
demo_page <- file.path(demo_folder, "report.html")
withr::defer(unlink(demo_folder, recursive = TRUE), teardown_env())

test_that("the demo says who loses, what cannot be answered, and writes the report", {
  expect_identical(demo_run$status, 0L)
  expect_match(demo_run$stdout, "2000 Hz loses in harbour: average -3")
  expect_match(demo_run$stdout, "tunnel, average [(]fps_avg[)]: blocked; every arm is limited to 120 fps")
  expect_true(all(c("report.html", "change.png") %in% list.files(demo_folder)))
  # the folder is the study itself, for every other verb
  expect_equal(read_study(demo_folder)$readings$value, read_study(demo_study())$readings$value)
})

test_that("a report is weighed to the same verdicts, to the last digit", {
  study <- read_study(demo_study())
  verdicts <- weigh(study)
  expect_lt(file.size(demo_page), 1e6)
  back <- read_report(demo_page)
  expect_identical(back$readings$value, study$readings$value)
  # what hid a difference, and what failed, came along
  again <- weigh(back)
  expect_identical(sum(again$verdict == "blocked"), sum(verdicts$verdict == "blocked"))
  same_verdicts(again, verdicts)
  expect_match(findings(again)$message, "nothing proves that it was not altered", all = FALSE)
  # without traces nothing can be trimmed off, and nothing breaks
  expect_false(any(grepl("trimmed", how_firm(again)$choice)))
  shell <- run_cli("weigh", demo_page, "--format", "json", "--worth", "fps_avg=9")
  seen <- jsonlite::fromJSON(shell$stdout)$verdicts
  expect_equal(seen$worth[seen$metric == "fps_avg"][1], 9)
  expect_equal(seen$lower, verdicts$lower)
})

test_that("the report opens in a browser, stands alone and begins with the answer", {
  skip_if(!nzchar(browser), "chromium is not here")
  page <- demo_page
  source <- paste(readLines(page), collapse = "\n")
  # not expect_no_match(): it takes a minute to word what it saw in so long a line
  expect_false(grepl("(src|href)=\"(http|//)|@import|url\\(http", source, perl = TRUE))
  dom <- xml2::read_html(dom_of(page, "--dump-dom"))
  text <- function(path) trimws(xml2::xml_text(xml2::xml_find_all(dom, path)))
  expect_match(text("//h1"), "dial controller")
  expect_match(text("//header//div[@class='answer'][1]/p")[1], "2000 Hz clearly loses: average")
  expect_match(
    text("//header//div[@class='answer'][1]/p")[2],
    "limited by the graphics part at 125, 500 and 1000 Hz .*one thread of the processor at 2000 Hz"
  )
  # change, passes, trace and sensors of two scenes, a crash in one; no trace of the benchmark; all
  # workloads together
  expect_length(xml2::xml_find_all(dom, "//figure//svg"), 13)
  primary <- xml2::xml_find_first(dom, "//section[h2='Verdicts']//table")
  expect_length(xml2::xml_find_all(primary, ".//tbody/tr"), 15)
  expect_match(
    paste(text("//section[h2='Outcomes and exclusions']"), collapse = " "), "a system update ran during the pass"
  )
  expect_match(paste(text("//section[h2='Beyond single comparisons']"), collapse = " "), "2000 Hz is not: at least")
  expect_match(paste(text("//section[h2='How firm it is']"), collapse = " "), "under all 6 other choices")
  expect_match(paste(text("//section[h2='Where the noise comes from']"), collapse = " "), "lies between blocks")
  expect_match(paste(text("//section[h2='Machine and conditions']"), collapse = " "), "Oddlantern K6")
})

test_that("nothing sticks out of the page on a phone", {
  skip_if(!nzchar(browser), "chromium is not here")
  page <- withr::local_tempfile(fileext = ".html")
  probe <- paste0(
    "<script>document.title = 'width ' + document.documentElement.scrollWidth + ",
    "' of ' + window.innerWidth</script></body>"
  )
  writeLines(sub("</body>", probe, readLines(demo_page), fixed = TRUE), page)
  title <- xml2::xml_text(xml2::xml_find_first(
    xml2::read_html(dom_of(page, c("--window-size=500,800", "--dump-dom"))), "//title"
  ))
  width <- as.numeric(regmatches(title, gregexpr("[0-9]+", title))[[1]])
  expect_length(width, 2)
  expect_lte(width[1], width[2])
})

test_that("nothing is half-written, and readings without a plan make a report too", {
  x <- data.frame(arm = rep(c("a", "b"), 3), value = c(10, 11, 10.2, 11.1, 9.9, 11))
  folder <- withr::local_tempdir()
  page <- file.path(folder, "r.html")
  expect_identical(write_report(x, page, baseline = "a"), page)
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), "r.html")
  expect_error(
    write_report(x, file.path(folder, "none", "r.html"), baseline = "a"),
    class = "honestmargin_error_stuck"
  )
})

test_that("the report opens with the headline and a grid of all primary answers", {
  verdicts <- weigh(read_study(demo_study()))
  page <- withr::local_tempfile(fileext = ".html")
  write_report(verdicts, page)
  html <- paste(readLines(page), collapse = "\n")
  opening <- sub("</header>.*", "", html)
  expect_match(opening, paste0("class=\"headline\">", headline(verdicts)), fixed = TRUE)
  grid <- sub("</table>.*", "", sub(".*<table class=\"grid\"", "", opening))
  cells <- regmatches(grid, gregexpr("<td class=\"[a-z]+\">.*?</td>", grid, perl = TRUE))[[1]]
  primary <- as.data.frame(verdicts)[verdicts$role == "primary", ]
  words <- sub(".*<div class=\"verdict\">([a-z ]*[a-z]).*", "\\1", cells)
  place <- paste(primary$workload, primary$metric)
  by_row <- primary[order(match(place, unique(place))), ]
  expect_identical(words, by_row$verdict)
  # a picture says in words what it shows; what is hidden has none
  drawn <- by_row$verdict != "blocked"
  expect_identical(grepl("<svg", cells), drawn)
  expect_every(grepl("aria-label=\"[-+0-9.]+ % \\([^)]+ to [^)]+ %\\), [a-z ]+\"", cells[drawn]))
  # a loss is drawn to the left of no change, outside what is not worth having
  mean <- as.numeric(sub(".*cx=\"([0-9.]+)\".*", "\\1", cells[drawn]))
  expect_identical(sign(mean - 60), sign(round(by_row$change[drawn] / 100, 6)))
  lost <- grepl("clear loss", cells)
  band <- as.numeric(sub(".*<rect class=\"worth\" x=\"([0-9.]+)\".*", "\\1", cells[lost]))
  upper <- as.numeric(sub(".*class=\"range\" x1=\"[0-9.]+\" x2=\"([0-9.]+)\".*", "\\1", cells[lost]))
  expect_every(upper <= band + 0.1)
})

test_that("the contents lead to every section, figures say what they show, and Markdown and PDF are written too", {
  dom <- xml2::read_html(demo_page)
  links <- xml2::xml_attr(xml2::xml_find_all(dom, "//nav[@class='contents']/a"), "href")
  sections <- xml2::xml_attr(xml2::xml_find_all(dom, "//section"), "id")
  expect_identical(links, paste0("#", sections))
  expect_gt(length(links), 10)
  alt <- xml2::xml_attr(xml2::xml_find_all(dom, "//figure/div[@role='img']"), "aria-label")
  expect_match(alt, "change against the baseline in harbour.*2000 Hz clearly loses: average", all = FALSE)
  expect_length(xml2::xml_find_all(dom, "//figure[not(figcaption)]"), 0)
  folder <- withr::local_tempdir()
  post <- run_cli("report", demo_study(), "--format", "md", wd = folder)
  lines <- readLines(file.path(folder, "honestmargin-report.md"))
  expect_match(lines, "^\\*\\*2000 Hz loses in harbour", all = FALSE)
  # a table of a heading, a rule and five rows of as many cells
  cells <- lengths(gregexpr("|", grep("^[|]", lines, value = TRUE), fixed = TRUE))
  expect_identical(cells, rep(5L, 7))
  expect_match(lines, "harbour, average .*\\| -3.4 % \\(-4.7 to -2.1 %\\) \\*\\*clear loss\\*\\* \\|", all = FALSE)
  hostile <- data.frame(arm = rep(c("a|b", "<u>c"), 3), value = c(10, 12, 10.1, 12.1, 9.9, 12), workload = "x_y_`z`")
  write_report(hostile, file.path(folder, "h.md"), baseline = "a|b")
  said <- readLines(file.path(folder, "h.md"))
  expect_match(said, "x\\_y\\_\\`z\\`, against a\\|b: \\<u\\>c", fixed = TRUE, all = FALSE)
  skip_if(!nzchar(browser), "chromium is not here")
  write_report(hostile, file.path(folder, "h.pdf"), baseline = "a|b")
  expect_identical(readChar(file.path(folder, "h.pdf"), 5), "%PDF-")
  wrong <- run_cli("report", demo_study(), "--format", "md", "--file", "x.html")
  expect_identical(wrong$status, 2L)
})

test_that("what is in percent stands on one scale in the grid of answers, unless some would be too small to see", {
  grid_of <- function(wide) {
    set.seed(4)
    rows <- data.frame(arm = rep(c("off", "on"), 5), score = 100 + rnorm(10, 0, 0.3), points = 100 + rnorm(10, 0, wide))
    file <- withr::local_tempfile(fileext = ".html")
    suppressMessages(write_report(weigh(rows, "off", worth = 2), file))
    page <- paste(readLines(file, warn = FALSE), collapse = "\n")
    bands <- regmatches(page, gregexpr("class=\"worth\" x=\"[0-9.]+\" y=\"1\" width=\"[0-9.]+\"", page))[[1]]
    list(
      width = sub(".*width=\"([0-9.]+)\"", "\\1", bands),
      caption = sub("(?s)^.*?<caption>.*?Shaded: within the worth[.] ?([^<]*)<.*", "\\1", page, perl = TRUE)
    )
  }
  even <- grid_of(2)
  expect_identical(length(even$width), 2L)
  expect_identical(length(unique(even$width)), 1L)
  expect_identical(even$caption, "All on one scale.")
  apart <- grid_of(40)
  expect_identical(length(unique(apart$width)), 2L)
  expect_identical(apart$caption, "Each metric on a scale of its own.")
})
