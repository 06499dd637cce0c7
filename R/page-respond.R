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
      "POST answer" = if (is_form(request)) answer_form(board, request) else reply_answer(board, sent_json(request)),
      "POST proof" = ,
      "POST log" = reply_sent(board, request, way[2]),
      "POST back" = reply_back(board, sent_json(request)),
      "POST mark" = if (is_form(request)) mark_form(board, request) else reply_mark(board, sent_json(request)),
      "POST go" = if (is_form(request)) go_back(reply_go(board)) else reply_go(board),
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
    "img-src data:; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
  ))
}

is_form <- function(request) startsWith(empty_to(request$CONTENT_TYPE, ""), "multipart/form-data")

# where a page has no script: back to it, or what is wrong in words
go_back <- function(told) {
  if (told$status != 200L) {
    return(told)
  }
  list(status = 303L, body = "", headers = list(Location = "./", "Cache-Control" = "no-store"))
}

form_sent <- function(request) {
  sent <- tryCatch(suppressWarnings(mime::parse_multipart(request)), error = function(e) list())
  files <- Filter(function(one) is.list(one) && any(nzchar(empty_to(one$name, ""))), sent)
  list(said = Filter(function(one) is.character(one) && length(one) == 1, sent), files = files)
}

answer_form <- function(board, request) {
  sent <- form_sent(request)
  question <- suppressWarnings(as.integer(sent$said$question))
  log <- NULL
  for (kind in intersect(names(sent$files), c("log", "proof"))) {
    file <- sent$files[[kind]]
    kept <- keep_sent(board$folder, question, kind, file$name, readBin(file$datapath, "raw", file.size(file$datapath)))
    if (!is.null(kept$why_not)) {
      return(plain_page(code_text(kept$why_not)))
    }
    if (kind == "log") log <- kept$path
  }
  said <- sent$said[names(sent$said) != "question"]
  told <- answer_run(board$folder, question, said, log)
  board$pulse <- NULL
  if (told$state != "refused") {
    # the run takes the answer up, and the next question with it
    Sys.sleep(0.3)
    return(go_back(list(status = 200L)))
  }
  odd <- all(vapply(told$why_not, function(code) code$code == "far_off", NA))
  plain_page(vapply(told$why_not, code_text, ""), if (odd) c(sent$said, list(sure = "yes")))
}

mark_form <- function(board, request) {
  words <- strsplit(empty_to(form_sent(request)$said$mark, ""), " ", fixed = TRUE)[[1]]
  go_back(reply_mark(board, list(word = words[1], value = paste(words[-1], collapse = " "))))
}

# what is only far from the usual may be said a second time
plain_page <- function(said, again = NULL) {
  tags <- htmltools::tags
  page <- tags$body(
    lapply(said, tags$p),
    if (length(again)) {
      tags$form(
        method = "post", action = "answer", enctype = "multipart/form-data",
        hidden_inputs(again),
        tags$button(type = "submit", "Store it all the same")
      )
    },
    tags$p(tags$a(href = "./", "Back"))
  )
  reply(200L, "text/html; charset=utf-8", paste0("<!DOCTYPE html>\n<html lang=\"en\">", as.character(page), "</html>"),
    "default-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
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
  if (!is.null(board$shown) && !identical(board$shown, plan_mark(board$folder))) {
    return(reply_text(403L, "the plan was changed since its commands were shown: look at them again"))
  }
  if (!lock_lives(lock_file(board$folder)) && (is.null(board$run) || !board$run$is_alive())) {
    board$run <- start_run(board$folder, board$log)
  }
  board$pulse <- NULL
  reply_json(list(state = "started"))
}

# the plan as it is, to know it again
plan_mark <- function(folder) unname(tools::md5sum(file.path(folder, "study.yml")))

sent_json <- function(request) {
  sent <- tryCatch(
    jsonlite::fromJSON(rawToChar(request$rook.input$read()), simplifyVector = FALSE),
    error = function(e) list()
  )
  if (is.list(sent)) sent else list()
}

#' Values that a form sends along unseen
#' @param values Named, a text each.
#' @noRd
hidden_inputs <- function(values) {
  lapply(seq_along(values), function(i) {
    htmltools::tags$input(type = "hidden", name = names(values)[i], value = values[[i]])
  })
}

# the words behind the question mark
asked_for <- function(request) {
  pairs <- strsplit(strsplit(sub("^[?]", "", empty_to(request$QUERY_STRING, "")), "&", fixed = TRUE)[[1]], "=")
  pairs <- Filter(function(p) length(p) == 2, pairs)
  stats::setNames(lapply(pairs, function(p) without_escapes(p[2])), vapply(pairs, `[[`, "", 1))
}

# no text holds a zero byte, and a half of an escape is none
without_escapes <- function(text) {
  bare <- gsub("%00|%(?![0-9A-Fa-f]{2})", "", text, perl = TRUE)
  tryCatch(utils::URLdecode(bare), error = function(e) "")
}

reply <- function(status, type, body, policy = "default-src 'none'") {
  list(status = status, body = body, headers = list(
    "Content-Type" = type, "Content-Security-Policy" = policy, "Cache-Control" = "no-store",
    "X-Content-Type-Options" = "nosniff", "Referrer-Policy" = "no-referrer"
  ))
}

reply_text <- function(status, text) reply(status, "text/plain; charset=utf-8", text)
reply_json <- function(values) reply(200L, "application/json", detail_json(values))
