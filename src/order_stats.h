// Exact order statistics without a sorted copy. Of many numbers a sample says
// between which two values a rank must lie (Floyd and Rivest 1975); one look at all
// of them counts what is below and gathers what is between. Where the sample led
// astray, and of few numbers, a histogram over their leading bits says in which
// narrow bin a rank lies, and only the numbers of that bin are gathered. Doubles
// that are not negative order like their bits.
#ifndef HONESTMARGIN_ORDER_STATS_H
#define HONESTMARGIN_ORDER_STATS_H

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <vector>

namespace honestmargin {

inline std::uint64_t bits_of(double v) {
  std::uint64_t b;
  std::memcpy(&b, &v, sizeof b);
  return b;
}

inline size_t rank_of(size_t n, double share) { return static_cast<size_t>(std::floor((n - 1) * share + 1e-12)); }

// Type 7 (Hyndman and Fan 1996): between the value at a rank and the next.
template <class ValueAt>
double between_ranks(size_t n, double share, ValueAt value_at) {
  const size_t lo = rank_of(n, share);
  const double h = (n - 1) * share, at = value_at(lo);
  return h - lo < 1e-12 || lo + 1 >= n ? at : at + (h - lo) * (value_at(lo + 1) - at);
}

// `Get` gives the i-th of n numbers, none negative; it is called three times each.
template <class Get>
class OrderStats {
 public:
  OrderStats(Get get, size_t n) : get_(get), n_(n), count_(kBins + 1, 0) {
    double low = get_(0), high = low;
    for (size_t i = 1; i < n_; ++i) {
      const double v = get_(i);
      low = std::min(low, v);
      high = std::max(high, v);
    }
    // numbers over 30 octaves below the largest share the first bin
    low_ = bits_of(std::max(low, std::ldexp(high, -30)));
    shift_ = 0;
    while (((bits_of(high) - low_) >> shift_) >= kBins) ++shift_;
    for (size_t i = 0; i < n_; ++i) ++count_[bin(get_(i))];
  }

  // Type 7 quantiles (Hyndman and Fan 1996) at the probabilities `p`, and in
  // `tail` everything from rank `from` (0 is the smallest) on, in order.
  std::vector<double> quantiles(const std::vector<double>& p, size_t from, std::vector<double>& tail) {
    std::vector<size_t> before(kBins + 2, 0);
    for (size_t b = 0; b <= kBins; ++b) before[b + 1] = before[b] + count_[b];
    const auto bin_of_rank = [&](size_t rank) {
      return static_cast<size_t>(std::upper_bound(before.begin(), before.end(), rank) - before.begin()) - 1;
    };
    const size_t first_tail = from < n_ ? bin_of_rank(from) : kBins + 1;
    std::vector<int> wanted(kBins + 1, -1);
    std::vector<std::vector<double>> kept;
    const auto want = [&](size_t b) {
      if (b >= first_tail || wanted[b] >= 0) return;
      wanted[b] = static_cast<int>(kept.size());
      kept.emplace_back();
      kept.back().reserve(count_[b]);
    };
    for (double share : p) {
      const size_t lo = rank_of(n_, share);
      want(bin_of_rank(lo));
      want(bin_of_rank(std::min(lo + 1, n_ - 1)));
    }
    tail.clear();
    tail.reserve(first_tail <= kBins ? n_ - before[first_tail] : 0);
    for (size_t i = 0; i < n_; ++i) {
      const double v = get_(i);
      const size_t b = bin(v);
      if (b >= first_tail) tail.push_back(v);
      else if (wanted[b] >= 0) kept[wanted[b]].push_back(v);
    }
    std::sort(tail.begin(), tail.end());
    const auto value_at = [&](size_t rank) {
      const size_t b = bin_of_rank(rank);
      if (b >= first_tail) return tail[rank - before[first_tail]];
      std::vector<double>& inside = kept[wanted[b]];
      const auto at = inside.begin() + (rank - before[b]);
      std::nth_element(inside.begin(), at, inside.end());
      return *at;
    };
    std::vector<double> out;
    for (double share : p) out.push_back(between_ranks(n_, share, value_at));
    if (first_tail <= kBins) tail.erase(tail.begin(), tail.begin() + (from - before[first_tail]));
    return out;
  }

 private:
  static constexpr size_t kBins = size_t(1) << 16;
  size_t bin(double v) const {
    const std::uint64_t b = bits_of(v);
    return b <= low_ ? 0 : static_cast<size_t>((b - low_) >> shift_);
  }

