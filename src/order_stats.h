// Exact order statistics without a sorted copy: a histogram over the leading
// bits of the numbers says in which narrow bin a rank lies, and only the numbers
// of that bin are gathered. Doubles that are not negative order like their bits.
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
      const size_t lo = rank_of(share);
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
    for (double share : p) {
      const size_t lo = rank_of(share);
      const double h = (n_ - 1) * share, at = value_at(lo);
      out.push_back(h - lo < 1e-12 || lo + 1 >= n_ ? at : at + (h - lo) * (value_at(lo + 1) - at));
    }
    if (first_tail <= kBins) tail.erase(tail.begin(), tail.begin() + (from - before[first_tail]));
    return out;
  }

 private:
  static constexpr size_t kBins = size_t(1) << 16;
  size_t rank_of(double share) const { return static_cast<size_t>(std::floor((n_ - 1) * share + 1e-12)); }
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

template <class Get>
OrderStats<Get> order_stats(Get get, size_t n) { return OrderStats<Get>(get, n); }

}  // namespace honestmargin
#endif
