/* Flips what is measured on and off every part of a second, in one process, and tells
 * the length of each frame: what slows a shared machine for longer strikes both alike.
 *
 *   flips probe SECONDS FLIPS   frames of OpenGL, shown through the preloaded probe or past it
 *   flips PID SECONDS FLIPS     frames of plain work, while process PID runs or is stopped */
#include <GL/gl.h>
#include <GL/glx.h>
#include <X11/Xlib.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

void *swap_behind(void); /* flips_behind.c: looked up from behind the probe */

static double now(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return (double)t.tv_sec + 1e-9 * (double)t.tv_nsec;
}

static Display *display;
static Window window;

static int open_window(void) {
  int want[] = {GLX_RGBA, GLX_DOUBLEBUFFER, None};
  display = XOpenDisplay(NULL);
  XVisualInfo *seen = display == NULL ? NULL : glXChooseVisual(display, DefaultScreen(display), want);
  if (seen == NULL) return 0;
  XSetWindowAttributes about = {0};
  Window root = DefaultRootWindow(display);
  about.colormap = XCreateColormap(display, root, seen->visual, AllocNone);
  window = XCreateWindow(display, root, 0, 0, 200, 200, 0, seen->depth, InputOutput, seen->visual, CWColormap, &about);
  XMapWindow(display, window);
  glXMakeCurrent(display, window, glXCreateContext(display, seen, NULL, True));
  return 1;
}

static void draw(void) {
  glClear(GL_COLOR_BUFFER_BIT);
  glRotatef(1, 0, 0, 1);
  glBegin(GL_TRIANGLES);
  for (int i = 0; i < 300; i++) glVertex2f((float)(i % 17) / 17, (float)(i % 13) / 13);
  glEnd();
}

int main(int argc, char **argv) {
  if (argc < 4) return 2;
  int graphics = strcmp(argv[1], "probe") == 0, flips = atoi(argv[3]);
  pid_t other = atoi(argv[1]);
  double seconds = atof(argv[2]);
  const char *path = getenv("HONESTMARGIN_BEACON_FILE");
  FILE *out = fopen(path == NULL ? "/dev/stdout" : path, "w");
  void (*behind)(Display *, GLXDrawable) = (void (*)(Display *, GLXDrawable))swap_behind();
  if (out == NULL || (graphics && (!open_window() || behind == NULL))) return 3;
  setvbuf(out, NULL, _IOFBF, 1 << 24); /* told when there is time */
  fputs("beacon 1\n", out);
  volatile double x = 1;
  for (int f = 0; f < flips; f++) {
    int on = f % 4 == 1 || f % 4 == 2; /* off on on off */
    if (!graphics) kill(other, on ? SIGCONT : SIGSTOP);
    fprintf(out, "arm %s\n", on ? "on" : "off");
    double begin = now(), last = begin;
    while (last - begin < seconds) {
      if (graphics) draw();
      else for (int i = 0; i < 300000; i++) x = x * 1.0000001;
      if (graphics && on) glXSwapBuffers(display, window);
      else if (graphics) behind(display, window);
      double at = now();
      fprintf(out, "frame %.6f\n", 1000 * (at - last));
      last = at;
    }
  }
  fclose(out);
  return 0;
}
