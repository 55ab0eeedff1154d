#pragma once
#include <avrek/arsenal/recovery.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>
#include <avrek/core/vectors.h>

#include <cstdint>
#include <vector>

namespace avrek {

/// What a shot does to the view, apart from spread.
struct RecoilSpec {
    std::vector<Look> pattern{}; ///< the kick of each shot of a run; empty: none
    std::int32_t loop_from = 0;  ///< after the last step the path goes on from this one, in [0, size)
    Look jitter{};               ///< each kick is off by up to this much, at random; at least 0
    double aimed = 1.0;          ///< factor when aiming, at least 0
    double crouching = 1.0;      ///< factor when crouching, at least 0
    double recovery_share =
        0.0;             ///< the share that goes back by itself, in [0, 1]; the player pulls the rest back
    Recovery recovery{}; ///< of that share
    Duration reset_delay =
        std::chrono::milliseconds{400}; ///< after this long without a shot the path starts anew
    Duration gun_kick = std::chrono::milliseconds{120}; ///< how long the gun model moves for a shot
};

} // namespace avrek
