#!/bin/sh
# Runs the README's two commands on a bare Debian: bootstraps one into a folder, puts there what the README asks for
# (R, make, a C++ compiler), and runs `make demo` and `make test` in a clone of HEAD, as a user who is not root.
# The release, the package sources, certificates and R's repositories are those that this machine is set up with.
# Usage: sh tools/fresh.sh [FOLDER]   (default: a temporary folder, taken away afterwards)
# Exit status: 0 both passed, 1 one of them failed, 75 no bare Debian can be had here (and why).
set -u
self=$(readlink -f "$0")
cannot() { echo "fresh: $*"; exit 75; }
[ "$(id -u)" = 0 ] || cannot "not root, so no bare Debian can be bootstrapped"
command -v apt-get >/dev/null || cannot "no apt-get here, so there is no Debian to take the package sources of"
command -v debootstrap >/dev/null || {
  apt-get update -qq
  apt-get install -y -qq --no-install-recommends debootstrap >/dev/null || cannot "debootstrap cannot be installed"
}
if [ "${1:-}" = --inside ]; then
  root=$2
  # pseudo-terminals and /proc, in a mount namespace of our own: nothing is left mounted
  mount -t proc proc "$root/proc" || cannot "/proc cannot be mounted"
  mount --rbind /dev "$root/dev" && mount -t devpts devpts "$root/dev/pts" -o newinstance,ptmxmode=0666,mode=620 2>/dev/null
  [ -e "$root/dev/ptmx" ] || cannot "/dev cannot be mounted"
  exec chroot "$root" /usr/bin/env -i PATH=/usr/local/bin:/usr/bin:/bin:/usr/sbin:/sbin LANG=C.UTF-8 TERM=xterm \
    sh /root/fresh-inside.sh
fi
cd "$(dirname "$self")/.." || exit 1
root=${1:-$(mktemp -d /tmp/fresh-XXXXXX)}
[ -n "${1:-}" ] || trap 'rm -rf --one-file-system "$root"' EXIT
spent() { echo "fresh: $1 took $(($(date +%s) - began)) s"; }

# where this machine has its packages from: the first source of the release itself
set -- $(apt-get indextargets --format '$(SITE) $(CODENAME)' 'Created-By: Packages' | grep -v -E -- '-(updates|security|backports)$' | head -1)
[ $# = 2 ] || cannot "apt names no source of packages"
began=$(date +%s)
chmod 755 "$root"
debootstrap --variant=minbase "$2" "$root" "$1" >"$root.log" 2>&1 || {
  tail -5 "$root.log"
  cannot "debootstrap of $2 from $1 failed"
}
rm -f "$root.log"
spent "a bare Debian $2"
rm -f "$root/etc/apt/sources.list"
cp -a /etc/apt/sources.list /etc/apt/sources.list.d "$root/etc/apt/" 2>/dev/null
# sources with a scheme or key that a bare machine lacks stay out
for list in "$root"/etc/apt/sources.list.d/*.list "$root"/etc/apt/sources.list.d/*.sources; do
  [ -e "$list" ] && ! grep -q "$1" "$list" && rm -f "$list"
done
cp /etc/resolv.conf /etc/hosts "$root/etc/" 2>/dev/null
mkdir -p "$root/usr/local/share/ca-certificates"
cp /usr/local/share/ca-certificates/* "$root/usr/local/share/ca-certificates/" 2>/dev/null
git diff --quiet HEAD || echo "fresh: what is not committed does not take part"
git clone -q --no-hardlinks . "$root/srv/honest-margin" || exit 1
[ -d ../shared ] && cp -r ../shared "$root/srv/shared"
Rscript --vanilla -e 'repos <- getOption("repos"); source(file.path(R.home("etc"), "Rprofile.site"), local = TRUE, echo = FALSE); cat(sprintf("options(repos = c(%s))\n", paste0(names(getOption("repos")), " = \"", getOption("repos"), "\"", collapse = ", ")))' \
  >"$root/root/Rprofile.site" 2>/dev/null

cat >"$root/root/fresh-inside.sh" <<'INSIDE'
set -u
spent() { echo "fresh: $1 took $(($(date +%s) - began)) s"; }
export DEBIAN_FRONTEND=noninteractive
began=$(date +%s)
apt-get update -qq && apt-get install -y -qq --no-install-recommends ca-certificates sudo git \
  r-base-core r-base-dev make g++ >/dev/null 2>&1 || { echo "fresh: R cannot be installed"; exit 75; }
update-ca-certificates >/dev/null 2>&1
spent "R, make and a compiler"
grep -q '"@CRAN@"' /root/Rprofile.site || cat /root/Rprofile.site >>/etc/R/Rprofile.site
useradd -m tester && echo "tester ALL=(ALL) NOPASSWD: ALL" >/etc/sudoers.d/tester
chown -R tester /srv/honest-margin
dpkg-query -W -f '${Package}\n' | sort >/root/before
status=0
for what in demo test; do
  began=$(date +%s)
  sudo -u tester -H sh -c "cd /srv/honest-margin && make $what" </dev/null || { echo "fresh: make $what FAILED"; status=1; }
  spent "make $what"
done
dpkg-query -W -f '${Package}\n' | sort >/root/after
echo "fresh: set-up installed $(comm -13 /root/before /root/after | grep -c .) Debian packages (what it asked for stands above)"
echo "fresh: built from CRAN: $(find /usr/local/lib/R/site-library /home/tester/R -mindepth 1 -maxdepth 4 -name DESCRIPTION 2>/dev/null |
  xargs -r -n1 dirname | xargs -r -n1 basename | sort -u | tr '\n' ' ')"
exit $status
INSIDE
unshare --mount --propagation private sh "$self" --inside "$root"
