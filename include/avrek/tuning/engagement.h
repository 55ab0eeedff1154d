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

/// One shooter, as good as its profile says, against one target that does not fight back.
namespace avrek {

/// Who shoots at whom, with what, and how. Time counts from the moment at which the shooter sees the target.
struct Engagement {
    const Arsenal* arsenal = nullptr;       ///< has been through link(); never null
    const WeaponSpec* weapon = nullptr;     ///< this or `melee`
    const MeleeSpec* melee = nullptr;       ///< a blade, struck with again and again
    std::size_t attack = 0;                 ///< of the blade
    const BodySpec* shooter_body = nullptr; ///< from where it sees and shoots; never null
    ShooterSpec shooter{};
    Target target{};        ///< faces the shooter
    RegionId aim{};         ///< the region that it aims at
    Metres distance = 10.0; ///< level, from the muzzle, or from where a blade turns, to the target's axis
    FiringPlan plan{};
    Posture posture{};
    double target_speed = 0.0;                 ///< m/s, around the shooter, so that the distance stays
    Duration limit = std::chrono::seconds{10}; ///< after the first pull of the trigger nothing more counts
};

/// How a profile fires a weapon at a distance: near, it holds the trigger; farther away it fires bursts, as
/// long as ShooterSpec::burst allows, with its pauses.
FiringPlan plan_of(const ShooterSpec& shooter, const WeaponSpec& weapon, Metres distance);

/// And how it stands: it aims along the weapon when the target is not near.
Posture posture_of(const ShooterSpec& shooter, Metres distance);

/// What an engagement has other than its profile says.
struct EngagementOverrides {
    std::optional<FiringPlan> plan{}; ///< for weapons; none: plan_of()
    bool crouching = false;
    double target_speed = 0.0;                 ///< m/s, around the shooter
    Duration limit = std::chrono::seconds{10}; ///< length, from the first pull of the trigger
};

/// Applies overrides to an engagement.
void apply(const EngagementOverrides& overrides, Engagement& engagement);

/// The engagement of a profile, by plan_of() and posture_of(). `weapon` is the id of a weapon, or that of a
/// blade and its attack, "sickle light"; the target is the arsenal's body `body`. None when something of it
/// is not there.
std::optional<Engagement> engagement_of(const Arsenal& arsenal, std::string_view weapon,
                                        std::string_view shooter, std::string_view body, Metres distance);

/// Whatever an arsenal has to fire or strike with, by the names that engagement_of() takes.
std::vector<std::string> armament_names(const Arsenal& arsenal);

/// The region that shooters aim at unless they are told otherwise: the torso, or the body's first.
RegionId usual_aim(const BodySpec& body);

/// Where shooter and target stand: the shooter's feet at the origin, the target ahead.
struct EngagementPlace {
    Pose target{};
    Look look{};          ///< with which the shooter, without error, hits the aimed region
    bool in_reach = true; ///< false: there is no such look
    Vector3 eye = Vector3::Zero();
    Vector3 grip = Vector3::Zero(); ///< of the weapon, or of the blade
    Vector3 muzzle = Vector3::Zero();
    Vector3 aim_point = Vector3::Zero(); ///< in the world
    Vector3 line = world_forward();      ///< in which shots leave with that look
};

/// Eye, hold and muzzle of a shooter at the origin that looks so.
struct ShooterPoints {
    Vector3 eye;
    Vector3 grip;
    Vector3 muzzle;
};
ShooterPoints points_of(const Engagement& engagement, const Look& look);

/// How far away, along its view, the eye sees the target, if it is in its view and in range.
std::optional<Metres> seen_of(const Engagement& engagement, const Pose& target, const Look& look,
                              const Vector3& eye);

/// Preconditions (asserted): nothing is null that must not be; `distance` over 0.
EngagementPlace place_of(const Engagement& engagement);

/// In which direction a shot leaves with a look, when its eye sees the target as far away as `seen` along its
/// view, and the floor otherwise: the muzzle is turned to what the eye sees.
Vector3 line_of(const Engagement& engagement, const Look& look, std::optional<Metres> seen);

/// What is left after `since` of a kick that the shooter has not pulled back at once: half of it after each
/// ShooterSpec::settle, as it takes aim again.
double kick_left(const ShooterSpec& shooter, Duration since);

/// One shot of the engagement's plan, or one swing.
struct PlannedShot {
    Time at{}; ///< since the target was seen
    Radians cone = 0.0;
    double power = 1.0;
    Look view{};              ///< what kicks have left in the view, without their jitter
    std::int32_t reloads = 0; ///< finished before it
};

/// The shots of the plan up to the limit. Swings are planned by when they begin.
std::vector<PlannedShot> shots_of(const Engagement& engagement);

} // namespace avrek
