#include <avrek/arsenal/recovery.h>

namespace avrek {

double share_left(const Recovery& recovery, Duration since) {
    return since <= recovery.delay ? 1.0 : value_at(recovery.left, to_seconds(since - recovery.delay));
}

} // namespace avrek
