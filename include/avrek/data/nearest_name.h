#pragma once
#include <span>
#include <string>
#include <string_view>

namespace avrek {

/// The name among `names` that was most likely meant by `typed`: the one the fewest insertions, deletions,
/// replacements and swaps of neighbours away (optimal string alignment distance), the first of several; empty
/// when none is within a third of the typed length, at least 1.
std::string nearest_name(std::string_view typed, std::span<const std::string> names);

} // namespace avrek
