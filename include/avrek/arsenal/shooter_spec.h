#pragma once
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <string>

namespace avrek {

/// Skill of a shooter. It stands for a player in computed engagements, and bots play by it.
struct ShooterSpec {
    std::string id{};
    Duration reaction = std::chrono::milliseconds{250}; ///< from seeing a target to acting on it, at least 0
    Duration reaction_spread{}; ///< maximum deviation of the reaction, in duels; at least 0
    Radians error = 0.05;       ///< typical error of the first aim, at least 0
    Radians min_error = 0.004;  ///< error that always remains, at least 0
    /// Time scale of aiming: after h times this, 1 / (1 + h + h^2) of the first error remains. Over 0.
    Duration recovery = std::chrono::milliseconds{300};
    Duration tracking{};  ///< typical lag behind a moving target, at least 0
    Radians turn = 6.0;   ///< maximum turn rate in rad/s, over 0
    Radians field = 2.1;  ///< whole angle in which it notices targets, in (0, 2 pi]
    Metres sight = 60.0;  ///< distance at which it sees targets, over 0
    double control = 0.6; ///< share of the recoil that it pulls back, in [0, 1]
    Metres near = 12.0;   ///< distance within which it holds the trigger, at least 0
    Duration burst = std::chrono::milliseconds{350}; ///< length of its bursts beyond that distance, over 0
    Duration pause = std::chrono::milliseconds{250}; ///< pause between bursts, over 0
    /// Time for which it keeps turning to a hidden target, at least 0.
    Duration memory = std::chrono::seconds{3};
    /// Share of its health below which it looks for cover, in [0, 1].
    double takes_cover = 0.35;
};

} // namespace avrek
