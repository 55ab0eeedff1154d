#include "fields.h"

namespace avrek {

std::uint64_t Match::state_hash() const {
    StateHash hash;
    fields::Hashing hashing{hash};
    fields::add_match(hashing, *this);
    for (const std::uint64_t noticed : noticed_) {
        hash.add(noticed);
    }
    return hash.value();
}

std::uint64_t Skirmish::state_hash() const {
    StateHash hash;
    fields::Hashing hashing{hash};
    fields::add_skirmish(hashing, *this);
    hash.add(match_.state_hash());
    return hash.value();
}

} // namespace avrek
