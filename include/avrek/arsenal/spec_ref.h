#pragma once
#include <cstdint>
#include <string>

namespace avrek {

/// Names an entry of another section of the arsenal.
struct SpecRef {
    std::string id{};        ///< empty: none
    std::int32_t index = -1; ///< its place in that section, see link(); -1 before, and for none
    friend bool operator==(const SpecRef&, const SpecRef&) = default;
};

} // namespace avrek
