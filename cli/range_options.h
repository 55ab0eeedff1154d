#pragma once
#include "command_line.h"
#include <avrek/arsenal/body_spec.h>
#include <avrek/tuning/firing_plan.h>

#include <optional>
#include <string>
#include <vector>

namespace avrek::cli {

/// Options of `avrek range`.
struct RangeOptions {
    CommonOptions common;
    std::optional<double> distance; ///< none: what suits the weapon
    double seconds = 2.0;
    std::vector<std::string> plans{"hold"};
    std::vector<double> speeds{0.0};
    std::string stance = "standing";
    double aim = 0.0;
    double recoil_control = 1.0;
    std::string region;
    std::string body;
    std::string plot;
    std::string level;                       ///< empty: the board, for what it suits
    std::vector<double> from;                ///< x, y, z of the muzzle, or empty
    std::vector<double> look;                ///< yaw, pitch in degrees, or empty
    std::vector<std::string> body_positions; ///< "x,y,z" of bodies
    std::string attack;                      ///< attack of a blade; empty: its first
};

/// The posture that the options say. Throws WrongCall for an unknown stance.
Posture posture_of(const RangeOptions& options, double speed);

/// The region that is aimed at: the torso, or the body's first, if none is named.
RegionId aimed_region(const BodySpec& body, const std::string& name);

} // namespace avrek::cli
