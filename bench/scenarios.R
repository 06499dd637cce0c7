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
    nothing = nothing, other = other_scenarios(),
    coverage = list(
      `difference 1 %` = list(effect = log(1.01), blocks = 5),
      `difference 5 %` = list(effect = log(1.05), blocks = 5, sd = 0.02)
    ),
    at_worth = list(`truth at the worth of 2 %` = list(effect = log(1.02), blocks = 10))
  )
}

# Outcomes, counts, stored noise, before and after: each gives one study in which nothing differs, and whether it was
# called a difference.
other_scenarios <- function() {
  differs <- function(v, metric) any(v$differs[v$metric == metric] %in% "yes")
  outcomes <- function(n, p) {
    function() {
      rows <- data.frame(arm = rep(c("a", "b"), n), outcome = ifelse(runif(2 * n) < p, "crash", "ok"))
      differs(weigh(rows, baseline = "a", primary = "failed"), "failed")
    }
  }
  boots <- function() {
    boot <- sample(rep(paste0(rep(c("a", "b"), each = 6), 1:6)))
    bad <- stats::setNames(runif(12) < 0.3, unique(boot))
    rows <- data.frame(boot = rep(boot, each = 4), order = 1:48)
    rows$arm <- substr(rows$boot, 1, 1)
    rows$outcome <- ifelse(runif(48) < ifelse(bad[rows$boot], 0.8, 0.05), "crash", "ok")
    differs(weigh(rows, baseline = "a", primary = "failed"), "failed")
  }
  counts <- function(mean, dispersion, n = 5) {
    function() {
      level <- if (dispersion > 0) mean * rgamma(2 * n, 1 / dispersion, 1 / dispersion) else rep(mean, 2 * n)
      rows <- data.frame(arm = rep(c("a", "b"), n), block = rep(seq_len(n), each = 2), metric = "deep_drops")
      rows$value <- rpois(2 * n, level)
      differs(weigh(rows, baseline = "a"), "deep_drops")
    }
  }
  stored <- function(df, studies) {
    function() {
      sds <- 0.01 * exp(rnorm(studies, sd = 0.3))
      memory <- data.frame(
        workload = "main", metric = "score", scale = "percent", df_total = df, study = seq_len(studies),
        total = 100 * expm1(sds * sqrt(rchisq(studies, df) / df)), day = "2026-01-01"
      )
      now <- 0.01 * exp(rnorm(1, sd = 0.3))
      rows <- data.frame(arm = c("a", "b"), value = 100 * exp(rnorm(2, sd = now)))
      differs(weigh(rows, baseline = "a", noise = honestmargin:::pool_noise(memory)), "score")
    }
  }
  repeats <- function() {
    rows <- data.frame(arm = c("a", "b", "a", "c", "a", "d", "a"), value = 100 * exp(rnorm(7, sd = 0.01)), order = 1:7)
    differs(weigh(rows, baseline = "a", noise = "baseline"), "score")
  }
  days <- function(k) {
    function() {
      y <- rep(rnorm(k + 1, sd = 0.02), each = 4) + rnorm(4 * k + 4, sd = 0.005)
      found <- honestmargin:::estimate_against(list2DF(list(study = rep(seq_len(k + 1), each = 4), y = y)))
      abs(found$estimate) > qt(0.975, found$df) * found$se
    }
  }
  anchored <- function() {
    day <- rep(rnorm(2, sd = 0.02), each = 6)
    one <- function() list2DF(list(study = rep(1:2, each = 6), y = day + rnorm(12, sd = 0.005), order = rep(1:6, 2)))
    found <- honestmargin:::estimate_against(one(), one())
    abs(found$estimate) > qt(0.975, found$df) * found$se
  }
  list(
    `outcomes 3 v 3, half fail` = outcomes(3, 0.5), `outcomes 5 v 5, 20 % fail` = outcomes(5, 0.2),
    `outcomes 10 v 10, half fail` = outcomes(10, 0.5), `outcomes 40 v 40, 5 % fail` = outcomes(40, 0.05),
    `outcomes clustered by boot` = boots, `counts, mean 0.2` = counts(0.2, 0), `counts, mean 10` = counts(10, 0),
    `counts, mean 10, dispersion 1` = counts(10, 1), `counts, mean 40, dispersion 1` = counts(40, 1),
    `stored noise, 3 df, 1 study` = stored(3, 1), `stored noise, 30 df, 1 study` = stored(30, 1),
    `stored noise, 10 df, 4 studies` = stored(10, 4), `repeats of the baseline, 3 arms` = repeats,
    `against 2 earlier days` = days(2), `against 5 earlier days` = days(5), `one day each, anchored` = anchored
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
    lapply(names(scenarios$other), function(n) {
      row("false 'differs'", n, mean(replicate(studies, scenarios$other[[n]]())), "5 % or less")
    }),
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
