#!/bin/sh
# A made-up winch motor with a hidden rate of failures, for `honestmargin demo --search`.
#   winch.sh set VALUE | show | pull TEST VALUE PASS
# The higher the value, the likelier it stalls, ends with an error, or takes its machine down: then whoever runs the
# study is killed, as by a power cut, and the motor comes back with another start of the machine (winch.boot).
case "$1" in
set) echo "$2" > winch.offset ;;
show) echo "offset $(cat winch.offset)" ;;
pull)
  # one number out of the pass id, so that the demo goes the same way each time
  set -- "$1" "$2" "$3" $(awk -v pass="$4" -v v="$3" -v test="$2" 'BEGIN {
    gsub(/[^0-9]/, "", pass); srand((pass * 7919 + v * 104729 + 11) % 65521); for (i = 0; i < 20; i++) rand()
    seconds = test == "heavy" ? 0.5 : 0.15
    load = test == "heavy" ? 1 : 0.2
    rate = 0.45 * 4 ^ ((v - 200) / 25)
    at = -log(1 - rand()) / (rate * load)
    noise = rand() + rand() + rand() - 1.5
    fate = at > seconds ? "ok" : (v > 200 ? "down" : "stall")
    printf "%s %.2f %.1f %.2f", fate, at < seconds ? at : seconds, (1000 + 1.2 * v) * (1 + 0.004 * noise), (20 + v / 25) * (1 + 0.004 * noise)
  }')
  fate=$4 seconds=$5 score=$6 watts=$7
  sleep "$seconds"
  case "$fate" in
  ok) echo "pulled: $score"; echo "drew: $watts" ;;
  stall) echo "stalled after $seconds s" >&2; exit 3 ;;
  down)
    echo 0 > winch.offset
    echo "start $(( $(sed 's/[^0-9]//g' winch.boot 2>/dev/null || echo 1) + 1 ))" > winch.boot
    kill -9 "$(sed -n 's/.*"pid":\([0-9]*\).*/\1/p' run.lock)"
    ;;
  esac
  ;;
esac
