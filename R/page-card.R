# The card: what the tester has to do just now, in large letters, and fields for what comes of it.

board_card <- function(pulse, runner) {
  tags <- htmltools::tags
  asked <- pulse$question
  if (!is.null(asked)) {
    return(card_form(asked))
  }
  if (pulse$running || board_state(pulse) == "over") {
    return(NULL)
  }
  tags$div(
    class = "card", tags$p(class = "large", "No run is active."),
    if (!is.null(runner$said)) tags$p(plain_text(runner$said)),
    if (runner$may) {
      tags$form(
        method = "post", action = "go", enctype = "multipart/form-data",
        tags$button(type = "submit", `data-go` = "yes", if (pulse$progress$done > 0) "Go on with it" else "Begin")
      )
    } else {
      tags$p("On the machine: ", tags$code(paste("honestmargin run", runner$folder)))
    }
  )
}

card_form <- function(asked) {
  tags <- htmltools::tags
  tags$form(
    class = "card", id = "form", autocomplete = "off", method = "post", action = "answer",
    enctype = "multipart/form-data", tags$input(type = "hidden", name = "question", value = asked$id),
    switch(asked$kind,
      step = card_step(asked$facts), play = card_play(asked$facts), value = card_value(asked$facts),
      read_back = list(
        tags$p(class = "large", if (isTRUE(asked$facts$again)) paste0("That is not ", asked$facts$arm, ". Once more:")),
        text_field("text", paste0("What does the machine show for ", asked$facts$setting, "?"), large = TRUE),
        send_button("Send")
      ),
      pair = card_pair(asked$facts), frames = list(log_field(), send_button("Send")),
      note = list(text_field("text", "Anything seen or felt?"), send_button("Go on"))
    ),
    tags$p(class = "problem", id = "problem", role = "alert")
  )
}

send_button <- function(words, ...) htmltools::tags$button(type = "submit", ..., words)

card_step <- function(facts) {
  tags <- htmltools::tags
  list(
    tags$p(class = "eyebrow", "Next step"), tags$p(class = "large", facts$words),
    send_button("Done", name = "do", value = "done"),
    tags$div(
      class = "others", send_button("It did not start", name = "do", value = "no_start"),
      send_button("Stop here, go on later", name = "do", value = "stop")
    )
  )
}

card_play <- function(facts) {
  tags <- htmltools::tags
  due <- facts$due
  words <- setdiff(outcomes_said, c("ok", "interrupted"))
  list(
    tags$p(class = "eyebrow", "Now"), tags$p(class = "large", pass_words(facts$facts)),
    if (length(facts$how)) tags$p(class = "how", paste(facts$how, collapse = " ")),
    mark_buttons(facts$marks),
    lapply(seq_len(NROW(due)), function(i) {
      number_field(due[i, , drop = FALSE])
    }),
    if (isTRUE(facts$frames)) log_field(),
    tags$label("What happened? ", tags$select(
      name = "outcome", tags$option(value = "ok", "it ran to its end"),
      lapply(words, function(w) tags$option(value = w, gsub("_", " ", w)))
    )),
    text_field("note", "Anything seen or felt?"),
    tags$label("A picture as proof ", tags$input(type = "file", name = "proof", accept = "image/*")),
    send_button("Store this pass"),
    tags$div(class = "others", send_button("Stop, and run it again later", name = "outcome", value = "interrupted"))
  )
}

card_pair <- function(facts) {
  tags <- htmltools::tags
  list(
    tags$p(class = "eyebrow", paste0("Pair ", facts$pair, " of ", facts$pairs, ", ", facts$workload)),
    tags$p(class = "large", "Which of the two was better?"), text_field("note", "Anything seen or felt?"),
    send_button("The first", name = "choice", value = "first"),
    send_button("The second", name = "choice", value = "second"),
    send_button("No difference", name = "choice", value = "none"),
    tags$div(class = "others", send_button("Stop here, judge it later", name = "choice", value = "stop"))
  )
}

card_value <- function(facts) {
  list(
    number_field(facts, "value"),
    text_field("why", "If there is none, why?"), send_button("Store it")
  )
}

# a number that is due: `segment`, `metric`, `unit`
number_field <- function(due, name = typed_name(empty_to(due$segment, NA), due$metric)) {
  unit <- empty_na(empty_to(due$unit, ""))
  called <- typed_name(empty_to(due$segment, NA), due$metric)
  text_field(name, paste0(called, if (nzchar(unit)) paste0(" (", unit, ")")), large = TRUE, mode = "decimal")
}

text_field <- function(name, label, large = FALSE, mode = "text") {
  tags <- htmltools::tags
  tags$label(
    class = if (large) "due", label,
    tags$input(type = "text", name = name, inputmode = mode, maxlength = 2000, autocapitalize = "none")
  )
}

log_field <- function() {
  tags <- htmltools::tags
  list(
    tags$label("Its frame log ", tags$input(type = "file", name = "log")),
    tags$div(class = "others", tags$button(type = "button", `data-clear` = "log", "No, not this log"))
  )
}

mark_buttons <- function(marks) {
  tags <- htmltools::tags
  if (!length(marks)) {
    return(NULL)
  }
  button <- function(word, value = "") {
    tags$button(
      type = "submit", formaction = "mark", formnovalidate = NA, name = "mark", value = trimws(paste(word, value)),
      `data-mark` = word, `data-value` = value, trimws(paste(word, value))
    )
  }
  tags$div(
    class = "marks", lapply(marks$arms, button, word = "arm"), lapply(marks$segments, button, word = "segment"),
    button("pause"), button("resume")
  )
}
