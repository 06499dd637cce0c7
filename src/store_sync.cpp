// Forces a file, or a folder's list of names, onto the disk.
#include <Rcpp.h>
#include <string>
#ifdef _WIN32
#include <fcntl.h>
#include <io.h>
#include <sys/stat.h>
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

// A file that was not there before; one that is, or a link, is neither followed nor cut.
// [[Rcpp::export]]
bool create_new_file(const std::string& path) {
#ifdef _WIN32
  const int at = _open(path.c_str(), _O_CREAT | _O_EXCL | _O_WRONLY, _S_IREAD | _S_IWRITE);
  if (at < 0) return false;
  _close(at);
#else
  const int at = open(path.c_str(), O_CREAT | O_EXCL | O_NOFOLLOW | O_WRONLY, 0666);
  if (at < 0) return false;
  close(at);
#endif
  return true;
}
