#include "built.h"

#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
#define FAIR_GAUGE_IS_SANITIZED true
#elif defined(__has_feature)
#define FAIR_GAUGE_IS_SANITIZED (__has_feature(address_sanitizer) || __has_feature(thread_sanitizer))
#else
#define FAIR_GAUGE_IS_SANITIZED false
#endif

const bool is_sanitized = FAIR_GAUGE_IS_SANITIZED;

namespace fair_gauge::built {
const char *const command_line = FAIR_GAUGE_CLI, *const stand_in = FAIR_GAUGE_STAND_IN,
                  *const window = FAIR_GAUGE_PROGRAM;
}
