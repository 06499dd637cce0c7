# The question: where in the distribution of frame times does a setting help or harm?

#' Weigh the whole distribution of frame times
#'
#' For every workload and context whose counted passes have frame logs: the change of each percentile of frame time of
#' each arm against the baseline, inside blocks, with a band that holds at all percentiles of one comparison together;
#' each comparison stands by itself. Passes without a block are left out. With fewer than six blocks, or with looks,
#' eight percentiles are looked at, else some hundred.
#' @param x A study from [read_study()], or what [weigh()] made of one.
#' @param ... Not used.
#' @param baseline,confidence As in [weigh()].
#' @param looks `TRUE` where somebody looked before all passes had run; a study that was extended, or run until settled,
#'   is judged so whether or not it is said. The band then holds however often one looked, and is wider; before some
#'   blocks have run it is endless.
#' @return An answer ([ask_study()]), a data frame: `workload`, `context`, `arm`, `baseline`, `share` (of
#'   frames that are no longer, 0 to 1), `baseline_ms`, `arm_ms` (geometric means over blocks), `change`, `lower`,
#'   `upper` (of the frame time, percent; above 0 is slower), `differs`, `blocks`, `by` (how the band was made: `turned`
#'   blocks, `each` percentile by itself, or by evidence that allows for `looks`).
#' @section Errors: `honestmargin_error_input` where no comparison has frame logs in two blocks.
#' @references Romano (1990), Journal of the American Statistical Association 85, 686-692.
#' @export
#' @examples
#' head(weigh_frames(read_study(demo_study())))
weigh_frames <- function(x, ..., baseline = NULL, confidence = NULL, looks = FALSE) {
  assert_no_dots(...)
  checkmate::assert_flag(looks)
  if (inherits(x, "honestmargin_verdicts")) {
    asked <- list(
      baseline = empty_to(baseline, asked_of_verdicts(x)$baseline), confidence = empty_to(confidence, x$confidence[1])
    )
    looks <- looks || isTRUE(attr(x, "looks"))
    x <- what_was_weighed(x)
  } else {
    asked <- list(baseline = baseline, confidence = confidence)
  }
  if (!is_study(x)) {
    abort_input("a table has no frame logs", todo = "give a study folder whose passes have frame logs")
  }
  spec <- contrast_spec(x, x$plan, readings_of(x), asked)
  passes <- x$passes[x$passes$role == "counted" & x$passes$outcome %in% outcomes_well, , drop = FALSE]
  passes <- passes[!is.na(passes$block) & !passes$workload %in% spec$anchors, , drop = FALSE]
  passes <- passes[has_trace(x, passes, "frames"), , drop = FALSE]
  profiles <- on_all_cores(each_row(passes), function(pass) pass_profile(x, pass))
  able <- lengths(profiles) > 0
  groups <- profile_groups(passes[able, , drop = FALSE], profiles[able], spec)
  if (!length(groups)) {
    abort_input("no two arms have frame logs in the same two blocks", x$folder, "see the traces: honestmargin figure")
  }
  looks <- looks || looked_at(x)
  alpha <- family_alpha(spec$confidence, length(groups))
  new_answer("frames", stack_rows(lapply(groups, profile_rows, alpha = alpha, looks = looks)), x,
    alpha = alpha, confidence = spec$confidence
  )
}

# logarithms of the percentiles of the frames that count
pass_profile <- function(x, pass) {
  capture <- study_capture(x, pass, c("frames", "marks"))
  if (is.null(capture$frames)) {
    return(NULL)
  }
  # a flip comes with its settling and trim taken off already
  workload <- if (is.na(pass$part)) workload_of(x$plan, pass$workload)
  counts <- capture_spans(capture, capture_places(capture, workload))[[1]]$inside
  frames <- capture$frames$frame_time_ms[counts]
  if (length(frames) > 1) list(log_ms = log(frame_profile(frames)), frames = length(frames))
}

# one comparison each: the profiles of both arms by block
profile_groups <- function(passes, profiles, spec) {
  place <- paste(passes$workload, passes$context, sep = "\r")
  arms <- setdiff(spec$arms, spec$baseline)
  groups <- unlist(lapply(unique(place), function(p) {
    lapply(arms, function(arm) {
      by_block <- function(a) {
        at <- which(place == p & passes$arm == a)
        lapply(split(at, passes$block[at]), function(i) {
          Reduce(`+`, lapply(profiles[i], `[[`, "log_ms")) / length(i)
        })
      }
      one <- by_block(arm)
      base <- by_block(spec$baseline)
      shared <- intersect(names(one), names(base))
      if (length(shared) > 1) {
        first <- passes[match(p, place), c("workload", "context"), drop = FALSE]
        list(
          place = first, arm = arm, baseline = spec$baseline,
          frames = min(vapply(profiles[place == p & passes$arm %in% c(arm, spec$baseline)], `[[`, 1L, "frames")),
          one = do.call(rbind, one[shared]), base = do.call(rbind, base[shared])
        )
      }
    })
  }), recursive = FALSE)
  Filter(length, groups)
}

least_behind <- 10

