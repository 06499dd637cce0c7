# the verb as a process of its own; its first line is the address
start_desk <- function(..., env = parent.frame()) {
  desk <- processx::process$new("sh", c(launcher_file, "open", ...), stdout = "|", stderr = "|", cleanup_tree = TRUE)
  withr::defer(desk$kill_tree(), envir = env)
  desk$poll_io(20000)
  address <- desk$read_output_lines()[1]
  list(process = desk, address = address, home = sub("(//[^/]+/[^/]+/).*$", "\\1", address))
}
of_desk <- function(where, ...) {
  handle <- curl::new_handle(followlocation = FALSE)
  fields <- list(...)
  if (length(fields)) {
    text <- paste0(names(fields), "=", vapply(fields, utils::URLencode, "", reserved = TRUE), collapse = "&")
    curl::handle_setopt(handle, customrequest = "POST", postfields = text)
  }
  got <- curl::curl_fetch_memory(where, handle)
  headers <- curl::parse_headers_list(got$headers)
  list(
    status = got$status_code, text = if (!any(got$content == 0)) rawToChar(got$content), content = got$content,
    to = headers$location
  )
}
take_at_desk <- function(desk, ...) {
  handle <- curl::new_handle(followlocation = FALSE)
  curl::handle_setform(handle, ...)
  got <- curl::curl_fetch_memory(paste0(desk$home, "take"), handle)
  headers <- curl::parse_headers_list(got$headers)
  origin <- sub("(//[^/]+)/.*$", "\\1", desk$home)
  list(status = got$status_code, to = if (length(headers$location)) paste0(origin, headers$location),
    text = rawToChar(got$content))
}
ask_piece <- function(desk, where, bytes) {
  handle <- curl::new_handle(customrequest = "POST", postfields = bytes, httpheader = "Accept: application/json")
  rawToChar(curl::curl_fetch_memory(paste0(desk$home, where), handle)$content)
}
page_text_of <- function(html) {
  text <- xml2::xml_text(xml2::xml_find_first(xml2::read_html(html), "//main"))
  gsub("[[:space:]]+", " ", text)
}
odd_table <- c(
  "Setup;tester;run;fps", "off;Ada;1;60.5", "on;Ada;1;63.6", "off;Bo;2;60.6", "on;Bo;2;63.8", "off;Ada;3;60.2",
  "on;Ada;3;63.9", "off;Bo;4;60.8", "on;Bo;4;63.4"
)

test_that("a table is dropped, asked about, answered, a pass left out, and the report weighs to the same digits", {
  need_browser()
  folder <- withr::local_tempdir()
  table <- file.path(folder, "odd <b>scores.csv")
  writeLines(odd_table, table)
  desk <- start_desk()
  page <- open_page(desk$address)
  expect_match(page_text(page), "Drop your files here")
  web("POST", paste0(page, "/element/", find_in_page(page, "[name=files]"), "/value"), list(text = table))
  page_click(page, "#drop button")
  page_waits_for(page, "which column holds the value of the setting")
  expect_match(page_text(page, "h1"), "odd _b_scores.csv", fixed = TRUE)
  page_script(page, "document.querySelector('[name=\"col.Setup\"]').value = 'arm';")
  page_script(page, paste(
    "const s = document.querySelector('[name=\"col.tester\"]'); s.value = 'note';",
    "s.dispatchEvent(new Event('change', {bubbles: true}))"
  ))
  page_waits_for(page, "What is the question")
  # the state stands in the address: reloaded it is the same, and Back is the one before
  where <- web("GET", paste0(page, "/url"))
  expect_match(where, "col.Setup=arm")
  web("POST", paste0(page, "/refresh"))
  page_waits_for(page, "Read 8 values")
  web("POST", paste0(page, "/back"))
  page_waits_for(page, "which column holds")
  web("POST", paste0(page, "/forward"))
  page_waits_for(page, "What is the question")
  page_type(page, "[name='worth.fps']", "2")
  page_click(page, "form[action$=answer] button")
  page_waits_for(page, "clear gain")
  answered <- web("GET", paste0(page, "/url"))
  # what the shell says of the same table
  shell <- run_cli("weigh", table, "--columns", "arm=Setup,note=tester", "--baseline", "off", "--worth", "2",
    "--format", "csv")$stdout
  alone <- utils::read.csv(text = shell)
  report <- file.path(folder, "got.html")
  writeBin(of_desk(sub("/answer", "/report.html", answered))$content, report)
  again <- utils::read.csv(text = run_cli("weigh", report, "--format", "csv")$stdout)
  expect_identical(again[c("change", "lower", "upper", "verdict")], alone[c("change", "lower", "upper", "verdict")])
  expect_no_match(paste(readLines(report), collapse = " "), "after the first answer")
  # a pass is left out: the reason comes first, and the report says that it came after the answer
  page_click(page, ".tabs a[href*='ask=passes']")
  page_waits_for(page, "Leave a pass out")
  page_click(page, "input[value='on 4']")
  page_click(page, "#out button")
  expect_match(page_text(page), "Leave a pass out")
  page_type(page, "#out [name=reason]", "an update ran")
  page_click(page, "#out button")
  page_waits_for(page, "after the first answer: left out on 4 \\(an update ran\\)")
  left <- web("GET", paste0(page, "/url"))
  expect_match(of_desk(sub("/answer", "/report.md", left))$text, "1 change after the first answer: left out on 4")
  # taken back it still was tried, in another tab too
  expect_match(page_text_of(of_desk(answered)$text), "1 change after the first answer")
  fewer <- file.path(folder, "fewer.csv")
  writeLines(odd_table[-9], fewer)
  fewer <- run_cli("weigh", fewer, "--columns", "arm=Setup,note=tester", "--baseline", "off", "--format", "csv")$stdout
  writeBin(of_desk(sub("/answer", "/report.html", left))$content, report)
  expect_equal(utils::read.csv(text = run_cli("weigh", report, "--format", "csv")$stdout)$lower,
    utils::read.csv(text = fewer)$lower)
  # another worth is after the fact too
  other <- of_desk(sub("worth.fps=2", "worth.fps=9", answered))$text
  expect_match(page_text_of(other), "2 changes after the first answer: worth: fps 2 -> fps 9")
})

