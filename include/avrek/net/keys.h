#pragma once
#include <array>
#include <cstddef>

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

} // namespace avrek
