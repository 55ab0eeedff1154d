#pragma once
#include <avrek/tuning/breakpoints.h>
#include <avrek/tuning/time_base.h>

#include <string>
#include <vector>

/// Lines of the table of `avrek ttk`.
namespace avrek::cli {

/// The base of times that --since names. Throws WrongCall for an unknown one.
TimeBase base_named(const std::string& name);

/// One weapon, or one attack of a blade, aimed at one region.
struct TtkLine {
    std::string name; ///< "thorn-rifle", "sickle light"
    const WeaponSpec* weapon = nullptr;
    const ProjectileSpec* projectile = nullptr;
    const MeleeSpec* melee = nullptr;
    const MeleeAttackSpec* attack = nullptr;
    RegionId region{};
    std::string region_name;
    std::vector<IdealKill> kills; ///< at each distance

    /// How far it reaches.
    Metres range() const { return weapon != nullptr ? weapon->range : attack->reach + attack->thrust; }
    IdealKill kill_at(const Target& target, Metres distance) const;
    std::vector<ShotsStretch> stretches(const Target& target) const;
};

/// The script for gnuplot: time to kill since `base` over distance up to `most`, a panel for each line, with
/// the others behind it.
std::string ttk_plot(const std::vector<TtkLine>& lines, const Target& target, const std::string& title,
                     Metres most, TimeBase base);

/// "23.53 damage (+7.0 %)": a breakpoint, and how far a weapon's damage is from it.
std::string breakpoint_text(double breakpoint, double damage);

} // namespace avrek::cli
