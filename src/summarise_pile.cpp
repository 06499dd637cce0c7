// Where the frames of a pass are piled up: the densest narrow band of frame
// times, the share of frames in it and the share of frames faster than it.
#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <vector>

// [[Rcpp::export]]
Rcpp::NumericVector densest_band(const Rcpp::NumericVector& frame_time_ms, double width) {
  const double* x = frame_time_ms.begin();
  const size_t n = frame_time_ms.size();
  const size_t per_band = 16;                        // histogram cells in one band
  const double cell = std::log1p(width) / per_band;  // equal ratios, so equal in percent
  const double lowest = *std::min_element(x, x + n);
  const double highest = *std::max_element(x, x + n);
  const size_t cells = static_cast<size_t>(std::log(highest / lowest) / cell) + 1;
  std::vector<double> count(cells, 0), sum(cells, 0);
  for (size_t i = 0; i < n; ++i) {
    const size_t c = std::min(cells - 1, static_cast<size_t>(std::log(x[i] / lowest) / cell));
    count[c] += 1;
    sum[c] += x[i];
  }
  double inside = 0, time = 0, before = 0;
  double best = -1, best_time = 0, best_before = 0;
  for (size_t c = 0; c < cells; ++c) {
    inside += count[c];
    time += sum[c];
    if (c >= per_band) {
      inside -= count[c - per_band];
      time -= sum[c - per_band];
      before += count[c - per_band];
    }
    if (inside > best) { best = inside; best_time = time; best_before = before; }
  }
  return Rcpp::NumericVector::create(
    Rcpp::Named("level_ms") = best_time / best,
    Rcpp::Named("share") = best / n,
    Rcpp::Named("faster") = best_before / n);
}
