# The frame probe in real programs: their own counts are the independent source.
# "8660 frames in 5.0 seconds = 1731.756 FPS": the seconds are rounded, the rate is not
own_counts <- function(output) {
  found <- regmatches(output, gregexpr("[0-9]+ frames in [0-9.]+ seconds = [0-9.]+ FPS", output))[[1]]
  frames <- as.numeric(sub(" .*", "", found))
  list(frames = frames, seconds = frames / as.numeric(sub("^.*= ([0-9.]+) FPS", "\\1", found)))
}
# presents in the second stretch that the program reports: its first has the start-up in it
both_counts <- function(output, window) {
  own <- own_counts(output)
  time <- c(window$frames$start_s, Inf)
  from <- time[own$frames[1]]
  c(own = own$frames[2], ours = sum(time > from & time <= from + own$seconds[2]))
}

# one renderer at a time, until it has said twice what it counted
gears_pass <- function() {
  stem <- tempfile("frames-")
  gears <- processx::process$new("glxgears", env = c("current", honestmargin:::probe_environment(stem)), stdout = "|")
  on.exit(gears$kill())
  output <- ""
  ends <- Sys.time() + 60
  while (length(own_counts(output)$frames) < 2 && gears$is_alive() && Sys.time() < ends) {
    gears$poll_io(500)
    output <- paste0(output, gears$read_output())
  }
  gears$signal(15)
  gears$wait(5000)
  list(output = output, window = honestmargin:::main_window(honestmargin:::read_probe(stem)))
}

test_that("an OpenGL program's frames are counted as it counts them itself, in three passes", {
  need_display()
  counts <- vapply(1:3, function(nth) {
    pass <- gears_pass()
    expect_length(own_counts(pass$output)$frames, 2)
    expect_identical(nrow(pass$window$windows), 1L)
    both_counts(pass$output, pass$window)
  }, c(own = 1, ours = 1))
  # on a busy machine either end of a stretch of 5 s may wait a tenth of a second between the frame, which
  # we see, and the program's own clock
  expect_lt(abs(median(counts["ours", ] / counts["own", ]) - 1), 0.01)
  expect_every(abs(counts["ours", ] / counts["own", ] - 1) < 0.03)
})

test_that("EGL is seen, and Vulkan draws exactly the frames that were asked for", {
  need_display()
  vulkan <- probed("vkcube --c 120")
  expect_identical(vulkan$run$status, 0L)
  window <- honestmargin:::main_window(vulkan$notes)
  expect_identical(window$presented, 120L)
  expect_identical(window$windows$api, 3)
  skip_if(!nzchar(Sys.which("es2gears_x11")), "no EGL demo here")
  egl <- probed("timeout 13 stdbuf -oL es2gears_x11")
  window <- honestmargin:::main_window(egl$notes)
  expect_identical(window$windows$api, 2)
  counts <- both_counts(egl$run$stdout, window)
  expect_lt(abs(counts[["ours"]] / counts[["own"]] - 1), 0.02)
})

# A stand-in for the library that a program opens itself: swaps when told to.
build_shared <- function(code, name, flags = "-shared -fPIC", env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  source <- file.path(folder, paste0(name, ".c"))
  writeLines(code, source)
  made <- file.path(folder, name)
  status <- system2("gcc", c(flags, "-o", made, source, "-ldl -pthread"))
  testthat::skip_if(status != 0, "no C compiler here")
  made
}
fake_gl <- "void glXSwapBuffers(void *d, unsigned long w) { (void)d; (void)w; }
void (*glXGetProcAddressARB(const char *n))(void) { (void)n; return (void (*)(void))glXSwapBuffers; }"
opener <- '#define _GNU_SOURCE
#include <dlfcn.h>
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
static void (*swap)(void *, unsigned long);
static void *draw(void *window) { for (int i = 0; i < 500; i++) swap(0, (unsigned long)window); return 0; }
int main(int argc, char **argv) {
  void *lib = dlopen(argv[1], RTLD_NOW);
  void *next = dlsym(RTLD_NEXT, "malloc");
  if (lib == 0 || next == 0) return 3;
  if (strcmp(argv[2], "get") == 0) {
    void (*(*get)(const char *))(void) = (void (*(*)(const char *))(void))dlsym(lib, "glXGetProcAddressARB");
    swap = (void (*)(void *, unsigned long))get("glXSwapBuffers");
  } else swap = (void (*)(void *, unsigned long))dlsym(lib, "glXSwapBuffers");
  pthread_t a, b;
  pthread_create(&a, 0, draw, (void *)7); pthread_create(&b, 0, draw, (void *)9);
  pthread_join(a, 0); pthread_join(b, 0);
  for (int i = 0; i < 20; i++) swap(0, 7);
  if (argc > 3) { struct timespec { long s, n; } t; (void)t; usleep(400000); abort(); }
  return 0;
}'