test_that("the layout, the picture and the study folder are taken along, and kept as a study", {
  folder <- withr::local_tempdir()
  writeLines(odd_table, file.path(folder, "scores.csv"))
  desk <- start_desk(file.path(folder, "scores.csv"))
  said <- "?col.Setup=arm&col.tester=note&baseline=off&worth.fps=2"
  of <- function(name) of_desk(paste0(sub("read$", name, desk$address), said))
  layout <- yaml::yaml.load(of("layout.yml")$text)
  expect_identical(layout$columns, list(arm = "Setup", note = "tester"))
  expect_identical(layout$baseline, "off")
  expect_identical(of("picture.png")$content[2:4], charToRaw("PNG"))
  packed <- file.path(folder, "study.tar.gz")
  writeBin(of("study.tar.gz")$content, packed)
  expect_setequal(basename(utils::untar(packed, list = TRUE)), c("readings.csv", "study.yml"))
  kept <- file.path(folder, "kept")
  where <- of_desk(
    sub("read$", "keep", desk$address), `col.Setup` = "arm", `col.tester` = "note", baseline = "off", `worth.fps` = "2",
    folder = kept
  )
  expect_identical(where$status, 303L)
  expect_identical(weigh(read_study(kept))$verdict, "clear gain")
  # beside the table the layout is found again
  file.copy(file.path(folder, "scores.csv"), file.path(folder, "more.csv"))
  writeLines(of("layout.yml")$text, file.path(folder, "more.layout.yml"))
  again <- take_at_desk(desk, path = file.path(folder, "more.csv"))
  expect_match(page_text_of(of_desk(again$to)$text), "Read 8 values of more.csv")
  beside <- of_desk(sub("read$", "beside", desk$address), `col.Setup` = "arm", `col.tester` = "note", baseline = "off")
  expect_identical(beside$status, 303L)
  expect_match(run_cli("weigh", file.path(folder, "scores.csv"), "--worth", "2")$stdout, "clear gain")
})

