/* Vulkan: a layer by the loader's documented interface (version 2) that notes each
 * queue present and passes it on. The few structures stand here as the Vulkan
 * specification and the loader's interface document give them. */
#include "probe.h"
#include <pthread.h>
#include <stddef.h>
#include <string.h>

typedef int result;
typedef void (*proc)(void);
typedef proc (*get_proc)(void *, const char *);
struct chained { int type; const struct chained *next; };
enum { LOADER_INSTANCE = 47, LOADER_DEVICE = 48, LINK_INFO = 0, FAILED = -3 };

struct instance_link { struct instance_link *next; get_proc get_instance; get_proc get_physical; };
struct instance_info { int type; const void *next; int function; struct instance_link *link; };
struct device_link { struct device_link *next; get_proc get_instance; get_proc get_device; };
struct device_info { int type; const void *next; int function; struct device_link *link; };
struct present_info {
  int type;
  const void *next;
  uint32_t waits;
  const uint64_t *wait;
  uint32_t swapchains;
  const uint64_t *swapchain;
  const uint32_t *image;
  result *results;
};
struct negotiate {
  int type;
  void *next;
  uint32_t version;
  get_proc get_instance, get_device, get_physical;
};

typedef result (*create_instance)(const struct chained *, const void *, void **);
typedef result (*create_device)(void *, const struct chained *, const void *, void **);
typedef void (*destroy)(void *, const void *);
typedef result (*present)(void *, const struct present_info *);

/* Objects of one instance or device share the pointer to a table that they begin with. */
#define MANY 64
static struct known { void *key; get_proc get; present present; destroy destroy; } known[MANY];
static pthread_rwlock_t door = PTHREAD_RWLOCK_INITIALIZER;

static void *key_of(void *object) { return object == NULL ? NULL : *(void **)object; }

static void remember(void *key, get_proc get, present present, destroy destroy) {
  pthread_rwlock_wrlock(&door);
  for (int i = 0; i < MANY; i++) {
    if (known[i].key == NULL || known[i].key == key) {
      known[i] = (struct known){key, get, present, destroy};
      break;
    }
  }
  pthread_rwlock_unlock(&door);
}

static struct known recall(void *key, int forget) {
  struct known found = {NULL, NULL, NULL, NULL};
  if (forget) pthread_rwlock_wrlock(&door);
  else pthread_rwlock_rdlock(&door);
  for (int i = 0; i < MANY && key != NULL; i++) {
    if (known[i].key == key) {
      found = known[i];
      if (forget) known[i].key = NULL;
      break;
    }
  }
  pthread_rwlock_unlock(&door);
  return found;
}

static result layer_create_instance(const struct chained *info, const void *allocator, void **instance) {
  const struct chained *at = info->next;
  while (at != NULL && !(at->type == LOADER_INSTANCE && ((const struct instance_info *)at)->function == LINK_INFO)) {
    at = at->next;
  }
  if (at == NULL) return FAILED;
  struct instance_info *link = (struct instance_info *)at;
  get_proc get = link->link->get_instance;
  link->link = link->link->next; /* the next layer finds its own link first */
  create_instance create = (create_instance)get(NULL, "vkCreateInstance");
  if (create == NULL) return FAILED;
  result done = create(info, allocator, instance);
  if (done == 0) remember(key_of(*instance), get, NULL, (destroy)get(*instance, "vkDestroyInstance"));
  return done;
}

static result layer_create_device(void *physical, const struct chained *info, const void *allocator, void **device) {
  const struct chained *at = info->next;
  while (at != NULL && !(at->type == LOADER_DEVICE && ((const struct device_info *)at)->function == LINK_INFO)) {
    at = at->next;
  }
  if (at == NULL) return FAILED;
  struct device_info *link = (struct device_info *)at;
  get_proc get_instance = link->link->get_instance, get = link->link->get_device;
  link->link = link->link->next;
  create_device create = (create_device)get_instance(NULL, "vkCreateDevice");
  if (create == NULL) return FAILED;
  result done = create(physical, info, allocator, device);
  if (done == 0) {
    remember(key_of(*device), get, (present)get(*device, "vkQueuePresentKHR"), (destroy)get(*device, "vkDestroyDevice"));
  }
  return done;
}

static void layer_destroy(void *object, const void *allocator) {
  struct known found = recall(key_of(object), 1);
  if (found.destroy != NULL) found.destroy(object, allocator);
}

static result layer_present(void *queue, const struct present_info *info) {
  for (uint32_t i = 0; i < info->swapchains; i++) probe_frame(info->swapchain[i], API_VULKAN);
  struct known found = recall(key_of(queue), 0);
  return found.present == NULL ? FAILED : found.present(queue, info);
}

static proc layer_get_instance(void *instance, const char *name);
static proc layer_get_device(void *device, const char *name);

static proc own(const char *name) {
  static const struct { const char *name; proc proc; } table[] = {
    {"vkCreateInstance", (proc)layer_create_instance},   {"vkDestroyInstance", (proc)layer_destroy},
    {"vkCreateDevice", (proc)layer_create_device},       {"vkDestroyDevice", (proc)layer_destroy},
    {"vkGetInstanceProcAddr", (proc)layer_get_instance}, {"vkGetDeviceProcAddr", (proc)layer_get_device},
    {"vkQueuePresentKHR", (proc)layer_present},
  };
  for (size_t i = 0; i < sizeof table / sizeof *table; i++) {
    if (strcmp(name, table[i].name) == 0) return table[i].proc;
  }
  return NULL;
}

static proc layer_get_instance(void *instance, const char *name) {
  proc mine = own(name);
  if (mine != NULL) return mine;
  struct known found = recall(key_of(instance), 0);
  return found.get == NULL ? NULL : found.get(instance, name);
}

static proc layer_get_device(void *device, const char *name) {
  struct known found = recall(key_of(device), 0);
  proc mine = own(name);
  /* a device without the swapchain extension has no present to note */
  if (mine != NULL && !(mine == (proc)layer_present && found.present == NULL)) return mine;
  return found.get == NULL ? NULL : found.get(device, name);
}

PROBE_PUBLIC result vkNegotiateLoaderLayerInterfaceVersion(struct negotiate *with) {
  if (with->version < 2) return FAILED;
  with->version = 2;
  with->get_instance = layer_get_instance;
  with->get_device = layer_get_device;
  with->get_physical = NULL;
  return 0;
}
