/* The frame probe: what its parts share. */
#ifndef HONESTMARGIN_PROBE_H
#define HONESTMARGIN_PROBE_H
#include <stdint.h>

enum present_api { API_GLX = 1, API_EGL = 2, API_VULKAN = 3 };

/* Note that a frame is presented now in the window that `handle` stands for. */
void probe_frame(uint64_t handle, enum present_api api);

#define PROBE_PUBLIC __attribute__((visibility("default")))
#endif
