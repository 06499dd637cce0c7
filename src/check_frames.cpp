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

// The median frame of each of some equally long parts of a pass, from a moment on; NA for a part that no frame has its
// middle in.
// [[Rcpp::export]]
Rcpp::NumericVector share_medians(const Rcpp::NumericVector& frame_time_ms, double from_ms, int shares) {
  double total = 0;
  for (R_xlen_t i = 0; i < frame_time_ms.size(); ++i) total += frame_time_ms[i];
  std::vector<std::vector<double>> parts(shares);
  const double width = (total - from_ms) / shares;
  double at = 0;
  for (R_xlen_t i = 0; i < frame_time_ms.size(); ++i) {
    const double middle = at + frame_time_ms[i] / 2 - from_ms;
    at += frame_time_ms[i];
    if (middle >= 0) parts[std::min(shares - 1, static_cast<int>(middle / width))].push_back(frame_time_ms[i]);
  }
  Rcpp::NumericVector out(shares, NA_REAL);
  for (int k = 0; k < shares; ++k) {
    if (parts[k].empty()) continue;
    const size_t half = parts[k].size() / 2;
    std::nth_element(parts[k].begin(), parts[k].begin() + half, parts[k].end());
    out[k] = parts[k][half];
  }
  return out;
}
