#include "fields.h"

namespace avrek {

std::uint64_t Match::state_hash() const {
    detail::FieldHashing hashing;
    detail::add_match(hashing, *this);
    StateHash hash = hashing.hash();
    for (const std::uint64_t noticed : noticed_) {
        hash.add(noticed);
    }
    return hash.value();
}

std::uint64_t Skirmish::state_hash() const {
    detail::FieldHashing hashing;
    detail::add_fighters(hashing, *this);
    StateHash hash = hashing.hash();
    hash.add(static_cast<std::uint64_t>(tick_));
    hash.add(match_.state_hash());
    return hash.value();
}

} // namespace avrek
