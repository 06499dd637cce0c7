# What checks saw in passes, in words.

words_of_checks <- list(
  loading = function(v) {
    speed <- if (v$factor > 1) {
      paste0("frames take ", show_number(v$factor, 2), " times as long")
    } else {
      paste0("frames come ", show_number(1 / v$factor, 2), " times as fast")
    }
    span <- unique(show_number(c(v$from, v$to), 2))
    c(
      paste0(
        if (v$factor > 1) "slow" else "fast", " start in ", v$n, " of ", count_of(v$of, "pass", "passes"), ": ",
        speed, " for ", paste(span, collapse = " to "), " s", if (isTRUE(v$uneven)) ", in some arms more than in others"
      ),
      paste0(
        "start the capture later, or declare trim: ", v$trim,
        " for the next study; its effect: honestmargin ask STUDY firm"
      )
    )
  },
  loads = "slow start: {seconds} s",
  coarse = "its times are written in steps of {step_ms} ms",
  resolution = c(
    "times of {n|pass|passes} are written in steps of {step_ms} ms, {percent} % of a usual frame: lows and pacing jump",
    "let the capture write microseconds, or judge the average only"
  ),
  others = function(v) {
    paste0(
      "other programs kept ", show_number(v$share, 2), " processors busy",
      if (length(v$names)) paste0(" (", some_of(v$names), ")")
    )
  },
  others_at_work = function(v) {
    span <- paste(unique(show_number(c(v$from, v$to), 2)), collapse = " to ")
    c(
      paste0(
        "beside ", v$n, " of ", count_of(v$of, "pass", "passes"), " other programs kept ", span,
        " processors busy", if (length(v$names)) paste0(", most of it ", paste(v$names, collapse = " and "))
      ),
      "end them, or wait until they are done, and run those passes again"
    )
  },
  odd_length = c(
    "it took {seconds} s; other passes took {usual} s",
    "was it cut short, or recorded too long? exclude it with a reason, or say that it is right"
  ),
  copied = function(v) {
    c(
      paste0(
        some_of(v$passes, 9), ": identical frames, ",
        if (isTRUE(is.na(v$counts))) "arm unknown; counted only where no other pass is" else "counted once"
      ),
      "find the log that is missing"
    )
  },
  repeated = c(
    "passes {again} have the numbers of {before}, one after the other: rows that were taken twice count once",
    "leave one set out; passes that were run twice do not agree to the last digit"
  ),
  appended = function(v) {
    # a report of before names one pass
    passes <- c(v$passes, v$longer)
    one <- length(passes) == 1
    c(
      paste0(
        some_of(passes, 9), if (one) " begins" else " begin", " with the frames of ", c(v$counts, v$within)[1],
        ": a log was appended to, not begun anew; ", if (one) "it does" else "they do", " not count"
      ),
      "cut away what is of the passes before, and take them in again"
    )
  },
  arms_alike = c(
    "{arms} are written differently, so they are arms of their own",
    "if they are one arm, write it alike in each row"
  ),
  odd_pass = function(v) {
    tens <- if (v$usual != 0 && v$value / v$usual > 0) log10(v$value / v$usual) else 0
    mistyped <- round(tens) != 0 && abs(tens - round(tens)) < 0.03
    c(
      paste0(
        v$metric, " ", number_words(v$value, v$unit), " where other passes of ", v$arm_said, " gave ",
        number_words(v$usual, v$unit),
        if (v$off > 1000) " and hardly differ" else paste0(" (", show_number(v$off, 2), " times the noise away)")
      ),
      if (mistyped) {
        "was a digit or a decimal mark lost? if so, correct it"
      } else {
        "look at its trace and its notes; the verdict without it: honestmargin ask STUDY firm"
      }
    )
  },
  two_paces = function(v) {
    slow <- vapply(v$groups, function(g) {
      of <- if (length(g$arms) == 1) paste(" of", g$arms)
      paste0(length(g$passes), " of ", g$n, " passes", of, " (", some_of(g$passes, 6), ")")
    }, "")
    c(
      paste0(
        "two paces: from ", show_number(v$at_s, 2), " s on the frames of ", paste(slow, collapse = " and "), " take ",
        show_number(v$percent, 2), " % longer than those of the others"
      ),
      "what is otherwise in them (heat, clocks, what else ran)? A mean over both says little of either"
    )
  },
  shifted = function(v) {
    more <- paste0(show_number(v$percent, 2), " % ", if (v$slower) "longer" else "less long")
    c(
      paste0("from ", show_number(v$at_s, 2), " s on its frames take ", more, " than those of other passes"),
      "did the machine throttle, or something else begin or end? look at its trace; exclude it with a reason"
    )
  },
  fades = function(v) {
    paste0(
      "from the first third of a pass to its last ", v$arm_said, " ", if (v$slower) "loses " else "gains ",
      show_number(v$percent, 2), " % against ", v$base_said,
      ": heat, or scenes that differ; the answer depends on how long a pass lasts"
    )
  },
  tied = function(v) {
    c(
      paste0(
        count_of(length(v$conditions), "thing"), " beside the setting ",
        if (length(v$conditions) > 1) "differ" else "differs",
        " between the arms: ", some_of(paste0(v$conditions, " (", v$values, ")"), 3)
      ),
      "their part of the change is not known; make them the same and run again, or declare that they are the setting"
    )
  },
  changed_amid = function(v) {
    c(
      paste0("changed while the study ran: ", some_of(paste0(v$conditions, " (", v$values, ")"), 3)),
      "passes before and after may differ; compare them by block, or run those of one state again"
    )
  },
  heat_apart = c(
    "passes begin with the {who} at {warm_at} C in {warm}, at {cool_at} C in {cool}",
    "let it cool to one temperature before each pass (gates in the plan), or warm up alike"
  ),
  memory_full = function(v) {
    c(
      paste0("the graphics memory was full in ", v$n, " of ", count_of(v$of, "pass", "passes"), only_in(v)),
      "what is measured is then the swapping; ask for less memory, if the setting is not about it"
    )
  },
  swapped = function(v) {
    c(
      paste0(
        "memory was swapped out in ", v$n, " of ", count_of(v$of, "pass", "passes"), only_in(v), ", up to ",
        show_number(v$MB, 2), " MB"
      ),
      "close other programs, or give the workload less to hold"
    )
  },
  idle_device = "{idle} stayed idle while {busy} was at {load} % load: is the right device in use?",
  fell_back = function(v) {
    c(
      paste0(
        "after pass ", v$after, " (", sub("_", " ", v$ended), ") ", count_of(v$n, "pass", "passes"), " (",
        some_of(v$passes), ") read back ", some_of(v$shown), " instead of what was asked for: the machine fell back"
      ),
      "set it anew after a start that failed, and repeat these passes"
    )
  },
  overlap = c(
    paste(
      "pass {pass_said} begins {seconds} s before {before} was over (so {n|pass|passes}): a clock was set, or two ran",
      "at once"
    ),
    "correct the times, or exclude what ran beside another"
  ),
  equal_tops = function(v) {
    c(
      paste0(
        v$n, " of ", v$of, " passes are exactly ", number_words(v$value, v$unit),
        ", the best value: a limit may hide more"
      ), "lift what may limit it (frame limiter, vsync), or read more digits"
    )
  },
  total = "{total} is the {kind} of {parts}: parts may move apart behind it",
  parts_apart = c(
    "{total} of {arm_said} is {verdict}, but {gains} gains and {losses} loses", "look at the parts, not at the total"
  ),
  unequal = c(
    "{metric_said}: passes of {arm_said} vary {times} times as much as those of the other arms",
    "that it is unsteady is an answer of its own: look at its passes before its average"
  )
)

# "... in some arms only"
only_in <- function(v) if (isTRUE(v$some_only)) paste0(", all of ", some_of(v$arms, 4)) else ""
