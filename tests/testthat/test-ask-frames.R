# The change at each percentile of frame time, against R's own quantiles and tests.
shares <- honestmargin:::profile_shares()
band_of <- honestmargin:::profile_band

test_that("percentiles out of the histogram are off by at most 0.1 %", {
  set.seed(1)
  for (x in list(exp(rnorm(5e4, 2, 0.3)), c(rep(8.333, 9000), runif(1000, 8, 60)), rep(16.7, 10))) {
    off <- honestmargin:::frame_profile(x) / quantile(x, shares, names = FALSE, type = 1) - 1
    expect_lt(max(abs(off)), 0.0011)
  }
})

test_that("with few blocks the band is Sidak's over the percentiles; with more it turns blocks round", {
  set.seed(2)
  d <- matrix(rnorm(5 * 8), 5)
  band <- band_of(d, 0.05)
  each <- t.test(d[, 3], conf.level = 0.95^(1 / 8))$conf.int
  expect_equal(c(band$lower[3], band$upper[3]), as.numeric(each))
  d <- matrix(rnorm(7 * 20), 7)
  band <- band_of(d, 0.05)
  expect_identical(band$by, "turned")
  # every one of the 64 ways, by R's own t test
  left <- scale(d, scale = FALSE)
  ways <- as.matrix(expand.grid(rep(list(c(1, -1)), 6)))
  most <- apply(cbind(1, ways), 1, function(s) max(abs(apply(left * s, 2, function(v) t.test(v)$statistic))))
  width <- sort(most)[ceiling(0.95 * 64)]
  half <- width * apply(d, 2, sd) / sqrt(7)
  expect_equal(band$upper - band$mean, half)
})

test_that("percentiles that hang together are called different in at most 5 % of comparisons", {
  studies <- simulated(300)
  for (blocks in c(5, 8)) {
    grid <- if (blocks < 6) 8 else 60
    set.seed(3)
    said <- replicate(studies, {
      one <- function() {
        wander <- t(replicate(blocks, as.numeric(stats::filter(rnorm(grid, sd = 0.003), 0.9, "recursive"))))
        rnorm(blocks, sd = 0.01) + wander
      }
      band <- band_of(one() - one(), 0.05, 500)
      any(band$lower > 0 | band$upper < 0)
    })
    expect_lte(mean(said), at_most(0.05, studies))
  }
})

test_that("with looks the band is that of the evidence, and holds however often one looked", {
  set.seed(5)
  d <- matrix(rnorm(12 * 8, 0.4), 12)
  band <- band_of(d, 0.05, looks = TRUE)
  # the value at the end of the band is the one against which the evidence reaches eight in five hundredths: a mixture
  # over effects to none, by numbers
  t <- t.test(d[, 2], mu = band$lower[2])$statistic
  ratio <- suppressWarnings(integrate(function(z) {
    vapply(z, function(one) {
      exp(dt(t, 11, one * sqrt(12), log = TRUE) - dt(t, 11, log = TRUE)) * dnorm(one, sd = sqrt(2))
    }, 1)
  }, -20, 20)$value)
  expect_equal(ratio, 8 / 0.05, tolerance = 1e-3)
  expect_identical(band_of(d[1:4, ], 0.05, looks = TRUE)$upper[1], Inf)
  # nothing differs, and one looks after every block
  false <- replicate(simulated(400), {
    d <- matrix(rnorm(30 * 3), 30)
    any(vapply(seq(4, 30, 2), function(n) {
      band <- band_of(d[seq_len(n), ], 0.05, looks = TRUE)
      any(band$lower > 0 | band$upper < 0)
    }, NA))
  })
  expect_lte(mean(false), at_most(0.05, simulated(400)))
})

frames_study <- function(blocks = 8, env = parent.frame()) {
  folder <- local_plan(
    "setting: {name: cache, baseline: off}", "arms: [{value: off}, {value: on}]", paste("blocks:", blocks),
    "workloads: [{id: lap, frames: log.csv}]", "metrics: [{id: fps_avg, worth: 1, primary: true}]",
    env = env
  )
  dir.create(file.path(folder, "frames"))
  rows <- data.frame(pass = sprintf("p%02d", seq_len(2 * blocks)), workload = "lap", arm = c("off", "on"))
  rows$block <- rep(seq_len(blocks), each = 2)
  rows$order <- seq_len(nrow(rows))
  set.seed(4)
  for (i in seq_len(nrow(rows))) {
    # the slowest tenth is 20 % shorter with it, the rest is as it was
    frames <- 10 * exp(rnorm(3000, sd = 0.05) + rnorm(1, sd = 0.003))
    slow <- seq_len(300)
    frames[slow] <- 20 * exp(rnorm(300, sd = 0.02)) * if (rows$arm[i] == "on") 0.8 else 1
    writeLines(format(sample(frames), digits = 6), file.path(folder, "frames", paste0(rows$pass[i], ".csv")))
  }
  write.csv(rows, file.path(folder, "passes.csv"), row.names = FALSE)
  folder
}

test_that("where a setting helps is found, told, drawn and given as data", {
  folder <- frames_study()
  found <- weigh_frames(read_study(folder))
  expect_identical(unique(found$by), "turned")
  expect_every(found$differs[found$share < 0.85] == "no")
  expect_every(found$differs[found$share > 0.92] == "yes" & abs(found$change[found$share > 0.92] + 20) < 2)
  told <- gsub("\\s+", " ", run_cli("ask", folder, "frames")$stdout)
  expect_match(told, "lap, on against off: frame times are shorter from 9[01] % to 99[.]5 % [(]by .* %, most at")
  rows <- read.csv(text = run_cli("ask", folder, "frames", "-f", "csv")$stdout)
  expect_equal(rows$change, found$change, tolerance = 1e-6)
  path <- withr::local_tempfile(fileext = ".png")
  expect_identical(run_cli("figure", folder, "--of", "frames", "-o", path)$status, 0L)
  expect_gt(file.size(path), 10000)
  looked <- gsub("\\s+", " ", run_cli("ask", folder, "frames", "--looks")$stdout)
  expect_match(looked, "together, at 95 %, however often one looked")
  few <- weigh_frames(read_study(frames_study(4)))
  expect_identical(nrow(few), 7L)
  early <- run_cli("ask", frames_study(4), "frames", "--looks")$stdout
  expect_match(gsub("\\s+", " ", early), "nothing can be settled before number 6 of them; there are 4")
  scores <- data.frame(arm = c("a", "b"), value = 1:2)
  expect_message_of(weigh_frames(scores, baseline = "a"), "honestmargin_error_input", "no frame logs")
})
