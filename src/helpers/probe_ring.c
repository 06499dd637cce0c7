/* Where frames are noted: a ring that any thread fills without waiting, and a
 * thread of our own that empties it into a file twenty times a second, so that a
 * crash of the program loses at most that much.
 *
 * The file (see docs/frame-file.md): 64 bytes of head, then 16 bytes per frame.
 * HONESTMARGIN_PROBE names it; ".PID" is appended, since a program may start others. */
#define _GNU_SOURCE
#include "probe.h"
#include <errno.h>
#include <fcntl.h>
#include <pthread.h>
#include <signal.h>
#include <stdatomic.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

struct record {
  uint64_t time_ns; /* CLOCK_MONOTONIC */
  uint32_t window;
  uint16_t api;
  uint16_t kind; /* 1: a frame; 2: `window` frames were lost here */
};
struct slot {
  struct record record;
  _Atomic uint64_t ready; /* place in the ring + 1 once written */
};
#define RING 65536u
#define BATCH 1024

static struct slot ring[RING];
static _Atomic uint64_t head, tail;
static _Atomic uint32_t lost;
static _Atomic int running; /* 0: not begun, 1: open, -1: cannot be written */
static pthread_mutex_t door = PTHREAD_MUTEX_INITIALIZER;
static int file = -1;

static void write_all(const void *bytes, size_t n) {
  const char *at = bytes;
  while (n > 0 && file >= 0) {
    ssize_t done = write(file, at, n);
    if (done < 0 && errno == EINTR) continue;
    if (done <= 0) { /* a full disk must not touch the program */
      close(file);
      file = -1;
      return;
    }
    at += done;
    n -= (size_t)done;
  }
}

static void drain(void) {
  struct record out[BATCH];
  pthread_mutex_lock(&door);
  for (;;) {
    size_t n = 0;
    uint64_t at = atomic_load_explicit(&tail, memory_order_relaxed);
    while (n < BATCH - 1) {
      struct slot *s = &ring[at & (RING - 1)];
      if (atomic_load_explicit(&s->ready, memory_order_acquire) != at + 1) break;
      out[n++] = s->record;
      atomic_store_explicit(&tail, ++at, memory_order_release);
    }
    uint32_t gone = atomic_exchange(&lost, 0);
    if (gone > 0) {
      out[n] = (struct record){n > 0 ? out[n - 1].time_ns : 0, gone, 0, 2};
      n++;
    }
    if (n == 0) break;
    write_all(out, n * sizeof(struct record));
  }
  pthread_mutex_unlock(&door);
}

static void *keep_draining(void *unused) {
  (void)unused;
  const struct timespec pause = {0, 50000000};
  for (;;) {
    nanosleep(&pause, NULL);
    drain();
  }
  return NULL;
}

/* In a child the threads of its parent are gone: it begins a file of its own. */
static void after_fork(void) {
  pthread_mutex_init(&door, NULL);
  if (file >= 0) close(file);
  file = -1;
  for (size_t i = 0; i < RING; i++) atomic_store(&ring[i].ready, 0);
  atomic_store(&head, 0);
  atomic_store(&tail, 0);
  atomic_store(&lost, 0);
  atomic_store(&running, 0);
}

static void program_name(char *into, size_t n) {
  int from = open("/proc/self/comm", O_RDONLY | O_CLOEXEC);
  ssize_t got = from < 0 ? 0 : read(from, into, n - 1);
  if (from >= 0) close(from);
  if (got < 0) got = 0;
  into[got] = 0;
  into[strcspn(into, "\n")] = 0;
}

/* 1 once frames can be noted, -1 where they cannot; other threads wait at the door */
static int open_file(void) {
  static int hooked;
  const char *stem = getenv("HONESTMARGIN_PROBE");
  char path[4096];
  char start[64] = "honestmargin frames 1\n";
  const uint32_t order = 0x01020304u, pid = (uint32_t)getpid();
  if (stem == NULL || *stem == 0) return -1;
  if (snprintf(path, sizeof path, "%s.%u", stem, pid) >= (int)sizeof path) return -1;
  file = open(path, O_WRONLY | O_CREAT | O_APPEND | O_CLOEXEC, 0644);
  if (file < 0) return -1;
  memcpy(start + 32, &order, 4);
  memcpy(start + 36, &pid, 4);
  program_name(start + 40, 24);
  write_all(start, sizeof start);
  if (!hooked) {
    hooked = 1;
    pthread_atfork(NULL, NULL, after_fork);
  }
  sigset_t all, before;
  sigfillset(&all); /* signals of the program are not ours to take */
  pthread_sigmask(SIG_SETMASK, &all, &before);
  pthread_t writer;
  int begun = pthread_create(&writer, NULL, keep_draining, NULL) == 0;
  if (begun) pthread_detach(writer);
  pthread_sigmask(SIG_SETMASK, &before, NULL);
  return begun ? 1 : -1;
}

static void begin(void) {
  pthread_mutex_lock(&door);
  if (atomic_load(&running) == 0) atomic_store(&running, open_file());
  pthread_mutex_unlock(&door);
}

void probe_frame(uint64_t handle, enum present_api api) {
  struct timespec now;
  int state = atomic_load_explicit(&running, memory_order_acquire);
  clock_gettime(CLOCK_MONOTONIC, &now);
  if (state == 0) {
    begin();
    state = atomic_load(&running);
  }
  if (state < 0) return;
  /* a place is taken only where there is one, so the ring is never overrun */
  uint64_t at = atomic_load_explicit(&head, memory_order_relaxed);
  do {
    if (at - atomic_load_explicit(&tail, memory_order_acquire) >= RING) {
      atomic_fetch_add(&lost, 1);
      return;
    }
  } while (!atomic_compare_exchange_weak_explicit(&head, &at, at + 1, memory_order_relaxed, memory_order_relaxed));
  struct slot *s = &ring[at & (RING - 1)];
  s->record = (struct record){(uint64_t)now.tv_sec * 1000000000u + (uint64_t)now.tv_nsec,
                              (uint32_t)(handle ^ (handle >> 32)), (uint16_t)api, 1};
  atomic_store_explicit(&s->ready, at + 1, memory_order_release);
}

__attribute__((destructor)) static void finish(void) {
  if (atomic_load(&running) == 1) drain();
}
