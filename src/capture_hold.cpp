// Frame times held to the nanosecond: what is written as text and read again is
// then the same number to the last bit.
#include <Rcpp.h>
#include <cmath>

// [[Rcpp::export]]
Rcpp::NumericVector hold_nanoseconds(const Rcpp::NumericVector& frame_time_ms) {
  const R_xlen_t n = frame_time_ms.size();
  Rcpp::NumericVector out(Rcpp::no_init(n));
  for (R_xlen_t i = 0; i < n; ++i) {
    const double x = frame_time_ms[i];
    const double held = std::nearbyint(x * 1e6) / 1e6;
    out[i] = held > 0 ? held : x;  // a shorter frame is kept as it is, not made 0
  }
  return out;
}
