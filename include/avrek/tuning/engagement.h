#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/time.h>
#include <avrek/skirmish/aim_error.h>
#include <avrek/tuning/firing_plan.h>
#include <avrek/tuning/target.h>

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Engagements: one shooter of a profile against one target that does not fight back.
namespace avrek {

/// An engagement. Time counts from the moment at which the shooter sees the target.
struct Engagement {
    const Arsenal* arsenal = nullptr;       ///< after resolve_references(); never null
    const WeaponSpec* weapon = nullptr;     ///< this or `melee`
    const MeleeSpec* melee = nullptr;       ///< a blade, swung again and again
    std::size_t attack = 0;                 ///< attack of the blade
    const BodySpec* shooter_body = nullptr; ///< body of the shooter; never null
    ShooterSpec shooter{};
    Target target{}; ///< faces the shooter
    RegionId aim{};  ///< aimed region
    /// Level, from the muzzle or the blade's turning point to the target's axis.
    Metres distance = 10.0;
    FiringPlan plan{};
    Posture posture{};
    double target_speed = 0.0;                 ///< m/s, around the shooter at constant distance
    Duration limit = std::chrono::seconds{10}; ///< length, from the first pull of the trigger
};

/// Returns how a profile fires a weapon at a distance: near, it holds the trigger; farther away it fires
/// bursts of ShooterSpec::burst, with its pauses.
FiringPlan plan_of(const ShooterSpec& shooter, const WeaponSpec& weapon, Metres distance);

/// Returns the posture of a profile at a distance: it aims down the weapon unless the target is near.
Posture posture_of(const ShooterSpec& shooter, Metres distance);

/// Deviations of an engagement from its profile.
struct EngagementOverrides {
    std::optional<FiringPlan> plan{}; ///< for weapons; none: plan_of()
    bool crouching = false;
    double target_speed = 0.0;                 ///< m/s, around the shooter
    Duration limit = std::chrono::seconds{10}; ///< length, from the first pull of the trigger
};

/// Applies overrides to an engagement.
void apply(const EngagementOverrides& overrides, Engagement& engagement);

/// Returns the engagement of a profile, by plan_of() and posture_of(). `weapon` is the id of a weapon, or
/// that of a blade and its attack, "sickle light"; the target is the body `body`. None if something does not
/// exist.
std::optional<Engagement> engagement_of(const Arsenal& arsenal, std::string_view weapon,
                                        std::string_view shooter, std::string_view body, Metres distance);

/// Returns all weapons and attacks of an arsenal, by the names that engagement_of() takes.
std::vector<std::string> armament_names(const Arsenal& arsenal);

/// Returns the region that shooters aim at by default: the torso, or the body's first.
RegionId usual_aim(const BodySpec& body);

/// Positions of shooter and target: the shooter's feet at the origin, the target ahead.
struct EngagementPlace {
    Pose target{};
    Look look{};          ///< hits the aimed region, without error
    bool in_reach = true; ///< false: no look hits it
    Vector3 eye = Vector3::Zero();
    Vector3 grip = Vector3::Zero(); ///< grip of the weapon or the blade
    Vector3 muzzle = Vector3::Zero();
    Vector3 aim_point = Vector3::Zero(); ///< in the world
    Vector3 line = world_forward();      ///< direction of shots with that look
};

/// Eye, grip and muzzle of a shooter at the origin with a look.
struct ShooterPoints {
    Vector3 eye;
    Vector3 grip;
    Vector3 muzzle;
};
/// Returns eye, grip and muzzle of the shooter with a look.
ShooterPoints points_of(const Engagement& engagement, const Look& look);

/// Returns the distance along its view at which the eye sees the target; none out of view or range.
std::optional<Metres> seen_of(const Engagement& engagement, const Pose& target, const Look& look,
                              const Vector3& eye);

/// Returns the positions. Preconditions (asserted): no null pointer; `distance` over 0.
EngagementPlace place_of(const Engagement& engagement);

/// Returns the direction of a shot with a look, if its eye sees the target `seen` away along its view, and
/// else the floor: the muzzle aims at what the eye sees.
Vector3 line_of(const Engagement& engagement, const Look& look, std::optional<Metres> seen);

/// Returns the share of a kick that remains `since` it, of what the shooter does not pull back at once: it
/// halves with every ShooterSpec::recovery.
double kick_left(const ShooterSpec& shooter, Duration since);

/// One shot of the engagement's plan, or one swing.
struct PlannedShot {
    Time at{}; ///< since the target was seen
    Radians cone = 0.0;
    double power = 1.0;
    Look view{};              ///< recoil in the view, without jitter
    std::int32_t reloads = 0; ///< reloads finished before it
};

/// Returns the shots of the plan up to the limit. Swings are planned by their start.
std::vector<PlannedShot> shots_of(const Engagement& engagement);

} // namespace avrek
