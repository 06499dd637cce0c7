// Where the frames of a pass are piled up: the densest narrow band of frame
// times, the share of frames in it and the share of frames faster than it; and whether the frames of a pile are each on
// its own.
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

// Of the frames that lie within `reach` of `middle`: how many there are, their mean, their standard deviation as a share
// of it, the correlation of neighbours, and how the means of sixteen in a row vary, against frames that are each on its
// own (1). The memory and wander of fewer than 64 frames are not known.
// [[Rcpp::export]]
Rcpp::NumericVector frames_near(const Rcpp::NumericVector& frame_time_ms, double middle, double reach) {
  const R_xlen_t n = frame_time_ms.size();
  const int row = 16;
  double count = 0, sum = 0, squares = 0, pairs = 0, products = 0, neighbours = 0;
  double rows = 0, in_row = 0, row_sum = 0, row_squares = 0, rows_sum = 0;
  double before = NA_REAL;
  for (R_xlen_t i = 0; i < n; ++i) {
    // from the middle, so that no digits are lost
    const double off = frame_time_ms[i] - middle;
    if (!(std::fabs(off) <= reach)) {
      before = NA_REAL;
      continue;
    }
    count += 1;
    sum += off;
    squares += off * off;
    if (!std::isnan(before)) {
      pairs += 1;
      products += off * before;
      neighbours += off + before;
    }
    before = off;
    row_sum += off;
    if (++in_row == row) {
      rows += 1;
      rows_sum += row_sum / row;
      row_squares += (row_sum / row) * (row_sum / row);
      in_row = row_sum = 0;
    }
  }
  const double mean = sum / count;
  const double variance = squares / count - mean * mean;
  double memory = NA_REAL, wander = NA_REAL;
  // frames that are all equal are each on its own
  if (count >= 64 && pairs >= 32) {
    memory = variance > 0 ? (products / pairs - mean * neighbours / pairs + mean * mean) / variance : 0;
    wander = variance > 0 ? row * (row_squares / rows - (rows_sum / rows) * (rows_sum / rows)) / variance : 1;
  }
  return Rcpp::NumericVector::create(
    Rcpp::Named("frames") = count, Rcpp::Named("near") = count / n, Rcpp::Named("mean_ms") = middle + mean,
    Rcpp::Named("jitter") = std::sqrt(std::max(0.0, variance)) / (middle + mean), Rcpp::Named("memory") = memory,
    Rcpp::Named("wander") = wander);
}
