#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/time.h>

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

/// Trigger, rate of fire, ammunition and reload of one weapon, exact at any tick rate.
///
/// A weapon's shots do not depend on how time is cut into ticks: advance() finds every moment inside its span
/// at which something happens, and does it at that moment.
namespace avrek {

/// Where the trigger and the reload button are, from a time on. State it as often as you like: what counts is
/// the change from the statement before, so a button held over many ticks is one press.
struct WeaponIntent {
    Time at{};
    bool trigger = false;
    bool reload = false;
};

/// What happened to a weapon.
enum class WeaponEventKind : std::uint8_t {
    shot,     ///< a shot left; `shot` is its number, `rounds` what is left in the magazine
    dry_fire, ///< the trigger was pulled, or still held, with nothing in the magazine: once for each press
    trigger_refused, ///< a press had no effect; `refusal` says why
    reload_started,  ///< `until` is when the rounds will be in
    reload_finished, ///< `rounds` is what is now in the magazine, `moved` how many came from the reserve
    reload_refused,  ///< a reload was asked for and did not start; `refusal` says why
};

/// Why a press did nothing.
enum class WeaponRefusal : std::uint8_t {
    none,
    cycling,       ///< a single weapon was pressed before the interval since its last shot was over
    reloading,     ///< a reload is under way
    magazine_full, ///< there is nothing to load into
    reserve_empty, ///< there is nothing to load
};

/// One thing that happened, with its exact time.
struct WeaponEvent {
    Time at{};
    WeaponEventKind kind = WeaponEventKind::shot;
    WeaponRefusal refusal = WeaponRefusal::none;
    std::uint32_t shot = 0;  ///< of a shot: how many this weapon had fired before; keys its random numbers
    std::int32_t rounds = 0; ///< in the magazine, after the event
    std::int32_t moved = 0;  ///< of reload_finished: rounds that left the reserve
    Time until{};            ///< of reload_started: when it finishes
    friend bool operator==(const WeaponEvent&, const WeaponEvent&) = default;
};

/// The run-time of one weapon. Trivially copyable: save it, send it, go back to it.
struct WeaponState {
    Time now{};                      ///< up to where it has been advanced
    Time cadence_start{};            ///< when shot 0 of the present unbroken run of shots left
    Time reload_end{};               ///< when the reload under way finishes
    std::uint32_t cadence_shots = 0; ///< shots of the present run; a reload ends a run
    std::uint32_t shots = 0;         ///< shots ever fired
    std::int32_t rounds = 0;         ///< in the magazine: 0 to WeaponSpec::magazine
    bool trigger_held = false;       ///< the last stated position of the trigger
    bool reload_held = false;        ///< the last stated position of the reload button
    bool reloading = false;          ///< a reload is under way
    bool reload_wanted = false;      ///< a reload starts as soon as the last shot's interval is over
    bool dry = false;                ///< this press has already been answered with a dry fire
    friend bool operator==(const WeaponState&, const WeaponState&) = default;
};

/// Rounds carried apart from the magazine. One reserve may serve several weapons.
struct AmmoReserve {
    std::int32_t rounds = 0; ///< at least 0
    friend bool operator==(const AmmoReserve&, const AmmoReserve&) = default;
};

/// A weapon as it is picked up: a full magazine, ready to fire at `at`.
WeaponState full_weapon(const WeaponSpec& spec, Time at = Time{});

/// The reserve that `spec` starts with.
AmmoReserve full_reserve(const WeaponSpec& spec);

/// The earliest time at which the rate of fire allows the next shot; not after `state.now` when it allows one
/// now.
Time next_shot_allowed(const WeaponSpec& spec, const WeaponState& state);

/// How far the reload under way has come, from 0 to 1; 0 when there is none.
double reload_progress(const WeaponSpec& spec, const WeaponState& state);

/// Moves `state` and `reserve` from `state.now` to `until` and appends what happened to `events`, in order of
/// time.
///
/// What is due in [state.now, until) happens; what is due at `until` belongs to the next call. At one and the
/// same moment a reload finishes first, then intents take effect (the trigger before the reload button), then
/// a held weapon fires.
///
/// A held automatic weapon that first fires at t0 fires shot k at t0 + shot_offset(k, rate). A press always
/// fires at once when the weapon is ready; letting go and pressing again never beats the rate of fire. A
/// reload starts when the interval of the last shot is over, takes what is missing from the magazine as far
/// as the reserve has it, and moves it at its end.
///
/// An intent that comes late, before `state.now`, counts as at `state.now`. Appends at most event_bound()
/// events; reserve that many and nothing is allocated. Preconditions (asserted): `until >= state.now`;
/// intents in order of time and before `until`.
void advance(const WeaponSpec& spec, WeaponState& state, AmmoReserve& reserve, Time until,
             std::span<const WeaponIntent> intents, std::vector<WeaponEvent>& events);

/// The most events that one advance() over `length` with `intents` intents can append.
std::size_t event_bound(const WeaponSpec& spec, Duration length, std::size_t intents);

} // namespace avrek
