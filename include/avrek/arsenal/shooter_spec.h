#pragma once
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <string>

namespace avrek {

/// How well somebody shoots: what stands for a player in trials.
struct ShooterSpec {
    std::string id{};
    Duration reaction = std::chrono::milliseconds{250}; ///< from seeing to acting on it, at least 0
    Duration reaction_spread{}; ///< largest change of the reaction, in duels; at least 0
    Radians error = 0.05;       ///< typical first error of the aim, at least 0
    Radians min_error = 0.004;  ///< error that always stays, at least 0
    /// After h times this, 1 / (1 + h + h^2) of the first error is left; over 0.
    Duration recovery = std::chrono::milliseconds{300};
    Duration tracking{};  ///< typical lag behind a moving target, at least 0
    Radians turn = 6.0;   ///< rad/s at which it turns at most, over 0
    Radians field = 2.1;  ///< whole angle in which it notices somebody, in (0, 2 pi]
    Metres sight = 60.0;  ///< how far it sees somebody, over 0
    double control = 0.6; ///< share of the kick that it pulls back, in [0, 1]
    Metres near = 12.0;   ///< nearer than this it holds the trigger, at least 0
    Duration burst = std::chrono::milliseconds{350}; ///< for which it holds it otherwise, over 0
    Duration pause = std::chrono::milliseconds{250}; ///< between two bursts, over 0
    Duration memory = std::chrono::seconds{3};       ///< it turns to the last foe for so long, at least 0
    double takes_cover = 0.35; ///< share of its health below which it looks for cover, in [0, 1]
};

} // namespace avrek
