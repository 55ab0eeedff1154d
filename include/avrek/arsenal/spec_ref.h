#pragma once
#include <avrek/core/ids.h>

#include <optional>
#include <string>

namespace avrek {

/// A reference to an entry of another section of the arsenal: `SpecRef<ConditionId>`.
template <class Id>
struct SpecRef {
    std::string id{};         ///< empty: none
    std::optional<Id> spec{}; ///< set by resolve_references(); none: no such entry
    friend bool operator==(const SpecRef&, const SpecRef&) = default;
};

} // namespace avrek
