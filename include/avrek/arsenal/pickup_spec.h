#pragma once
#include <avrek/arsenal/spec_ref.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <cstdint>
#include <string>

namespace avrek {

/// Something that lies about and gives what it has to whom takes it.
struct PickupSpec {
    std::string id{};
    Metres radius = 0.8;     ///< of the ball in which it is touched, over 0
    bool on_request = false; ///< it is taken when asked for, not by touch
    bool only_when_useful = true;
    Duration respawn_delay = Duration::max(); ///< after it was taken; as made: never
    double health = 0.0;                      ///< at least 0
    SpecRef ammo{};
    std::int32_t rounds = 0; ///< of `ammo`, at least 0
    SpecRef weapon{};
    SpecRef condition{};
    double strength = 1.0;  ///< of the condition
    std::int32_t lives = 0; ///< at least 0
};

} // namespace avrek
