#pragma once
#include <avrek/arsenal/acts.h>
#include <avrek/arsenal/damage_type_spec.h>
#include <avrek/core/curve.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

/// What stands between a hit and the health of a body, and what a hit does to its posture.
namespace avrek {

/// Points over the health that take damage in its place: a shield, armour, or more health than there is room
/// for.
struct DefenceLayerSpec {
    std::string name{};
    double max = 0.0;              ///< points, over 0
    double start = 0.0;            ///< points at the start of a life, in [0, most]
    double share = 1.0;            ///< of the damage that meets it, in [0, 1]
    double wear = 1.0;             ///< points that go for each point of damage it takes, at least 0
    bool carries_over = true;      ///< what it cannot take any more goes on inwards, and is not lost
    std::vector<SpecRef> passes{}; ///< kinds of damage that it does not meet
    Duration delay{};              ///< without damage, before it returns by itself
    double refill = 0.0;           ///< points a second that return then, at least 0
    double decay = 0.0;            ///< points a second that go by themselves, at least 0; not with a refill
    bool takes_healing = false;    ///< healing beyond the maximum of the health goes here
    double depth = 0.0;            ///< damage meets layers of less depth first
};

/// No body has more layers.
inline constexpr std::size_t max_defence_layers = 4;

/// What a body holds against hits.
struct GuardSpec {
    Radians arc = pi;          ///< of directions from which hits are met, half to each side; over 0 to 2 pi
    double lets_through = 0.0; ///< share of the damage, in [0, 1]
    std::vector<DamageTypeFactor> types{}; ///< the same for single kinds of damage
    double stamina = 0.0;                  ///< that stopping costs; 0: it costs nothing
    double cost = 1.0;                     ///< stamina for each point of damage that is stopped, at least 0
    double refill = 0.0;                   ///< stamina a second, at least 0
    Duration delay{};                      ///< after a hit that it met, before the stamina returns
    Duration broken{};                     ///< that a broken guard stays down
    Duration perfect{};                    ///< after it is raised: hits are stopped whole, and at no cost
    bool perfect_staggers = false;         ///< a perfect guard against a blade shakes who struck, heavily
};

/// How a body shows what it goes through; what a game animates.
enum class BodyState : std::uint8_t {
    active,
    staggered,
    stunned,
    down,    ///< on the ground, alive
    rising,  ///< from it
    ragdoll, ///< dead
    gone,    ///< dead, and not there any more
};

/// The word for a state.
std::string_view to_string(BodyState state);

/// What a light or a heavy hit does to a body.
struct ReactionSpec {
    Duration lasts{};                       ///< 0: the body does not react
    BodyState shows = BodyState::staggered; ///< staggered, stunned or down
    Duration rise{};                        ///< of `down`: to get up, after that
    ActSet forbids = ActSet::all();         ///< as long as it lasts, rising counted
    double push = 0.0; ///< m/s, the way of the hit, besides what the hit itself pushes; at least 0
    Curve repeats{};   ///< share of its time, over the number of such reactions within `window` before
    Duration window = std::chrono::seconds{10};
};

} // namespace avrek
