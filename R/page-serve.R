# The board: one page, served while a study runs, for who stands elsewhere with a phone.

#' Serve the board of a study
#'
#' One page that shows how far a run is, each reading as it arrives, how the comparisons stand, and, where a
#' person is needed, the step to do with fields for what comes of it. The run and the page share one record: whoever
#' answers a question first, at the terminal or on any open page, has answered it. Where nothing in the plan is
#' started by command, the board starts the run itself.
#'
#' @param x Study folder.
#' @param ... Not used.
#' @param port Where to listen; `NULL`: a free one.
#' @param share `FALSE` listens to this machine alone. `TRUE` to its whole network: who has the address, with the key
#'   in it, can read the page and answer.
#' @param run `TRUE` lets the page start the run, whose commands are those of the plan; `NULL`: only where the plan
#'   has no command at all.
#' @param ready Function of the page's address, called when it can be opened.
#' @param until Function without arguments: `TRUE` ends it. It is asked several times a second.
#' @return The address, invisibly, when it has ended (by `until`, or interrupted). A run that was started here ends
#'   with it, as if interrupted, and goes on the next time.
#' @section Errors: `honestmargin_error_input` for a folder without a plan, `honestmargin_error_stuck` where
#'   another board shows this study, or the port is taken.
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: lid, baseline: open, by_hand: gently}", "arms: [{value: open}, {value: shut}]",
#'   "workloads: [{id: lap}]", "metrics: [{id: score, worth: 2}]"
#' ), file.path(folder, "study.yml"))
#' serve_board(folder, run = FALSE, until = function() TRUE, ready = function(address) {
#'   cat(sub("[^/]*/$", "KEY/", address))
#' })
serve_board <- function(x, ..., port = NULL, share = FALSE, run = NULL, ready = function(address) NULL,
                        until = function() FALSE) {
  assert_no_dots(...)
  checkmate::assert_int(port, lower = 1, upper = 65535, null.ok = TRUE)
  checkmate::assert_flag(share)
  checkmate::assert_flag(run, null.ok = TRUE)
  folder <- folder_of(x)
  plan <- read_plan(folder)
  board <- new_board(folder, random_key(), empty_to(run, runs_by_hand(plan)))
  with_board_lock(folder, function() {
    on.exit(stop_run(board$run))
    serve_until(board, respond, port, share, until, function(address) {
      if (board$may_run && !lock_lives(lock_file(folder))) board$run <- start_run(folder, board$log)
      # of what is there already the picture is begun, so that the first page has it
      try_picture(board)
      ready(address)
    })
  })
}

#' Listen, and answer until it is over
#' @param at An environment with the `key` of its address. @param answer What answers a request to it.
#' @param begin Called with the address, once it can be opened.
#' @return The address, invisibly.
#' @noRd
serve_until <- function(at, answer, port, share, until, begin) {
  host <- if (share) "0.0.0.0" else "127.0.0.1"
  server <- listen(at, host, empty_to(port, httpuv::randomPort(host = host)), answer)
  on.exit(server$stop())
  address <- paste0("http://", if (share) own_address() else host, ":", server$getPort(), "/", at$key, "/")
  begin(address)
  # nothing is looked at that no page asks for: a pass is measured beside this
  while (!until()) httpuv::service(100)
  invisible(address)
}

#' A board, before anybody looks at it
#' @return An environment: `folder`, `key` (of its address), `may_run`, `log`; later `run` (the process that it
#'   started), `pulse`, `picture`, `sent`.
#' @noRd
new_board <- function(folder, key, may_run) {
  board <- new.env(parent = emptyenv())
  board$folder <- folder
  board$key <- key
  board$may_run <- may_run
  board$log <- file.path(folder, "scratch", "board-run.txt")
  board
}

listen <- function(board, host, port, answer) {
  names <- c("127.0.0.1", "localhost", "[::1]", own_address(), Sys.info()[["nodename"]])
  app <- list(
    call = function(request) if (is_for_us(board, request, names)) answer(board, request) else nothing_here(),
    # refused before it is read
    onHeaders = function(request) {
      if (!is_for_us(board, request, names)) {
        return(nothing_here())
      }
      # a page asks and is answered; what has no length before it comes could be without end
      if (!is.null(request$HTTP_UPGRADE)) {
        return(reply_text(400L, "no such way here"))
      }
      if (grepl("chunked", empty_to(request$HTTP_TRANSFER_ENCODING, ""), ignore.case = TRUE)) {
        return(reply_text(411L, "say how long it is"))
      }
      if (!isTRUE(as.numeric(empty_to(request$CONTENT_LENGTH, 0)) <= 30e6)) reply_text(413L, "too large")
    },
    # should one open all the same
    onWSOpen = function(socket) socket$close()
  )
  tryCatch(httpuv::startServer(host, port, app, quiet = TRUE), error = function(e) {
    abort_stuck(paste0("port ", port, " cannot be listened on"), NULL, "name another: --port N")
  })
}

#' Is a request made to this address, by a page of this address?
#'
#' Another name for this machine, or a page from elsewhere, finds nothing here, even if it knows the key.
#' @param names Of this machine.
#' @noRd
is_for_us <- function(board, request, names) {
  host <- empty_to(request$HTTP_HOST, "")
  origin <- empty_to(request$HTTP_ORIGIN, "null")
  sub(":[0-9]+$", "", host) %in% names && origin %in% c("null", paste0("http://", host)) && has_key(board, request)
}

nothing_here <- function() reply_text(404L, "nothing here")

#' What is drawn of the readings, made aside so that the page does not wait for it
#' @noRd
refresh_picture <- function(board, pulse) {
  if (!is.null(board$job)) {
    done <- parallel::mccollect(board$job, wait = FALSE)
    if (is.null(done)) {
      return(invisible())
    }
    board$job <- NULL
    if (is.list(done[[1]])) board$picture <- done[[1]]
  }
  # what is drawn would tell the arms
  if (isTRUE(pulse$withheld)) {
    board$picture <- list(figure = as.character(withheld_note()))
    return(invisible())
  }
  if (identical(pulse$stamp, board$drawn) || pulse$progress$done == 0) {
    return(invisible())
  }
  board$drawn <- pulse$stamp
  if (.Platform$OS.type == "unix") {
    board$job <- parallel::mcparallel(board_picture(look_now(board$folder)), silent = TRUE)
  } else {
    board$picture <- board_picture(look_now(board$folder))
  }
}

# what cannot be read just now does not take the page away from who stands there
try_picture <- function(board, pulse = pulse_now(board)) {
  tryCatch(refresh_picture(board, pulse), error = function(e) {
    board$picture$warnings <- as.character(htmltools::tags$p(paste("Not drawn:", conditionMessage(e))))
  })
}

#' The parts of the page, for a page that asks
#' @noRd
parts_now <- function(board, pulse = pulse_now(board)) {
  try_picture(board, pulse)
  board_parts(pulse, runner_now(board, pulse), board$picture)
}

# several pages ask, one looks
pulse_now <- function(board) {
  if (is.null(board$pulse) || monotonic_s() - board$pulse_at > 0.2) {
    board$pulse <- read_pulse(board$folder)
    board$pulse_at <- monotonic_s()
  }
  board$pulse
}

runner_now <- function(board, pulse) {
  ended <- !is.null(board$run) && !board$run$is_alive()
  said <- if (ended && !pulse$running && file.exists(board$log)) utils::tail(readLines(board$log, warn = FALSE), 1)
  list(may = board$may_run, folder = board$folder, said = if (length(said)) said)
}
