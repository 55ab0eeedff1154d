#include "spread_seed.h"

#include "sodium_ready.h"

#include <array>
#include <bit>
#include <cstring>

namespace avrek::detail {

static_assert(std::endian::native == std::endian::little, "the same seeds on every machine");

std::uint64_t spread_seed_of(std::uint64_t match_seed, BodyId player) {
    make_sodium_ready();
    std::array<unsigned char, crypto_kdf_KEYBYTES> key{};
    std::memcpy(key.data(), &match_seed, sizeof match_seed);
    std::array<unsigned char, crypto_kdf_BYTES_MIN> derived{};
    crypto_kdf_derive_from_key(derived.data(), derived.size(), static_cast<std::uint32_t>(player), "a spread",
                               key.data());
    std::uint64_t seed = 0;
    std::memcpy(&seed, derived.data(), sizeof seed);
    return seed;
}

} // namespace avrek::detail
