# Builds what runs beside a workload: the frame probe, the recorder and the holder (Linux).
# Usage: sh build.sh COMPILER FOLDER
set -e
cd "$(dirname "$0")"
# -O2 last: the probe's dlsym() must be compiled with tail calls
$1 -std=gnu11 -Wall -Wextra -Wno-cast-function-type -fPIC -fvisibility=hidden -shared -pthread -O2 \
  -o "$2/probe.so" probe_ring.c probe_gl.c probe_vulkan.c -ldl
$1 -std=gnu11 -Wall -Wextra -O2 -pthread -o "$2/recorder" recorder.c recorder_sensors.c recorder_beacon.c -lm
$1 -std=gnu11 -Wall -Wextra -O2 -o "$2/holder" holder.c
