#pragma once
#include <sodium.h>

#include <cstddef>
#include <cstdlib>

namespace avrek::detail {

/// To be called before anything of libsodium; cheap after the first time. Without random numbers from the
/// system there is no going on.
inline void make_sodium_ready() {
    static const bool ready = sodium_init() >= 0;
    if (!ready) {
        std::abort();
    }
}

/// Bytes as libsodium takes them.
inline unsigned char* raw(std::byte* bytes) {
    return reinterpret_cast<unsigned char*>(bytes);
}
inline const unsigned char* raw(const std::byte* bytes) {
    return reinterpret_cast<const unsigned char*>(bytes);
}

} // namespace avrek::detail
