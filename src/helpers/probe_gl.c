/* OpenGL and EGL: the calls that show a frame, noted and passed on, whether a
 * program links them, asks for them by glXGetProcAddress or eglGetProcAddress, or
 * looks them up in a library that it opened itself. The signatures are those of
 * the GLX 1.4 and EGL 1.5 standards; no header of either is needed. */
#define _GNU_SOURCE
#include "probe.h"
#include <dlfcn.h>
#include <stddef.h>
#include <string.h>

typedef void *(*lookup)(void *, const char *);
typedef void (*proc)(void);
typedef proc (*get_proc)(const char *);
typedef void (*glx_swap)(void *, unsigned long);
typedef unsigned (*egl_swap)(void *, void *);
typedef unsigned (*egl_swap_damage)(void *, void *, const int *, int);

static lookup real_dlsym(void) {
  static lookup found;
  if (found == NULL) {
    static const char *const versions[] = {"GLIBC_2.34", "GLIBC_2.2.5", "GLIBC_2.17", "GLIBC_2.0"};
    for (size_t i = 0; i < sizeof versions / sizeof *versions && found == NULL; i++) {
      *(void **)&found = dlvsym(RTLD_NEXT, "dlsym", versions[i]);
    }
  }
  return found;
}

/* What stands behind each of our wrappers: remembered when a program looked it up,
 * else the next one in the order of libraries. */
static void *remembered[6];
enum which { GLX_SWAP, GLX_GET, GLX_GET_ARB, EGL_SWAP, EGL_DAMAGE_KHR, EGL_DAMAGE_EXT };
static const char *const names[] = {"glXSwapBuffers",           "glXGetProcAddress",
                                    "glXGetProcAddressARB",     "eglSwapBuffers",
                                    "eglSwapBuffersWithDamageKHR", "eglSwapBuffersWithDamageEXT"};
static void *egl_get_behind;

static void *behind(enum which i) {
  void *next = real_dlsym()(RTLD_NEXT, names[i]);
  return next != NULL ? next : remembered[i];
}

/* A library may show a frame by calling another's swap: count the outermost. */
static __thread int depth;

PROBE_PUBLIC void glXSwapBuffers(void *display, unsigned long drawable) {
  static glx_swap real;
  if (real == NULL) *(void **)&real = behind(GLX_SWAP);
  if (depth == 0) probe_frame(drawable, API_GLX);
  depth++;
  if (real != NULL) real(display, drawable);
  depth--;
}

PROBE_PUBLIC unsigned eglSwapBuffers(void *display, void *surface) {
  static egl_swap real;
  if (real == NULL) *(void **)&real = behind(EGL_SWAP);
  if (depth == 0) probe_frame((uint64_t)(uintptr_t)surface, API_EGL);
  depth++;
  unsigned done = real != NULL ? real(display, surface) : 0;
  depth--;
  return done;
}

static unsigned with_damage(egl_swap_damage real, void *display, void *surface, const int *rects, int n) {
  if (depth == 0) probe_frame((uint64_t)(uintptr_t)surface, API_EGL);
  depth++;
  unsigned done = real != NULL ? real(display, surface, rects, n) : 0;
  depth--;
  return done;
}
PROBE_PUBLIC unsigned eglSwapBuffersWithDamageKHR(void *display, void *surface, const int *rects, int n) {
  static egl_swap_damage real;
  if (real == NULL) *(void **)&real = behind(EGL_DAMAGE_KHR);
  return with_damage(real, display, surface, rects, n);
}
PROBE_PUBLIC unsigned eglSwapBuffersWithDamageEXT(void *display, void *surface, const int *rects, int n) {
  static egl_swap_damage real;
  if (real == NULL) *(void **)&real = behind(EGL_DAMAGE_EXT);
  return with_damage(real, display, surface, rects, n);
}

PROBE_PUBLIC proc glXGetProcAddress(const char *name);
PROBE_PUBLIC proc glXGetProcAddressARB(const char *name);
PROBE_PUBLIC proc eglGetProcAddress(const char *name);

static void *const wrappers[] = {(void *)glXSwapBuffers,           (void *)glXGetProcAddress,
                                 (void *)glXGetProcAddressARB,     (void *)eglSwapBuffers,
                                 (void *)eglSwapBuffersWithDamageKHR, (void *)eglSwapBuffersWithDamageEXT};

/* our wrapper for a name where the real thing was found, else what was found */
static void *wrapped(const char *name, void *found) {
  if (found == NULL || name == NULL || (name[0] != 'g' && name[0] != 'e')) return found;
  for (size_t i = 0; i < sizeof names / sizeof *names; i++) {
    if (strcmp(name, names[i]) == 0) {
      if (found != wrappers[i]) remembered[i] = found;
      return wrappers[i];
    }
  }
  if (strcmp(name, "eglGetProcAddress") == 0) {
    if (found != (void *)eglGetProcAddress) egl_get_behind = found;
    return (void *)eglGetProcAddress;
  }
  return found;
}

PROBE_PUBLIC proc glXGetProcAddress(const char *name) {
  get_proc real;
  *(void **)&real = behind(GLX_GET);
  return real == NULL ? NULL : (proc)wrapped(name, (void *)real(name));
}
PROBE_PUBLIC proc glXGetProcAddressARB(const char *name) {
  get_proc real;
  *(void **)&real = behind(GLX_GET_ARB);
  return real == NULL ? NULL : (proc)wrapped(name, (void *)real(name));
}
PROBE_PUBLIC proc eglGetProcAddress(const char *name) {
  get_proc real;
  void *next = real_dlsym()(RTLD_NEXT, "eglGetProcAddress");
  *(void **)&real = next != NULL ? next : egl_get_behind;
  return real == NULL ? NULL : (proc)wrapped(name, (void *)real(name));
}

/* dlsym itself. RTLD_NEXT means "after the caller", so where a name is none of
 * ours the real one must see the caller as its own: the jump below (a tail call,
 * which needs optimisation) leaves the return address in place. */
static int is_ours(const char *name) {
  if (name == NULL || (name[0] != 'g' && name[0] != 'e')) return 0;
  for (size_t i = 0; i < sizeof names / sizeof *names; i++) {
    if (strcmp(name, names[i]) == 0) return 1;
  }
  return strcmp(name, "eglGetProcAddress") == 0;
}
static void *ours_for(void *library, const char *name) { return wrapped(name, real_dlsym()(library, name)); }

PROBE_PUBLIC void *dlsym(void *restrict library, const char *restrict name) {
  if (library != RTLD_NEXT && is_ours(name)) return ours_for(library, name);
  return real_dlsym()(library, name);
}
