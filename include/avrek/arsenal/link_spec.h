#pragma once
#include <avrek/core/time.h>

#include <string>

namespace avrek {

/// A simulated network connection between two machines, for tests and tuning.
struct LinkSpec {
    std::string id{};
    Duration latency = std::chrono::milliseconds{50}; ///< round trip, at least 0; half of it each way
    Duration jitter{};                                ///< maximum extra delay of a packet, at least 0
    double loss = 0.0;                                ///< share of packets lost, in [0, 0.95]
    double loss_run = 1.0;                            ///< typical number of packets lost in a row, at least 1
    double duplicated = 0.0;                          ///< share of packets that arrive twice, in [0, 1]
    double reordered = 0.0; ///< share of packets that later ones can overtake, in [0, 1]
    double up = 0.0;        ///< bytes per second to the server, at least 0; 0: no limit
    double down = 0.0;      ///< bytes per second from the server, at least 0; 0: no limit
};

} // namespace avrek