test_that("a folder of logs, a pasted table, a path and files without a script are read", {
  desk <- start_desk()
  logs <- withr::local_tempdir()
  for (arm in c("mild", "wild")) {
    for (i in 1:3) writeLines(format(plain_frames(10, 10, i)), file.path(logs, paste0(arm, "_run", i, ".csv")))
  }
  named <- take_at_desk(desk, path = logs)
  expect_identical(named$status, 303L)
  expect_match(page_text_of(of_desk(named$to)$text), "Read 6 passes: 2 arms")
  answer <- of_desk(paste0(sub("read$", "answer", named$to), "?baseline=mild"))$text
  expect_match(page_text_of(answer), "wild")
  shell <- jsonlite::fromJSON(run_cli("weigh", logs, "--baseline", "mild", "--format", "json")$stdout)
  expect_match(page_text_of(answer), gsub("[[:space:]]+", " ", shell$headline), fixed = TRUE)
  pasted <- take_at_desk(desk, pasted = "arm,score\noff,100\non,104\noff,101\non,105\noff,99\non,106")
  expect_match(page_text_of(of_desk(pasted$to)$text), "Read 6 values of pasted.csv")
  files <- list.files(logs, full.names = TRUE)
  sent <- take_at_desk(desk, files = curl::form_file(files[1]), files = curl::form_file(files[4]))
  expect_match(page_text_of(of_desk(sent$to)$text), "Read 2 passes: 2 arms")
  nothing <- take_at_desk(desk, pasted = " ")
  expect_identical(nothing$status, 422L)
  expect_match(nothing$text, "nothing was given")
  expect_match(take_at_desk(desk, path = "/no/such/place")$text, "no such file or folder")
})

test_that("what is large comes in pieces, twice where an answer was lost, and stays in its tray", {
  desk <- start_desk()
  tray <- jsonlite::fromJSON(ask_piece(desk, "tray", ""))$tray
  bytes <- charToRaw(paste(c("arm,score", rep(c("off,100", "on,104"), 9), ""), collapse = "\n"))
  piece <- function(at, name = "big.csv", to = min(at + 40, length(bytes))) {
    where <- paste0("tray/", tray, "/piece?name=", utils::URLencode(name, reserved = TRUE), "&at=", at)
    jsonlite::fromJSON(ask_piece(desk, where, bytes[(at + 1):to]))
  }
  at <- 0
  while (at < length(bytes)) {
    have <- piece(at)$have
    expect_identical(piece(at)$have, have)
    at <- have
  }
  expect_match(page_text_of(of_desk(paste0(desk$home, "tray/", tray, "/read"))$text), "Read 18 values of big.csv")
  for (name in c("../../../escaped.csv", "/etc/escaped.csv", "..\\\\escaped.csv", "a/../../escaped.csv")) {
    piece(0, name)
  }
  expect_false(file.exists("/etc/escaped.csv"))
  expect_length(list.files(dirname(tempdir()), "escaped[.]csv", recursive = FALSE), 0)
})

test_that("logs of 10 MB are dropped on the page and sent in pieces, with progress", {
  need_browser()
  desk <- start_desk()
  page <- open_page(desk$address)
  # 200 MB where there is time for them
  mb <- if (identical(Sys.getenv("HONESTMARGIN_GRID"), "all")) 200 else 10
  page_script(page, paste0(
    "window.seen = []; new MutationObserver(() => window.seen.push(document.getElementById('sent').value))",
    ".observe(document.getElementById('sent'), {attributes: true});",
    "const line = i => (8 + (i * 7919 % 100) / 100).toFixed(2) + '\\n';",
    "const body = 'frame_time_ms\\n' + Array.from({length: 1000}, (_, i) => line(i)).join('').repeat(", 50 * mb, ");",
    "const drop = new DataTransfer();",
    "for (const name of ['mild_run1.csv', 'mild_run2.csv', 'wild_run1.csv', 'wild_run2.csv']) {",
    "  drop.items.add(new File([body], name)) }",
    "document.dispatchEvent(new DragEvent('drop', {dataTransfer: drop, bubbles: true, cancelable: true}));",
    "addEventListener('pagehide', () => sessionStorage.setItem('seen', JSON.stringify(window.seen)))"
  ))
  page_waits_for(page, "Read 4 passes: 2 arms", seconds = 30 + mb)
  seen <- unlist(jsonlite::fromJSON(page_script(page, "return sessionStorage.getItem('seen')")))
  expect_gt(length(unique(seen)), 4)
  expect_false(is.unsorted(seen))
})

test_that("hostile headings and cells are text, other origins and other keys find nothing", {
  desk <- start_desk()
  bad <- "<script>document.title='taken'</script>"
  lines <- c(paste0("arm,\"", bad, "\",score"), paste0(rep(c("off", "on"), 4), ",", bad, ",", 100 + 1:8))
  seen <- of_desk(take_at_desk(desk, pasted = paste(lines, collapse = "\n"))$to)$text
  expect_false(grepl(bad, seen, fixed = TRUE))
  expect_match(seen, "&lt;script&gt;", fixed = TRUE)
  expect_identical(of_desk(sub("[0-9a-f]{8}/$", "00000000/", desk$home))$status, 404L)
  handle <- curl::new_handle(httpheader = c("Origin: http://elsewhere.example"))
  expect_identical(curl::curl_fetch_memory(desk$home, handle)$status_code, 404L)
  handle <- curl::new_handle(httpheader = c("Host: elsewhere.example"))
  expect_identical(curl::curl_fetch_memory(desk$home, handle)$status_code, 404L)
})

