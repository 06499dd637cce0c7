# A limiter of our own, preloaded into a real renderer: before a frame is shown it waits for the next tick of a clock.
# It tells where between two ticks each frame was done, as a share of the period.
limiter <- function(hz, env = parent.frame()) {
  source <- withr::local_tempfile(fileext = ".c", .local_envir = env)
  writeLines(c(
    "#define _GNU_SOURCE", "#include <dlfcn.h>", "#include <stdio.h>", "#include <stdlib.h>", "#include <time.h>",
    "void glXSwapBuffers(void *display, unsigned long window) {",
    "  static void (*shown)(void *, unsigned long);", "  static FILE *told;", "  struct timespec t;",
    "  if (!shown) {", "    shown = (void (*)(void *, unsigned long))dlsym(RTLD_NEXT, \"glXSwapBuffers\");",
    "    told = fopen(getenv(\"LIMITER_TELLS\"), \"w\");", "  }",
    "  clock_gettime(CLOCK_MONOTONIC, &t);", "  long long now = t.tv_sec * 1000000000LL + t.tv_nsec;",
    sprintf("  const long long period = %.0fLL;", 1e9 / hz),
    "  fprintf(told, \"%.4f\\n\", (double)(now % period) / period);", "  fflush(told);",
    "  long long next = (now / period + 1) * period;",
    "  t.tv_sec = next / 1000000000LL; t.tv_nsec = next % 1000000000LL;",
    "  clock_nanosleep(CLOCK_MONOTONIC, TIMER_ABSTIME, &t, 0);",
    "  shown(display, window);", "}"
  ), source)
  library <- sub("[.]c$", ".so", source)
  processx::run("cc", c("-shared", "-fPIC", "-O2", "-o", library, source, "-ldl"))
  library
}

test_that("a real program is held by a real limiter, and runs free without", {
  skip_if(!nzchar(Sys.which("cc")), "no C compiler here")
  need_display()
  gears <- function(seconds, library = NULL, tells = "") {
    before <- if (!is.null(library)) paste0("LIMITER_TELLS=", tells, " LD_PRELOAD=\"$LD_PRELOAD:", library, "\" ")
    notes <- probed(paste0(before, "timeout ", seconds, " glxgears || true"))$notes
    honestmargin:::main_window(notes)$frames$frame_time_ms
  }
  piles <- function(passes, arm) {
    rows <- do.call(rbind, lapply(passes, function(x) as.data.frame(as.list(honestmargin:::pile_of_frames(x)))))
    cbind(workload = "w", segment = NA, context = NA, arm = arm, pass = seq_along(passes), rows)
  }
  # slow, so that what else this machine does is little beside a period; it may take seconds to open the window
  hz <- 15
  tick <- limiter(hz)
  tells <- withr::local_tempfile(pattern = paste0("tells", 1:2))
  kept <- lapply(tells, function(to) gears(2 + 270 / hz, tick, to))
  free <- lapply(1:2, function(i) gears(4))
  # frames that are done within a tenth of a period of when most are: what a limiter can be known by
  on_time <- vapply(tells, function(to) {
    at <- scan(to, quiet = TRUE)
    mean(abs((at - stats::median(at) + 0.5) %% 1 - 0.5) < 0.1)
  }, 1)
  skip_if(min(on_time) < 0.95, "this machine is starved just now: when frames are done is not the limiter's doing")
  found <- honestmargin:::find_ceilings(rbind(piles(kept, "kept"), piles(free, "free")))
  expect_identical(found$arm, "kept")
  expect_equal(1000 / found$limit_ms, hz, tolerance = 0.005)
})
