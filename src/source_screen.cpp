// Does a compositor stand between programs and the screen? It owns the selection _NET_WM_CM_Sn of its X
// screen (Extended Window Manager Hints). Asked through the system's own client library where there is one, so
// nothing has to be there to build with; that library, unlike the older one, returns when a server goes away.
#include <Rcpp.h>
#include <cstdint>
#include <cstdlib>
#include <string>
#ifdef __linux__
#include <dlfcn.h>
#include <unistd.h>

namespace {
struct Cookie {
  unsigned int sequence;
};
// of both replies that are read here
struct Reply {
  std::uint8_t type, pad;
  std::uint16_t sequence;
  std::uint32_t length, value;
};

template <typename F>
bool find(void* library, const char* name, F& f) {
  f = reinterpret_cast<F>(dlsym(library, name));
  return f != nullptr;
}
}  // namespace
#endif

// display: as in DISPLAY. 1 yes, 0 no, NA where nobody can be asked.
// [[Rcpp::export]]
int compositor_owns(const std::string& display) {
#ifdef __linux__
  static void* library = dlopen("libxcb.so.1", RTLD_LAZY | RTLD_LOCAL);
  if (library == nullptr) return NA_INTEGER;
  void* (*connect)(const char*, int*);
  int (*has_error)(void*);
  void (*disconnect)(void*);
  Cookie (*intern)(void*, std::uint8_t, std::uint16_t, const char*);
  Reply* (*interned)(void*, Cookie, void**);
  Cookie (*owner)(void*, std::uint32_t);
  Reply* (*owned)(void*, Cookie, void**);
  if (!find(library, "xcb_connect", connect) || !find(library, "xcb_connection_has_error", has_error) ||
      !find(library, "xcb_disconnect", disconnect) || !find(library, "xcb_intern_atom", intern) ||
      !find(library, "xcb_intern_atom_reply", interned) || !find(library, "xcb_get_selection_owner", owner) ||
      !find(library, "xcb_get_selection_owner_reply", owned)) {
    return NA_INTEGER;
  }
  // one connection for as long as this process lives: a server whose last client leaves starts itself anew, or ends
  static void* server = nullptr;
  static std::string connected;
  static int screen = 0;
  static pid_t owned_by = 0;
  // a fork must not touch what its parent talks by
  if (owned_by != getpid()) server = nullptr;
  owned_by = getpid();
  if (server != nullptr && (connected != display || has_error(server) != 0)) {
    disconnect(server);
    server = nullptr;
  }
  if (server == nullptr) {
    server = connect(display.c_str(), &screen);
    connected = display;
  }
  int seen = NA_INTEGER;
  if (has_error(server) == 0) {
    const std::string name = "_NET_WM_CM_S" + std::to_string(screen);
    Reply* atom = interned(server, intern(server, 0, static_cast<std::uint16_t>(name.size()), name.c_str()), nullptr);
    Reply* held = atom != nullptr ? owned(server, owner(server, atom->value), nullptr) : nullptr;
    if (held != nullptr) seen = held->value != 0 ? 1 : 0;
    std::free(held);
    std::free(atom);
  }
  return seen;
#else
  return NA_INTEGER;
#endif
}
