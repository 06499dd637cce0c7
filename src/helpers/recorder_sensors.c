/* What the Linux kernel offers as files (Documentation/ABI: hwmon, thermal,
 * cpufreq, powercap, power_supply, drm; proc(5) for stat and meminfo), read with
 * files that stay open, and numbers from commands of the tester's.
 *
 * Output: delimited text. The heading of a column is "quantity part [unit]". */
#define _GNU_SOURCE
#include "recorder.h"
#include <fcntl.h>
#include <glob.h>
#include <math.h>
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum kind { NUMBER, CHOSEN, RISING, CORE_LOAD, CORE_CLOCK, MEMORY, COMMAND };
struct sensor {
  char name[128];
  enum kind kind;
  int fd;
  double factor;
  int core;              /* CORE_LOAD: -1 for all together */
  double busy, total;    /* CORE_LOAD: the last reading */
  double last, sum, top; /* RISING: a counter that wraps at `top` */
  const char *key;       /* MEMORY: which line, less which other */
  const char *less;
};
#define MOST 512
static struct sensor sensors[MOST];
static int count;
static FILE *out;
static int stat_fd = -1, memory_fd = -1, clock_fd = -1;
static char stat_text[65536], memory_text[8192], clock_text[1 << 18];

struct command { char name[96]; const char *text; _Atomic double value; };
static struct command commands[16];
static int command_count;

static int slurp(int fd, char *into, size_t n) {
  ssize_t got = fd < 0 ? -1 : pread(fd, into, n - 1, 0);
  into[got > 0 ? got : 0] = 0;
  return got > 0;
}
static int slurp_path(const char *path, char *into, size_t n) {
  int fd = open(path, O_RDONLY | O_CLOEXEC);
  int ok = slurp(fd, into, n);
  if (fd >= 0) close(fd);
  into[strcspn(into, "\n")] = 0;
  return ok;
}

/* a heading must not hold what the layout of the file is made of */
static void clean(char *text) {
  for (char *c = text; *c; c++) {
    if ((unsigned char)*c < 32 || strchr(",;\"", *c) != NULL) *c = ' ';
  }
}

static struct sensor *add(enum kind kind, int fd, double factor, const char *quantity, const char *part, const char *unit) {
  if (count == MOST) return NULL;
  struct sensor *s = &sensors[count++];
  *s = (struct sensor){.kind = kind, .fd = fd, .factor = factor, .core = -1};
  char shown[80];
  snprintf(shown, sizeof shown, "%s", part);
  clean(shown);
  snprintf(s->name, sizeof s->name, "%s %s [%s]", quantity, shown, unit);
  return s;
}

static struct sensor *add_file(enum kind kind, const char *path, double factor, const char *quantity, const char *part,
                               const char *unit) {
  char text[64];
  int fd = open(path, O_RDONLY | O_CLOEXEC);
  if (fd < 0) return NULL;
  if (!slurp(fd, text, sizeof text)) { /* there, but the driver gives nothing */
    close(fd);
    return NULL;
  }
  return add(kind, fd, factor, quantity, part, unit);
}

static void each(const char *root, const char *pattern, void (*take)(const char *path)) {
  char full[512];
  glob_t found;
  snprintf(full, sizeof full, "%s%s", root, pattern);
  if (glob(full, 0, NULL, &found) == 0) {
    for (size_t i = 0; i < found.gl_pathc; i++) take(found.gl_pathv[i]);
  }
  globfree(&found);
}

/* the path of a neighbour: last part replaced */
static void beside(char *into, size_t n, const char *path, const char *name) {
  snprintf(into, n, "%s", path);
  char *slash = strrchr(into, '/');
  if (slash != NULL) snprintf(slash + 1, n - (size_t)(slash + 1 - into), "%s", name);
}

static void take_clock(const char *path) {
  char part[32];
  const char *at = strstr(path, "/cpu/cpu");
  snprintf(part, sizeof part, "core %d", at != NULL ? atoi(at + 8) : 0);
  add_file(NUMBER, path, 1e-3, "clock", part, "MHz");
}

