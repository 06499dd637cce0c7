lid_plan <- c(
  "question: Does the lid <b>cost</b> points?", "setting: {name: lid, baseline: open, by_hand: with care}",
  "arms: [{value: open}, {value: shut}]", "blocks: 2", "order: mirrored",
  "metrics: [{id: score, worth: 2, primary: true}]",
  "workloads: [{id: lap, by_hand: drive one lap}]"
)
board_folder <- function(lines = lid_plan, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  writeLines(lines, file.path(folder, "study.yml"))
  folder
}

# the verb as a process of its own; its first line is the address
start_board <- function(folder, ..., env = parent.frame()) {
  board <- processx::process$new("sh", c(launcher_file, "board", folder, ...),
    stdout = "|", stderr = "|", cleanup_tree = TRUE
  )
  withr::defer(board$kill_tree(), envir = env)
  board$poll_io(20000)
  list(process = board, address = board$read_output_lines()[1])
}

ask_board <- function(board, where = "", body = NULL, address = board$address) {
  handle <- curl::new_handle()
  if (!is.null(body)) curl::handle_setopt(handle, customrequest = "POST", postfields = body)
  got <- curl::curl_fetch_memory(paste0(address, where), handle)
  list(status = got$status_code, text = rawToChar(got$content), headers = rawToChar(got$headers))
}
say_to_board <- function(board, question, ...) {
  body <- jsonlite::toJSON(list(question = question, said = list(...)), auto_unbox = TRUE)
  jsonlite::fromJSON(ask_board(board, "answer", body)$text)
}
# what is asked now, once it is another question than the one before
question_after <- function(board, before = "") {
  for (i in 1:100) {
    now <- jsonlite::fromJSON(ask_board(board, "now")$text)
    if (!now$question %in% c("", before)) break
    Sys.sleep(0.1)
  }
  now
}
store_it <- "button[type=submit]:not([name])"

test_that("a whole study by hand goes through a page as wide as a phone", {
  need_browser()
  folder <- board_folder()
  board <- start_board(folder)
  page <- open_page(board$address, 390, 844)
  page_waits_for(page, "set lid to (open|shut) \\(with care\\)", "#card")
  expect_match(page_text(page, "h1"), "the lid <b>cost</b> points", fixed = TRUE)
  expect_lte(page_script(page, "return document.documentElement.scrollWidth"), 390)
  page_click(page, "button[value=done]")
  page_waits_for(page, "drive one lap", "#card")
  page_type(page, "[name=score]", "much")
  page_click(page, store_it)
  page_waits_for(page, "a number, please", "#problem")
  # what the net loses once is sent again
  page_script(page, paste(
    "const real = window.fetch; window.lost = 0; window.fetch = (where, how) => {",
    "if (window.lost || !how || how.method !== 'POST') return real(where, how);",
    "window.lost = 1; return Promise.reject(new TypeError('gone')); };"
  ))
  # a picture is kept, and what is none is not
  text <- write_lines("no picture", ext = ".png")
  page_type(page, "[name=proof]", text)
  page_click(page, store_it)
  page_waits_for(page, "no picture", "#problem")
  expect_identical(page_script(page, "return window.lost"), 1L)
  picture <- withr::local_tempfile(fileext = ".png")
  page_picture(page, picture)
  page_type(page, "[name=proof]", picture)
  page_fill(page, "[name=score]", "1,204")
  hostile <- "<img src=x onerror=\"document.title='taken'\">"
  page_type(page, "[name=note]", hostile)
  page_click(page, store_it)
  page_waits_for(page, "score 1204", "#latest")
  expect_match(page_text(page, "#latest"), hostile, fixed = TRUE)
  expect_no_match(page_script(page, "return document.title"), "taken")
  # closed in the middle, and another opened in its place
  web("DELETE", paste0(page, "/window"))
  page <- open_page(board$address, 390, 844)
  page_waits_for(page, "set lid to", "#card")
  page_click(page, "button[value=done]")
  page_waits_for(page, "drive one lap", "#card")
  page_type(page, "[name=score]", "12")
  page_click(page, store_it)
  page_waits_for(page, "12 is far from the usual 1204.*again", "#problem")
  page_fill(page, "[name=score]", "1190")
  page_click(page, store_it)
  page_waits_for(page, "pass p003", "#card")
  page_script(page, "document.querySelector('[name=outcome]').value = 'freeze'")
  page_click(page, store_it)
  page_waits_for(page, "set lid to", "#card")
  page_click(page, "button[value=done]")
  page_waits_for(page, "pass p004", "#card")
  page_type(page, "[name=score]", "1201")
  page_click(page, store_it)
  page_waits_for(page, "all passes are done", "#head")
  page_waits_for(page, "gave no value", "#figure")
  study <- read_study(folder)
  expect_identical(study$readings$value[!is.na(study$readings$value)], c(1204, 1190, 1201))
  expect_identical(sum(study$passes$outcome == "freeze"), 1L)
  history <- study_history(folder)
  expect_match(history$reason, hostile, fixed = TRUE, all = FALSE)
  expect_identical(sum(history$kind == "proof"), 1L)
  kept <- list.files(file.path(folder, "proof"), full.names = TRUE)
  expect_identical(readBin(kept, "raw", 1e6), readBin(picture, "raw", 1e6))
})

