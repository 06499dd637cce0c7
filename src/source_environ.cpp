#include <Rcpp.h>
#include <cstring>
#ifdef _WIN32
#define environ _environ
#else
extern char **environ;
#endif

// The environment of this process, named: R's own list of it stops at a value that is no text.
// [[Rcpp::export]]
Rcpp::CharacterVector environment_now() {
  R_xlen_t n = 0;
  for (char **entry = environ; entry && *entry; entry++) n++;
  Rcpp::CharacterVector values(n), names(n);
  for (R_xlen_t i = 0; i < n; i++) {
    const char *entry = environ[i], *sign = std::strchr(entry, '=');
    const int length = sign ? static_cast<int>(sign - entry) : static_cast<int>(std::strlen(entry));
    names[i] = Rf_mkCharLen(entry, length);
    values[i] = Rf_mkChar(sign ? sign + 1 : "");
  }
  values.names() = names;
  return values;
}
