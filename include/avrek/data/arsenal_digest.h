#pragma once
#include <avrek/data/arsenal_toml.h>

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace avrek {

/// Digest of one entry of an arsenal.
struct EntryDigest {
    std::string name{}; ///< "weapon.thorn-rifle"
    std::uint64_t digest = 0;
    friend bool operator==(const EntryDigest&, const EntryDigest&) = default;
};

/// Digest of an arsenal, to compare arsenals across machines.
struct ArsenalDigest {
    std::uint64_t whole = 0;
    std::vector<EntryDigest> entries{}; ///< in order of names
    friend bool operator==(const ArsenalDigest&, const ArsenalDigest&) = default;
};

/// Returns the digest of texts that overlay each other. Keys and values count; comments, order and spelling
/// do not. Texts with faults count as far as they can be read.
ArsenalDigest digest_of(std::span<const ArsenalText> texts);

/// Returns the names of the entries in which two arsenals differ.
std::vector<std::string> differing_entries(const ArsenalDigest& one, const ArsenalDigest& other);

} // namespace avrek
