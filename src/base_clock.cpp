// The clock that the helpers of a pass use: it never jumps and starts with the machine.
#include <Rcpp.h>
#include <chrono>

// [[Rcpp::export]]
double monotonic_s() {
  // on Linux steady_clock is CLOCK_MONOTONIC
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}