test_that("a plan is made as a form, shows what it can, is saved, run with the board and answered", {
  need_browser()
  folder <- file.path(withr::local_tempdir(), "new study")
  desk <- start_desk()
  page <- open_page(paste0(desk$home, "plan"))
  for (field in list(
    c("setting/name", "cap"), c("setting/baseline", "off"), c("arms/1/value", "off"), c("arms/2/value", "on"),
    c("workloads/1/id", "lap"), c("workloads/1/command", "echo {arm} 12"), c("workloads/1/scores/1/metric", "score"),
    c("metrics/1/id", "score"), c("metrics/1/worth", "2"), c("blocks", "many")
  )) {
    page_type(page, paste0("[name='", field[1], "']"), field[2])
  }
  page_click(page, "#plan > button")
  page_waits_for(page, "'blocks' must be a whole number", "label[for=blocks]")
  page_script(page, "document.getElementById('blocks').value = '2'")
  page_script(page, "document.getElementById('blocks').dispatchEvent(new Event('change', {bubbles: true}))")
  page_waits_for(page, "What it can show", "#seen")
  expect_match(page_text(page, "#seen"), "4 passes")
  expect_match(page_text(page, "#seen"), "echo \\{arm\\} 12")
  # the metric has no direction that anybody said
  page_type(page, "#seen [name=in]", folder)
  page_click(page, "#seen button")
  page_waits_for(page, "No pass of this plan has run yet")
  plan <- plan_study(folder)$plan
  expect_identical(plan$blocks, 2L)
  # what was not shown does not run
  shown <- page_script(page, "return document.querySelector('[name=shown]').value")
  where <- web("GET", paste0(page, "/url"))
  expect_match(of_desk(sub("read$", "run", where), shown = "another")$text, "changed since it was shown")
  page_click(page, "form[action$=run] button")
  page_waits_for(page, "all passes are done", "#head")
  expect_match(page_text(page, "#progress"), "6 of 6|4 of 4|5 of 5|[0-9] of [0-9] passes")
  answer <- of_desk(sub("read$", "answer", where))$text
  expect_match(page_text_of(answer), "off|on")
  expect_true(all(read_study(folder)$passes$outcome == "ok"))
})

test_that("a study that somebody sent runs nothing, and a shared desk opens no path", {
  desk <- start_desk()
  sent <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]",
    paste0("workloads: [{id: w, command: \"touch ", sent, "/ran\", scores: [{metric: score}]}]")
  ), file.path(sent, "study.yml"))
  tray <- jsonlite::fromJSON(ask_piece(desk, "tray", ""))$tray
  plan <- readBin(file.path(sent, "study.yml"), "raw", 1e4)
  ask_piece(desk, paste0("tray/", tray, "/piece?name=study.yml&at=0"), plan)
  where <- paste0(desk$home, "tray/", tray, "/")
  seen <- of_desk(paste0(where, "read"))$text
  expect_match(page_text_of(seen), "runs nothing")
  shown <- unname(tools::md5sum(file.path(sent, "study.yml")))
  expect_match(of_desk(paste0(where, "run"), shown = shown)$text, "runs nothing")
  of_desk(paste0(where, "board/go"), x = "")
  expect_false(file.exists(file.path(sent, "ran")))
})

test_that("a phone reads it, and the keyboard goes through it", {
  need_browser()
  folder <- withr::local_tempdir()
  writeLines(odd_table, file.path(folder, "scores.csv"))
  desk <- start_desk(file.path(folder, "scores.csv"))
  said <- "?col.Setup=arm&col.tester=note&baseline=off&worth.fps=2"
  for (where in c(desk$address, paste0(desk$address, said), paste0(sub("read$", "answer", desk$address), said))) {
    page <- open_page(where, 390, 844)
    expect_lte(page_script(page, "return document.documentElement.scrollWidth"), 390)
    # each field has a name that a reader of screens says
    expect_identical(page_script(page, paste(
      "return Array.from(document.querySelectorAll('main input:not([type=hidden]), main select, main textarea'))",
      ".filter(e => !e.labels.length && !e.getAttribute('aria-label')).map(e => e.name)"
    )), list())
  }
})
