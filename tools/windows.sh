#!/bin/sh
# Compiles src/*.cpp against R's and Rcpp's headers with Debian's cross compiler for Windows: headers and syntax, since
# no R of Windows is here to link with. Exit status 75 where the compiler cannot be had.
set -u
compiler=x86_64-w64-mingw32-g++-posix
command -v $compiler >/dev/null || apt-get install -y -qq --no-install-recommends g++-mingw-w64-x86-64-posix >/dev/null 2>&1
command -v $compiler >/dev/null || { echo "windows: $compiler cannot be had here"; exit 75; }
cd "$(dirname "$0")/.." || exit 1
rcpp=$(Rscript --vanilla -e 'cat(system.file("include", package = "Rcpp"))')
headers=$(Rscript --vanilla -e 'cat(R.home("include"))')
status=0
for source in src/*.cpp; do
  $compiler -std=gnu++17 -fsyntax-only -Wall -D_WIN32_WINNT=0x0A00 -isystem "$headers" -isystem "$rcpp" "$source" ||
    { echo "windows: $source does not compile"; status=1; }
done
[ $status = 0 ] && echo "windows: $(ls src/*.cpp | wc -l) files of C++ compile"
exit $status
