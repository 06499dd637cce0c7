/* The beacon: programs that can report their own frames connect to a Unix socket
 * and write lines (docs/beacon.md). Whole lines that begin with a word of the
 * protocol are stored with their time of arrival; everything else is counted. A
 * client that floods is cut off at a limit, so that the disk stays whole. */
#define _GNU_SOURCE
#include "recorder.h"
#include <fcntl.h>
#include <stdio.h>
#include <string.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#define LONGEST 256
#define CLIENTS 32
static const size_t most_bytes = 32u << 20;
struct client { int fd, id, skipping; size_t held; char line[LONGEST + 1]; };
static struct client clients[CLIENTS];
static int listening = -1, seen;
static FILE *out;
static const char *socket_name;
static size_t stored;
static unsigned long refused, beyond;

int beacon_open(const char *socket_path, const char *out_path) {
  struct sockaddr_un name = {.sun_family = AF_UNIX};
  if (out_path == NULL || strlen(socket_path) >= sizeof name.sun_path) return -1;
  strcpy(name.sun_path, socket_path);
  unlink(socket_path);
  for (int i = 0; i < CLIENTS; i++) clients[i].fd = -1;
  out = fopen(out_path, "we");
  listening = socket(AF_UNIX, SOCK_STREAM | SOCK_NONBLOCK | SOCK_CLOEXEC, 0);
  if (out == NULL || listening < 0 || bind(listening, (struct sockaddr *)&name, sizeof name) != 0) return -1;
  socket_name = socket_path;
  return listen(listening, 16);
}

static int is_word(const char *line) {
  static const char *const words[] = {"frame", "segment", "pause", "resume", "arm", "loop", "note", "beacon"};
  if (*line == '@') { /* the time by the client's own monotonic clock comes first */
    line += strcspn(line, " ");
    line += strspn(line, " ");
  }
  for (size_t i = 0; i < sizeof words / sizeof *words; i++) {
    size_t n = strlen(words[i]);
    if (strncmp(line, words[i], n) == 0 && (line[n] == 0 || line[n] == ' ')) return 1;
  }
  return 0;
}

static void take_line(struct client *c, double at) {
  c->line[c->held] = 0;
  if (c->held > 0 && c->line[c->held - 1] == '\r') c->line[--c->held] = 0;
  int fine = c->held > 0 && !c->skipping && strlen(c->line) == c->held && is_word(c->line);
  for (const unsigned char *b = (unsigned char *)c->line; fine && *b; b++) fine = *b >= 32 && *b != 127;
  if (!fine) {
    if (c->held > 0 || c->skipping) refused++;
  } else if (stored > most_bytes) {
    beyond++;
  } else {
    int n = fprintf(out, "%.6f\t%d\t%s\n", at, c->id, c->line);
    stored += n > 0 ? (size_t)n : 0;
  }
  c->held = 0;
  c->skipping = 0;
}

static void take_bytes(struct client *c, const char *bytes, ssize_t n, double at) {
  for (ssize_t i = 0; i < n; i++) {
    if (bytes[i] == '\n') take_line(c, at);
    else if (c->held < LONGEST) c->line[c->held++] = bytes[i];
    else c->skipping = 1;
  }
}

static void leave(struct client *c) {
  if (c->held > 0 || c->skipping) refused++; /* cut in mid-line */
  close(c->fd);
  *c = (struct client){.fd = -1};
}

int beacon_poll(struct pollfd *set, int most) {
  int n = 0;
  set[n++] = (struct pollfd){listening, POLLIN, 0};
  for (int i = 0; i < CLIENTS && n < most; i++) {
    if (clients[i].fd >= 0) set[n++] = (struct pollfd){clients[i].fd, POLLIN, 0};
  }
  return n;
}

static void welcome(void) {
  int fd = accept4(listening, NULL, NULL, SOCK_NONBLOCK | SOCK_CLOEXEC);
  for (int i = 0; i < CLIENTS && fd >= 0; i++) {
    if (clients[i].fd < 0) {
      clients[i] = (struct client){.fd = fd, .id = ++seen};
      return;
    }
  }
  if (fd >= 0) close(fd);
}

void beacon_read(const struct pollfd *set, int n) {
  static char bytes[65536];
  for (int k = 0; k < n; k++) {
    if (set[k].revents == 0) continue;
    if (set[k].fd == listening) {
      welcome();
      continue;
    }
    for (int i = 0; i < CLIENTS; i++) {
      if (clients[i].fd != set[k].fd) continue;
      ssize_t got = read(clients[i].fd, bytes, sizeof bytes);
      if (got > 0) take_bytes(&clients[i], bytes, got, now_s());
      else leave(&clients[i]);
    }
  }
  fflush(out);
}

void beacon_close(void) {
  struct pollfd set[CLIENTS + 1]; /* what clients wrote before they ended is still in the sockets */
  for (int round = 0; round < 1000; round++) {
    int n = beacon_poll(set, CLIENTS + 1);
    if (poll(set, (nfds_t)n, 0) <= 0) break;
    beacon_read(set, n);
  }
  if (refused + beyond > 0) fprintf(out, "# refused %lu, beyond the limit %lu\n", refused, beyond);
  fclose(out);
  unlink(socket_name);
}
