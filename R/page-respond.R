# What the board answers to a request. Without the key in the address there is nothing here.

respond <- function(board, request) {
  way <- address_parts(request)
  if (!has_key(board, request) || length(way) > 2) {
    return(reply_text(404L, "nothing here"))
  }
  what <- paste(request$REQUEST_METHOD, if (length(way) == 2) way[2] else "")
  tryCatch(
    switch(what,
      "GET " = reply_page(board),
      "GET now" = reply_now(board, request),
      "POST answer" = reply_answer(board, sent_json(request)),
      "POST proof" = ,
      "POST log" = reply_sent(board, request, way[2]),
      "POST back" = reply_back(board, sent_json(request)),
      "POST mark" = reply_mark(board, sent_json(request)),
      "POST go" = reply_go(board),
      reply_text(404L, "nothing here")
    ),
    honestmargin_error = function(e) reply_json(list(problem = conditionMessage(e))),
    error = function(e) reply_text(500L, paste("internal error (please report it):", conditionMessage(e)))
  )
}

address_parts <- function(request) strsplit(sub("^/", "", request$PATH_INFO), "/", fixed = TRUE)[[1]]

has_key <- function(board, request) identical(utils::head(address_parts(request), 1), board$key)

reply_page <- function(board) {
  nonce <- random_key()
  pulse <- pulse_now(board)
  page <- board_page(plan_title(pulse$plan), nonce, parts_now(board, pulse))
  reply(200L, "text/html; charset=utf-8", page, paste0(
    "default-src 'none'; style-src 'nonce-", nonce, "'; script-src 'nonce-", nonce, "'; connect-src 'self'; ",
    "img-src data:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
  ))
}

reply_now <- function(board, request) {
  parts <- parts_now(board)
  parts$have <- cli::hash_md5(paste(unlist(parts), collapse = "\r"))
  if (identical(asked_for(request)[["have"]], parts$have)) reply(204L, "text/plain", "") else reply_json(parts)
}

reply_answer <- function(board, sent) {
  if (!is.list(sent$said) || length(sent$question) != 1 || is.list(sent$question)) {
    return(reply_text(400L, "a question and what was said to it are needed"))
  }
  said <- Filter(function(v) is.character(v) && length(v) == 1, sent$said)
  question <- suppressWarnings(as.integer(sent$question))
  log <- if (identical(board$sent$question, question)) board$sent$path
  told <- answer_run(board$folder, question, said, log)
  board$pulse <- NULL
  if (told$state != "refused") {
    return(reply_json(told["state"]))
  }
  why <- told$why_not
  words <- vapply(why, code_text, "")
  odd <- all(vapply(why, function(code) code$code == "far_off", NA))
  reply_json(list(
    state = "refused", field = names(why)[1], sure = odd,
    problem = paste0(
      paste0(if (length(why) > 1) paste0(names(why), ": "), words, collapse = "; "),
      if (odd) ". Store it all the same? Press again."
    )
  ))
}

reply_sent <- function(board, request, kind) {
  asked <- asked_for(request)
  question <- suppressWarnings(as.integer(asked[["question"]]))
  kept <- keep_sent(board$folder, question, kind, empty_to(asked[["name"]], ""), request$rook.input$read())
  if (kind == "log" && !is.null(kept$path)) board$sent <- list(question = question, path = kept$path)
  reply_json(if (is.null(kept$why_not)) {
    list(state = "kept")
  } else {
    list(problem = code_text(kept$why_not))
  })
}

# the log that was sent for this question, taken back before the answer is stored
reply_back <- function(board, sent) {
  if (!is.null(board$sent)) unlink(board$sent$path)
  board$sent <- NULL
  reply_json(list(state = "back"))
}

reply_mark <- function(board, sent) {
  if (length(sent$word) != 1 || is.list(sent$word) || length(sent$value) > 1 || is.list(sent$value)) {
    return(reply_text(400L, "one word, and one value where it has one"))
  }
  mark_pass(board$folder, as.character(sent$word), as.character(empty_to(sent$value, "")))
  reply_json(list(state = "marked"))
}

reply_go <- function(board) {
  if (!board$may_run) {
    return(reply_text(403L, "this board may not start a run"))
  }
  if (!lock_lives(lock_file(board$folder)) && (is.null(board$run) || !board$run$is_alive())) {
    board$run <- start_run(board$folder, board$log)
  }
  board$pulse <- NULL
  reply_json(list(state = "started"))
}

sent_json <- function(request) {
  sent <- tryCatch(
    jsonlite::fromJSON(rawToChar(request$rook.input$read()), simplifyVector = FALSE),
    error = function(e) list()
  )
  if (is.list(sent)) sent else list()
}

# the words behind the question mark
asked_for <- function(request) {
  pairs <- strsplit(strsplit(sub("^[?]", "", empty_to(request$QUERY_STRING, "")), "&", fixed = TRUE)[[1]], "=")
  pairs <- Filter(function(p) length(p) == 2, pairs)
  # no text holds a zero byte, and a half of an escape is none
  plain <- function(text) {
    bare <- gsub("%00|%(?![0-9A-Fa-f]{2})", "", text, perl = TRUE)
    tryCatch(utils::URLdecode(bare), error = function(e) "")
  }
  stats::setNames(lapply(pairs, function(p) plain(p[2])), vapply(pairs, `[[`, "", 1))
}

reply <- function(status, type, body, policy = "default-src 'none'") {
  list(status = status, body = body, headers = list(
    "Content-Type" = type, "Content-Security-Policy" = policy, "Cache-Control" = "no-store",
    "X-Content-Type-Options" = "nosniff", "Referrer-Policy" = "no-referrer"
  ))
}

reply_text <- function(status, text) reply(status, "text/plain; charset=utf-8", text)
reply_json <- function(values) reply(200L, "application/json", detail_json(values))
