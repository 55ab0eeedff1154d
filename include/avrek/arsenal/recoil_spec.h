#pragma once
#include <avrek/arsenal/recovery.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>
#include <avrek/core/vectors.h>

#include <cstdint>
#include <vector>

namespace avrek {

/// Kick of the view by shots. Spread is separate.
struct RecoilSpec {
    std::vector<Look> pattern{}; ///< kick of each shot of a run; empty: none
    std::int32_t loop_from = 0;  ///< step that follows the last one, in [0, size)
    Look jitter{};               ///< maximum random deviation of each kick, at least 0
    double aimed = 1.0;          ///< factor when aiming, at least 0
    double crouching = 1.0;      ///< factor when crouching, at least 0
    double recovery_share = 0.0; ///< share that recovers by itself, in [0, 1]
    Recovery recovery{};         ///< recovery of that share
    Duration reset_delay =
        std::chrono::milliseconds{400}; ///< time without a shot after which the pattern restarts
    Duration gun_kick = std::chrono::milliseconds{120}; ///< duration of the gun model's kick
};

} // namespace avrek
