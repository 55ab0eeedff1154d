#pragma once
#include <span>
#include <string>
#include <string_view>

namespace avrek {

/// Returns the name among `names` that `typed` most likely meant: the one with the fewest insertions,
/// deletions, replacements and swaps of neighbours (optimal string alignment distance), the first of several.
/// Empty if none is within a third of the typed length, at least 1.
std::string nearest_name(std::string_view typed, std::span<const std::string> names);

} // namespace avrek
