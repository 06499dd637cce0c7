# The noise memory: left by finished studies, used by later ones, never in the way.
pair <- function(blocks, sd = 1, level = 100, more = "", env = parent.frame()) {
  folder <- local_plan(c(
    "setting: {name: level, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads:", "  - id: pack",
    paste0("    command: \"sed -n 's/^/score /;1p' values.txt; sed -i 1d values.txt", more, "\""),
    "    scores: [{metric: score, pattern: 'score ([0-9.]+)'}]", paste("blocks:", blocks)
  ), env = env)
  writeLines(format(level + sd * rnorm(2 * blocks), digits = 8, trim = TRUE), file.path(folder, "values.txt"))
  folder
}
ran <- function(..., env = parent.frame()) {
  folder <- pair(..., env = env)
  run_study(folder)
  folder
}
remembering <- function(env = parent.frame()) {
  path <- withr::local_tempfile(fileext = ".sqlite", .local_envir = env)
  withr::local_envvar(HONESTMARGIN_NOISE = path, .local_envir = env)
  path
}

# as if each of them had run on a day of its own
spread_over_days <- function(path) {
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  on.exit(DBI::dbDisconnect(con))
  studies <- DBI::dbGetQuery(con, "SELECT DISTINCT study FROM noise")$study
  for (i in seq_along(studies)) {
    DBI::dbExecute(con, "UPDATE noise SET day = ? WHERE study = ?", list(sprintf("2026-01-%02d", i), studies[i]))
  }
}

test_that("a finished study leaves its noise, which later ones plan and are weighed with", {
  path <- remembering()
  set.seed(2)
  first <- ran(6)
  expect_identical(run_cli("weigh", first)$status, 0L)
  rows <- noise_memory()
  score <- rows[rows$metric == "score", ]
  readings <- read_study(first)$readings
  r <- readings[readings$metric == "score", ]
  fit <- summary(lm(log(value) ~ arm, r))
  expect_equal(score$total, 100 * expm1(fit$sigma))
  expect_equal(score$df_total, 10)
  expect_equal(score$within, 100 * expm1(summary(lm(log(value) ~ arm + block, r))$sigma))
  expect_no_match(paste(unlist(rows), collapse = " "), Sys.info()[["nodename"]], fixed = TRUE)
  # weighed again it is still one study
  run_cli("weigh", first)
  expect_identical(nrow(noise_memory()), nrow(rows))
  single <- pair(1)
  expect_match(gsub("\\s+", " ", run_cli("plan", single)$stdout), "% 1 study here")
  run_study(single)
  out <- run_cli("weigh", single)$stdout
  expect_match(gsub("\\s+", " ", out), "taken from the noise memory of this machine (1 study", fixed = TRUE)
  expect_match(run_cli("noise")$stdout, "pack")
  expect_identical(run_cli("noise", "--forget", "all")$status, 0L)
  expect_identical(nrow(noise_memory()), 0L)
})

test_that("a study much noisier than its machine is told so", {
  remembering()
  set.seed(3)
  for (i in 1:2) run_cli("weigh", ran(6))
  loud <- run_cli("weigh", ran(6, sd = 12))$stdout
  expect_match(gsub("\\s+", " ", loud), "times noisier than this machine usually is")
})

test_that("a memory that cannot be used is no reason to stop, and says so where it is asked for", {
  path <- remembering()
  set.seed(4)
  folder <- ran(3)
  writeLines("no database", path)
  out <- run_cli("weigh", folder)
  expect_identical(out$status, 0L)
  expect_match(gsub("\\s+", " ", out$stdout), "noise memory cannot be used")
  expect_identical(run_cli("noise")$status, 4L)
  unlink(path)
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  DBI::dbExecute(con, "PRAGMA user_version = 9")
  DBI::dbDisconnect(con)
  expect_error(noise_memory(), "version 9", class = "honestmargin_error_input")
  withr::local_envvar(HONESTMARGIN_NOISE = "off")
  expect_no_match(run_cli("weigh", folder)$stdout, "memory")
})

test_that("the memory of another machine is not used", {
  path <- remembering()
  set.seed(5)
  run_cli("weigh", ran(4))
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  DBI::dbExecute(con, "UPDATE noise SET machine = 'another'")
  DBI::dbDisconnect(con)
  expect_match(run_cli("plan", pair(1))$stdout, "assumed")
  expect_match(run_cli("weigh", ran(1))$stdout, "no basis")
})