/* drivers of processors and graphics cards go by a handful of names */
static const char *owner_of(const char *chip) {
  static const char *const drivers[][2] = {
    {"coretemp", "processor"}, {"k10temp", "processor"}, {"zenpower", "processor"}, {"cpu_thermal", "processor"},
    {"amdgpu", "graphics"},    {"nouveau", "graphics"},  {"i915", "graphics"},      {"xe", "graphics"}};
  for (size_t i = 0; i < sizeof drivers / sizeof *drivers; i++) {
    if (strcmp(chip, drivers[i][0]) == 0) return drivers[i][1];
  }
  return chip;
}

/* hwmon names a chip in "name" and an input in "..._label" */
static void hwmon(const char *path, const char *quantity, double factor, const char *unit) {
  char chip[48], label[48], near[512], part[112], text[48];
  beside(near, sizeof near, path, "name");
  if (!slurp_path(near, chip, sizeof chip)) snprintf(chip, sizeof chip, "chip");
  snprintf(near, sizeof near, "%s", path);
  char *end = strrchr(near, '_');
  const char *base = strrchr(path, '/') + 1;
  snprintf(text, sizeof text, "%.40s", base);
  text[strcspn(text, "_")] = 0;
  if (end != NULL) snprintf(end, sizeof near - (size_t)(end - near), "_label");
  if (end == NULL || !slurp_path(near, label, sizeof label)) snprintf(label, sizeof label, "%s", text);
  snprintf(part, sizeof part, "%s %s", owner_of(chip), label);
  add_file(NUMBER, path, factor, quantity, part, unit);
}
static void take_temperature(const char *path) { hwmon(path, "temperature", 1e-3, "C"); }
static void take_fan(const char *path) { hwmon(path, "fan", 1, "rpm"); }
static void take_power(const char *path) { hwmon(path, "power", 1e-6, "W"); }
static void take_frequency(const char *path) { hwmon(path, "clock", 1e-6, "MHz"); }

static void take_zone(const char *path) {
  char near[512], type[64];
  beside(near, sizeof near, path, "type");
  if (!slurp_path(near, type, sizeof type)) snprintf(type, sizeof type, "zone");
  char part[80];
  snprintf(part, sizeof part, "zone %s", type);
  add_file(NUMBER, path, 1e-3, "temperature", part, "C");
}

static void take_energy(const char *path) {
  char near[512], name[64], text[64];
  beside(near, sizeof near, path, "name");
  if (!slurp_path(near, name, sizeof name)) snprintf(name, sizeof name, "domain");
  char part[80];
  snprintf(part, sizeof part, strncmp(name, "package", 7) == 0 ? "processor %s" : "%s", name);
  struct sensor *s = add_file(RISING, path, 1e-6, "energy", part, "J");
  if (s == NULL) return;
  beside(near, sizeof near, path, "max_energy_range_uj");
  s->top = slurp_path(near, text, sizeof text) ? atof(text) : 0;
  s->last = -1;
  beside(near, sizeof near, path, "constraint_0_power_limit_uw");
  add_file(NUMBER, near, 1e-6, "limit", part, "W");
}

static void take_throttles(const char *path) {
  struct sensor *s = add_file(RISING, path, 1, "throttles", "processor", "count");
  if (s != NULL) s->last = -1;
}

static void take_supply(const char *path) {
  char near[512], type[32], part[64];
  const char *slash = strrchr(path, '/');
  const char *from = slash;
  while (from > path && from[-1] != '/') from--;
  snprintf(part, sizeof part, "%.*s", (int)(slash - from), from);
  if (!slurp_path(path, type, sizeof type) || strcmp(type, "Battery") != 0) return;
  beside(near, sizeof near, path, "capacity");
  add_file(NUMBER, near, 1, "battery", part, "%");
  beside(near, sizeof near, path, "power_now");
  add_file(NUMBER, near, 1e-6, "power", part, "W");
}

static void take_graphics(const char *path) { /* .../card0/device */
  static const struct { const char *file, *quantity, *part, *unit; double factor; enum kind kind; } table[] = {
    {"device/gpu_busy_percent", "load", "graphics", "%", 1, NUMBER},
    {"device/pp_dpm_sclk", "clock", "graphics", "MHz", 1, CHOSEN},
    {"gt_act_freq_mhz", "clock", "graphics", "MHz", 1, NUMBER},
    {"device/mem_info_vram_used", "memory", "graphics used", "MB", 1e-6, NUMBER},
    {"device/mem_info_vram_total", "memory", "graphics total", "MB", 1e-6, NUMBER},
  };
  char full[512];
  for (size_t i = 0; i < sizeof table / sizeof *table; i++) {
    snprintf(full, sizeof full, "%s/%s", path, table[i].file);
    add_file(table[i].kind, full, table[i].factor, table[i].quantity, table[i].part, table[i].unit);
  }
}

