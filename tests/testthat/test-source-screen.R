# What stands between a program and the screen.

# a program that takes the place of a compositor, as the hints of window managers say: it owns a selection
owner_of_screen <- function(env = parent.frame()) {
  source <- withr::local_tempfile(fileext = ".c", .local_envir = env)
  writeLines(c(
    "#include <unistd.h>", "void *XOpenDisplay(const char *);", "unsigned long XInternAtom(void *, const char *, int);",
    "unsigned long XDefaultRootWindow(void *);", "int XSync(void *, int);",
    "int XSetSelectionOwner(void *, unsigned long, unsigned long, unsigned long);",
    "int main(void) {", "  void *d = XOpenDisplay(0);", "  if (!d) return 1;",
    "  XSetSelectionOwner(d, XInternAtom(d, \"_NET_WM_CM_S0\", 0), XDefaultRootWindow(d), 0);", "  XSync(d, 0);",
    "  write(1, \"here\\n\", 5);", "  sleep(60);", "}"
  ), source)
  program <- sub("[.]c$", "", source)
  built <- processx::run("cc", c("-w", "-o", program, source, "-l:libX11.so.6"), error_on_status = FALSE)
  if (built$status) testthat::skip("no X library to build with")
  program
}

test_that("a compositor that comes between the passes is told, on a real X server", {
  skip_if(!nzchar(Sys.which("cc")), "no C compiler here")
  need_display()
  withr::local_envvar(WAYLAND_DISPLAY = NA, LD_PRELOAD = NA)
  seen <- honestmargin:::screen_snapshot()
  expect_identical(seen[["compositor"]], "none")
  expect_identical(seen[["drawing variables"]], "vblank_mode=0")
  owner <- owner_of_screen()
  folder <- local_plan(c(
    "setting: {name: shadows, baseline: 'off'}", "arms: [{value: 'off'}, {value: 'on'}]", "blocks: 2",
    "order: mirrored", "workloads: [{id: w, command: echo score 5, scores: [{metric: score, pattern: 'e ([0-9]+)'}]}]"
  ))
  run_study(folder, most = 2)
  process <- processx::process$new(owner, stdout = "|", cleanup = TRUE)
  withr::defer(process$kill())
  process$poll_io(5000)
  run_study(folder)
  shown <- study_conditions(folder, all = TRUE)
  expect_identical(shown$seen[shown$condition == "compositor"], "changed")
  expect_match(shown$values[shown$condition == "compositor"], "off: none / yes", fixed = TRUE)
  process$kill()
  for (i in 1:50) if (identical(honestmargin:::compositor_seen(), "none")) break else Sys.sleep(0.1)
  expect_identical(honestmargin:::compositor_seen(), "none")
})

test_that("a lid is read, and where nothing can be asked nothing is said", {
  lids <- withr::local_tempdir()
  dir.create(file.path(lids, "LID0"))
  writeLines("state:      closed", file.path(lids, "LID0", "state"))
  withr::local_envvar(DISPLAY = NA, WAYLAND_DISPLAY = NA)
  expect_identical(honestmargin:::screen_snapshot(lids), c(lid = "closed"))
  expect_length(honestmargin:::screen_snapshot(tempfile()), 0)
  # a display that is not there, and one of another machine
  withr::local_envvar(DISPLAY = ":4711", LD_PRELOAD = NA, vblank_mode = NA)
  expect_identical(honestmargin:::screen_snapshot(tempfile()), c(`drawing variables` = "none"))
  expect_null(honestmargin:::compositor_seen("192.0.2.1:0"))
  withr::local_envvar(WAYLAND_DISPLAY = "wayland-0")
  expect_identical(honestmargin:::screen_snapshot(tempfile())[["compositor"]], "yes")
})
