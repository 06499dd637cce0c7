/* The recorder: a small program that runs beside a pass. */
#ifndef HONESTMARGIN_RECORDER_H
#define HONESTMARGIN_RECORDER_H
#include <poll.h>

double now_s(void); /* CLOCK_MONOTONIC */

/* sensors: find what there is below root, write the heading, then a row a call */
void sensors_find(const char *root);
void sensors_command(const char *name, const char *command);
int sensors_open(const char *path, double every_s);
void sensors_row(void);
void sensors_close(void);

/* beacon: listen on a Unix socket, store whole lines with the time of arrival */
int beacon_open(const char *socket_path, const char *out_path);
int beacon_poll(struct pollfd *set, int most); /* how many entries it wants */
void beacon_read(const struct pollfd *set, int n);
void beacon_close(void);
#endif
