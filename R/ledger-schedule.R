# Passes that the plan did not have from the start. What is worked out here is worked out inside the turn.

#' @export
store_again.honestmargin_ledger <- function(store, pass, reason, most) {
  hold_turn(store, {
    root <- if (is.na(pass$instead_of)) pass$pass else pass$instead_of
    tries <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM pass WHERE instead_of = $1", list(root))$n
    if (tries < most) try_again(store, root, tries + 2L, reason)
    tries < most
  })
}

try_again <- function(store, root, attempt, reason) {
  new <- store_pass(store, root)
  new[c("pass", "position", "attempt", "instead_of")] <- list(next_id(store), new$position + 0.001, attempt, root)
  about <- list(pass = new$pass, detail = list(instead_of = root), reason = reason)
  write_act(store, "run again", about, list(pass = new), id = act_id("run again", root, attempt))
}

next_id <- function(store) next_ids(store, 1L)

# ids of before version 4 may be in the way
next_ids <- function(store, most) {
  known <- DBI::dbGetQuery(store$con, "SELECT pass FROM pass")$pass
  setdiff(sprintf("p%03d", length(known) + seq_len(most + length(known))), known)[seq_len(most)]
}

#' @export
store_extra.honestmargin_ledger <- function(store, place) {
  hold_turn(store, {
    there <- DBI::dbGetQuery(store$con, "SELECT * FROM pass")
    batch <- max(there$batch)
    open <- is.na(place$block) && place$role == "counted"
    if (open) place$block <- further_block(there[there$batch == batch, ], place)
    pass <- data.frame(
      pass = next_id(store), batch = batch, position = max(there$position) + 1, block = as.character(place$block),
      start = NA_integer_,
      context = place$context, arm = place$arm, workload = place$workload, role = place$role, attempt = 1L,
      instead_of = NA_character_, extra = 1L
    )
    about <- list(pass = pass$pass, detail = place, reason = "no scheduled pass of this kind was left")
    write_act(store, "extra pass", about, list(pass = pass))
    pass
  })
}

# passes beyond the plan are further blocks: the first of each arm make one, the second ones the next
further_block <- function(there, place) {
  if (all(is.na(there$block))) {
    return(NA_character_)
  }
  number <- suppressWarnings(as.integer(there$block))
  planned <- max(0L, number[there$extra == 0], na.rm = TRUE)
  alike <- there$arm == place$arm & there$workload == place$workload & there$context %in% place$context
  as.character(max(planned, number[alike], na.rm = TRUE) + 1L)
}

#' @export
store_extend.honestmargin_ledger <- function(store, blocks, batch, said = TRUE) {
  hold_turn(store, {
    there <- DBI::dbGetQuery(store$con, "SELECT * FROM pass WHERE batch = $1", list(batch))
    done <- DBI::dbGetQuery(
      store$con, "SELECT count(*) AS n FROM ended JOIN pass USING (pass) WHERE batch = $1", list(batch)
    )$n
    plan <- store_plan(store, batch)
    if (is_blind(plan)) {
      abort_input("blind pairs are not added to once their arms were shown", store$folder,
        paste("a fresh batch has new ones: honestmargin repeat", store$folder)
      )
    }
    if (is_search(plan)) plan <- compared_plan(plan, found_and_compared(store, plan))
    new <- further_blocks(store, plan, blocks, batch, there)
    detail <- list(blocks = blocks, after = done, first = new$pass[1])
    write_act(store, if (said) "extended" else "block added", list(detail = detail), list(pass = new))
    nrow(new)
  })
}

further_blocks <- function(store, plan, blocks, batch, there) {
  before <- suppressWarnings(max(0L, as.integer(there$block), na.rm = TRUE))
  plan$blocks <- blocks
  plan$seed <- plan$seed + 100 * before
  all <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n, max(position) AS last FROM pass")
  new <- plan_schedule(plan, batch, after = all$n)
  if (plan$setting$restart != "machine") new <- new[new$role != "warm_up", , drop = FALSE]
  new$pass <- next_ids(store, nrow(new))
  new$block <- ifelse(is.na(new$block), NA, as.character(as.integer(new$block) + before))
  new$start <- new$start + max(0L, there$start, na.rm = TRUE)
  new$position <- all$last + seq_len(nrow(new))
  new$extra <- 1L
  new
}

# of a search further blocks are those of the comparison at its end
found_and_compared <- function(store, plan) {
  arms <- setdiff(store_compared(store), plan$setting$baseline)
  if (!length(arms)) {
    abort_input("nothing is compared yet", store$folder, paste("see how far it is: honestmargin search", store$folder))
  }
  utils::tail(arms, 1)
}

#' @export
store_rung.honestmargin_ledger <- function(store, place, asked = FALSE) {
  hold_turn(store, {
    last <- DBI::dbGetQuery(store$con, "SELECT max(position) AS at FROM pass")$at
    pass <- data.frame(
      pass = next_id(store), batch = place$batch, position = max(0, last, na.rm = TRUE) + 1, block = NA_character_,
      start = next_start(store, place), context = NA_character_, arm = place$arm, workload = place$workload,
      role = place$role, attempt = 1L, instead_of = NA_character_, extra = as.integer(asked)
    )
    write_act(store, "next pass", list(pass = pass$pass), list(pass = pass))
    pass
  })
}

# where the machine starts anew for each value, passes of one value in a row share the start
next_start <- function(store, place) {
  last <- DBI::dbGetQuery(store$con, "SELECT arm, start FROM pass ORDER BY position DESC LIMIT 1")
  if (!nrow(last)) 1L else as.integer(last$start + (last$arm != place$arm))
}

#' @export
store_compare.honestmargin_ledger <- function(store, schedule) {
  hold_turn(store, {
    all <- DBI::dbGetQuery(store$con, "SELECT max(position) AS last, max(start) AS start FROM pass")
    schedule$pass <- next_ids(store, nrow(schedule))
    schedule$position <- all$last + seq_len(nrow(schedule))
    schedule$start <- schedule$start + all$start
    schedule$block <- as.character(schedule$block)
    write_act(store, "comparison", rows = list(pass = schedule))
  })
}