test_that("two pages and the same answer twice make one pass", {
  need_browser()
  board <- start_board(folder <- board_folder())
  first <- open_page(board$address)
  second <- open_page(board$address)
  for (page in c(first, second)) page_waits_for(page, "set lid to", "#card")
  asked <- question_after(board)$question
  page_click(first, "button[value=done]")
  page_waits_for(second, "drive one lap", "#card")
  expect_identical(say_to_board(board, asked, do = "stop")$state, "past")
  asked <- question_after(board, asked)$question
  page_type(second, "[name=score]", "1100")
  expect_identical(say_to_board(board, asked, outcome = "ok", score = "1200")$state, "taken")
  expect_identical(say_to_board(board, asked, outcome = "ok", score = "1300")$state, "past")
  page_waits_for(second, "set lid to", "#card")
  page_waits_for(first, "score 1200", "#latest")
  expect_identical(read_study(folder)$readings$value, 1200)
})

test_that("without the key there is nothing to read, and what is sent is checked", {
  skip_if_not_installed("curl")
  board <- start_board(folder <- board_folder())
  asked <- question_after(board)$question
  root <- sub("[^/]*/$", "", board$address)
  key <- basename(board$address)
  expect_match(key, "^[0-9a-f]{32}$")
  other <- chartr("0123456789abcdef", "123456789abcdef0", key)
  for (where in c("", "now", "answer", "../study.yml", "study.yml", other, paste0(other, "/now"), substr(key, 1, 31))) {
    expect_identical(ask_board(address = root, where = where)$status, 404L, info = where)
    body <- sprintf('{"question": "%s", "said": {"do": "done"}}', asked)
    expect_identical(ask_board(address = root, where = where, body = body)$status, 404L, info = where)
  }
  for (where in c("study.yml", "..%2fstudy.yml", "ledger.sqlite", "answer")) {
    expect_identical(ask_board(board, where)$status, 404L)
  }
  expect_match(ask_board(board)$headers, "default-src 'none'")
  expect_identical(ask_board(board, "answer", "not JSON")$status, 400L)
  expect_identical(say_to_board(board, 99, do = "done")$state, "past")
  expect_match(say_to_board(board, asked, do = "rm -rf")$problem, "choose one of")
  expect_match(say_to_board(board, asked, other = "done")$problem, "choose one of")
  # it listens to this machine alone
  heard <- processx::run("sh", c("-c", "cat /proc/net/tcp | awk '$4 == \"0A\" {print $2}'"))$stdout
  port <- sprintf("%04X", as.integer(sub(".*:([0-9]+)/.*", "\\1", root)))
  expect_match(heard, paste0("0100007F:", port))
  expect_no_match(heard, paste0("00000000:", port))
  expect_identical(question_after(board)$question, asked)
  again <- run_cli("board", folder)
  expect_identical(again$status, 4L)
  expect_match(again$stderr, "shows this study on a board since")
})

