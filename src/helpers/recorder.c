/* Runs while a pass runs: samples sensors and takes in what a program tells of its
 * own frames. Ends with SIGTERM, or when whoever started it is gone. */
#define _GNU_SOURCE
#include "recorder.h"
#include <errno.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/prctl.h>
#include <time.h>
#include <unistd.h>

static volatile sig_atomic_t over;
static void stop(int unused) {
  (void)unused;
  over = 1;
}

double now_s(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return (double)t.tv_sec + 1e-9 * (double)t.tv_nsec;
}

static void wait_until(double until, int beacon) {
  struct pollfd set[64];
  int n = beacon ? beacon_poll(set, 64) : 0;
  double left = until - now_s();
  if (left < 0) left = 0;
  struct timespec pause = {(time_t)left, (long)(1e9 * (left - (double)(time_t)left))};
  if (ppoll(set, (nfds_t)n, &pause, NULL) > 0) beacon_read(set, n);
}

int main(int argc, char **argv) {
  const char *sensors = NULL, *root = "", *socket_path = NULL, *beacon_out = NULL;
  double rate = 5;
  pid_t parent = getppid();
  for (int i = 1; i + 1 < argc; i += 2) {
    const char *value = argv[i + 1];
    if (strcmp(argv[i], "--sensors") == 0) sensors = value;
    else if (strcmp(argv[i], "--rate") == 0) rate = atof(value);
    else if (strcmp(argv[i], "--root") == 0) root = value;
    else if (strcmp(argv[i], "--socket") == 0) socket_path = value;
    else if (strcmp(argv[i], "--beacon") == 0) beacon_out = value;
    else if (strcmp(argv[i], "--command") == 0) {
      char *equals = strchr(argv[i + 1], '=');
      if (equals != NULL) {
        *equals = 0;
        sensors_command(argv[i + 1], equals + 1);
      }
    } else {
      fprintf(stderr, "recorder: unknown option %s\n", argv[i]);
      return 2;
    }
  }
  if (!(rate > 0 && rate <= 1000)) rate = 5;
  prctl(PR_SET_PDEATHSIG, SIGTERM);
  if (getppid() != parent) return 0;
  struct sigaction act = {.sa_handler = stop};
  sigaction(SIGTERM, &act, NULL);
  sigaction(SIGINT, &act, NULL);
  signal(SIGPIPE, SIG_IGN);
  if (sensors != NULL) {
    sensors_find(root);
    if (sensors_open(sensors, 1 / rate) != 0) {
      fprintf(stderr, "recorder: %s: %s\n", sensors, strerror(errno));
      return 1;
    }
  }
  if (socket_path != NULL && beacon_open(socket_path, beacon_out) != 0) {
    fprintf(stderr, "recorder: %s: %s\n", socket_path, strerror(errno));
    return 1;
  }
  puts("ready");
  fflush(stdout);
  double next = now_s();
  while (!over) {
    if (sensors != NULL && now_s() >= next) {
      sensors_row();
      next += 1 / rate;
      if (next < now_s()) next = now_s() + 1 / rate; /* the machine slept: no burst of rows */
    }
    wait_until(sensors != NULL ? next : now_s() + 1, socket_path != NULL);
  }
  if (sensors != NULL) {
    sensors_row();
    sensors_close();
  }
  if (socket_path != NULL) beacon_close();
  return 0;
}
