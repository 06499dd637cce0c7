/* A library after the probe in the order of libraries: "next" is the real one. */
#define _GNU_SOURCE
#include <dlfcn.h>
void *swap_behind(void) {
  void *volatile next = dlsym(RTLD_NEXT, "glXSwapBuffers"); /* volatile: the call must be made from here */
  return next;
}
