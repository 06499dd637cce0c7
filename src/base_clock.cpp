// The clock that the helpers of a pass use: it never jumps and starts with the machine.
#include <Rcpp.h>
#ifndef _WIN32
#include <poll.h>
#endif
#include <chrono>

// [[Rcpp::export]]
double monotonic_s() {
  // on Linux steady_clock is CLOCK_MONOTONIC
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

// Waits until something can be read, so that Ctrl-C is heard meanwhile: R's own reading of
// a line does not look up until the line ends.
// [[Rcpp::export]]
bool can_be_read(int descriptor, int milliseconds) {
  Rcpp::checkUserInterrupt();
#ifdef _WIN32
  return true;
#else
  struct pollfd one = {descriptor, POLLIN, 0};
  const bool ready = poll(&one, 1, milliseconds) > 0;
  Rcpp::checkUserInterrupt();
  return ready;
#endif
}