test_that("calls that are looked up at run time are noted, in all threads, windows apart", {
  skip_if(!nzchar(Sys.which("gcc")), "no C compiler here")
  library <- build_shared(fake_gl, "fakegl.so")
  program <- build_shared(sub("#include <dlfcn.h>", "#include <dlfcn.h>\n#include <unistd.h>", opener), "opener", "")
  for (how in c("look", "get")) {
    seen <- probed(paste(program, library, how))
    expect_identical(seen$run$status, 0L)
    windows <- honestmargin:::main_window(seen$notes)$windows
    expect_identical(windows$presented, c(520L, 500L))
    expect_setequal(windows$window, c(7, 9))
  }
  # a program that dies has its frames on the disk, all but the last twentieth of a second
  crashed <- probed(paste(program, library, "look crash"))
  expect_false(identical(crashed$run$status, 0L))
  expect_identical(honestmargin:::main_window(crashed$notes)$presented, 520L)
})

test_that("programs that present nothing are unaffected, and leave no file", {
  seen <- probed("echo \"$0 fine\"; ls / > /dev/null && grep -c . /etc/passwd")
  expect_identical(seen$run$status, 0L)
  expect_match(seen$run$stdout, "fine")
  expect_identical(seen$run$stderr, "")
  expect_null(seen$notes)
})

test_that("a frame file that is cut, foreign or of the other byte order is read as far as it is whole", {
  write_file <- function(endian, cut = 0) {
    path <- withr::local_tempfile(.local_envir = parent.frame())
    stem <- paste0(path, ".77")
    to <- file(stem, "wb")
    writeBin(c(charToRaw("honestmargin frames 1\n"), raw(10)), to)
    writeBin(c(0x01020304L, 77L), to, endian = endian)
    writeBin(c(charToRaw("game"), raw(20)), to)
    for (i in 1:4) {
      ns <- c(2, 3e9 + i * 1e7) # high and low half: the low one is beyond a signed integer
      low <- as.integer(ns[2] - 2^32)
      halves <- if (endian == "little") c(low, 2L) else c(2L, low)
      writeBin(c(halves, 5L), to, endian = endian)
      writeBin(c(1L, 1L), to, size = 2, endian = endian)
    }
    close(to)
    if (cut > 0) {
      bytes <- readBin(stem, "raw", 1e4)
      writeBin(utils::head(bytes, -cut), stem)
    }
    path
  }
  for (endian in c("little", "big")) {
    notes <- honestmargin:::read_probe(write_file(endian))
    expect_equal(diff(notes$time_s), rep(0.01, 3), tolerance = 1e-6)
    expect_identical(notes$window, rep(5, 4))
    expect_equal(notes$time_s[1], (2 * 2^32 + 3e9 + 1e7) / 1e9)
  }
  expect_identical(nrow(honestmargin:::read_probe(write_file("little", cut = 9))), 3L)
  expect_null(honestmargin:::read_probe(write_file("little", cut = 70)))
})

test_that("a study captures a real program's frames with its sensors, and tells them in the report", {
  need_display()
  folder <- local_plan(
    "setting: {name: size, baseline: 200x200}", "arms: [{value: 200x200}, {value: 420x420}]", "blocks: 2",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads:", "  - id: gears", "    probe: true",
    "    command: timeout 3 glxgears -geometry {arm} || true"
  )
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  expect_identical(unique(study$passes$outcome), "ok")
  expect_lt(weigh(study)$change[1], -10)
  value <- function(id) study$readings$value[study$readings$metric == id]
  expect_every(value("seconds") > 2 & value("seconds") < 3.5)
  expect_every(value("processor_load_mean") > 0 & value("processor_load_mean") <= 100)
  expect_every(limiting_table(study)$limiting %in% c(honestmargin:::limiting_parts, "unknown"))
  page <- withr::local_tempfile(fileext = ".html")
  write_report(study, page)
  text <- xml2::xml_text(xml2::read_html(page))
  expect_match(text, "What the machine did in gears")
  # without a display nothing is presented: that is said, with the program's own words
  withr::local_envvar(DISPLAY = "")
  repeat_study(folder)
  run_study(folder, most = 1)
  last <- utils::tail(study_history(folder), 1)
  expect_match(last$reason, "no presented frames .* couldn't open display")
})
