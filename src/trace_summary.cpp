// All numbers that describe one pass's frame times, from one working copy.
// Order statistics come from repeated selection inside the part that is still
// unordered, so nothing but the slowest 1 % is ever sorted.
#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <vector>

using Iter = std::vector<double>::iterator;

// Type 7 quantile (Hyndman and Fan 1996). Everything before `from` is known to
// be smaller, so asking for rising probabilities narrows the work each time.
static double rising_quantile(std::vector<double>& work, size_t& from, double p) {
  const double h = (work.size() - 1) * p;
  const size_t lo = static_cast<size_t>(std::floor(h + 1e-12));
  std::nth_element(work.begin() + from, work.begin() + lo, work.end());
  const double at = work[lo];
  from = lo;
  if (lo + 1 >= work.size() || h - lo < 1e-12) return at;
  const double next = *std::min_element(work.begin() + lo + 1, work.end());
  return at + (h - lo) * (next - at);
}

static size_t slowest_count(size_t n, double share) {
  // 700 * 0.01 is a little above 7 in binary; that must not add a frame
  const double wanted = std::ceil(n * share - 1e-9);
  return wanted < 1 ? 1 : static_cast<size_t>(wanted);
}

static double mean_of_slowest(const std::vector<double>& work, size_t m) {
  long double sum = 0;
  for (size_t i = work.size() - m; i < work.size(); ++i) sum += work[i];
  return static_cast<double>(sum / m);
}

static double time_tail(const std::vector<double>& work, long double wanted) {
  long double sum = 0;
  size_t i = work.size();
  while (i > 0 && sum < wanted * (1 - 1e-12L)) sum += work[--i];
  return work[i];
}

static double window_median(const double* x, size_t n, size_t at, size_t half,
                            std::vector<double>& scratch) {
  const size_t from = at > half ? at - half : 0;
  const size_t to = std::min(n, at + half + 1);
  scratch.assign(x + from, x + to);
  const size_t k = scratch.size() / 2;
  std::nth_element(scratch.begin(), scratch.begin() + k, scratch.end());
  if (scratch.size() % 2) return scratch[k];
  return 0.5 * (scratch[k] + *std::max_element(scratch.begin(), scratch.begin() + k));
}

struct Stutters { double count; double excess_ms; };

// A window's median is at least the smallest frame of the blocks it touches.
// That bound clears nearly every frame, so the median is worked out for few.
static Stutters find_stutters(const double* x, size_t n, double ratio, double excess, int window) {
  const size_t half = static_cast<size_t>(window / 2);
  const size_t block = half + 1;
  std::vector<double> lowest((n + block - 1) / block, R_PosInf);
  for (size_t i = 0; i < n; ++i) lowest[i / block] = std::min(lowest[i / block], x[i]);
  Stutters found = {0, 0};
  std::vector<double> scratch;
  for (size_t b = 0; b < lowest.size(); ++b) {
    double bound = lowest[b];
    if (b > 0) bound = std::min(bound, lowest[b - 1]);
    if (b + 1 < lowest.size()) bound = std::min(bound, lowest[b + 1]);
    const double never = std::max(ratio * bound, bound + excess);
    const size_t end = std::min(n, (b + 1) * block);
    for (size_t i = b * block; i < end; ++i) {
      if (x[i] < never) continue;
      const double usual = window_median(x, n, i, half, scratch);
      if (x[i] > ratio * usual && x[i] >= usual + excess) {
        found.count += 1;
        found.excess_ms += x[i] - usual;
      }
    }
  }
  return found;
}

struct Seconds { double slowest; double fastest; };

// Frames per whole second from the start; a frame across a border counts in
// each second with its share, so that the figure is not rounded to whole frames.
static Seconds whole_seconds(const double* x, size_t n, long double total_ms) {
  const double whole = std::floor(static_cast<double>(total_ms) / 1000 + 1e-9);
  Seconds found = {NA_REAL, NA_REAL};
  if (whole < 3) return found;
  double slowest = R_PosInf, fastest = 0, count = 0;
  long double start = 0, border = 1000;
  double seen = 0;
  for (size_t i = 0; i < n && seen < whole; ++i) {
    const long double end = start + x[i];
    long double at = start;
    while (end >= border - 1e-9L && seen < whole) {
      count += static_cast<double>((border - at) / x[i]);
      slowest = std::min(slowest, count);
      fastest = std::max(fastest, count);
      count = 0;
      seen += 1;
      at = border;
      border += 1000;
    }
    if (end > at) count += static_cast<double>((end - at) / x[i]);
    start = end;
  }
  found.slowest = slowest;
  found.fastest = fastest;
  return found;
}

