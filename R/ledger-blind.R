# Blind pairs in a ledger: their order, what was said of each, and that the arms were shown.

#' Pairs of the batch that was sealed last
#' @return `NULL` where it has none; else a list: `batch`, `withheld`, `given_up`, `hash`, `secret`.
#' @noRd
#' @export
store_blind.honestmargin_ledger <- function(store) blind_of_batch(store, max(0L, store_batches(store)))

blind_of_batch <- function(store, batch) {
  events <- ledger_events(store)
  order <- event_details(events, "blind order", batch)
  if (!length(order)) {
    return(NULL)
  }
  shown <- event_details(events, "revealed", batch)
  list(
    batch = batch, withheld = !length(shown), given_up = length(shown) > 0 && isTRUE(shown[[1]]$given_up),
    hash = order[[1]]$hash, secret = order[[1]]$secret
  )
}

# asked whenever a ledger is opened
#' @export
store_withheld.honestmargin_ledger <- function(store) {
  count <- DBI::dbGetQuery(
    store$con, "SELECT count(*) AS n, kind FROM act WHERE kind IN ('blind order', 'revealed') GROUP BY kind"
  )
  of <- function(kind) sum(count$n[count$kind == kind])
  of("blind order") > of("revealed")
}

#' Fix the order of a batch of pairs
#' @return The passes in that order.
#' @noRd
seal_blind <- function(store, plan, batch, after) {
  secret <- random_key()
  passes <- plan_schedule(plan, batch, after, coins_of(secret))
  write_act(store, "blind order", list(detail = list(
    batch = batch, hash = blind_hash(passes, secret), secret = secret
  )), id = act_id("blind order", batch))
  passes
}

# coins that follow from a secret, so that whoever is told it can throw them again
coins_of <- function(secret) {
  function(what, ...) {
    strtoi(substr(cli::hash_sha256(paste(secret, what, ..., sep = "\r")), 1, 7), 16L) %% 2L == 1L
  }
}

#' What is shown of an order before it is: whoever has the order and the secret can work it out again
#' @param schedule Data frame with `pass` and `arm`, in order.
#' @noRd
blind_hash <- function(schedule, secret) {
  cli::hash_sha256(paste(c(secret, paste(schedule$pass, schedule$arm)), collapse = "\n"))
}

#' @export
store_reveal.honestmargin_ledger <- function(store, given_up = FALSE) {
  batch <- store_blind(store)$batch
  store_event(store, "revealed", detail = list(batch = batch, given_up = given_up), once = batch)
}

#' @export
store_judge.honestmargin_ledger <- function(store, pair, said) {
  place <- list(batch = pair$batch, block = pair$block, workload = pair$workload)
  store_event(store, "judged",
    pass = pair$pass, detail = c(place, choice = said$choice), reason = empty_to(said$note, NA_character_),
    once = unlist(place)
  )
}

#' @export
store_pairs.honestmargin_ledger <- function(store, batch = NULL) {
  batch <- empty_to(batch, max(0L, store_batches(store)))
  plan <- store_plan(store, batch)
  passes <- DBI::dbGetQuery(store$con, paste(
    "SELECT pass.*, ended.outcome FROM pass LEFT JOIN ended USING (pass)",
    "WHERE batch = $1 AND role = 'counted' AND extra = 0 ORDER BY position"
  ), list(batch))
  passes <- passes[passes$workload %in% blind_workloads(plan), , drop = FALSE]
  events <- ledger_events(store)
  events <- events[events$kind == "judged", , drop = FALSE]
  said <- lapply(events$detail, jsonlite::fromJSON)
  of <- function(column) vapply(said, function(one) as.character(one[[column]]), "")
  key <- paste(of("batch"), of("block"), of("workload"), sep = "\r")
  stack_rows(lapply(split_in_order(seq_len(nrow(passes)), passes$block, passes$workload), function(at) {
    rows <- passes[at, , drop = FALSE]
    first <- rows$start %% 2 == 1
    well <- rows$outcome %in% outcomes_well
    here <- match(paste(batch, rows$block[1], rows$workload[1], sep = "\r"), key)
    data.frame(
      batch = batch, block = rows$block[1], workload = rows$workload[1], first = rows$arm[first][1],
      second = rows$arm[!first][1], pass = utils::tail(rows$pass, 1), whole = any(well & first) && any(well & !first),
      choice = of("choice")[here], note = events$reason[here]
    )
  }))
}

#' What a study keeps of its pairs once they are shown
#' @return `NULL` where it has none; else a list: `pairs` (from `store_pairs()`), `hash`, `secret`, `kept` (whether the
#'   order is the one that was fixed), `given_up`.
#' @noRd
shown_pairs <- function(store, batch) {
  blind <- blind_of_batch(store, batch)
  if (is.null(blind)) {
    return(NULL)
  }
  planned <- DBI::dbGetQuery(store$con, paste(
    "SELECT pass, arm FROM pass WHERE batch = $1 AND instead_of IS NULL AND extra = 0 ORDER BY position"
  ), list(batch))
  c(
    list(pairs = store_pairs(store, batch), kept = identical(blind_hash(planned, blind$secret), blind$hash)),
    blind[c("hash", "secret", "given_up")]
  )
}
