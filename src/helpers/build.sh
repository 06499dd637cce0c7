# Builds what runs beside a workload: the frame probe and the recorder. Linux only;
# elsewhere nothing is built, and the package says so when it is asked for them.
# Usage: sh build.sh COMPILER
set -e
cd "$(dirname "$0")"
[ "$(uname -s)" = Linux ] || exit 0
# -O2 last: the probe's dlsym() must be compiled with tail calls
$1 -std=gnu11 -Wall -Wextra -Wno-cast-function-type -fPIC -fvisibility=hidden -shared -pthread -O2 \
  -o probe.so probe_ring.c probe_gl.c probe_vulkan.c -ldl
$1 -std=gnu11 -Wall -Wextra -O2 -pthread -o recorder recorder.c recorder_sensors.c recorder_beacon.c -lm
