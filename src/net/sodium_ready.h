#pragma once
#include <sodium.h>

#include <cstdlib>

namespace avrek::net {

/// To be called before anything of libsodium; cheap after the first time. Without random numbers from the
/// system there is no going on.
inline void make_sodium_ready() {
    static const bool ready = sodium_init() >= 0;
    if (!ready) {
        std::abort();
    }
}

} // namespace avrek::net
