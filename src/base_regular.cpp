// Which paths are plain files: a pipe or a device in a folder would be waited for without end.
#include <Rcpp.h>
#include <sys/stat.h>

// [[Rcpp::export]]
Rcpp::LogicalVector is_plain_file(const Rcpp::CharacterVector& paths) {
  Rcpp::LogicalVector out(paths.size());
  for (R_xlen_t i = 0; i < paths.size(); ++i) {
    struct stat seen;
    const std::string path = R_ExpandFileName(paths[i]);
    out[i] = stat(path.c_str(), &seen) == 0 && (seen.st_mode & S_IFMT) == S_IFREG;
  }
  return out;
}
