#pragma once
#include <avrek/core/time.h>

#include <string>

namespace avrek {

/// What a connection between two machines is like: of simulated ones, for tests and tuning.
struct LinkSpec {
    std::string id{};
    Duration latency = std::chrono::milliseconds{50}; ///< there and back, at least 0; half of it each way
    Duration jitter{};                                ///< a packet takes up to so much longer, at least 0
    double loss = 0.0;                                ///< share of the packets, in [0, 0.95]
    double loss_run = 1.0;   ///< packets that are lost in a row, typically, at least 1
    double duplicated = 0.0; ///< share of the packets that come twice, in [0, 1]
    double reordered = 0.0;  ///< share of the packets that later ones may overtake, in [0, 1]
    double up = 0.0;         ///< bytes a second to the server at most, at least 0; 0: no ceiling
    double down = 0.0;       ///< and from it
};

} // namespace avrek
