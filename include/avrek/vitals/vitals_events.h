#pragma once
#include <avrek/arsenal/defence_spec.h>
#include <avrek/arsenal/effect_spec.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/vitals/damage.h>

#include <cstdint>
#include <optional>
#include <string_view>

/// What happens to the vitals of a body.
namespace avrek {

/// What happened. Who caused it is VitalsEvent::source.
enum class VitalsEventKind : std::uint8_t {
    damaged, ///< health or points of layers were lost; `damage` says how much health and why, `absorbed` what
             ///< layers took, `overkill` what there was no health for
    healed,  ///< health or points of layers came back; `damage` says how much health, `absorbed` what layers
             ///< got
    resisted, ///< a hit came to nothing, as a factor of its `damage` is 0: the body's resistance, say
    died,     ///< health reached 0: once for each life; `region`, `push` and `on_back` are of the last hit
    protected_hit,     ///< a hit did nothing: the body is protected
    guarded,           ///< a guard stopped a hit whole; `stamina` is left
    guarded_perfectly, ///< and had just been raised
    guard_raised,
    guard_lowered,
    guard_broken,      ///< the stamina ran out; `until` is when it can be raised again
    guard_mended,      ///< now it can
    defence_broken,    ///< `layer` has no points left
    defence_restored,  ///< `layer` is full again, by itself
    condition_began,   ///< `condition`, with `strength`, until `until`
    condition_stacked, ///< it was there already: `count`, `strength` and `until` are what they are now
    condition_refused, ///< it did not come; `refusal` says why
    condition_ended,   ///< by its time, or `refusal` says by what
    pushed,            ///< a hit that it survived gave it `push`, with or without damage
    reacted,           ///< the body is `state` now, until `until`, and gets `push`
    rising,            ///< it gets up, until `until`
    recovered,         ///< it is active again
    protection_ended,
    vanished, ///< the body of the dead is gone
};

/// Why something did not happen, or ended.
enum class VitalsRefusal : std::uint8_t {
    none,
    immune,    ///< the body is
    prevented, ///< by another condition
    ignored,   ///< it was there already
    weaker,    ///< it was there already, and stronger
    full,      ///< there is no room for one more
    cancelled, ///< by another condition
    hurt,      ///< from here on: by what the body did or suffered
    healed,
    fired,
    struck,
    guarded,
};

/// One thing that happened, with its exact time. Members that a kind does not name are as here.
struct VitalsEvent {
    Time at{};
    VitalsEventKind kind = VitalsEventKind::damaged;
    VitalsRefusal refusal = VitalsRefusal::none;
    ReactionClass reaction = ReactionClass::none;
    BodyState state = BodyState::active; ///< after the event
    bool on_back = false;                ///< of `down`, `rising` and `limp`: it lies on its back
    std::int32_t condition = -1;         ///< index into Arsenal::conditions; of damage: the one that ticked
    std::int32_t defence = -1;           ///< index into BodySpec::layers
    std::int32_t damage_type = -1;       ///< index into Arsenal::damage_types
    std::uint32_t count = 0;
    BodyId source = nobody;
    std::optional<RegionId> region{};
    Time until{};
    double strength = 0.0;
    double stamina = 0.0;
    double health_left = 0.0;
    double absorbed = 0.0;
    double overkill = 0.0;
    Vector3 push = Vector3::Zero(); ///< m/s
    Damage damage{};
};

/// The words for an event, such as "layer broken".
std::string_view to_string(VitalsEventKind kind);

/// The words for a reason, such as "immune".
std::string_view to_string(VitalsRefusal refusal);

} // namespace avrek