// [[Rcpp::export]]
double first_bad_frame(const Rcpp::NumericVector& frame_time_ms) {
  const double* x = frame_time_ms.begin();
  const R_xlen_t n = frame_time_ms.size();
  for (R_xlen_t i = 0; i < n; ++i) {
    if (!(x[i] > 0) || !std::isfinite(x[i])) return static_cast<double>(i + 1);
  }
  return 0;
}

// [[Rcpp::export]]
Rcpp::NumericVector summarise_frames(const Rcpp::NumericVector& frame_time_ms,
                                     double stutter_ratio, double stutter_excess_ms,
                                     int stutter_window, const Rcpp::NumericVector& floors) {
  const double* x = frame_time_ms.begin();
  const size_t n = frame_time_ms.size();
  long double total = 0;
  std::vector<long double> below(floors.size(), 0);
  for (size_t i = 0; i < n; ++i) {
    total += x[i];
    for (R_xlen_t f = 0; f < floors.size(); ++f) if (x[i] > 1000 / floors[f]) below[f] += x[i];
  }
  const Seconds seconds = whole_seconds(x, n, total);
  const Stutters stutters = find_stutters(x, n, stutter_ratio, stutter_excess_ms, stutter_window);

  std::vector<double> work(x, x + n);
  size_t from = 0;
  const double p50 = rising_quantile(work, from, 0.5);
  const double p95 = rising_quantile(work, from, 0.95);
  const double p99 = rising_quantile(work, from, 0.99);
  const size_t m1 = slowest_count(n, 0.01), m01 = slowest_count(n, 0.001);
  const size_t tail = std::min(from, n - m1);
  const double p999 = rising_quantile(work, from, 0.999);
  // last, since a selection would take the order away again
  std::sort(work.begin() + tail, work.end());
  const double mean1 = mean_of_slowest(work, m1), mean01 = mean_of_slowest(work, m01);
  const double time1 = time_tail(work, total * 0.01L), time01 = time_tail(work, total * 0.001L);

  double pacing = NA_REAL;
  if (n > 1) {  // the same copy serves for the differences
    for (size_t i = 1; i < n; ++i) work[i - 1] = std::fabs(x[i] - x[i - 1]);
    work.resize(n - 1);
    from = 0;
    pacing = rising_quantile(work, from, 0.5);
  }

  const double elapsed = static_cast<double>(total);
  Rcpp::NumericVector out = Rcpp::NumericVector::create(
    Rcpp::Named("fps_avg") = 1000.0 * n / elapsed,
    Rcpp::Named("fps_median") = 1000 / p50,
    Rcpp::Named("fps_min") = seconds.slowest,
    Rcpp::Named("fps_max") = seconds.fastest,
    Rcpp::Named("ms_p50") = p50, Rcpp::Named("ms_p95") = p95,
    Rcpp::Named("ms_p99") = p99, Rcpp::Named("ms_p999") = p999,
    Rcpp::Named("low1_quantile") = 1000 / p99, Rcpp::Named("low01_quantile") = 1000 / p999,
    Rcpp::Named("low1_mean") = 1000 / mean1, Rcpp::Named("low01_mean") = 1000 / mean01,
    Rcpp::Named("low1_time") = 1000 / time1, Rcpp::Named("low01_time") = 1000 / time01,
    Rcpp::Named("stutters_per_min") = stutters.count / (elapsed / 60000),
    Rcpp::Named("stutter_share") = 100 * stutters.excess_ms / elapsed,
    Rcpp::Named("pacing_ms") = pacing,
    Rcpp::Named("frames") = static_cast<double>(n),
    Rcpp::Named("seconds") = elapsed / 1000);
  for (R_xlen_t f = 0; f < floors.size(); ++f) {
    out.push_back(static_cast<double>(100 * below[f] / total),
                  "below_" + std::to_string(static_cast<int>(floors[f])));
  }
  return out;
}
