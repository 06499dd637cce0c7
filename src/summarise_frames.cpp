// All numbers that describe one pass's frame times, without a copy of them. The
// order statistics take one thread, what follows the frames in time another.
#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <thread>
#include <vector>
#include "order_stats.h"

static size_t slowest_count(size_t n, double share) {
  // 700 * 0.01 is a little above 7 in binary; that must not add a frame
  const double wanted = std::ceil(n * share - 1e-9);
  return wanted < 1 ? 1 : static_cast<size_t>(wanted);
}

static double mean_of_slowest(const std::vector<double>& tail, size_t m) {
  long double sum = 0;
  for (size_t i = tail.size() - m; i < tail.size(); ++i) sum += tail[i];
  return static_cast<double>(sum / m);
}

// The slowest 1 % of frames hold at least 1 % of the time, so the tail suffices.
static double time_tail(const std::vector<double>& tail, long double wanted) {
  long double sum = 0;
  size_t i = tail.size();
  while (i > 0 && sum < wanted * (1 - 1e-12L)) sum += tail[--i];
  return tail[i];
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
  for (size_t b = 0; b < lowest.size(); ++b) {
    const size_t end = std::min(n, (b + 1) * block);
    for (size_t i = b * block; i < end; ++i) lowest[b] = std::min(lowest[b], x[i]);
  }
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
      if (x[i] >= ratio * usual && x[i] >= usual + excess) {
        found.count += 1;
        found.excess_ms += x[i] - usual;
      }
    }
  }
  return found;
}

// Stretches of frames that are all slower than a limit, together at least so long.
struct Drop { size_t from, frames; double ms, slowest; };

