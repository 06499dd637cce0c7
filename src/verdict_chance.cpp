// Chance that an interval excludes 0, or lies inside a band; see chance_of_answer() in R.
#include <Rcpp.h>

namespace {

// error: estimated over true standard errors, equally likely; crit: half-width of the interval in
// estimated ones; low and high: the worth band in true ones, NA where there is none; z: the effect.
template <typename Errors>
double chance(const Errors& error, double crit, double z, double low, double high) {
  const bool band = !ISNAN(low);
  double sum = 0;
  for (const double e : error) {
    const double h = crit * e;
    // beyond nine errors there is nothing left that a double could add
    const double below = h + z > 9 ? 0 : R::pnorm(-h, z, 1, 1, 0);
    if (!band) {
      sum += (h - z > 9 ? 0 : R::pnorm(h, z, 1, 0, 0)) + below;
      continue;
    }
    // no answer: |estimate| <= half, and the interval reaches out of the band
    const double from = std::max(-h, low + h), to = std::min(h, high - h);
    const double inside = to > from ? R::pnorm(to, z, 1, 1, 0) - R::pnorm(from, z, 1, 1, 0) : 0;
    sum += 1 - (R::pnorm(h, z, 1, 1, 0) - below - inside);
  }
  return sum / static_cast<double>(error.size());
}

}  // namespace

// One comparison; half: half-widths in true standard errors.
// [[Rcpp::export]]
double chance_in_errors(const Rcpp::NumericVector& half, double z, double low, double high) {
  return chance(half, 1, z, low, high);
}

// Many: each with the column of errors that its degrees of freedom have.
// [[Rcpp::export]]
Rcpp::NumericVector chances_in_errors(Rcpp::NumericMatrix errors, const Rcpp::IntegerVector& column,
                                      const Rcpp::NumericVector& crit, const Rcpp::NumericVector& z,
                                      const Rcpp::NumericVector& low, const Rcpp::NumericVector& high) {
  Rcpp::NumericVector out(column.size());
  for (R_xlen_t i = 0; i < out.size(); ++i) {
    out[i] = chance(errors.column(column[i] - 1), crit[i], z[i], low[i], high[i]);
  }
  return out;
}