test_that("a path that is typed on the page opens no file, a log that is sent does", {
  skip_if_not_installed("curl")
  plan <- sub("workloads:.*", "workloads: [{id: lap, by_hand: drive, frames: 'log.csv'}]", lid_plan)
  plan <- sub("metrics:.*", "metrics: [{id: fps_avg, worth: 2, primary: true}]", plan)
  board <- start_board(folder <- board_folder(plan))
  say_to_board(board, question_after(board)$question, do = "done")
  now <- question_after(board, "1")
  expect_match(now$card, "name=\"log\"", fixed = TRUE)
  secret <- write_lines("ms", simulate_frames(4, 50, seed = 9))
  log <- write_lines("ms", simulate_frames(4, 10, seed = 1))
  wrong <- ask_board(board, paste0("log?question=", now$question, "&name=..%2F..%2Fx.csv"), "these are words")
  expect_match(wrong$text, "kept")
  expect_match(say_to_board(board, now$question, outcome = "ok", path = secret)$problem, "no frame log")
  where <- paste0("log?question=", now$question, "&name=..%2F..%2Fx.csv")
  ask_board(board, where, paste(readLines(log), collapse = "\n"))
  expect_identical(say_to_board(board, now$question, outcome = "ok", path = secret)$state, "taken")
  step <- question_after(board, now$question)
  readings <- read_study(folder)$readings
  average <- readings$value[readings$metric == "fps_avg"]
  expect_equal(average, 1000 / mean(simulate_frames(4, 10, seed = 1)), tolerance = 1e-6)
  # the log of one pass is not that of the next
  say_to_board(board, step$question, do = "done")
  later <- question_after(board, step$question)
  ask_board(board, paste0("log?question=", later$question, "&name=y.csv"), paste(readLines(log), collapse = "\n"))
  expect_match(say_to_board(board, later$question, outcome = "ok")$problem, "stored already, as pass p001")
  expect_identical(list.files(dirname(folder), "^x.csv$"), character())
})

test_that("the page says when nobody runs the study, and goes on with it", {
  need_browser()
  board <- start_board(folder <- board_folder())
  page <- open_page(board$address)
  page_waits_for(page, "set lid to", "#card")
  page_click(page, "button[value=done]")
  page_waits_for(page, "drive one lap", "#card")
  tools::pskill(jsonlite::fromJSON(file.path(folder, "run.lock"))$pid, 9)
  page_waits_for(page, "No run is active", "#card")
  page_click(page, "button[data-go]")
  page_waits_for(page, "drive one lap", "#card")
  page_type(page, "[name=score]", "1200")
  page_click(page, store_it)
  page_waits_for(page, "score 1200", "#latest")
  expect_identical(study_history(folder)$kind[2], "pass")
  board$process$kill_tree()
  page_waits_for(page, "No contact with the board", "#contact")
})

test_that("a run at a terminal and the board share one record", {
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  skip_if_not_installed("curl")
  folder <- board_folder()
  terminal <- processx::process$new("sh", c("-c", paste0(
    "(sleep 4; echo y; sleep 600) | script -qefc \"", launcher, " run ", folder, "\" /dev/null"
  )), stdout = "|", cleanup_tree = TRUE)
  withr::defer(terminal$kill_tree())
  board <- start_board(folder)
  # the terminal answers the step, the board the pass
  asked <- question_after(board, question_after(board)$question)
  expect_match(asked$card, "drive one lap")
  expect_identical(say_to_board(board, asked$question, outcome = "ok", score = "1200")$state, "taken")
  asked <- question_after(board, asked$question)
  expect_match(asked$card, "set lid to")
  said <- paste(terminal$read_output_lines(), collapse = "\n")
  expect_match(said, "answered on the board")
  expect_match(said, "score 1200")
  # a run of another process is watched, not started anew
  expect_identical(jsonlite::fromJSON(file.path(folder, "run.lock"))$pid != board$process$get_pid(), TRUE)
  expect_identical(read_study(folder)$readings$value, 1200)
})

