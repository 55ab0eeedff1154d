#pragma once
#include <avrek/core/time.h>

#include <cstdint>

namespace avrek {

/// What a weapon is busy with.
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

/// The run-time of one weapon. Trivially copyable: save it, send it, go back to it.
///
/// Whatever changes smoothly is held as it was at a known moment and computed from there, so that it does not
/// depend on how time was cut into ticks. Read it through readout() and the functions beside it.
struct alignas(64) WeaponState {
    // What every advance() looks at stands first, within one cache line: of many weapons, few do more in a
    // tick.
    Time now{};          ///< up to where it has been advanced
    Time next_shot{};    ///< when the rate of fire allows it; means nothing while `cadence_shots` is 0
    Time activity_end{}; ///< when the present activity ends; means nothing for `ready` and `stowed`
    std::uint32_t cadence_shots = 0; ///< shots of the present run; a reload ends a run
    float speed_to = 0.0F;           ///< m/s, the last stated
    std::uint8_t mode = 0;           ///< index into WeaponSpec::modes
    std::uint8_t burst_left = 0;     ///< shots that the present burst still has
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
    bool press_waits : 1 = false;   ///< a press made too early fires when the weapon is ready
    bool answered : 1 = false;      ///< this press has had an effect or an event
    bool spent : 1 = false;         ///< this press fires nothing more
    bool dry : 1 = false;           ///< this press has met an empty weapon
    bool locked : 1 = false;        ///< overheated

    std::int32_t rounds = 0; ///< in the magazine and chamber; see rounds_at() for other feeds
    std::uint32_t shots = 0; ///< shots ever fired
    Time last_shot{};        ///< of all; means nothing while `shots` is 0
    float rate_share = 1.0F; ///< of the rate of fire, in the present run
    float bloom = 0.0F;      ///< radians, just after the last shot
    Time cadence_start{};    ///< when shot 0 of the present unbroken run of shots left
    Duration refill_left{};  ///< of heat or a cell: the idling missing after the last shot, delay apart
    Time windup_since{}; ///< charge: its start. Spin: when it would have begun to rise from 0, or fall from 1
    Time aim_since{};    ///< when the aim would have begun to rise from 0, or to fall from 1
    Time speed_since{};  ///< when `speed_to` was stated
    float speed_from = 0.0F; ///< m/s as it showed when `speed_to` was stated
    float return_yaw = 0.0F; ///< radians of kick to go back by themselves, just after the last shot
    float return_pitch = 0.0F;
    std::uint32_t kick_seed = 0; ///< keys the jitter of the recoil: no secret, unlike the seed of the spread
    std::uint16_t recoil_step = 0;   ///< of the path, for the next shot
    std::uint16_t reload_loaded = 0; ///< rounds of the present reload that are in
    friend bool operator==(const WeaponState&, const WeaponState&) = default;
};

/// Whether a reload is under way.
bool is_reloading(const WeaponState& state);

} // namespace avrek
