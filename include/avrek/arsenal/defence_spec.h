#pragma once
#include <avrek/arsenal/acts.h>
#include <avrek/arsenal/damage_type_spec.h>
#include <avrek/core/curve.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/units.h>

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

/// Defence layers, guards and reactions of a body.
namespace avrek {

/// Points that take damage before the health: a shield, armour, or overheal.
struct DefenceLayerSpec {
    std::string name{};
    double max = 0.0;                            ///< maximum points, over 0
    double start = 0.0;                          ///< points at the start of a life, in [0, max]
    double share = 1.0;                          ///< share of the incoming damage that it takes, in [0, 1]
    double wear = 1.0;                           ///< points lost per point of damage taken, at least 0
    bool carries_over = true;                    ///< excess damage passes to the next layer
    std::vector<SpecRef<DamageTypeId>> passes{}; ///< damage types that pass it
    Duration delay{};                            ///< time without damage before points return
    double refill = 0.0;                         ///< points per second that return then, at least 0
    /// Points per second lost by themselves, at least 0; not with a refill.
    double decay = 0.0;
    bool takes_healing = false; ///< healing beyond full health goes here
    double depth = 0.0;         ///< damage meets layers with less depth first
};

/// Maximum number of defence layers of a body.
inline constexpr std::size_t max_defence_layers = 4;

/// A guard that stops hits from ahead, such as a raised shield.
struct GuardSpec {
    Radians arc = pi;                      ///< angle covered, half to each side, in (0, 2 pi]
    double lets_through = 0.0;             ///< share of the damage that passes, in [0, 1]
    std::vector<DamageTypeFactor> types{}; ///< that share for single damage types
    double stamina = 0.0;                  ///< stamina to stop damage with; 0: stopping is free
    double cost = 1.0;                     ///< stamina per point of damage stopped, at least 0
    double refill = 0.0;                   ///< stamina per second that returns, at least 0
    Duration delay{};                      ///< delay after a guarded hit before the stamina returns
    Duration broken{};                     ///< time for which a broken guard stays down
    Duration perfect{};                    ///< window after raising in which hits are stopped at no cost
    /// A perfect guard against a blade staggers the attacker heavily.
    bool perfect_staggers = false;
};

/// Health that returns by itself.
struct RegenerationSpec {
    double points = 0.0;                       ///< health per period, at least 0; 0: none returns
    Duration period = std::chrono::seconds{1}; ///< at least 1 ms
    Duration delay{};                          ///< time without harm before the first
};

/// Visible state of a body, for animation.
enum class BodyState : std::uint8_t {
    active,
    staggered,
    stunned,
    down,    ///< on the ground, alive
    rising,  ///< getting up
    ragdoll, ///< dead, or made limp by the game
    gone,    ///< dead and removed
};

/// Returns the word for a state.
std::string_view to_string(BodyState state);

/// Reaction of a body to a class of hits.
struct ReactionSpec {
    std::string name{};                     ///< name of a reaction of the body's own
    double weight = 1.0;                    ///< weight of such a reaction, at least 0
    Duration lasts{};                       ///< duration; 0: the body does not react
    BodyState shows = BodyState::staggered; ///< staggered, stunned or down
    Duration rise{};                        ///< after `down`: time to get up
    ActSet forbids = ActSet::all();         ///< acts forbidden until the reaction and rising are over
    double push = 0.0;                      ///< m/s along the hit, besides the hit's own push; at least 0
    /// Share of the duration, over the number of such reactions within `window` before.
    Curve repeats{};
    Duration window = std::chrono::seconds{10};
};

} // namespace avrek