static void find_loads(const char *root) {
  char path[512];
  snprintf(path, sizeof path, "%s/proc/stat", root);
  stat_fd = open(path, O_RDONLY | O_CLOEXEC);
  if (slurp(stat_fd, stat_text, sizeof stat_text)) {
    for (const char *at = stat_text; strncmp(at, "cpu", 3) == 0; at = strchr(at, '\n') + 1) {
      char part[32];
      int all = at[3] == ' ';
      if (all) snprintf(part, sizeof part, "processor");
      else snprintf(part, sizeof part, "core %d", atoi(at + 3));
      struct sensor *s = add(CORE_LOAD, -1, 1, "load", part, "%");
      if (s != NULL) s->core = all ? -1 : atoi(at + 3);
      if (strchr(at, '\n') == NULL) break;
    }
  }
  snprintf(path, sizeof path, "%s/proc/meminfo", root);
  memory_fd = open(path, O_RDONLY | O_CLOEXEC);
  if (slurp(memory_fd, memory_text, sizeof memory_text)) {
    static const char *const lines[][3] = {
      {"used", "MemTotal", "MemAvailable"}, {"total", "MemTotal", NULL}, {"swap used", "SwapTotal", "SwapFree"}};
    for (int i = 0; i < 3; i++) {
      struct sensor *s = add(MEMORY, -1, 1024e-6, "memory", lines[i][0], "MB");
      if (s != NULL) s->key = lines[i][1], s->less = lines[i][2];
    }
  }
}

/* "cpu MHz" of one core in /proc/cpuinfo, NAN where there is none */
static double core_clock(int core) {
  const char *at = clock_text;
  for (int i = 0; i <= core; i++) {
    at = strstr(at, "\ncpu MHz");
    if (at == NULL) return NAN;
    at++;
  }
  at = strchr(at, ':');
  return at == NULL ? NAN : atof(at + 1);
}

/* where no driver sets the clock, the processor itself may still tell it */
static void find_clocks(const char *root) {
  char path[512];
  int before = count;
  each(root, "/sys/devices/system/cpu/cpu[0-9]*/cpufreq/scaling_cur_freq", take_clock);
  if (count > before) return;
  snprintf(path, sizeof path, "%s/proc/cpuinfo", root);
  clock_fd = open(path, O_RDONLY | O_CLOEXEC);
  if (!slurp(clock_fd, clock_text, sizeof clock_text)) return;
  for (int core = 0; !isnan(core_clock(core)); core++) {
    char part[32];
    snprintf(part, sizeof part, "core %d", core);
    struct sensor *s = add(CORE_CLOCK, -1, 1, "clock", part, "MHz");
    if (s == NULL) return;
    s->core = core;
  }
}

void sensors_find(const char *root) {
  find_loads(root);
  find_clocks(root);
  each(root, "/sys/class/hwmon/hwmon*/temp*_input", take_temperature);
  each(root, "/sys/class/hwmon/hwmon*/fan*_input", take_fan);
  each(root, "/sys/class/hwmon/hwmon*/power*_average", take_power);
  each(root, "/sys/class/hwmon/hwmon*/power*_input", take_power);
  each(root, "/sys/class/hwmon/hwmon*/freq*_input", take_frequency);
  each(root, "/sys/class/thermal/thermal_zone*/temp", take_zone);
  each(root, "/sys/class/powercap/intel-rapl:[0-9]*/energy_uj", take_energy);
  each(root, "/sys/devices/system/cpu/cpu0/thermal_throttle/package_throttle_count", take_throttles);
  each(root, "/sys/class/power_supply/*/type", take_supply);
  each(root, "/sys/class/drm/card[0-9]", take_graphics);
}

/* Commands may be slow, so they run one after another beside the clock; a row
 * takes the last answer. */