test_that("a study with commands is watched, and its runs are not started by a page", {
  skip_if_not_installed("curl")
  folder <- board_folder(c(
    "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 9}]", "blocks: 1", "sensors: {rate: 5}",
    "metrics: [{id: score, worth: 2, primary: true}]",
    "workloads:", "  - id: squeeze", "    command: sleep 3; echo score {arm}0",
    "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  ))
  board <- start_board(folder)
  idle <- jsonlite::fromJSON(ask_board(board, "now")$text)
  expect_match(idle$card, paste("honestmargin run", folder), fixed = TRUE)
  expect_identical(ask_board(board, "go", "")$status, 403L)
  expect_false(file.exists(file.path(folder, "run.lock")))
  run <- processx::process$new("sh", c(launcher_file, "run", folder), cleanup_tree = TRUE)
  withr::defer(run$kill_tree())
  seen <- character()
  while (run$is_alive()) {
    now <- jsonlite::fromJSON(ask_board(board, "now")$text)
    seen <- c(seen, now$progress, now$latest)
    Sys.sleep(0.3)
  }
  expect_match(seen, "Now pass p002: level", all = FALSE)
  expect_match(seen, "processor load", all = FALSE)
  expect_match(seen, "score (10|90)", all = FALSE)
  for (i in 1:50) {
    now <- jsonlite::fromJSON(ask_board(board, "now")$text)
    if (grepl("too few yet", now$figure)) break
    Sys.sleep(0.1)
  }
  expect_match(now$head, "all passes are done")
  expect_match(now$figure, "too few yet")
})

test_that("blind pairs are judged on the board, which tells no arm until they are", {
  need_browser()
  folder <- board_folder(c(
    "setting: {name: report rate, unit: Hz, baseline: 125, command: 'echo {arm} >> set.txt'}",
    "arms: [{value: 125}, {value: 1000}]", "blocks: 2", "sensors: {rate: 5}",
    "workloads: [{id: lap, by_hand: drive one lap, judge: blind}]"
  ))
  board <- start_board(folder)
  page <- open_page(board$address)
  run <- processx::process$new("sh", c(launcher_file, "run", folder), cleanup_tree = TRUE)
  withr::defer(run$kill_tree())
  seen <- character()
  for (pair in 1:2) {
    for (place in c("first", "second")) {
      page_waits_for(page, paste0("report rate ", place, ", lap"), "#card")
      seen <- c(seen, page_script(page, "return document.body.innerHTML"))
      page_click(page, store_it)
    }
    page_waits_for(page, paste0("Pair ", pair, " of 2, lap"), "#card")
    seen <- c(seen, page_script(page, "return document.body.innerHTML"))
    page_type(page, "[name=note]", "softer")
    page_click(page, paste0("button[value=", c("second", "none")[pair], "]"))
  }
  expect_no_match(seen, "125|1000| Hz|temperature|clock")
  expect_match(seen[1], "withheld until every pair is judged")
  run$wait(20000)
  found <- weigh_pairs(read_study(folder))
  expect_identical(attr(found, "each")$choice, c("second", "none"))
  expect_identical(attr(found, "each")$note, c("softer", "softer"))
  page_waits_for(page, "all passes are done", "#head")
  page_waits_for(page, "1000 lap", "#latest")
})

test_that("a search by hand goes through the board", {
  skip_if_not_installed("curl")
  board <- start_board(folder <- board_folder(c(
    "setting: {name: offset, unit: MHz}", "search: {from: 0, to: 100, step: 25, back_off: 25, tests: [lap]}",
    "workloads: [{id: lap, by_hand: drive, outcome_only: true}]", "blocks: 0"
  )))
  asked <- list(question = "")
  for (i in 1:5) {
    asked <- question_after(board, asked$question)
    value <- as.numeric(sub(".*offset ([0-9]+) MHz, lap.*", "\\1", asked$card))
    state <- say_to_board(board, asked$question, outcome = if (value >= 75) "freeze" else "ok")$state
    expect_identical(state, "taken")
  }
  asked <- question_after(board, asked$question)
  expect_match(asked$card, "offset 50 MHz, lap")
  say_to_board(board, asked$question, outcome = "ok")
  for (i in 1:100) {
    now <- jsonlite::fromJSON(ask_board(board, "now")$text)
    if (grepl("is over", now$head) && grepl("50 MHz holds", now$figure)) break
    Sys.sleep(0.1)
  }
  expect_match(now$head, "the search is over")
  expect_match(now$figure, "50 MHz holds: the highest that did, 25 MHz away from 75 MHz, which failed")
  expect_match(now$figure, "failed 1 of 1")
})

test_that("looks at a study that nobody runs leave no connection behind", {
  folder <- board_folder()
  before <- nrow(showConnections(all = TRUE))
  for (i in 1:150) honestmargin:::lock_lives(honestmargin:::lock_file(folder))
  expect_identical(nrow(showConnections(all = TRUE)), before)
})

test_that("what is no page is refused: sockets, bodies without a length, answers that are none, odd names", {
  skip_if_not_installed("curl")
  board <- start_board(folder <- board_folder())
  question_after(board)
  address <- strsplit(sub("^http://", "", board$address), "/")[[1]]
  raw_request <- function(...) {
    to <- strsplit(address[1], ":")[[1]]
    con <- socketConnection(to[1], as.integer(to[2]), open = "r+b", blocking = TRUE, timeout = 5)
    on.exit(close(con))
    writeBin(charToRaw(paste0(paste(c(...), collapse = "\r\n"), "\r\n\r\n")), con)
    readLines(con, 1)
  }
  socket <- c("Host: 127.0.0.1", "Upgrade: websocket", "Connection: Upgrade", "Sec-WebSocket-Version: 13",
    "Sec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==")
  expect_match(raw_request("GET /nokey/ HTTP/1.1", socket), "404")
  expect_match(raw_request(paste0("GET /", address[2], "/ HTTP/1.1"), socket), "400")
  chunked <- paste0("POST /", address[2], "/log?question=1&name=x HTTP/1.1")
  expect_match(raw_request(chunked, "Host: localhost:1", "Transfer-Encoding: chunked"), "411")
  # another name for this machine, or a page from elsewhere, finds nothing, even with the key
  mine <- paste0("GET /", address[2], "/ HTTP/1.1")
  expect_match(raw_request(mine, "Host: 127.0.0.1"), "200")
  expect_match(raw_request(mine, "Host: bench.example"), "404")
  expect_match(raw_request(mine, "Host: 127.0.0.1", "Origin: http://bench.example"), "404")
  for (body in c("1", "[]", "null", "\"x\"", "{\"question\": [1, 2], \"said\": {}}")) {
    expect_identical(ask_board(board, "answer", body)$status, 400L, info = body)
    expect_true(ask_board(board, "mark", body)$status %in% c(200L, 400L), info = body)
  }
  odd <- ask_board(board, "log?question=1&name=%00%zz", "x")
  expect_identical(odd$status, 200L)
  expect_identical(ask_board(board)$status, 200L)
})

test_that("without its script the board is a page of plain forms", {
  folder <- board_folder()
  board <- start_board(folder)
  question_after(board)
  cookie <- function(fields, where = "answer") {
    handle <- curl::new_handle(followlocation = FALSE)
    do.call(curl::handle_setform, c(list(handle), fields))
    got <- curl::curl_fetch_memory(paste0(board$address, where), handle)
    list(status = got$status_code, text = rawToChar(got$content))
  }
  asked <- function() sub('.*name="question" value="([0-9]+)".*', "\\1", ask_board(board)$text)
  first <- asked()
  expect_identical(cookie(list(question = first, do = "done"))$status, 303L)
  after <- question_after(board, as.integer(first))
  wrong <- cookie(list(question = as.character(after$question), score = "much", outcome = "ok", note = ""))
  expect_match(wrong$text, "a number, please")
  right <- cookie(list(question = as.character(after$question), score = "100", outcome = "ok", note = ""))
  expect_identical(right$status, 303L)
  question_after(board, after$question)
  expect_identical(stats::na.omit(read_study(folder)$readings$value)[1], 100)
})
