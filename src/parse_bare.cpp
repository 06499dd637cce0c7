// A log's numbers without what stands between them.
#include <Rcpp.h>
#include <algorithm>

namespace {

bool is_blank(Rbyte b) { return b == ' ' || b == '\t' || b == '\r' || b == '\n'; }

// Empty, or begun with a comment mark.
bool says_nothing(const Rbyte* from, const Rbyte* end) {
  if (*from == '#' || *from == '%' || (*from == '/' && end - from > 1 && from[1] == '/')) return true;
  return is_blank(*from) && std::all_of(from, end, is_blank);
}

}  // namespace

// The bytes without lines that are empty or begin with a comment mark, but for the first `header_lines`;
// no byte at all where there are no such lines.
// [[Rcpp::export]]
Rcpp::RawVector bytes_of_numbers(const Rcpp::RawVector& bytes, int header_lines) {
  const Rbyte* const all = bytes.begin();
  const Rbyte* const end = all + bytes.size();
  Rcpp::RawVector out(Rcpp::no_init(bytes.size()));
  Rbyte* to = out.begin();
  R_xlen_t line = 0;
  for (const Rbyte* from = all; from < end; ++line) {
    const Rbyte* next = std::find(from, end, Rbyte('\n'));
    if (next < end) ++next;
    if (line < header_lines || !says_nothing(from, next)) to = std::copy(from, next, to);
    from = next;
  }
  const R_xlen_t kept = to - out.begin();
  if (kept == bytes.size()) return Rcpp::RawVector();
  Rcpp::RawVector bare(Rcpp::no_init(kept));
  std::copy(out.begin(), to, bare.begin());
  return bare;
}
