// The distribution of frame times at many percentiles at once, and how far differences of it reach by luck.
#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <vector>

// Percentiles out of a histogram whose cells are equal ratios, so that each is off by at most `width`.
// [[Rcpp::export]]
Rcpp::NumericVector histogram_quantiles(const Rcpp::NumericVector& x, const Rcpp::NumericVector& share, double width) {
  const size_t n = x.size();
  const double cell = std::log1p(width);
  const double lowest = *std::min_element(x.begin(), x.end());
  const double highest = *std::max_element(x.begin(), x.end());
  const size_t cells = static_cast<size_t>(std::log(highest / lowest) / cell) + 1;
  std::vector<double> count(cells, 0);
  for (const double v : x) count[std::min(cells - 1, static_cast<size_t>(std::log(v / lowest) / cell))] += 1;
  Rcpp::NumericVector out(share.size());
  size_t c = 0;
  double before = 0;
  for (R_xlen_t i = 0; i < share.size(); ++i) {  // shares rise
    const double rank = share[i] * (n - 1) + 0.5;
    while (c + 1 < cells && before + count[c] < rank) before += count[c++];
    const double inside = count[c] > 0 ? std::min(1.0, std::max(0.0, (rank - before) / count[c])) : 0;
    out[i] = std::min(highest, lowest * std::exp((c + inside) * cell));
  }
  return out;
}

// The largest |t| over the percentiles, for each way in which the blocks may be turned round.
// `left`: what is left of each block (rows) at each percentile, its mean taken out. `turned`: 1 or -1, ways by blocks.
// [[Rcpp::export]]
Rcpp::NumericVector turned_maxima(const Rcpp::NumericMatrix& left, const Rcpp::NumericMatrix& turned) {
  const int n = left.nrow(), grid = left.ncol(), ways = turned.nrow();
  std::vector<double> square(grid, 0), sum(grid);
  for (int g = 0; g < grid; ++g) for (int b = 0; b < n; ++b) square[g] += left(b, g) * left(b, g);
  Rcpp::NumericVector out(ways);
  for (int w = 0; w < ways; ++w) {
    double most = 0;
    for (int g = 0; g < grid; ++g) {
      double s = 0;
      for (int b = 0; b < n; ++b) s += turned(w, b) * left(b, g);
      const double variance = (square[g] - s * s / n) / (n - 1);
      if (variance > 1e-14 * square[g]) most = std::max(most, std::abs(s) / std::sqrt(n * variance));
    }
    out[w] = most;
  }
  return out;
}
