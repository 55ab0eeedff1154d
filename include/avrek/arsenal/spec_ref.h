#pragma once
#include <cstdint>
#include <string>

namespace avrek {

/// A reference to an entry of another section of the arsenal.
struct SpecRef {
    std::string id{};        ///< empty: none
    std::int32_t index = -1; ///< index in that section, set by resolve_references(); -1: none
    friend bool operator==(const SpecRef&, const SpecRef&) = default;
};

} // namespace avrek
