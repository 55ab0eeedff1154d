#pragma once
#include <avrek/scene/level.h>
#include <avrek/tuning/level_trial.h>

#include <string>

namespace avrek::cli {

/// Data of a picture of a trial in a level.
struct LevelPicture {
    const Level& level;
    const LevelTrial& trial;
    const LevelTrialSetup& setup;
    std::string title;
    std::string subtitle;
    Radians spray = 0.0; ///< half-angle of the cone that is sprayed; 0: none
};

/// The script for gnuplot: the level cut upright along the look, and level at the muzzle's height, at one
/// scale, with the ways, what they met, blasts and bodies.
std::string level_picture(const LevelPicture& picture);

} // namespace avrek::cli
