// Which elements of a list are one and the same object.
#include <Rcpp.h>

#include <unordered_map>

// For each element the number (from 1) of the first that is the same object in memory.
// [[Rcpp::export]]
Rcpp::IntegerVector first_same(const Rcpp::List& x) {
  std::unordered_map<SEXP, int> seen;
  Rcpp::IntegerVector out(x.size());
  for (R_xlen_t i = 0; i < x.size(); ++i) {
    const SEXP one = x[i];
    out[i] = seen.emplace(one, static_cast<int>(i) + 1).first->second;
  }
  return out;
}
