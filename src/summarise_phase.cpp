// Do windows of frames keep in phase with a clock? See kept_phase() in R.
#include <Rcpp.h>

#include <cmath>
#include <vector>

// starts: first frame (from 0) of each window, width: frames in each, about: the period, most: the largest ratio of a
// phase that is kept. For each window the time it takes, the period that its frames keep, and whether they do: how far
// the sum of what each frame is off whole periods strays from a straight line, against how far single frames are off.
// [[Rcpp::export]]
Rcpp::List phase_of_windows(const Rcpp::NumericVector& frame_time_ms, const Rcpp::IntegerVector& starts, int width,
                            double about, double most) {
  const R_xlen_t windows = starts.size();
  Rcpp::NumericVector time(windows), period(windows);
  Rcpp::LogicalVector kept(windows);
  std::vector<double> walk(width);
  const double middle = (width - 1) / 2.0;
  const double squares = width * (static_cast<double>(width) * width - 1) / 12;
  for (R_xlen_t w = 0; w < windows; ++w) {
    const double* x = frame_time_ms.begin() + starts[w];
    double whole = 0, periods = 0, off_sum = 0, off_squares = 0, walked = 0;
    for (int i = 0; i < width; ++i) {
      // after a frame that came late by half a period the next comes in the same one
      const double count = std::nearbyint(x[i] / about);
      const double off = x[i] / about - count;
      whole += x[i];
      periods += count;
      off_sum += off;
      off_squares += off * off;
      walk[i] = off_sum;
      walked += off_sum;
    }
    walked /= width;
    double along = 0, left = 0;
    for (int i = 0; i < width; ++i) along += (walk[i] - walked) * (i - middle);
    const double slope = along / squares;
    for (int i = 0; i < width; ++i) {
      const double stray = walk[i] - walked - slope * (i - middle);
      left += stray * stray;
    }
    const double spread = std::sqrt(std::max(0.0, off_squares / width - (off_sum / width) * (off_sum / width)));
    time[w] = whole;
    // by the line: a first or last frame that is late would count for all of them
    period[w] = about * (1 + slope * width / std::max(periods, 1.0));
    kept[w] = std::sqrt(left / width) < most * spread + 1e-9;
  }
  return Rcpp::List::create(Rcpp::Named("time") = time, Rcpp::Named("period") = period, Rcpp::Named("kept") = kept);
}