void sensors_command(const char *name, const char *text) {
  if (command_count == 16) return;
  struct command *c = &commands[command_count++];
  snprintf(c->name, sizeof c->name, "%s", name);
  clean(c->name);
  c->text = text;
  c->value = NAN;
}
static void *ask_commands(void *every) {
  double pause = *(double *)every;
  for (;;) {
    for (int i = 0; i < command_count; i++) {
      char line[256];
      FILE *from = popen(commands[i].text, "re");
      double value = NAN;
      while (from != NULL && fgets(line, sizeof line, from) != NULL) {
        const char *at = line + strcspn(line, "-0123456789");
        char *end;
        double read = strtod(at, &end);
        if (end != at) value = read;
      }
      if (from == NULL || pclose(from) != 0) value = NAN;
      commands[i].value = value;
    }
    usleep((useconds_t)(1e6 * pause));
  }
  return NULL;
}

int sensors_open(const char *path, double every_s) {
  static double every;
  out = fopen(path, "we");
  if (out == NULL) return -1;
  for (int i = 0; i < command_count; i++) {
    if (count < MOST) {
      sensors[count] = (struct sensor){.kind = COMMAND, .fd = -1, .factor = 1, .core = i};
      memcpy(sensors[count++].name, commands[i].name, sizeof commands->name);
    }
  }
  fputs("time_s", out);
  for (int i = 0; i < count; i++) fprintf(out, ",%s", sensors[i].name);
  fputc('\n', out);
  every = every_s;
  pthread_t asker;
  if (command_count > 0 && pthread_create(&asker, NULL, ask_commands, &every) == 0) pthread_detach(asker);
  return 0;
}

static double core_load(struct sensor *s) {
  char key[16];
  if (s->core < 0) snprintf(key, sizeof key, "cpu ");
  else snprintf(key, sizeof key, "cpu%d ", s->core);
  const char *at = strncmp(stat_text, key, strlen(key)) == 0 ? stat_text : NULL;
  if (at == NULL) {
    char line[20];
    snprintf(line, sizeof line, "\n%s", key);
    at = strstr(stat_text, line);
    if (at == NULL) return NAN; /* taken out of service */
    at++;
  }
  double total = 0, idle = 0;
  char *end = (char *)at + strlen(key);
  for (int i = 0; i < 8; i++) { /* user nice system idle iowait irq softirq steal */
    double v = strtod(end, &end);
    total += v;
    if (i == 3 || i == 4) idle += v;
  }
  double busy = total - idle, share = total > s->total && s->total > 0 ? 100 * (busy - s->busy) / (total - s->total) : NAN;
  s->busy = busy;
  s->total = total;
  return share;
}

static double memory_line(const char *key) {
  const char *at = strstr(memory_text, key);
  return at == NULL ? NAN : atof(at + strlen(key) + 1);
}

static double chosen_line(const char *text) { /* "1: 1200Mhz *": the line with a star */
  const char *star = strchr(text, '*');
  if (star == NULL) return NAN;
  while (star > text && star[-1] != '\n') star--;
  const char *colon = strchr(star, ':');
  return colon == NULL ? NAN : atof(colon + 1);
}

static double rising(struct sensor *s, double raw) {
  if (s->last >= 0) {
    double step = raw - s->last;
    if (step < 0) step = s->top > 0 ? step + s->top : 0;
    s->sum += step;
  }
  s->last = raw;
  return s->sum;
}

static double value_of(struct sensor *s) {
  char text[1024];
  switch (s->kind) {
    case CORE_LOAD: return core_load(s);
    case MEMORY: return s->factor * (memory_line(s->key) - (s->less != NULL ? memory_line(s->less) : 0));
    case CORE_CLOCK: return core_clock(s->core);
    case COMMAND: return commands[s->core].value;
    default: break;
  }
  if (!slurp(s->fd, text, sizeof text)) return NAN;
  if (s->kind == CHOSEN) return chosen_line(text);
  char *end;
  double raw = strtod(text, &end);
  if (end == text) return NAN;
  return s->factor * (s->kind == RISING ? rising(s, raw) : raw);
}

void sensors_row(void) {
  slurp(stat_fd, stat_text, sizeof stat_text);
  slurp(memory_fd, memory_text, sizeof memory_text);
  if (clock_fd >= 0) slurp(clock_fd, clock_text, sizeof clock_text);
  fprintf(out, "%.6f", now_s());
  for (int i = 0; i < count; i++) {
    double v = value_of(&sensors[i]);
    if (isnan(v)) fputc(',', out);
    else fprintf(out, ",%.7g", v);
  }
  fputc('\n', out);
  fflush(out);
}

void sensors_close(void) { fclose(out); }
