#pragma once
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>

#include <cstdint>

namespace avrek {

/// Current activity of a weapon.
enum class WeaponActivity : std::uint8_t {
    ready,
    raising,
    stowing,
    stowed,     ///< put away: nothing happens to it
    sprint_out, ///< coming up after a sprint
    opening,    ///< reload: the start, before the first round
    inserting,  ///< reload: until the rounds are in
    seating,    ///< reload: the rest of a repeat, with its round in
    closing,    ///< reload: until the weapon is ready
};

/// State of one weapon. Trivially copyable: save it, send it, go back to it.
///
/// Smooth values are stored as of a known time and computed from there, so that they do not depend on the
/// tick rate. Read them through readout() and the functions beside it.
struct alignas(64) WeaponState {
    // Hot members first, within one cache line.
    Time now{};                      ///< time up to which it is advanced
    Time next_shot{};                ///< unused while `cadence_shots` is 0
    Time activity_end{};             ///< unused for `ready` and `stowed`
    std::uint32_t cadence_shots = 0; ///< shots of the present run; a reload ends a run
    float speed_to = 0.0F;           ///< m/s, the last stated
    std::uint8_t mode = 0;           ///< index into WeaponSpec::modes
    std::uint8_t burst_left = 0;     ///< shots left in the present burst
    WeaponActivity activity = WeaponActivity::ready;

    // As last stated.
    bool trigger_held : 1 = false;
    bool reload_held : 1 = false;
    bool aim_held : 1 = false;
    bool mode_held : 1 = false;
    bool in_hand : 1 = true;
    bool sprinting : 1 = false;
    bool striking : 1 = false;
    bool stunned : 1 = false;
    bool fire_forbidden : 1 = false;
    bool reload_forbidden : 1 = false;
    bool crouching : 1 = false;
    bool airborne : 1 = false;

    bool aim_wanted : 1 = false;    ///< by a held or a toggled button
    bool aiming : 1 = false;        ///< the aim rises; otherwise it falls
    bool winding : 1 = false;       ///< power gathers or the spin rises; otherwise the spin falls
    bool reload_wanted : 1 = false; ///< a reload starts as soon as the last shot's interval is over
    bool from_empty : 1 = false;    ///< the present reload began with nothing in the magazine
    bool press_waits : 1 = false;   ///< a buffered press fires when the weapon is ready
    bool answered : 1 = false;      ///< this press has had an effect or an event
    bool spent : 1 = false;         ///< this press fires nothing more
    bool dry : 1 = false;           ///< this press has met an empty weapon
    bool locked : 1 = false;        ///< overheated

    std::int32_t rounds = 0; ///< in the magazine and chamber; see rounds_at() for other feeds
    std::uint32_t shots = 0; ///< shots ever fired
    Time last_shot{};        ///< unused while `shots` is 0
    float rate_share = 1.0F; ///< share of the rate of fire in the present run
    float bloom = 0.0F;      ///< radians, just after the last shot
    Time cadence_start{};    ///< time of shot 0 of the present run
    /// Idle time still needed after the last shot, without the delay.
    Duration refill_left{};
    /// Charge: its start. Spin: when it would have left 0 while rising, or 1 while falling.
    Time windup_since{};
    /// When the aim would have left 0 while rising, or 1 while falling.
    Time aim_since{};
    Time speed_since{};      ///< when `speed_to` was stated
    float speed_from = 0.0F; ///< m/s shown when `speed_to` was stated
    float return_yaw = 0.0F; ///< radians of kick to recover, just after the last shot
    float return_pitch = 0.0F;
    std::uint32_t kick_seed = 0;     ///< keys the recoil jitter; public, unlike the spread seed
    std::uint16_t recoil_step = 0;   ///< step of the pattern for the next shot
    std::uint16_t reload_loaded = 0; ///< rounds of the present reload that are in
    friend bool operator==(const WeaponState&, const WeaponState&) = default;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, WeaponState& state) {
    field("now", state.now, FieldUse::not_sent);
    field("next_shot", state.next_shot);
    field("activity_end", state.activity_end);
    field("cadence_shots", state.cadence_shots);
    field("speed_to", state.speed_to);
    field("mode", state.mode);
    field("burst_left", state.burst_left);
    field("activity", state.activity);
    state.trigger_held = field.flag("trigger_held", state.trigger_held);
    state.reload_held = field.flag("reload_held", state.reload_held);
    state.aim_held = field.flag("aim_held", state.aim_held);
    state.mode_held = field.flag("mode_held", state.mode_held);
    state.in_hand = field.flag("in_hand", state.in_hand);
    state.sprinting = field.flag("sprinting", state.sprinting);
    state.striking = field.flag("striking", state.striking);
    state.stunned = field.flag("stunned", state.stunned);
    state.fire_forbidden = field.flag("fire_forbidden", state.fire_forbidden);
    state.reload_forbidden = field.flag("reload_forbidden", state.reload_forbidden);
    state.crouching = field.flag("crouching", state.crouching);
    state.airborne = field.flag("airborne", state.airborne);
    state.aim_wanted = field.flag("aim_wanted", state.aim_wanted);
    state.aiming = field.flag("aiming", state.aiming);
    state.winding = field.flag("winding", state.winding);
    state.reload_wanted = field.flag("reload_wanted", state.reload_wanted);
    state.from_empty = field.flag("from_empty", state.from_empty);
    state.press_waits = field.flag("press_waits", state.press_waits);
    state.answered = field.flag("answered", state.answered);
    state.spent = field.flag("spent", state.spent);
    state.dry = field.flag("dry", state.dry);
    state.locked = field.flag("locked", state.locked);
    field("rounds", state.rounds);
    field("shots", state.shots);
    field("last_shot", state.last_shot);
    field("rate_share", state.rate_share);
    field("bloom", state.bloom);
    field("cadence_start", state.cadence_start);
    field("refill_left", state.refill_left);
    field("windup_since", state.windup_since);
    field("aim_since", state.aim_since);
    field("speed_since", state.speed_since);
    field("speed_from", state.speed_from);
    field("return_yaw", state.return_yaw);
    field("return_pitch", state.return_pitch);
    field("kick_seed", state.kick_seed);
    field("recoil_step", state.recoil_step);
    field("reload_loaded", state.reload_loaded);
}

/// Visits the fields of a constant state.
template <class Visitor>
void visit_fields(Visitor&& field, const WeaponState& state) {
    WeaponState copy = state; // bit-fields cannot be referred to
    visit_fields(field, copy);
}

/// Returns whether a reload is under way.
bool is_reloading(const WeaponState& state);

} // namespace avrek
