#pragma once

namespace avrek {

/// The numbers that a key allows.
struct KeyRange {
    double min = 0.0;
    double max = 0.0;
    bool above_min = false; ///< `min` itself is not allowed
};

} // namespace avrek
