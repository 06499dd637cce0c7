plan_of <- function(..., arms = "[{value: a}, {value: b}, {value: c}]") {
  path <- withr::local_tempfile(fileext = ".yml", .local_envir = parent.frame())
  writeLines(
    c(
      "setting: {name: speed, baseline: a}", paste("arms:", arms),
      "workloads: [{id: w}, {id: v}]", ...
    ),
    path
  )
  plan_study(path)
}

test_that("every arm runs once per block and workload, in a new order, after the warm-up", {
  s <- plan_of("blocks: 6", "warm_up: 2", "seed: 3")$schedule
  counted <- s[s$role == "counted", ]
  expect_every(table(counted$block, counted$arm, counted$workload) == 1)
  orders <- tapply(counted$arm[counted$workload == "w"], counted$block[counted$workload == "w"], paste, collapse = "")
  expect_gt(length(unique(orders)), 2)
  expect_identical(unique(s$arm[s$role == "warm_up"]), "a")
  expect_identical(which(s$role == "warm_up"), 1:4)
  expect_identical(plan_of("blocks: 6", "seed: 3")$schedule$arm, plan_of("blocks: 6", "seed: 3")$schedule$arm)
})

test_that("mirrored goes there and back, balanced lets every arm follow every other equally often", {
  m <- plan_of("blocks: 2", "order: mirrored")$schedule
  expect_identical(m$arm[m$workload == "w"], c("a", "b", "c", "c", "b", "a"))
  for (n in 2:7) {
    square <- honestmargin:::carry_over_square(n)
    follows <- table(apply(square, 1, function(r) paste(r[-n], r[-1])))
    expect_identical(length(follows), as.integer(n * (n - 1)))
    expect_identical(length(unique(follows)), 1L)
    expect_every(apply(square, 1, function(r) setequal(r, seq_len(n))))
  }
})

test_that("a machine that restarts warms up at each start; a context is crossed with the setting", {
  s <- plan_of(
    "blocks: 2", "warm_up: 1", "passes_per_block: 2", "context: {name: load, levels: [idle, busy]}"
  )$schedule
  expect_every(table(s$arm[s$role == "counted"], s$context[s$role == "counted"]) == 8)
  path <- withr::local_tempfile()
  writeLines(
    c(
      "setting: {name: s, baseline: a, restart: machine}", "arms: [{value: a}, {value: b}]", "workloads: [{id: w}]",
      "blocks: 3", "warm_up: 1"
    ),
    path
  )
  s <- plan_study(path)$schedule
  expect_identical(sum(s$role == "warm_up"), 6L)
  expect_every(tapply(s$arm, s$start, function(a) length(unique(a))) == 1)
})

test_that("what a plan can show agrees with R's power of the paired t test", {
  # of two arms, where no other helps
  p <- plan_of("blocks: 5", "metrics: [{id: score, worth: 3, noise: 1}]", arms = "[{value: a}, {value: b}]")$power
  alpha <- 1 - 0.95^(1 / p$family_size)
  sd_d <- log(1.01) * sqrt(2)
  needed <- power.t.test(n = 5, sd = sd_d, power = 0.8, sig.level = alpha, type = "paired", strict = TRUE)$delta
  expect_equal(p$detectable, 100 * (exp(needed) - 1), tolerance = 1e-3)
  n <- power.t.test(delta = log(1.03), sd = sd_d, power = 0.8, sig.level = alpha, type = "paired", strict = TRUE)$n
  expect_identical(p$blocks_for_worth, as.integer(ceiling(n)))
  expect_identical(p$family_size, 2)
})

test_that("attributes that change together are found, and an arm that takes them apart", {
  groups <- honestmargin:::alias_groups
  together <- data.frame(speed = c("slow", "fast"), size = c("16", "8"))
  expect_identical(groups(together), list(c("speed", "size")))
  extra <- honestmargin:::separating_arms(together)
  expect_identical(groups(rbind(together, extra)), list())
  three <- data.frame(system = c("x", "y"), driver = c("1", "2"), api = c("v", "d"))
  expect_identical(groups(three), list(c("system", "driver", "api")))
  expect_identical(groups(rbind(three, honestmargin:::separating_arms(three))), list())
  apart <- data.frame(speed = c("slow", "fast", "slow", "fast"), size = c("16", "16", "8", "8"))
  expect_identical(groups(apart), list())
  # no pair agrees everywhere, yet the three depend on each other: c = a + b in dummies
  mixed <- data.frame(a = c("0", "1", "0"), b = c("0", "0", "1"), c = c("0", "1", "1"))
  expect_setequal(groups(mixed)[[1]], c("a", "b", "c"))
  found <- plan_study(write_lines(
    "setting: {name: speed, baseline: 3200}", "arms:", "  - {value: 3200, attributes: {size: 16, slots: [A2, B2]}}",
    "  - {value: 3600, attributes: {size: 8, slots: [A2, B2]}}", "workloads: [{id: w}]",
    ext = ".yml"
  ))
  found <- findings(found)
  expect_match(found$message[found$check == "attributes_touch"], "speed and size change together.*3600")
  expect_match(found$todo[found$check == "attributes_touch"], "speed (3200, size 8|3600, size 16)")
})

