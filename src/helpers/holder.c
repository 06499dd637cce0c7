/* Starts a program and holds all that it starts: when whoever started the holder is gone, however that came
 * about, or tells it to end, everything goes; when the program ends, what it left behind goes too.
 * holder PROGRAM [WORD ...]
 * Linux only: a child subreaper (prctl(2), PR_SET_CHILD_SUBREAPER) inherits what loses its parent, and the
 * parent-death signal (PR_SET_PDEATHSIG) tells of a parent that was killed. */
#define _GNU_SOURCE
#include <errno.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>

static volatile sig_atomic_t told = 0;
static volatile pid_t program = 0;

static void on_signal(int number) {
  told = number;
  if (program > 0) kill(-program, SIGKILL);
}

/* Ends every child, those that were inherited too, until none is left. */
static void end_all(void) {
  char path[64];
  snprintf(path, sizeof path, "/proc/%d/task/%d/children", getpid(), getpid());
  for (int round = 0; round < 1000; round++) {
    FILE *list = fopen(path, "r");
    int pid;
    while (list && fscanf(list, "%d", &pid) == 1) kill(pid, SIGKILL);
    if (list) fclose(list);
    int status;
    pid_t gone = waitpid(-1, &status, list ? 0 : WNOHANG);
    if (gone <= 0 && errno != EINTR) return;
  }
}

int main(int argc, char **argv) {
  if (argc < 2) return 127;
  pid_t parent = getppid();
  struct sigaction act;
  memset(&act, 0, sizeof act);
  act.sa_handler = on_signal;
  sigaction(SIGTERM, &act, NULL);
  sigaction(SIGHUP, &act, NULL);
  sigaction(SIGINT, &act, NULL);
  prctl(PR_SET_CHILD_SUBREAPER, 1);
  prctl(PR_SET_PDEATHSIG, SIGTERM);
  if (getppid() != parent) return 143; /* gone before we asked to be told */
  pid_t child = fork();
  if (child < 0) return 126;
  if (child == 0) {
    setpgid(0, 0);
    execvp(argv[1], argv + 1);
    fprintf(stderr, "%s: %s\n", argv[1], strerror(errno));
    _exit(errno == ENOENT ? 127 : 126);
  }
  setpgid(child, child);
  program = child;
  if (told) kill(-child, SIGKILL);
  int status = 0;
  for (;;) {
    pid_t gone = waitpid(-1, &status, 0);
    if (gone == child || (gone < 0 && errno != EINTR)) break;
  }
  program = 0;
  kill(-child, SIGKILL); /* what it left in its group */
  end_all();
  if (WIFSIGNALED(status)) {
    int number = WTERMSIG(status);
    signal(number, SIG_DFL);
    /* the signal is told on, without a core of ours */
    prctl(PR_SET_DUMPABLE, 0);
    raise(number);
    return 128 + number;
  }
  return WEXITSTATUS(status);
}
