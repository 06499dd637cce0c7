#!/bin/sh
# Pictures of what the commands give on the demo data, into docs/screenshots/.
set -eu
out=docs/screenshots
mkdir -p "$out"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
study=$(Rscript -e 'cat(honestmargin::demo_study())')
for of in change passes; do honestmargin figure "$study" --of $of --file "$out/$of.png" --size 1280x800; done
honestmargin figure "$study" --of sensors --workload harbour --file "$out/sensors.png" --size 1280x800
honestmargin figure "$study" --of overall --file "$out/overall.png" --size 1280x800
honestmargin figure "$study" --of cost --cost graphics_power_mean --file "$out/cost.png" --size 1280x800
honestmargin figure "$study" --of frames --workload harbour --file "$out/frames.png" --size 1280x800
honestmargin report "$study" --file "$work/report.html"

browse() { # size, file, address
  chromium --headless --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking \
    --disable-component-update --disable-sync --hide-scrollbars --user-data-dir="$work/profile" \
    --window-size="$1" --screenshot="$out/$2" "${3:-file://$work/report.html}" >/dev/null 2>&1
}
browse 1280,800 report.png

# terminal NAME SECONDS COMMAND: a terminal window of 80 columns with what the command shows
terminal() {
  xvfb-run -a -s "-screen 0 1280x800x24" sh -c "
    xterm -fa 'DejaVu Sans Mono' -fs 11 -bg white -fg black -geometry 80x44+0+0 -e sh -c '$3; sleep 60' &
    sleep $2; import -window root '$work/$1.png'; kill \$!" 2>/dev/null
  convert "$work/$1.png" -trim +repage -bordercolor white -border 8 "$out/$1.png"
}
cp -r "$study" "$work/dial-study"
terminal terminal 15 "cd $work; printf \"\\\$ honestmargin weigh dial-study\n\n\"; honestmargin weigh dial-study"
terminal plan 12 "cd $work; printf \"\\\$ honestmargin plan dial-study\n\n\"; honestmargin plan dial-study"

# a study that runs, caught in the middle
mkdir "$work/dial"
sed 's/seconds: 20/seconds: 15/' "$(Rscript -e 'cat(system.file("stand-in", "dial.yml", package = "honestmargin"))')" |
  sed 's/--seconds {seconds}/--seconds {seconds} \&\& sleep 2/' > "$work/dial/study.yml"
# in a name space of its own: what else runs on this machine is nobody's business
alone=""
unshare -p -f --mount-proc true 2>/dev/null && alone="unshare -p -f --mount-proc"
terminal run 13 "cd $work; printf \"\\\$ honestmargin run dial\n\n\"; $alone honestmargin run dial"

# a study by hand: prompts and answers
mkdir "$work/lid"
cat > "$work/lid/study.yml" <<'PLAN'
question: Does the lid cost points in Brinewheel?
setting: {name: lid, baseline: open, by_hand: of the bench notebook}
arms: [{value: open}, {value: shut}]
blocks: 2
order: mirrored
metrics: [{id: score, worth: 2, primary: true}]
workloads: [{id: lap, title: Brinewheel lap, by_hand: Start Brinewheel and drive one lap of the harbour.}]
PLAN
# the same on the board, with some passes behind it
mkdir "$work/bench"
sed 's/blocks: 2/blocks: 8/; s/mirrored/as_is/' "$work/lid/study.yml" | grep -v '^order' > "$work/bench/study.yml"
for pass in open=1204 shut=1161 shut=1149 open=1199 open=1208 shut=1155 shut=1170 open=1195 open=1201 shut=1158; do
  honestmargin add "$work/bench" --arm "${pass%=*}" "score=${pass#*=}" 2>/dev/null
done
honestmargin board "$work/bench" > "$work/address" 2>/dev/null &
board=$!
sleep 10
browse 1280,800 board.png "$(head -1 "$work/address")"
kill $board
# the desk with the demo's answer
honestmargin open "$study" > "$work/address" 2>/dev/null &
board=$!
sleep 10
browse 1280,800 desk.png "$(head -1 "$work/address" | sed 's/read$/answer/')"
kill $board

cat > "$work/answers" <<'ANSWERS'
y

1,204

y

12
n
1193
fan was loud

ANSWERS
typing="sleep 3; while read -r a; do echo \"\$a\"; sleep 0.3; done < $work/answers; sleep 20"
printf '%s' "$typing" > "$work/typing"
mv "$out/run.png" "$work/run-alone.png"
terminal guided 9 "cd $work; printf \"\\\$ honestmargin run lid\n\"; sh typing | script -qefc \"honestmargin run lid\" /dev/null"

# a run by command and one by hand, side by side
convert "$work/run-alone.png" "$out/guided.png" -background white +append "$out/run.png"
rm "$out/guided.png"

# a search, and a screening of many options
honestmargin demo --search "$work/winch" >/dev/null 2>&1
cp "$work/winch/search.png" "$out/search.png"
mkdir "$work/options"
cat > "$work/options/study.yml" <<'PLAN'
question: Which options cost frames in the harbour?
setting: {name: options}
screen:
  way: together
  options:
    - {name: shadows, from: high, to: low}
    - {name: water, from: fine, to: coarse}
    - {name: fog, from: thick, to: thin}
    - {name: crowd, from: full, to: half}
    - {name: trees, from: far, to: near}
    - {name: blur, from: strong, to: weak}
workloads:
  - id: harbour
    command: >-
      awk -v s={shadows} -v w={water} -v c={crowd} -v p={pass} 'BEGIN {gsub(/[^0-9]/, "", p); srand(p * 7919 % 65521);
      for (i = 0; i < 20; i++) rand(); n = rand() + rand() + rand() - 1.5;
      print "rate", 80 * (s == "low" ? 1.09 : 1) * (w == "coarse" ? 1.06 : 1) * (c == "half" ? 1.055 : 1) * (1 + 0.008 * n)}'
    scores: [{metric: fps_avg, pattern: 'rate ([0-9.]+)'}]
metrics: [{id: fps_avg, worth: 2, primary: true}]
blocks: 3
sensors: {rate: 0}
PLAN
honestmargin run "$work/options" 2>/dev/null
honestmargin figure "$work/options" --of screen --file "$out/screen.png" --size 1280x800
