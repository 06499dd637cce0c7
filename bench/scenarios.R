# Simulated studies with known truth, weighed through the public functions: the cells of the calibration table.

# One study as a readings table. `effect` is the true change of every arm but
# the first, in log units; `sd` one per arm; `order` as a plan says it.
make_study <- function(arms = 2, blocks = 5, sd = 0.01, effect = 0, block_sd = 0.02, order = "shuffled", warming = 0,
                       draw = rnorm, holes = 0, blocked = TRUE, per_arm = NULL, boots = NULL, repeats = 1) {
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
        arm = rep(switch(order,
          shuffled = sample(names),
          mirrored = if (b %% 2) names else rev(names),
          fixed = names
        ), each = repeats)
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
skewed <- function(n) rexp(n) - 1
passes_of_arms <- function(arm, sd = 0.01, drift = 0, ...) {
  rows <- data.frame(arm = arm, order = seq_along(arm), ...)
  rows$value <- 100 * exp(rnorm(nrow(rows), sd = rep_len(sd, nrow(rows))) + drift * rows$order)
  rows
}

# a cell: what is counted, of which studies, and how much of it there may be
cell <- function(what, scenario, wanted, one, beside = NULL, weak = FALSE) {
  list(what = what, scenario = scenario, wanted = wanted, one = one, beside = beside, weak = weak)
}
differs <- function(v) any(v$differs %in% "yes")

# a tester who takes passes for independent and looks at each arm alone
t_without_blocks <- function(rows) {
  any(vapply(setdiff(unique(rows$arm), "a"), function(arm) {
    t.test(log(rows$value[rows$arm == arm]), log(rows$value[rows$arm == "a"]))$p.value < 0.05
  }, NA))
}

null_cells <- function() {
  said <- list(
    `3 blocks, 4 arms` = list(arms = 4, blocks = 3), `5 blocks, 3 arms` = list(arms = 3, blocks = 5),
    `10 blocks, 4 arms` = list(arms = 4, blocks = 10), `20 blocks, 2 arms` = list(arms = 2, blocks = 20),
    `large block effects` = list(arms = 3, blocks = 5, block_sd = 0.1),
    `heavy tails (t, 3 df)` = list(arms = 3, blocks = 5, draw = heavy),
    `skew alike in all arms` = list(arms = 3, blocks = 5, draw = skewed),
    `bad passes (-10 % in 5 %)` = list(arms = 3, blocks = 10, draw = mishaps),
    `baseline three times noisier` = list(arms = 4, blocks = 5, sd = c(0.03, 0.01, 0.01, 0.01)),
    `one arm three times noisier` = list(arms = 4, blocks = 5, sd = c(0.01, 0.03, 0.01, 0.01)),
    `one of six arms ten times noisier` = list(arms = 6, blocks = 5, sd = c(0.01, 0.1, 0.01, 0.01, 0.01, 0.01)),
    `warming 1 % a pass, shuffled` = list(arms = 3, blocks = 6, warming = 0.01),
    `warming 1 % a pass, mirrored` = list(arms = 3, blocks = 6, warming = 0.01, order = "mirrored"),
    `fixed order, drift 0.5 % a pass` = list(arms = 2, blocks = 6, warming = 0.005, order = "fixed", block_sd = 0.05),
    `holes (15 %)` = list(arms = 3, blocks = 8, holes = 0.15),
    `three passes per block and arm` = list(arms = 3, blocks = 5, repeats = 3)
  )
  blocks <- lapply(names(said), function(name) {
    cell("false 'differs'", name, "5 % or less", function() {
      rows <- do.call(make_study, said[[name]])
      c(differs(weigh(rows, baseline = "a", worth = 2)), t_without_blocks(rows))
    }, "t without blocks")
  })
  others <- list(
    `no blocks, 5 against 5` = function() make_study(blocked = FALSE, per_arm = c(5, 5)),
    `no blocks, 3 against 10` = function() make_study(blocked = FALSE, per_arm = c(3, 10)),
    `no blocks, 12 against 3, the few noisier` = function() {
      make_study(blocked = FALSE, per_arm = c(12, 3), sd = c(0.01, 0.03))
    },
    `no blocks, 2 against 12, the few noisier` = function() {
      make_study(blocked = FALSE, per_arm = c(12, 2), sd = c(0.01, 0.03))
    },
    `3 boots of 3 passes` = function() make_study(boots = c(3, 3)),
    `5 boots of 3 passes` = function() make_study(boots = c(5, 3)),
    `boots of one arm first, drift` = function() {
      passes_of_arms(rep(c("a", "b"), each = 15), 0.003, 0.002, boot = rep(1:10, each = 3))
    },
    `one return (A B A)` = function() {
      rows <- passes_of_arms(rep(c("a", "b", "a"), each = 5))
      transform(rows, value = value * exp(rep(rnorm(3, sd = 0.01), each = 5)))
    },
    `runs of two` = function() {
      rows <- passes_of_arms(rep(rep(c("a", "b"), each = 2), 4))
      transform(rows, value = value * exp(rep(rnorm(8, sd = 0.01), each = 2)))
    },
    `one boot holds both arms` = function() {
      rows <- data.frame(boot = rep(1:7, each = 4), arm = rep(c("a", "b", "a", "b", "a", "b", "a"), each = 4))
      rows$arm[25:28] <- c("a", "b", "a", "b")
      transform(rows, value = 100 * exp(rnorm(7, sd = 0.02)[boot] + rnorm(28, sd = 0.003)))
    },
    `two contexts` = function() {
      rbind(transform(make_study(3), context = "low"), transform(make_study(3), context = "high"))
    },
    `5 workloads x 3 correlated metrics` = function() {
      do.call(rbind, lapply(1:5, function(w) {
        rows <- make_study(3)
        do.call(rbind, lapply(1:3, function(m) {
          transform(rows, workload = w, metric = paste0("score", m), better = "higher",
            value = value * exp(rnorm(nrow(rows), sd = 0.005)), pass = paste(w, order)
          )
        }))
      }))
    }
  )
  sessions <- lapply(names(others), function(name) {
    cell("false 'differs'", name, "5 % or less", function() differs(weigh(others[[name]](), baseline = "a")))
  })
  skew <- function() {
    rows <- make_study(2, 5)
    transform(rows, value = 100 * exp(rnorm(5, sd = 0.02)[block] + 0.01 * ifelse(arm == "b", skewed(10), -skewed(10))))
  }
  c(blocks, sessions, list(
    cell("false 'differs'", "skew that differs between arms", "weak spot", function() {
      differs(weigh(skew(), baseline = "a"))
    }, weak = TRUE)
  ))
}

# looking after every block, and following the tool's own advice
look_cells <- function() {
  looks <- c(5, 6, 7, 8, 10, 12, 15, 20, 30, 40)
  looked <- function(...) {
    function() {
      rows <- make_study(..., blocks = 40)
      seen <- vapply(looks, function(n) differs(weigh(rows[rows$block <= n, ], baseline = "a", looks = TRUE)), NA)
      naive <- vapply(looks, function(n) t_in_blocks(rows[rows$block <= n, ]), NA)
      c(any(seen), any(naive))
    }
  }
  list(
    cell("false 'differs'", "ten looks up to 40 blocks, 2 arms", "5 % or less", looked(2), "first p < 0.05"),
    cell("false 'differs'", "ten looks, heavy tails", "5 % or less", looked(2, draw = heavy), "first p < 0.05"),
    cell("false 'differs'", "unclear, extended as advised, weighed again", "5 % or less", function() {
      rows <- make_study(2, 5)
      v <- weigh(rows, baseline = "a", worth = 2)
      if (v$verdict != "unclear" || !is.finite(v$more_passes)) {
        return(differs(v))
      }
      more <- make_study(2, min(v$more_passes, 40))
      more$block <- more$block + 5
      more$order <- more$order + 10
      differs(weigh(rbind(rows, more), baseline = "a", worth = 2, looks = TRUE))
    })
  )
}

t_in_blocks <- function(rows) {
  d <- log(rows$value[rows$arm == "b"][order(rows$block[rows$arm == "b"])] /
    rows$value[rows$arm == "a"][order(rows$block[rows$arm == "a"])])
  t.test(d)$p.value < 0.05
}

# outcomes, counts, stored noise, before and after
other_cells <- function() {
  of <- function(v, metric) differs(v[v$metric == metric, ])
  outcomes <- function(n, p) {
    function() {
      rows <- data.frame(arm = rep(c("a", "b"), n), outcome = ifelse(runif(2 * n) < p, "crash", "ok"))
      of(weigh(rows, baseline = "a", primary = "failed"), "failed")
    }
  }
  boots <- function() {
    boot <- sample(rep(paste0(rep(c("a", "b"), each = 6), 1:6)))
    bad <- stats::setNames(runif(12) < 0.3, unique(boot))
    rows <- data.frame(boot = rep(boot, each = 4), order = 1:48)
    rows$arm <- substr(rows$boot, 1, 1)
    rows$outcome <- ifelse(runif(48) < ifelse(bad[rows$boot], 0.8, 0.05), "crash", "ok")
    of(weigh(rows, baseline = "a", primary = "failed"), "failed")
  }
  counts <- function(mean, dispersion, other = dispersion, n = 5) {
    function() {
      level <- function(d) if (d > 0) mean * rgamma(n, 1 / d, 1 / d) else rep(mean, n)
      rows <- data.frame(arm = rep(c("a", "b"), n), block = rep(seq_len(n), each = 2), metric = "deep_drops")
      rows$value <- rpois(2 * n, as.vector(rbind(level(dispersion), level(other))))
      of(weigh(rows, baseline = "a"), "deep_drops")
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
      of(weigh(rows, baseline = "a", noise = honestmargin:::pool_noise(memory)), "score")
    }
  }
  repeats <- function() {
    rows <- data.frame(arm = c("a", "b", "a", "c", "a", "d", "a"), value = 100 * exp(rnorm(7, sd = 0.01)), order = 1:7)
    of(weigh(rows, baseline = "a", noise = "baseline"), "score")
  }
  leaves_zero <- function(found) abs(found$estimate) > qt(0.975, found$df) * found$se
  days <- function(k) {
    function() {
      y <- rep(rnorm(k + 1, sd = 0.02), each = 4) + rnorm(4 * k + 4, sd = 0.005)
      leaves_zero(honestmargin:::estimate_against(list2DF(list(study = rep(seq_len(k + 1), each = 4), y = y))))
    }
  }
  anchored <- function() {
    day <- rep(rnorm(2, sd = 0.02), each = 6)
    one <- function() list2DF(list(study = rep(1:2, each = 6), y = day + rnorm(12, sd = 0.005), order = rep(1:6, 2)))
    leaves_zero(honestmargin:::estimate_against(one(), one()))
  }
  # what the noise memory holds of studies on such days
  in_memory <- function(days, workload = "main") {
    k <- length(days)
    data.frame(
      study = seq_len(k), day = as.character(seq_len(k)), workload = workload, context = NA_character_,
      metric = "score", scale = "percent",
      unit = "", setting = "s", arm = "a", work = "w",
      level = 100 * exp(days + rnorm(k, sd = 0.005 / sqrt(6))), level_passes = 6,
      total = 100 * expm1(0.005 * sqrt(rchisq(k, 5) / 5)), df_total = 5
    )
  }
  cell_of <- list(workload = "main", context = NA_character_, metric = "score", unit = "", scale = "percent")
  remembered_days <- function(k, n) {
    function() {
      spread <- honestmargin:::spread_of_days(in_memory(rnorm(k, sd = 0.01)), cell_of)
      y <- rep(rnorm(2, sd = 0.01), n) + rnorm(sum(n), sd = 0.005)
      leaves_zero(honestmargin:::estimate_against(list2DF(list(study = rep(1:2, n), y = y)), days = spread))
    }
  }
  # workload and anchor move together by 2 %, and by 1 % each on its own
  moving_apart <- function(k) {
    function() {
      visit <- function(own) {
        list2DF(list(study = rep(1:2, each = 6), y = rep(own, each = 6) + rnorm(12, sd = 0.005), order = rep(1:6, 2)))
      }
      apart <- if (k) {
        day <- rnorm(k, sd = 0.02)
        memory <- rbind(in_memory(day + rnorm(k, sd = 0.01)), in_memory(day, "anchor"))
        honestmargin:::spread_of_days(memory, cell_of, "anchor")
      }
      day <- rnorm(2, sd = 0.02)
      leaves_zero(honestmargin:::estimate_against(visit(day + rnorm(2, sd = 0.01)), visit(day), apart = apart))
    }
  }
  one <- list(
    `outcomes 3 v 3, half fail` = outcomes(3, 0.5), `outcomes 5 v 5, 20 % fail` = outcomes(5, 0.2),
    `outcomes 10 v 10, half fail` = outcomes(10, 0.5), `outcomes 40 v 40, 5 % fail` = outcomes(40, 0.05),
    `outcomes clustered by boot` = boots, `counts, mean 0.2` = counts(0.2, 0), `counts, mean 1` = counts(1, 0),
    `counts, mean 10` = counts(10, 0), `counts, mean 10, dispersion 1` = counts(10, 1),
    `counts, mean 40, dispersion 1` = counts(40, 1),
    `stored noise, 3 df, 1 study` = stored(3, 1), `stored noise, 30 df, 1 study` = stored(30, 1),
    `stored noise, 10 df, 4 studies` = stored(10, 4), `repeats of the baseline, 3 arms` = repeats,
    `against 2 earlier days` = days(2), `against 5 earlier days` = days(5), `one day each, anchored` = anchored,
    `one day each, 3 remembered` = remembered_days(3, c(5, 5)),
    `one day each, 3 remembered, 1 pass now` = remembered_days(3, c(5, 1)),
    `one day each, anchor that moves apart, 5 remembered` = moving_apart(5)
  )
  c(
    lapply(names(one), function(name) cell("false 'differs'", name, "5 % or less", one[[name]])),
    list(cell(
      "false 'differs'", "counts, mean 10, dispersion 0 against 1", "weak spot", counts(10, 0, 1),
      weak = TRUE
    ), cell(
      "false 'differs'", "one day each, anchor that moves apart, none remembered", "weak spot", moving_apart(0),
      weak = TRUE
    ))
  )
}

# more than one comparison, one answer
overall_cells <- function() {
  crossed <- function(workloads, blocks, shared) {
    rows <- expand.grid(arm = c("a", "b"), workload = paste0("w", seq_len(workloads)), block = seq_len(blocks))
    rows[c("arm", "workload")] <- lapply(rows[c("arm", "workload")], as.character)
    day <- matrix(rnorm(blocks * 2, sd = shared), blocks)[cbind(rows$block, 1 + (rows$arm == "b"))]
    rows$value <- 100 * exp(day + rnorm(nrow(rows), sd = 0.01))
    rows
  }
  over <- function(workloads, column) {
    function() {
      rows <- crossed(workloads, 5, 0.01)
      found <- weigh_overall(rows, baseline = "a")$overall
      each <- log(rows$value[rows$arm == "b"] / rows$value[rows$arm == "a"])
      each <- tapply(each, rows$workload[rows$arm == "a"], mean)
      c(found[[column]] != "unclear", t.test(each)$p.value < 0.05)
    }
  }
  list(
    cell("false 'differs'", "over 3 workloads that share noise", "5 % or less", over(3, "verdict"), "t over workloads"),
    cell("false 'differs'", "over 10 workloads that share noise", "5 % or less", over(10, "verdict"),
      "t over workloads"),
    cell("false 'differs'", "workloads like these, 5", "5 % or less", over(5, "like_verdict"), "t over workloads"),
    cell("a best arm is lost", "5 equal arms, 5 blocks", "5 % or less", function() {
      rows <- make_study(5, 5)
      best <- weigh_overall(rows, baseline = "a")$best
      c(!all(best$could), TRUE)
    }, "highest mean alone is best"),
    cell("not good enough is named", "plateau, one value 2 % worse", "5 % or less", function() {
      rows <- make_study(4, 6, sd = 0.03)
      rows$value <- rows$value * ifelse(rows$arm == "c", 0.98, 1)
      rows$arm <- c(a = "100", b = "200", c = "400", d = "800")[rows$arm]
      from <- weigh_overall(rows, baseline = "100", worth = 2, ordered = TRUE)$plateau$from
      c(from %in% c("100", "200", "400"), names(which.max(tapply(rows$value, rows$arm, mean))) == "400")
    }, "highest mean wins")
  )
}

# does the interval hold what was put in, and is negligible earned?
cover_cells <- function() {
  cover <- function(percent, ...) {
    function() {
      v <- weigh(make_study(..., effect = log1p(percent / 100)), baseline = "a")
      all(v$lower <= percent & percent <= v$upper)
    }
  }
  at_worth <- function(...) {
    function() any(weigh(make_study(..., effect = log(1.02)), baseline = "a", worth = 2)$verdict == "negligible")
  }
  c(
    lapply(c(0, 1, 2, 5), function(p) {
      cell("interval holds truth", paste0("difference ", p, " %, 4 arms"), "95 % or more", cover(p, arms = 4))
    }),
    list(
      cell("false 'negligible'", "truth at the worth of 2 %, 2 arms", "5 % or less", at_worth(arms = 2, blocks = 10)),
      cell("false 'negligible'", "truth at the worth of 2 %, 4 arms", "5 % or less", at_worth(arms = 4, blocks = 10))
    )
  )
}

# what is found: a difference of three times the noise of a pass, one of the arms
power_cells <- function() {
  found <- function(arms) {
    function() {
      rows <- make_study(arms, 5)
      rows$value <- rows$value * ifelse(rows$arm == "b", exp(0.03), 1)
      v <- weigh(rows, baseline = "a")
      c(v$differs[v$arm == "b"] %in% "yes", own_variance(rows, arms))
    }
  }
  lapply(c(4, 6), function(arms) {
    cell("found", paste0("3 times the noise, ", arms, " arms, 5 blocks"), "more than alone", found(arms),
      "each arm alone")
  })
}

own_variance <- function(rows, arms) {
  d <- log(rows$value[rows$arm == "b"][order(rows$block[rows$arm == "b"])] /
    rows$value[rows$arm == "a"][order(rows$block[rows$arm == "a"])])
  t.test(d)$p.value < 1 - 0.95^(1 / (arms - 1))
}

# what was false once, and what was done about it
break_cells <- function() {
  letters_of <- function(text) strsplit(text, "")[[1]]
  # a state of the machine that is drawn anew at each switch of the arm
  stateful <- function(arm, sd = 0.01) {
    runs <- rle(arm)$lengths
    rows <- passes_of_arms(arm)
    transform(rows, value = value * exp(rep(rnorm(length(runs), sd = sd), runs)))
  }
  slow_first <- function(arms, blocks) {
    rows <- make_study(arms, blocks, order = "mirrored")
    first <- !duplicated(rows$block)
    transform(rows, value = value * ifelse(first, 0.97, 1))
  }
  lumps <- function(arms, blocks, workloads) {
    do.call(rbind, lapply(seq_len(workloads), function(w) {
      rows <- make_study(arms, blocks, sd = 0.002)
      transform(rows, workload = paste0("w", w), value = value * exp(0.03 * (runif(nrow(rows)) < 0.5)))
    }))
  }
  once <- function(workloads, state) {
    rows <- data.frame(arm = rep(c("a", "b"), workloads), workload = rep(paste0("w", seq_len(workloads)), each = 2))
    shift <- rnorm(2, sd = state)
    transform(rows, value = 100 * exp(ifelse(arm == "a", shift[1], shift[2]) + rnorm(nrow(rows), sd = 0.01)))
  }
  over_once <- function(workloads, state) {
    function() {
      found <- weigh_overall(once(workloads, state), baseline = "a")$overall
      any(c(found$verdict, found$like_verdict) %in% c("gain", "loss"))
    }
  }
  disagree <- function(workloads, blocks) {
    function() {
      rows <- do.call(rbind, lapply(seq_len(workloads), function(w) {
        transform(make_study(2, blocks), workload = paste0("w", w))
      }))
      weigh_overall(rows, baseline = "a")$overall$differ %in% "yes"
    }
  }
  one_stint <- function() {
    rows <- passes_of_arms(rep(c("a", "b"), each = 5), drift = 0.005)
    transform(rows, block = rep(1:5, 2))
  }
  floors <- function() {
    rows <- data.frame(arm = "a", block = rep(1:5, each = 3))
    rows$value <- 60 * exp(rnorm(5, sd = 0.02)[rows$block] + rnorm(15, sd = 0.01))
    weigh_floors(rows, c(score = 60))$stays != "unclear"
  }
  next_pass <- function() {
    draw <- function(n) exp(rnorm(n, sd = 0.01)) * ifelse(runif(n) < 0.1, 0.9, 1)
    rows <- data.frame(arm = "a", value = 100 * draw(10))
    found <- weigh_floors(rows, c(score = 1), next_pass = TRUE)
    100 * draw(1) < found$next_lower
  }
  together <- function() {
    metrics <- lapply(c("speed", "heat"), function(m) {
      rows <- make_study(5, 6)
      # at the edge of one claim, well within the other
      up <- if (m == "heat") 0 else log(0.98)
      transform(rows, metric = m, better = "higher", value = value * ifelse(arm == "a", 1, exp(up)), pass = order)
    })
    found <- weigh_together(do.call(rbind, metrics), c(speed = "as_good", heat = "as_good"),
      baseline = "a", worth = c(speed = 2, heat = 10)
    )
    any(tapply(found$holds, found$arm, all))
  }
  claims <- function() {
    one <- rnorm(2, 100, 3)
    two <- rnorm(12, 100, 1)
    weigh_claims(mean(one), mean(two), passes = list(2, 12), spread = list(sd(one), sd(two)))$stands
  }
  steady <- function() {
    rows <- passes_of_arms(rep(c("a", "b"), each = 15), 0.003, boot = rep(1:10, each = 3))
    rows <- transform(rows, value = value * exp(rnorm(10, sd = 0.01)[boot]))
    differs(weigh(rows, baseline = "a", steady = TRUE))
  }
  # the pass that lies farthest off is left out by whoever wants a difference; the headline bears it
  picked <- function() {
    rows <- make_study(2, 5)
    rows$pass <- seq_len(10)
    apart <- abs(ave(log(rows$value), rows$arm, FUN = function(v) v - mean(v)))
    rows$role <- ifelse(seq_len(10) == which.max(apart), "excluded", "counted")
    rows$reason <- ifelse(rows$role == "excluded", "odd", "")
    v <- weigh(rows, baseline = "a")
    differs(v) && !grepl("not so with the excluded passes counted", headline(v))
  }
  said <- list(
    `overall, 10 workloads once each, shared state` = over_once(10, 0.01),
    `overall, 3 workloads once each, shared state` = over_once(3, 0.01),
    `repeats called blocks, one stint per arm, drift` = function() differs(weigh(one_stint(), baseline = "a")),
    `stints and a few re-checks, A4 B4 A B` = function() differs(weigh(stateful(letters_of("aaaabbbbab")),
      baseline = "a")),
    `stints and a few re-checks, A5 B5 A B A` = function() {
      differs(weigh(stateful(letters_of("aaaaabbbbbaba")), baseline = "a"))
    },
    `declared steady, boots in stints` = steady,
    `mirrored, 3 arms, 5 blocks, first pass 3 % slow` = function() differs(weigh(slow_first(3, 5), baseline = "a")),
    `mirrored, 4 arms, 10 blocks, first pass 3 % slow` = function() differs(weigh(slow_first(4, 10), baseline = "b")),
    `two lumps, 3 blocks, family of 15` = function() differs(weigh(lumps(4, 3, 5), baseline = "a")),
    `two lumps, 3 blocks, family of 5` = function() differs(weigh(lumps(2, 3, 5), baseline = "a")),
    `two lumps, 5 blocks, family of 15` = function() differs(weigh(lumps(4, 5, 5), baseline = "a")),
    `published figures, 2 against 12, the few noisier` = claims,
    `the pass farthest off left out, headline silent` = picked
  )
  weak <- list(
    `state at each switch, ABBA three times` = function() differs(weigh(stateful(letters_of("abbaabbaabba")),
      baseline = "a")),
    `state at each switch, shuffled 6 against 6` = function() {
      differs(weigh(stateful(sample(rep(c("a", "b"), 6))), baseline = "a"))
    }
  )
  c(
    lapply(names(said), function(name) cell("false 'differs'", name, "5 % or less", said[[name]])),
    lapply(names(weak), function(name) cell("false 'differs'", name, "weak spot", weak[[name]], weak = TRUE)),
    list(
      cell("false 'disagree'", "10 workloads, 3 blocks", "5 % or less", disagree(10, 3)),
      cell("false 'disagree'", "10 workloads, 6 blocks", "5 % or less", disagree(10, 6)),
      cell("false floor", "mean at the floor, 5 blocks of 3 passes", "5 % or less", floors),
      cell("next pass below its limit", "1 pass in 10 is 10 % slow, 10 passes", "weak spot", next_pass, weak = TRUE),
      cell("false 'as good'", "5 arms at the edge of a claim", "5 % or less", together)
    )
  )
}

# what weigh() asks of its core, without the checks and what would settle it: a third of the time
core <- function(rows, own_noise = FALSE, noise = NULL) {
  inside <- asNamespace("honestmargin")
  readings <- inside$readings_of(rows, NULL, "a")
  declared <- list(against = "baseline", own_noise = own_noise, noise = noise)
  spec <- inside$contrast_spec(readings, NULL, readings, list(baseline = "a"), declared)
  spec$words_only <- TRUE
  inside$weigh_cells(readings, spec)$verdicts
}

# comparisons whose noise is steadied by that of the other cells of their study; beside: each by its own
moderated_cells <- function() {
  # `sd_cells` one per cell; `together` how metrics of a workload hang together
  study <- function(arms = 4, blocks = 5, workloads = 5, metrics = 3, sd = 1, sd_cells = 1, effect = 0, draw = rnorm,
                    together = 0, contexts = NULL, holes = 0) {
    names <- letters[seq_len(arms)]
    cells <- workloads * metrics * max(1, length(contexts))
    sd_cells <- rep_len(if (is.function(sd_cells)) sd_cells(cells) else sd_cells, cells)
    k <- 0
    rows <- lapply(if (is.null(contexts)) NA else contexts, function(context) lapply(seq_len(workloads), function(w) {
      order <- as.vector(vapply(seq_len(blocks), function(b) sample(arms), integer(arms)))
      shared <- draw(arms * blocks)
      lapply(seq_len(metrics), function(m) {
        k <<- k + 1
        arm <- rep(names, blocks)
        block <- rep(seq_len(blocks), each = arms)
        noise <- sqrt(together) * shared + sqrt(1 - together) * draw(arms * blocks)
        spread <- 0.01 * rep_len(sd, arms)[match(arm, names)] * sd_cells[k]
        out <- data.frame(
          workload = paste0("w", w), context = context, metric = paste0("m", m), better = "higher", arm = arm,
          block = block, order = order + arms * (block - 1), pass = paste(context, w, block, arm),
          value = 100 * exp(rnorm(blocks, sd = 0.02)[block] + spread * noise + 0.01 * effect * (arm != "a"))
        )
        if (holes > 0) out[runif(nrow(out)) >= holes, ] else out
      })
    }))
    do.call(rbind, unlist(unlist(rows, recursive = FALSE), recursive = FALSE))
  }
  two <- function(n) rnorm(n, 0, 0.2) + 3 * (runif(n) < 0.5)
  apart <- function(by) function(n) exp(rnorm(n, 0, by))
  said <- list(
    `4 arms, 5 blocks, 15 cells` = list(), `4 arms, 3 blocks, 15 cells` = list(blocks = 3),
    `3 arms, 4 blocks, 8 cells` = list(arms = 3, blocks = 4, workloads = 8, metrics = 1),
    `2 arms, 5 blocks, 15 cells` = list(arms = 2), `two contexts, 10 cells` = list(metrics = 1, contexts = c("x", "y")),
    `15 cells, baseline three times noisier` = list(sd = c(3, 1, 1, 1)),
    `15 cells, one arm three times noisier` = list(sd = c(1, 3, 1, 1)),
    `15 cells, one arm ten times noisier` = list(sd = c(1, 10, 1, 1)),
    `15 cells, one five times noisier` = list(sd_cells = c(5, rep(1, 14))),
    `15 cells, noise apart by a factor e^0.5` = list(sd_cells = apart(0.5)),
    `8 cells, 4 blocks, noise apart, two lumps` = list(
      blocks = 4, workloads = 8, metrics = 1, sd_cells = apart(0.5), draw = two
    ),
    `15 cells, 5 blocks, noise apart by e^1, two lumps` = list(sd_cells = apart(1), draw = two),
    `15 cells, heavy tails (t, 3 df)` = list(draw = heavy), `15 cells, metrics correlated 0.6` = list(together = 0.6),
    `15 cells, metrics correlated 0.9` = list(together = 0.9), `15 cells, holes (5 %)` = list(holes = 0.05)
  )
  # what is beside is weighed in every fourth study, for time
  beside <- function(of, rows, ...) if (stats::runif(1) < 0.25) of(rows, ..., own_noise = TRUE) else NA
  null <- lapply(names(said), function(name) {
    cell("false 'differs'", paste0("moderated: ", name), "5 % or less", function() {
      rows <- do.call(study, said[[name]])
      of <- function(rows, ...) differs(core(rows, ...))
      c(of(rows), beside(of, rows))
    }, "own noise")
  })
  found <- list(
    `4 arms, 5 blocks, 15 cells, 3 sd` = list(effect = 3),
    `6 arms, 5 blocks, 15 cells, 3 sd` = list(arms = 6, effect = 3),
    `4 arms, 5 blocks, 8 cells, 3 sd` = list(workloads = 8, metrics = 1, effect = 3),
    `4 arms, 10 blocks, 15 cells, 2 sd` = list(blocks = 10, effect = 2),
    `2 arms, 5 blocks, 15 cells, 3 sd` = list(arms = 2, effect = 3)
  )
  share <- function(rows, ...) mean(core(rows, ...)$differs %in% "yes")
  power <- lapply(names(found), function(name) {
    cell("found", paste0("moderated: ", name), "more than own noise alone", function() {
      rows <- do.call(study, found[[name]])
      c(share(rows), beside(share, rows))
    }, "own noise")
  })
  c(null, power, memory_scale_cells(study, apart, beside, share), boot_cells(beside, share), beyond_cells(study, apart))
}

# cells whose noise differs by a factor e^1, and earlier studies (20 degrees of freedom) know by how much
memory_scale_cells <- function(study, apart, beside, share) {
  drawn <- function(drift = 0, ...) {
    sd <- apart(1)(15)
    rows <- study(sd_cells = sd, ...)
    noise <- unique(rows[c("workload", "metric")])
    noise$noise <- sd * exp(rnorm(15, 0, drift)) * sqrt(rchisq(15, 20) / 20)
    noise[c("df", "source")] <- list(20, "earlier studies")
    list(rows = rows, noise = noise)
  }
  null <- function(...) {
    made <- drawn(...)
    of <- function(rows, ...) differs(core(rows, ...))
    c(of(made$rows, noise = made$noise), beside(of, made$rows))
  }
  list(
    cell("false 'differs'", "noise memory as scale: 2 arms", "5 % or less", function() null(arms = 2), "own noise"),
    cell("false 'differs'", "noise memory as scale: 4 arms", "5 % or less", function() null(), "own noise"),
    cell("false 'differs'", "noise memory as scale: 2 arms, relative noise moved by e^0.5", "5 % or less", function() {
      null(arms = 2, drift = 0.5)
    }, "own noise"),
    cell("found", "noise memory as scale: 2 arms, 15 cells, 3 sd", "more than without it", function() {
      made <- drawn(arms = 2, effect = 3)
      c(share(made$rows, noise = made$noise), share(made$rows))
    }, "without it")
  )
}

# starts of one arm each (5 of them, 3 passes in each, 15 cells), and sessions without blocks
boot_cells <- function(beside, share) {
  made <- function(boots = 5, passes = 3, sd = c(1, 1), draw = rnorm, effect = 0) {
    do.call(rbind, lapply(seq_len(15), function(k) {
      arm <- sample(rep(c("a", "b"), boots))
      level <- draw(2 * boots) * sd[match(arm, c("a", "b"))] + effect * (arm == "b")
      at <- rep(seq_along(arm), each = passes)
      data.frame(
        workload = paste0("w", k), metric = "m", better = "higher", arm = arm[at], boot = at, order = seq_along(at),
        pass = paste(k, seq_along(at)), value = 100 * exp(0.01 * (level[at] + 0.3 * rnorm(length(at))))
      )
    }))
  }
  two <- function(n) rnorm(n, 0, 0.2) + 3 * (runif(n) < 0.5)
  said <- list(
    `boots moderated` = list(), `boots moderated, one arm three times noisier` = list(sd = c(1, 3)),
    `boots moderated, two lumps` = list(draw = two), `3 boots, two lumps, 15 cells` = list(boots = 3, draw = two)
  )
  of <- function(rows, ...) differs(core(rows, ...))
  null <- lapply(names(said), function(name) {
    cell("false 'differs'", name, "5 % or less", function() {
      rows <- do.call(made, said[[name]])
      c(of(rows), beside(of, rows))
    }, "own noise")
  })
  c(null, list(
    cell("false 'differs'", "sessions of 3 passes an arm, two lumps, 15 cells", "5 % or less", function() {
      rows <- made(3, 1, draw = two)
      of(rows[names(rows) != "boot"])
    }),
    cell("found", "boots moderated: 2 arms, 5 boots, 15 cells, 3 sd", "more than own noise alone", function() {
      rows <- made(effect = 3)
      c(share(rows), beside(share, rows))
    }, "own noise")
  ))
}

# the best set and the change between contexts, with the same variances
beyond_cells <- function(study, apart) {
  lost <- function(...) {
    best <- weigh_overall(study(...), baseline = "a")$best
    mean(!best$could[best$arm == "a" & !is.na(best$workload)])
  }
  others <- function(...) {
    rows <- weigh_overall(study(...), baseline = "a", primary = c("m1", "m2"))$contexts
    any(rows$lower > 0 | rows$upper < 0)
  }
  list(
    cell("a best arm is lost", "moderated: 4 equal arms, 5 blocks, 15 cells", "5 % or less", function() lost()),
    cell("a best arm is lost", "moderated: it is three times noisier", "5 % or less", function() {
      lost(sd = c(3, 1, 1, 1))
    }),
    cell("false 'not the same'", "moderated: two contexts of 10 cells, noise apart by e^0.5", "5 % or less", function() {
      others(metrics = 2, contexts = c("x", "y"), sd_cells = apart(0.5), effect = 2)
    })
  )
}

calibration_cells <- function() {
  c(
    null_cells(), look_cells(), other_cells(), overall_cells(), cover_cells(), power_cells(), break_cells(),
    moderated_cells()
  )
}

#' Run one cell
#' @param apply How studies are run: `lapply`, or one that spreads them over processes, with seeds of its own.
#' @return Data frame of one row: shares, and their Monte Carlo error.
run_cell <- function(cell, studies, apply = lapply) {
  hit <- do.call(rbind, apply(seq_len(studies), function(i) as.numeric(cell$one())))
  share <- mean(hit[, 1], na.rm = TRUE)
  data.frame(
    what = cell$what, scenario = cell$scenario, share = share, error = sqrt(share * (1 - share) / studies),
    wanted = cell$wanted, beside = if (ncol(hit) > 1) mean(hit[, 2], na.rm = TRUE) else NA_real_,
    beside_what = if (is.null(cell$beside)) NA_character_ else cell$beside, studies = studies
  )
}

# beyond what is wanted by more than two Monte Carlo errors
missed <- function(table) {
  wanted <- suppressWarnings(as.numeric(sub(" .*", "", table$wanted)) / 100)
  off <- ifelse(grepl("or more", table$wanted), wanted - table$share, table$share - wanted)
  ifelse(is.na(wanted), grepl("alone", table$wanted) & table$share <= table$beside, off > 2 * table$error)
}

print_calibration <- function(table) {
  cat(sprintf(
    "%-22s %-42s %6.2f %% +- %.2f   wanted %-14s%s\n", table$what, table$scenario, 100 * table$share, 100 * table$error,
    table$wanted, ifelse(is.na(table$beside), "", sprintf("  %s: %.1f %%", table$beside_what, 100 * table$beside))
  ), sep = "")
}
