# A whole study of the invented racer: passes with their noise, known truth.

#' Simulate the passes of the demo study
#'
#' @param blocks Blocks, each rate once in each.
#' @param seconds Length of a pass.
#' @param seed Integer.
#' @return A list: `passes` (data frame, as in `passes.csv`), `frames` (list of
#'   frame times by pass).
#' @noRd
simulate_demo_study <- function(blocks = 5, seconds = 60, seed = 12) {
  truth <- demo_truth()
  noise <- truth$noise
  plan <- rbind(data.frame(block = NA, arm = truth$baseline), arm_schedule(truth$rates, blocks, seed = seed))
  workloads <- c(names(truth$scenes), "pebblemark")
  passes <- plan[rep(seq_len(nrow(plan)), each = length(workloads)), ]
  passes$workload <- workloads
  passes$order <- seq_len(nrow(passes))
  passes$pass <- sprintf("p%03d", passes$order)
  passes$role <- ifelse(is.na(passes$block), "warm_up", "counted")
  passes$outcome <- "ok"
  passes$reason <- NA_character_
  seeded(seed + 1, {
    block_level <- stats::rnorm(blocks, sd = noise$block)
    passes$level <- 1 + c(0, block_level)[ifelse(is.na(passes$block), 0, passes$block) + 1] +
      noise$warming * passes$order + stats::rnorm(nrow(passes), sd = noise$pass)
    score <- truth$score$mean * (1 + stats::rnorm(nrow(passes), sd = noise$score))
  })
  at <- function(workload, arm, block) which(passes$workload == workload & passes$arm == arm & passes$block %in% block)
  crashed <- at("tunnel", "500", 4)
  disturbed <- at("harbour", "1000", 2)
  passes$outcome[crashed] <- "crash"
  passes$level[disturbed] <- passes$level[disturbed] * 1.07
  passes$role[disturbed] <- "excluded"
  passes$reason[disturbed] <- "a system update ran during the pass"
  passes$score <- ifelse(passes$workload == "pebblemark", round(score), NA)
  traced <- which(passes$workload != "pebblemark")
  frames <- lapply(traced, function(i) {
    play_scene(
      passes$workload[i], passes$arm[i], passes$level[i], if (i == crashed) seconds * 0.4 else seconds,
      seed * 1000 + i
    )
  })
  names(frames) <- passes$pass[traced]
  passes$seconds <- ifelse(passes$workload == "pebblemark", 55, NA)
  passes$seconds[traced] <- round(vapply(frames, sum, 1) / 1000, 1)
  list(passes = passes, frames = frames)
}
