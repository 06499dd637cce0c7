#!/bin/sh
# Pictures of what the commands give on the demo data, into docs/screenshots/.
set -eu
out=docs/screenshots
mkdir -p "$out"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
study=$(Rscript -e 'cat(honestmargin::demo_study())')
for of in change passes; do honestmargin figure "$study" --of $of --file "$out/$of.png" --size 1280x800; done
honestmargin figure "$study" --of trace --workload harbour --file "$out/trace.png" --size 1280x800
honestmargin report "$study" --file "$work/report.html"

browse() { # size, file
  chromium --headless --no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking \
    --disable-component-update --disable-sync --hide-scrollbars --user-data-dir="$work/profile" \
    --window-size="$1" --screenshot="$out/$2" "file://$work/report.html" >/dev/null 2>&1
}
browse 1280,800 report.png
browse 500,900 report-phone.png

# terminal NAME SECONDS COMMAND: a terminal window of 80 columns with what the command shows
terminal() {
  xvfb-run -a -s "-screen 0 1280x800x24" sh -c "
    xterm -fa 'DejaVu Sans Mono' -fs 12 -bg white -fg black -geometry 80x40+0+0 -e sh -c '$3; sleep 60' &
    sleep $2; import -window root '$work/$1.png'; kill \$!" 2>/dev/null
  convert "$work/$1.png" -trim +repage -bordercolor white -border 8 "$out/$1.png"
}
terminal terminal 4 "printf \"\\\$ honestmargin weigh dial-study\n\n\"; honestmargin weigh $study | head -38"
