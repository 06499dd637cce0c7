build_shared <- function(code, name, flags = "-shared -fPIC", libraries = "-ldl -pthread", env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  source <- file.path(folder, paste0(name, ".c"))
  writeLines(code, source)
  made <- file.path(folder, name)
  status <- system2("gcc", c(flags, "-o", made, source, libraries))
  testthat::skip_if(status != 0, "no C compiler here")
  made
}

# The frame probe in real programs. What they draw is a fixed number of frames, so that the counts must be
# the same to the frame however busy the machine is.
drawer <- '#include <EGL/egl.h>
#include <GL/gl.h>
#include <GL/glx.h>
#include <X11/Xlib.h>
#include <stdlib.h>
#include <string.h>
static int glx(Display *d, int frames) {
  int want[] = {GLX_RGBA, GLX_DOUBLEBUFFER, None};
  XVisualInfo *seen = glXChooseVisual(d, DefaultScreen(d), want);
  if (seen == 0) return 3;
  XSetWindowAttributes about = {0};
  about.colormap = XCreateColormap(d, DefaultRootWindow(d), seen->visual, AllocNone);
  Window w = XCreateWindow(d, DefaultRootWindow(d), 0, 0, 99, 99, 0, seen->depth, InputOutput, seen->visual,
                           CWColormap, &about);
  XMapWindow(d, w);
  if (!glXMakeCurrent(d, w, glXCreateContext(d, seen, 0, True))) return 4;
  for (int i = 0; i < frames; i++) { glClear(GL_COLOR_BUFFER_BIT); glXSwapBuffers(d, w); }
  return 0;
}
static int egl(Display *d, int frames) {
  EGLDisplay e = eglGetDisplay((EGLNativeDisplayType)d);
  EGLint want[] = {EGL_RENDERABLE_TYPE, EGL_OPENGL_ES2_BIT, EGL_NONE},
  es2[] = {EGL_CONTEXT_CLIENT_VERSION, 2, EGL_NONE};
  EGLConfig config; EGLint n = 0;
  if (!eglInitialize(e, 0, 0) || !eglChooseConfig(e, want, &config, 1, &n) || n == 0) return 3;
  Window w = XCreateSimpleWindow(d, DefaultRootWindow(d), 0, 0, 99, 99, 0, 0, 0);
  XMapWindow(d, w); XSync(d, False);
  EGLSurface s = eglCreateWindowSurface(e, config, w, 0);
  if (!eglMakeCurrent(e, s, s, eglCreateContext(e, config, EGL_NO_CONTEXT, es2))) return 4;
  for (int i = 0; i < frames; i++) eglSwapBuffers(e, s);
  return 0;
}
int main(int argc, char **argv) {
  Display *d = XOpenDisplay(0);
  if (d == 0 || argc < 3) return 2;
  return strcmp(argv[1], "egl") == 0 ? egl(d, atoi(argv[2])) : glx(d, atoi(argv[2]));
}'

test_that("OpenGL, EGL and Vulkan are seen, each with exactly the frames that were drawn", {
  need_display()
  program <- build_shared(drawer, "drawer", "", "-lGL -lEGL -lX11")
  frames <- c(glx = 733L, egl = 411L, vulkan = 120L)
  commands <- c(sprintf("%s %s %d", program, c("glx", "egl"), frames[1:2]), "vkcube --c 120")
  for (i in 1:3) {
    seen <- probed(commands[i])
    expect_identical(seen$run$status, 0L)
    window <- honestmargin:::main_window(seen$notes)
    expect_identical(window$presented, frames[[i]])
    expect_identical(window$windows$api, c(1, 2, 3)[i])
  }
})

# A stand-in for the library that a program opens itself: swaps when told to.
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
  expect_every(value("seconds") > 0)
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
