#pragma once
#include <avrek/data/arsenal_toml.h>

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace avrek {

/// One entry of an arsenal, by what its files say of it.
struct EntryDigest {
    std::string name{}; ///< such as "weapon.thorn-rifle"
    std::uint64_t digest = 0;
    friend bool operator==(const EntryDigest&, const EntryDigest&) = default;
};

/// What tells one arsenal from another.
struct ArsenalDigest {
    std::uint64_t whole = 0;
    std::vector<EntryDigest> entries{}; ///< by name
    friend bool operator==(const ArsenalDigest&, const ArsenalDigest&) = default;
};

/// The digest of an arsenal out of its texts, laid over one another: of keys and values, not of comments,
/// order or spelling. Of texts with faults, of what can be read.
ArsenalDigest digest_of(std::span<const ArsenalText> texts);

/// The names of the entries in which two arsenals differ.
std::vector<std::string> differing_entries(const ArsenalDigest& one, const ArsenalDigest& other);

} // namespace avrek
