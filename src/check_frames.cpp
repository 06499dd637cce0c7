// The level of a pass over its time: the median frame of each slice, which stutters do not move.
#include <Rcpp.h>
#include <algorithm>
#include <vector>

// [[Rcpp::export]]
Rcpp::NumericVector slice_medians(const Rcpp::NumericVector& frame_time_ms, double width_ms) {
  std::vector<double> out, slice;
  double until = width_ms, at = 0;
  for (R_xlen_t i = 0; i < frame_time_ms.size(); ++i) {
    at += frame_time_ms[i];
    slice.push_back(frame_time_ms[i]);
    if (at >= until || i + 1 == frame_time_ms.size()) {
      const size_t middle = slice.size() / 2;
      std::nth_element(slice.begin(), slice.begin() + middle, slice.end());
      out.push_back(slice[middle]);
      slice.clear();
      // a frame longer than a slice takes the place of several
      while (until <= at) until += width_ms;
    }
  }
  return Rcpp::wrap(out);
}