  Get get_;
  size_t n_;
  std::vector<std::uint32_t> count_;
  std::uint64_t low_;
  int shift_;
};

// The numbers from `low` to `high`, and how many are below.
struct Gathered {
  double low, high;
  size_t below;
  std::vector<double> inside;

  // `less`: how many more there are, all below.
  void take(const double* v, size_t n, size_t less) {
    for (size_t i = 0; i < n; ++i) {
      less += v[i] < low;
      if ((v[i] >= low) & (v[i] <= high)) inside.push_back(v[i]);  // few are
    }
    below += less;
  }
  bool holds(size_t rank) const { return rank >= below && rank < below + inside.size(); }
  double at(size_t rank) {
    const auto place = inside.begin() + (rank - below);
    std::nth_element(inside.begin(), place, inside.end());
    return *place;
  }
};

// One value of a sample that is in order, five standard errors to one side of where a share of them ends.
inline double sample_limit(const std::vector<double>& sample, double share, int side) {
  const double size = static_cast<double>(sample.size());
  const double at = size * share + side * (5 * std::sqrt(size * share * (1 - share)) + 5);
  return at < 0 ? -HUGE_VAL : at >= size ? HUGE_VAL : sample[static_cast<size_t>(at)];
}

template <class Get>
std::vector<double> draw_sample(Get get, size_t n) {
  std::vector<double> sample(1 << 14);
  std::uint64_t state = 1;
  for (double& v : sample) {
    state = state * 6364136223846793005ULL + 1442695040888963407ULL;
    v = get(static_cast<size_t>((state >> 33) * n >> 31));
  }
  std::sort(sample.begin(), sample.end());
  return sample;
}

// One look at all numbers; the parts rise. `false` where one of them is no small part.
template <class Get>
bool look_once(Get get, size_t n, std::vector<Gathered>& parts) {
  double now[1024];
  for (size_t i = 0; i < n; i += 1024) {
    const size_t m = std::min<size_t>(1024, n - i);
    for (size_t j = 0; j < m; ++j) now[j] = get(i + j);
    size_t left = m;
    for (size_t k = 0; k < parts.size(); ++k) {
      // what was below the one before is not looked at again
      const double low = parts[k].low;
      if (k > 0) left = std::remove_if(now, now + left, [low](double v) { return v < low; }) - now;
      parts[k].take(now, left, m - left);
      if (parts[k].inside.size() > n / 8) return false;
    }
  }
  return true;
}

// As `OrderStats::quantiles()`; `false` where the sample led astray, or many numbers are alike.
template <class Get>
bool sampled_quantiles(Get get, size_t n, const std::vector<double>& p, size_t from, std::vector<double>& tail,
                       std::vector<double>& out) {
  const std::vector<double> sample = draw_sample(get, n);
  std::vector<Gathered> parts;
  for (double share : p) {
    if (rank_of(n, share) >= from) continue;
    parts.push_back({sample_limit(sample, share, -1), sample_limit(sample, share, 1), 0, {}});
  }
  const size_t own = parts.size();
  if (from < n) parts.push_back({sample_limit(sample, static_cast<double>(from) / n, -1), HUGE_VAL, 0, {}});
  if (!look_once(get, n, parts)) return false;
  tail.clear();
  if (from < n) {
    Gathered& last = parts[own];
    if (!last.holds(from)) return false;
    std::sort(last.inside.begin(), last.inside.end());
    tail.assign(last.inside.begin() + (from - last.below), last.inside.end());
  }
  out.clear();
  for (size_t k = 0; k < p.size(); ++k) {
    const size_t lo = rank_of(n, p[k]);
    if (k < own && !(parts[k].holds(lo) && parts[k].holds(std::min(lo + 1, n - 1)))) return false;
    out.push_back(between_ranks(n, p[k], [&](size_t rank) { return k < own ? parts[k].at(rank) : tail[rank - from]; }));
  }
  return true;
}

// Type 7 quantiles at the probabilities `p`, which rise, and in `tail` everything from rank `from` on, in order.
template <class Get>
std::vector<double> quantiles_of(Get get, size_t n, const std::vector<double>& p, size_t from,
                                 std::vector<double>& tail) {
  std::vector<double> out;
  if (n >= 200000 && sampled_quantiles(get, n, p, from, tail, out)) return out;
  return OrderStats<Get>(get, n).quantiles(p, from, tail);
}

}  // namespace honestmargin
#endif
