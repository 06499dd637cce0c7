// Chance that an interval excludes 0, or lies inside a band; see chance_of_answer() in R.
#include <Rcpp.h>

// half: half-widths of the interval in true standard errors, equally likely; low and high: the
// worth band in the same unit, NA where there is none; z: the effect in true standard errors.
// [[Rcpp::export]]
double chance_in_errors(const Rcpp::NumericVector& half, double z, double low, double high) {
  const bool band = !R_IsNA(low);
  double sum = 0;
  for (const double h : half) {
    const double below = R::pnorm(-h, z, 1, 1, 0);
    if (!band) {
      sum += R::pnorm(h, z, 1, 0, 0) + below;
      continue;
    }
    // no answer: |estimate| <= half, and the interval reaches out of the band
    const double from = std::max(-h, low + h), to = std::min(h, high - h);
    const double inside = to > from ? R::pnorm(to, z, 1, 1, 0) - R::pnorm(from, z, 1, 1, 0) : 0;
    sum += 1 - (R::pnorm(h, z, 1, 1, 0) - below - inside);
  }
  return sum / static_cast<double>(half.size());
}
