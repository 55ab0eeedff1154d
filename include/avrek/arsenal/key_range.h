#pragma once
#include <string>

namespace avrek {

/// The numbers that a key allows.
struct KeyRange {
    double min = 0.0;
    double max = 0.0;
    bool above_min = false; ///< `min` itself is not allowed
};

/// Returns a range as text: "over 0 to 6000".
std::string to_string(const KeyRange& range);

} // namespace avrek
