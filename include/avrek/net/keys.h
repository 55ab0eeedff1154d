#pragma once
#include <array>
#include <cstddef>
#include <cstdint>

/// Keys of ticket issuers, servers and players (Ed25519).
namespace avrek {

/// A public key.
using PublicKey = std::array<std::byte, 32>;
/// A secret key. Its second half is the public key.
using SecretKey = std::array<std::byte, 64>;

/// A public key and its secret.
struct KeyPair {
    PublicKey open{};
    SecretKey secret{};
};

/// Returns new keys, from the system's random numbers.
KeyPair make_keys();

/// Returns a seed that nobody can guess, from the system's random numbers. A match of strangers needs one:
/// who knows its seed knows where everybody will respawn and how every shot will spread.
std::uint64_t make_seed();

} // namespace avrek
