#pragma once
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

/// Returns whether a reload is under way.
bool is_reloading(const WeaponState& state);

} // namespace avrek
