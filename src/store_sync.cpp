// Forces a file, or a folder's list of names, onto the disk.
#include <Rcpp.h>
#include <string>
#ifdef _WIN32
#include <io.h>
#else
#include <fcntl.h>
#include <unistd.h>
#endif

// [[Rcpp::export]]
bool sync_path(const std::string& path) {
#ifdef _WIN32
  return true;  // renaming there is journalled; there is no handle on a folder to flush
#else
  const int at = open(path.c_str(), O_RDONLY);
  if (at < 0) return false;
  const bool done = fsync(at) == 0;
  close(at);
  return done;
#endif
}