test_that("levels of a context that need no restart of their own share the starts of the setting", {
  plan <- function(...) {
    plan_study(local_plan(
      "setting: {name: s, baseline: a, restart: machine}", "arms: [{value: a}, {value: b}]", "workloads: [{id: w}]",
      "blocks: 4", ...,
      env = parent.frame()
    ))$schedule
  }
  shared <- plan("context: {name: preset, levels: [low, high], command: 'echo {context}'}")
  expect_identical(length(unique(shared$start)), 8L)
  expect_every(tapply(shared$arm, shared$start, function(a) length(unique(a))) == 1)
  expect_every(tapply(shared$context, shared$start, function(c) length(unique(c))) == 2)
  # which level comes first changes
  expect_identical(length(unique(shared$context[!duplicated(shared$start)])), 2L)
})

test_that("where arms are only named, advice begins with pairs that are there and invents no arm", {
  kits <- write_lines(
    "setting: {name: memory kit, baseline: A4-16}", "arms:",
    "  - {value: A4-16, attributes: {technology: four, size: 16, speed: 3200}}",
    "  - {value: A4-32, attributes: {technology: four, size: 32, speed: 3200}}",
    "  - {value: B5-32, attributes: {technology: five, size: 32, speed: 6000}}",
    "workloads: [{id: w}]",
    ext = ".yml"
  )
  found <- subset(findings(plan_study(kits)), grepl("attributes", check))
  expect_match(found$message, "technology and speed change together")
  expect_match(found$todo, "^these differ in one thing only: A4-16 against A4-32 \\(size\\)")
  expect_no_match(found$todo, "memory kit")
})

test_that("remedies fit the plan and the arm", {
  rows <- data.frame(
    arm = rep(c("old", "new"), each = 4), value = c(10, 11, 10, 11, 12, 13, 12, 13), order = 1:8, pass = 1:8
  )
  expect_match(weigh(rows, baseline = "old")$reason, "alternate at least twice")
  # and what it says helps
  alternating <- transform(rows, arm = rep(c("old", "new"), 4))
  expect_false(weigh(alternating, baseline = "old")$verdict == "no basis")
  folder <- local_plan(
    "setting: {name: firmware, baseline: old, one_way: true}", "arms: [{value: old}, {value: new}]",
    "metrics: [{id: score, worth: 2}]", "workloads: [{id: w}]"
  )
  rows$workload <- "w"
  utils::write.csv(rows, file.path(folder, "readings.csv"), row.names = FALSE)
  one_way <- weigh(read_study(folder))$reason
  expect_no_match(one_way, "go back")
  expect_match(one_way, "anchor: true")
  dead <- data.frame(
    arm = rep(c("a", "b"), each = 3), value = c(1, 1.1, 1.2, NA, NA, NA), outcome = rep(c("ok", "no_start"), each = 3)
  )
  expect_match(weigh(dead, baseline = "a")$reason[1], "b gave no reading: 3 passes, none held")
  expect_no_match(weigh(dead, baseline = "a")$reason[1], "run passes of this arm")
})

test_that("a plan that would not see its worth says so, and what each remedy alone would make of it", {
  scored <- function(arms, metrics) {
    folder <- local_plan(
      "setting: {name: speed, baseline: a}", paste0("arms: [", paste0("{value: ", arms, "}", collapse = ", "), "]"),
      "workloads: [{id: w, command: x, scores: [{metric: score, pattern: x}, {metric: mark, pattern: y}]}]",
      "blocks: 5", metrics
    )
    plan_study(folder)
  }
  one <- "metrics: [{id: score, worth: 2, primary: true, noise: 1}]"
  two <- sub("]", ", {id: mark, better: higher, worth: 9, primary: true, noise: 1}]", one, fixed = TRUE)
  four <- c("a", "b", "c", "d")
  whole <- scored(four, two)
  said <- subset(findings(whole), check == "falls_short")
  expect_identical(said$metric, "score")
  detectable <- function(p) p$power$detectable[p$power$metric == "score"]
  amount <- function(x) paste0(format(signif(x, 2), nsmall = 1), " %")
  expect_match(said$message, paste0("5 blocks find ", amount(detectable(whole)), "; the worth is 2.0 %"))
  # the remedies are what plans with them would say
  expect_match(said$todo, paste0("one primary metric \\(", amount(detectable(scored(four, one))), "\\)"))
  expect_match(said$todo, paste0("two arms \\(", amount(detectable(scored(c("a", "b"), two))), "\\)"))
  quiet <- as.numeric(sub(".*noise under ([0-9.]+) %.*", "\\1", said$todo))
  quieter <- scored(four, sub("noise: 1}", paste0("noise: ", quiet, "}"), two))
  expect_equal(detectable(quieter), 2, tolerance = 0.02)
  needed <- as.integer(sub("^plan ([0-9]+) blocks, or .*", "\\1", said$todo))
  expect_identical(needed, as.integer(whole$power$blocks_for_worth[1]))
  expect_false(any(findings(scored(c("a", "b"), sub("worth: 2", "worth: 5", one)))$check == "falls_short"))
})