static std::vector<Drop> find_drops(const double* x, size_t n, double limit_ms, double least_ms) {
  std::vector<Drop> found;
  for (size_t i = 0; i < n; ++i) {
    if (!(x[i] > limit_ms)) continue;
    Drop drop = {i, 0, 0, 0};
    for (; i < n && x[i] > limit_ms; ++i) {
      drop.frames += 1;
      drop.ms += x[i];
      drop.slowest = std::max(drop.slowest, x[i]);
    }
    if (drop.ms >= least_ms) found.push_back(drop);
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
  long double start = 0, border = 1000, near = border - 1e-9L;
  double seen = 0;
  for (size_t i = 0; i < n && seen < whole; ++i) {
    const long double end = start + x[i];
    if (end < near) {  // within one second, as nearly all
      count += 1;
      start = end;
      continue;
    }
    long double at = start;
    while (end >= border - 1e-9L && seen < whole) {
      count += static_cast<double>((border - at) / x[i]);
      slowest = std::min(slowest, count);
      fastest = std::max(fastest, count);
      count = 0;
      seen += 1;
      at = border;
      border += 1000;
      // seconds that this frame fills alone are all alike, however many there are
      const double alone = std::min(std::floor(static_cast<double>((end - at) / 1000)), whole - seen);
      if (alone >= 1) {
        slowest = std::min(slowest, 1000.0 / x[i]);
        fastest = std::max(fastest, 1000.0 / x[i]);
        seen += alone;
        at += 1000.0L * alone;
        border += 1000.0L * alone;
      }
    }
    if (end > at) count += static_cast<double>((end - at) / x[i]);
    near = border - 1e-9L;
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

struct Levels { double p50, p95, p99, p999; std::vector<double> tail; };

static Levels find_levels(const double* x, size_t n) {
  Levels found;
  const size_t from = std::min(n - slowest_count(n, 0.01), static_cast<size_t>((n - 1) * 0.99));
  const auto frame = [x](size_t i) { return x[i]; };
  const std::vector<double> q = honestmargin::quantiles_of(frame, n, {0.5, 0.95, 0.99, 0.999}, from, found.tail);
  found.p50 = q[0]; found.p95 = q[1]; found.p99 = q[2]; found.p999 = q[3];
  return found;
}

static double find_pacing(const double* x, size_t n) {
  if (n < 2) return NA_REAL;
  std::vector<double> none;
  return honestmargin::quantiles_of([x](size_t i) { return std::fabs(x[i + 1] - x[i]); }, n - 1, {0.5}, n, none)[0];
}

struct Sums { long double total; std::vector<long double> below; };

static Sums add_up(const double* x, size_t n, const std::vector<double>& limits) {
  Sums found = {0, std::vector<long double>(limits.size(), 0)};
  std::vector<double> part(limits.size());
  for (size_t i = 0; i < n; i += 1024) {  // short sums in double, then into the long ones
    const size_t end = std::min(n, i + 1024);
    double sum = 0;
    std::fill(part.begin(), part.end(), 0);
    for (size_t j = i; j < end; ++j) sum += x[j];
    for (size_t f = 0; f < limits.size(); ++f)
      for (size_t j = i; j < end; ++j) part[f] += x[j] > limits[f] ? x[j] : 0;
    found.total += sum;
    for (size_t f = 0; f < limits.size(); ++f) found.below[f] += part[f];
  }
  return found;
}

// [[Rcpp::export]]
Rcpp::NumericVector summarise_frames(const Rcpp::NumericVector& frame_time_ms,
                                     double stutter_ratio, double stutter_excess_ms,
                                     int stutter_window, const Rcpp::NumericVector& floors,
                                     double drop_depth, double drop_ms) {
  const double* x = frame_time_ms.begin();
  const size_t n = frame_time_ms.size();
  std::vector<double> limits;
  for (double fps : floors) limits.push_back(1000 / fps);
  double pacing;
  Stutters stutters;
  Levels levels;
  const auto in_time = [&]() {
    pacing = find_pacing(x, n);
    stutters = find_stutters(x, n, stutter_ratio, stutter_excess_ms, stutter_window);
  };
  std::thread other;
  if (n > 200000) other = std::thread(in_time); else in_time();
  const Sums sums = add_up(x, n, limits);
  const Seconds seconds = whole_seconds(x, n, sums.total);
  levels = find_levels(x, n);
  if (other.joinable()) other.join();

  const std::vector<double>& tail = levels.tail;
  const double elapsed = static_cast<double>(sums.total);
  const double mean1 = mean_of_slowest(tail, slowest_count(n, 0.01)), mean01 = mean_of_slowest(tail, slowest_count(n, 0.001));
  const double time1 = time_tail(tail, sums.total * 0.01L), time01 = time_tail(tail, sums.total * 0.001L);
  Rcpp::NumericVector out = Rcpp::NumericVector::create(
    Rcpp::Named("fps_avg") = 1000.0 * n / elapsed,
    Rcpp::Named("fps_median") = 1000 / levels.p50,
    Rcpp::Named("fps_min") = seconds.slowest,
    Rcpp::Named("fps_max") = seconds.fastest,
    Rcpp::Named("ms_p50") = levels.p50, Rcpp::Named("ms_p95") = levels.p95,
    Rcpp::Named("ms_p99") = levels.p99, Rcpp::Named("ms_p999") = levels.p999,
    Rcpp::Named("low1_quantile") = 1000 / levels.p99, Rcpp::Named("low01_quantile") = 1000 / levels.p999,
    Rcpp::Named("low1_mean") = 1000 / mean1, Rcpp::Named("low01_mean") = 1000 / mean01,
    Rcpp::Named("low1_time") = 1000 / time1, Rcpp::Named("low01_time") = 1000 / time01,
    Rcpp::Named("stutters_per_min") = stutters.count / (elapsed / 60000),
    Rcpp::Named("stutter_share") = 100 * stutters.excess_ms / elapsed,
    Rcpp::Named("pacing_ms") = pacing,
    Rcpp::Named("deep_drops") = static_cast<double>(find_drops(x, n, drop_depth * levels.p50, drop_ms).size()),
    Rcpp::Named("frames") = static_cast<double>(n),
    Rcpp::Named("seconds") = elapsed / 1000);
  for (R_xlen_t f = 0; f < floors.size(); ++f) {
    out.push_back(static_cast<double>(100 * sums.below[f] / sums.total),
                  "below_" + std::to_string(static_cast<int>(floors[f])));
  }
  return out;
}

// [[Rcpp::export]]
Rcpp::List frame_drops(const Rcpp::NumericVector& frame_time_ms, double limit_ms, double least_ms) {
  const double* x = frame_time_ms.begin();
  const std::vector<Drop> found = find_drops(x, frame_time_ms.size(), limit_ms, least_ms);
  Rcpp::NumericVector start(found.size()), seconds(found.size()), slowest(found.size()), frames(found.size());
  long double at = 0;
  size_t next = 0;
  for (size_t d = 0; d < found.size(); ++d) {
    for (; next < found[d].from; ++next) at += x[next];
    start[d] = static_cast<double>(at / 1000);
    seconds[d] = found[d].ms / 1000;
    slowest[d] = found[d].slowest;
    frames[d] = static_cast<double>(found[d].frames);
  }
  return Rcpp::List::create(
    Rcpp::Named("start_s") = start, Rcpp::Named("seconds") = seconds, Rcpp::Named("frames") = frames,
    Rcpp::Named("slowest_ms") = slowest);
}

// Start of each frame in seconds from the first.
// [[Rcpp::export]]
Rcpp::NumericVector frame_starts(const Rcpp::NumericVector& frame_time_ms) {
  const R_xlen_t n = frame_time_ms.size();
  Rcpp::NumericVector out(Rcpp::no_init(n));
  long double at = 0;
  for (R_xlen_t i = 0; i < n; ++i) {
    out[i] = static_cast<double>(at * 0.001L);  // a division would take as long as all the rest
    at += frame_time_ms[i];
  }
  return out;
}
