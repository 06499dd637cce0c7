// Every process of this machine with the processor time that it has used (proc(5), /proc/PID/stat).
#include <Rcpp.h>
#include <cstdlib>
#include <string>
#ifdef __linux__
#include <dirent.h>
#include <fcntl.h>
#include <unistd.h>
#endif

// [[Rcpp::export]]
Rcpp::List process_ticks() {
  std::vector<int> pid, parent;
  std::vector<double> ticks;
  std::vector<std::string> name;
#ifdef __linux__
  DIR* all = opendir("/proc");
  if (all != nullptr) {
    while (struct dirent* entry = readdir(all)) {
      if (entry->d_name[0] < '0' || entry->d_name[0] > '9') continue;
      const std::string path = std::string("/proc/") + entry->d_name + "/stat";
      const int file = open(path.c_str(), O_RDONLY | O_CLOEXEC);
      if (file < 0) continue;  // it ended meanwhile
      char text[1024];
      const ssize_t length = read(file, text, sizeof text - 1);
      close(file);
      if (length <= 0) continue;
      text[length] = 0;
      const std::string line(text);
      // the name stands in brackets and may hold any character, brackets too
      const size_t from = line.find('('), to = line.rfind(')');
      if (from == std::string::npos || to == std::string::npos) continue;
      int ppid = 0;
      unsigned long user = 0, system = 0;
      if (std::sscanf(line.c_str() + to + 2, "%*c %d %*d %*d %*d %*d %*u %*u %*u %*u %*u %lu %lu", &ppid, &user,
                      &system) != 3) continue;
      pid.push_back(std::atoi(entry->d_name));
      parent.push_back(ppid);
      ticks.push_back(static_cast<double>(user) + static_cast<double>(system));
      name.push_back(line.substr(from + 1, to - from - 1));
    }
    closedir(all);
  }
#endif
  return Rcpp::List::create(Rcpp::Named("pid") = pid, Rcpp::Named("parent") = parent, Rcpp::Named("ticks") = ticks,
                            Rcpp::Named("name") = name);
}

// [[Rcpp::export]]
double ticks_per_second() {
#ifdef __linux__
  return static_cast<double>(sysconf(_SC_CLK_TCK));
#else
  return NA_REAL;
#endif
}
