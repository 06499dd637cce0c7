# Simulated studies with known truth, weighed through the public weigh().

# One study as a readings table. `effect` is the true change of every arm but
# the first, in log units; `sd` one per arm; `order` as a plan says it.
make_study <- function(arms = 2, blocks = 5, sd = 0.01, effect = 0, block_sd = 0.02, order = "shuffled", warming = 0, draw = rnorm, holes = 0,
                       blocked = TRUE, per_arm = NULL, boots = NULL) {
  names <- letters[seq_len(arms)]
  if (!is.null(boots)) {
    rows <- expand.grid(pass_in = seq_len(boots[2]), boot = seq_len(boots[1]), arm = names, stringsAsFactors = FALSE)
    rows$boot <- paste(rows$arm, rows$boot)
    shift <- rnorm(arms * boots[1], sd = 0.01)
    rows$block <- NA
    base <- shift[match(rows$boot, unique(rows$boot))]
  } else if (blocked) {
    rows <- do.call(rbind, lapply(seq_len(blocks), function(b) {
      data.frame(
        block = b,
        arm = switch(order,
          shuffled = sample(names),
          mirrored = if (b %% 2) names else rev(names),
          fixed = names
        )
      )
    }))
    base <- rnorm(blocks, sd = block_sd)[rows$block]
  } else {
    rows <- data.frame(block = NA, arm = sample(rep(names, per_arm)))
    base <- 0
  }
  rows$order <- seq_len(nrow(rows))
  noise <- rep_len(sd, arms)[match(rows$arm, names)] * draw(nrow(rows))
  rows$value <- 100 * exp(base + noise + effect * (rows$arm != "a") + warming * rows$order)
  if (holes > 0) rows <- rows[runif(nrow(rows)) >= holes, ]
  if (!is.null(boots)) rows$order <- NA
  rows[intersect(c("arm", "block", "boot", "order", "value"), names(rows))]
}

heavy <- function(n) rt(n, 3) / sqrt(3)
mishaps <- function(n) rnorm(n) - 10 * (runif(n) < 0.05)

small_scenarios <- function() {
  nothing <- list(
    `normal, 5 blocks, 3 arms` = list(arms = 3, blocks = 5),
    `normal, 10 blocks, 4 arms` = list(arms = 4, blocks = 10),
    `large block effects` = list(arms = 3, blocks = 5, block_sd = 0.1),
    `heavy tails (t, 3 df)` = list(arms = 3, blocks = 5, draw = heavy),
    `bad passes (-10 % in 5 %)` = list(arms = 3, blocks = 10, draw = mishaps),
    `baseline three times noisier` = list(arms = 4, blocks = 5, sd = c(0.03, 0.01, 0.01, 0.01)),
    `warming, shuffled` = list(arms = 3, blocks = 6, warming = 0.001),
    `warming, mirrored` = list(arms = 3, blocks = 6, warming = 0.001, order = "mirrored"),
    `holes (15 %)` = list(arms = 3, blocks = 8, holes = 0.15),
    `no blocks, 3 against 10` = list(blocked = FALSE, per_arm = c(3, 10)),
    `3 boots of 3 passes` = list(arms = 2, boots = c(3, 3))
  )
  list(
    nothing = nothing,
    coverage = list(
      `difference 1 %` = list(effect = log(1.01), blocks = 5),
      `difference 5 %` = list(effect = log(1.05), blocks = 5, sd = 0.02)
    ),
    at_worth = list(`truth at the worth of 2 %` = list(effect = log(1.02), blocks = 10))
  )
}

share_of <- function(setting, studies, hit) {
  kept <- replicate(studies, {
    v <- weigh(do.call(make_study, setting), baseline = "a", worth = 2)
    hit(v)
  })
  mean(kept, na.rm = TRUE)
}

run_calibration <- function(scenarios, studies, seed = 20) {
  set.seed(seed)
  row <- function(what, name, share, limit) {
    data.frame(
      what = what, scenario = name, share = share, error = sqrt(share * (1 - share) / studies), wanted = limit
    )
  }
  parts <- c(
    lapply(names(scenarios$nothing), function(n) {
      row(
        "false 'differs'", n, share_of(scenarios$nothing[[n]], studies, function(v) any(v$differs %in% "yes")),
        "5 % or less"
      )
    }),
    lapply(names(scenarios$coverage), function(n) {
      truth <- 100 * (exp(scenarios$coverage[[n]]$effect) - 1)
      row(
        "interval holds truth", n,
        share_of(scenarios$coverage[[n]], studies, function(v) v$lower <= truth & truth <= v$upper), "95 % or more"
      )
    }),
    lapply(names(scenarios$at_worth), function(n) {
      row(
        "false 'negligible'", n, share_of(scenarios$at_worth[[n]], studies, function(v) v$verdict == "negligible"),
        "5 % or less"
      )
    })
  )
  do.call(rbind, parts)
}

print_calibration <- function(table) {
  cat(
    sprintf(
      "%-22s %-32s %7.2f %% +- %.2f   wanted %s\n", table$what, table$scenario, 100 * table$share,
      100 * table$error, table$wanted
    ),
    sep = ""
  )
}