test_that("single passes with remembered noise differ rarely when nothing differs, though studies differ in noise", {
  set.seed(6)
  tries <- simulated(700)
  for (studies in c(1, 3)) {
    false <- mean(replicate(tries, {
      memory <- do.call(rbind, lapply(seq_len(studies), function(k) {
        sd <- 0.01 * exp(rnorm(1, sd = 0.3))
        data.frame(
          workload = "main", metric = "score", scale = "percent", total = 100 * expm1(sd * sqrt(rchisq(1, 8) / 8)),
          df_total = 8, study = k, day = "2026-01-01"
        )
      }))
      known <- honestmargin:::pool_noise(memory)
      now <- 0.01 * exp(rnorm(1, sd = 0.3))
      gap <- rnorm(1, sd = now * sqrt(2))
      abs(gap) > qt(0.975, known$df) * log1p(known$noise / 100) * sqrt(2)
    }))
    expect_lte(false, at_most(0.05, tries))
  }
})

test_that("a large memory answers for the workloads asked for only", {
  path <- remembering()
  n <- 20000
  honestmargin:::write_memory(data.frame(
    machine = "m", label = "x", study = rep(seq_len(20), each = n / 20), workload = paste0("w", seq_len(n / 20)),
    context = NA, metric = "score", unit = "", scale = "percent", within = 1, df_within = 5, total = 1, df_total = 5,
    passes = 6L, boots = NA_real_, df_boots = NA_real_, day = "2026-01-01",
    setting = "level", arm = "a", work = "w", level = 100, level_passes = 3L
  ))
  expect_identical(nrow(noise_memory("m", "w7")), 20L)
})

test_that("a level far from where the machine usually is is told, and a level like before is not", {
  path <- remembering()
  set.seed(7)
  for (i in 1:4) run_cli("weigh", ran(4))
  low <- ran(4, level = 80)
  # of one day they do not say what another brings
  expect_no_match(run_cli("weigh", low)$stdout, "usually is on this machine")
  spread_over_days(path)
  out <- gsub("\\s+", " ", run_cli("weigh", low)$stdout)
  expect_match(out, "'score' of a is (79|80)[.0-9]*, -(19|20|21)[.0-9]* % from what it usually is .* \\((99|100)")
  expect_match(out, "over 4 days")
  # what runs something else under the same name may well have another level
  other <- run_cli("weigh", ran(4, level = 80, more = " # another file"))
  expect_no_match(other$stdout, "usually is on this machine")
})

test_that("one study before is enough where the memory knows how far studies lie apart", {
  remembering()
  set.seed(8)
  here <- environment()
  folders <- lapply(c(100, 101, 99, 100.5), function(level) ran(5, sd = 0.2, level = level, env = here))
  now <- ran(5, sd = 0.2, level = 120)
  expect_match(run_cli("against", now, folders[[1]])$stdout, "no basis")
  for (f in folders) run_cli("weigh", f)
  out <- run_cli("against", now, folders[[1]], "--format", "json")
  v <- jsonlite::fromJSON(out$stdout)$verdicts
  v <- v[v$metric == "score", ]
  # by hand: the three that are not weighed here say how far studies lie apart
  mean_of <- function(folder) {
    r <- read_study(folder)$readings
    mean(log(r$value[r$metric == "score" & r$arm == "a" & r$role == "counted"]))
  }
  m <- vapply(folders, mean_of, 1)
  half <- qt(0.975, 2) * sd(m[-1]) * sqrt(2)
  expect_equal(c(v$lower, v$upper), 100 * expm1(mean_of(now) - m[1] + c(-1, 1) * half), tolerance = 1e-3)
  expect_match(v$reason, "3 other studies of this machine")
  # what was weighed is remembered too
  expect_identical(length(unique(noise_memory()$study)), 5L)
  # in R only where it is asked for
  expect_identical(weigh_against(now, folders[[1]], primary = "score")$verdict[1], "no basis")
})

test_that("a memory of before levels were kept is read, and grows when a study is added", {
  path <- remembering()
  set.seed(9)
  first <- ran(4)
  run_cli("weigh", first)
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  for (column in c("setting", "arm", "work", "level", "level_passes")) {
    DBI::dbExecute(con, paste("ALTER TABLE noise DROP COLUMN", column))
  }
  DBI::dbExecute(con, "PRAGMA user_version = 1")
  DBI::dbDisconnect(con)
  old <- noise_memory()
  expect_true(all(is.na(old$level)))
  expect_match(run_cli("noise")$stdout, "pack")
  run_cli("weigh", ran(4))
  expect_identical(sum(!is.na(noise_memory()$level)), nrow(noise_memory()) - nrow(old))
})
