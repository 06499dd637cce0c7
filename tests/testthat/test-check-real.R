# A limiter of our own, preloaded into a real renderer: before a frame is shown it waits for the next tick of a clock.
limiter <- function(hz, env = parent.frame()) {
  source <- withr::local_tempfile(fileext = ".c", .local_envir = env)
  writeLines(c(
    "#define _GNU_SOURCE", "#include <dlfcn.h>", "#include <time.h>",
    "void glXSwapBuffers(void *display, unsigned long window) {",
    "  static void (*shown)(void *, unsigned long);", "  struct timespec t;",
    "  if (!shown) shown = (void (*)(void *, unsigned long))dlsym(RTLD_NEXT, \"glXSwapBuffers\");",
    "  clock_gettime(CLOCK_MONOTONIC, &t);", "  long long now = t.tv_sec * 1000000000LL + t.tv_nsec;",
    sprintf("  const long long period = %.0fLL;", 1e9 / hz),
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
  gears <- function(seconds, library = NULL) {
    before <- if (!is.null(library)) paste0("LD_PRELOAD=\"$LD_PRELOAD:", library, "\" ")
    notes <- probed(paste0(before, "timeout ", seconds, " glxgears || true"))$notes
    honestmargin:::main_window(notes)$frames$frame_time_ms
  }
  piles <- function(passes, arm) {
    rows <- do.call(rbind, lapply(passes, function(x) as.data.frame(as.list(honestmargin:::pile_of_frames(x)))))
    cbind(workload = "w", segment = NA, context = NA, arm = arm, pass = seq_along(passes), rows)
  }
  # a busy machine takes seconds to open the window
  free <- lapply(1:3, function(i) gears(6))
  # slow enough that what else this machine does is little beside a period
  late <- stats::quantile(unlist(free), 0.99, names = FALSE)
  skip_if(late > 40, "this machine is starved just now: what the renderer does is not the limiter's doing")
  hz <- min(30, floor(500 / late))
  tick <- limiter(hz)
  kept <- piles(lapply(1:3, function(i) gears(max(6, 360 / hz), tick)), "kept")
  free <- piles(free, "free")
  found <- honestmargin:::find_ceilings(rbind(kept, free))
  expect_identical(found$arm, "kept")
  expect_equal(1000 / found$limit_ms, hz, tolerance = 0.005)
})