profile_rows <- function(group, alpha, looks) {
  d <- group$one - group$base
  shares <- profile_shares()
  # where each percentile takes its share of the level, few are looked at
  at <- if (looks || !can_turn(nrow(d), alpha)) match(round(few_shares, 4), round(shares, 4)) else seq_along(shares)
  # with fewer frames behind it a percentile jumps between two regimes, and a few passes may agree by chance
  at <- at[group$frames * (1 - shares[at]) >= least_behind]
  band <- profile_band(d[, at, drop = FALSE], alpha, looks = looks)
  data.frame(
    group$place[rep(1, length(at)), , drop = FALSE],
    arm = group$arm, baseline = group$baseline, share = shares[at],
    baseline_ms = exp(colMeans(group$base))[at], arm_ms = exp(colMeans(group$one))[at], change = 100 * expm1(band$mean),
    lower = 100 * expm1(band$lower), upper = 100 * expm1(band$upper),
    differs = ifelse(band$lower > 0 | band$upper < 0, "yes", "no"), blocks = nrow(group$one), by = band$by,
    row.names = NULL
  )
}

#' @param x From `weigh_frames()`.
#' @return Character vector, one element a comparison.
#' @noRd
frames_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  about <- paste0(place_names(rows), ", ", arm_names(rows$arm, labels), " against ", arm_names(rows$baseline, labels))
  vapply(split(rows, factor(about, unique(about))), function(part) {
    name <- paste0(
      place_names(part[1, ]), ", ", arm_names(part$arm[1], labels),
      " against ", arm_names(part$baseline[1], labels), ": "
    )
    if (is.infinite(part$upper[1])) {
      first <- first_look(nrow(part) / attr(x, "alpha"))
      return(paste0(name, code_text(new_code("looks_begin", n = first, have = part$blocks[1], unit = "block")), "."))
    }
    runs <- differing_runs(part)
    if (!nrow(runs)) {
      return(paste0(name, "no percentile of frame time differs by more than the noise."))
    }
    paste0(name, paste(vapply(seq_len(nrow(runs)), function(i) run_words(runs[i, ]), ""), collapse = "; "), ".")
  }, "", USE.NAMES = FALSE)
}

# stretches of percentiles that differ in the same direction
differing_runs <- function(part) {
  side <- ifelse(part$differs == "yes", sign(part$change), 0)
  runs <- rle(side)
  to <- cumsum(runs$lengths)
  from <- to - runs$lengths + 1
  out <- lapply(which(runs$values != 0), function(i) {
    at <- from[i]:to[i]
    most <- at[which.max(abs(part$change[at]))]
    data.frame(
      side = runs$values[i], from = part$share[from[i]], to = part$share[to[i]], low = min(abs(part$change[at])),
      high = max(abs(part$change[at])), at = part$share[most]
    )
  })
  if (length(out)) do.call(rbind, out) else data.frame()
}

run_words <- function(run) {
  word <- if (run$side > 0) "longer" else "shorter"
  where <- if (run$from == run$to) {
    paste("at", share_words(run$from))
  } else {
    paste("from", share_words(run$from), "to", share_words(run$to))
  }
  by <- paste(unique(show_number(c(run$low, run$high), 2)), collapse = " to ")
  most <- if (run$from != run$to) paste0(", most at ", share_words(run$at))
  paste0("frame times are ", word, " ", where, " (by ", by, " %", most, ")")
}

share_words <- function(share) paste0(show_exact(round(100 * share, 2)), " %")

frames_footing <- function(x) {
  lacks <- nrow(x) > 0 && max(x$share) < max(few_shares)
  paste0(
    "99 %: 99 % of frames take no longer", if (lacks) {
      "; those with fewer than 10 frames of a pass behind them are left out"
    }, ". All bands hold at all percentiles of all comparisons ",
    "together, at ", show_share(attr(x, "confidence")),
    if (any(x$by == "looks")) ", however often one looked", "."
  )
}

frames_shown <- function(x) {
  rows <- plain_table(x)
  labels <- labels_of(x)
  shown <- rows[round(rows$share, 3) %in% few_shares[few_shares != 0.9], , drop = FALSE]
  data.frame(
    workload = place_names(shown), arm = arm_names(shown$arm, labels),
    percentile = vapply(shown$share, share_words, ""),
    baseline = paste(show_number(shown$baseline_ms, 3), "ms"), change = show_change(shown$change, "percent", "%"),
    range = ifelse(is.infinite(shown$upper), "not known yet", shown_interval(
      data.frame(lower = shown$lower, upper = shown$upper, scale = "percent", unit = "%")
    ))
  )
}

frames_line <- function(x) {
  rows <- plain_table(x)
  about <- paste0(place_names(rows), ", ", arm_names(rows$arm, labels_of(x)))
  differs <- unique(about[rows$differs == "yes"])
  if (!length(differs)) {
    return("no percentile of frame time differs by more than the noise")
  }
  paste0(
    "some percentiles differ in ", length(differs), " of ", count_of(length(unique(about)), "comparison"), " (",
    some_of(differs, 3), ")"
  )
}

register("question", "frames",
  rank = 4, title = "Which frame times differ",
  about = "where in the distribution of frame times a setting helps or harms",
  answer = weigh_frames, takes = c("baseline", "confidence", "looks"), lines = frames_words, line = frames_line,
  tables = function(x) {
    list(shown_table(frames_shown(x), c("percentile", "baseline", "change"), group = c("workload", "arm")))
  },
  footing = frames_footing
)
