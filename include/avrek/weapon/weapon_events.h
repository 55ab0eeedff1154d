#pragma once
#include <avrek/arsenal/trigger_spec.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <cstdint>
#include <string_view>

/// What goes into a weapon and what comes out of it.
namespace avrek {

/// What the holder of a weapon does with it, from a time on. It states everything each time; state it as
/// often as you like: what counts is the change from the statement before, so a button held over many ticks
/// is one press.
struct WeaponIntent {
    Time at{};
    bool trigger = false;
    bool reload = false;
    bool aim = false;
    bool next_mode = false; ///< a press goes on to the next of the weapon's modes
    bool in_hand = true;    ///< false puts the weapon away
    bool sprint = false;
    bool strike = false;         ///< the hands are busy with a blow
    bool stunned = false;        ///< the hands do nothing
    bool forbids_fire = false;   ///< something keeps the holder from firing
    bool forbids_reload = false; ///< or from starting a reload
    bool crouching = false;
    bool airborne = false;
    double speed = 0.0; ///< over the ground in m/s, at least 0
};

/// What happened to a weapon.
enum class WeaponEventKind : std::uint8_t {
    shot, ///< a shot left: `shot` is its number, `spread` its cone, `power` what it is worth, `kick` what the
          ///< view does
    dry_fire,         ///< the trigger was pulled, or still held, without enough rounds: once for each press
    trigger_refused,  ///< a press had no effect, or was let go before it had one; `refusal` says why
    charge_started,   ///< power gathers; `until` is when it is greatest
    charge_dropped,   ///< it was let go too early, or `refusal` says what came between
    mode_changed,     ///< `mode` is set now
    mode_refused,     ///< `refusal` says why the mode stays
    overheated,       ///< it is locked; `until` is when it fires again
    cooled,           ///< and now it does
    reload_started,   ///< `until` is when it ends, if nothing comes between
    rounds_loaded,    ///< `moved` rounds are in, and stay; `discarded` went away with the old magazine
    reload_finished,  ///< the weapon is ready again
    reload_cancelled, ///< `refusal` says by what
    reload_refused,   ///< a reload was asked for and did not start; `refusal` says why
    raise_started,    ///< it was taken in hand; `until` is when it is ready
    raised,           ///< now it is
    stow_started,     ///< it is put away; `until` is when the hands are free
    stowed,           ///< now they are
    swap_refused,     ///< of a loadout: `refusal` says why the weapon in hand stays
};

/// Why something did not happen, or ended.
enum class WeaponRefusal : std::uint8_t {
    none,
    cycling,       ///< the interval since the last shot is not over
    winding_up,    ///< it has not yet gathered the speed that the first shot waits for
    empty,         ///< there is not enough for a shot
    too_hot,       ///< it is locked until it has cooled
    reloading,     ///< a reload is under way
    magazine_full, ///< there is nothing to load into
    reserve_empty, ///< there is nothing to load
    no_magazine,   ///< this weapon is not reloaded
    one_mode,      ///< there is no other mode
    raising,       ///< it is not up yet
    put_away,      ///< it is put away, or being put away
    no_weapon,     ///< there is none in that slot
    sprinting,     ///< a sprint
    sprint_out,    ///< a sprint has just ended
    striking,      ///< a blow
    stunned,
    forbidden, ///< something keeps the holder from it
    airborne,  ///< it does not fire off the ground
    triggered, ///< the trigger was pulled
    let_go,    ///< the trigger was let go
};

/// One thing that happened, with its exact time. Members that a kind does not name are as here.
struct WeaponEvent {
    Time at{};
    Time until{};
    WeaponEventKind kind = WeaponEventKind::shot;
    WeaponRefusal refusal = WeaponRefusal::none;
    TriggerMode mode = TriggerMode::single; ///< that is set
    std::int8_t slot = 0;                   ///< of a loadout: which of its weapons
    std::uint32_t shot = 0;  ///< how many this weapon had fired before; keys its random numbers
    std::int32_t rounds = 0; ///< to fire without a reload, after the event; 0 for a weapon without ammunition
    std::int32_t moved = 0;  ///< rounds that were loaded
    std::int32_t discarded = 0; ///< rounds that were thrown away
    Radians spread = 0.0;       ///< half-angle of the cone
    double power = 1.0;         ///< multiplies the damage
    Look kick{};                ///< what the shot adds to the view, see kept_kick()
    Look view{};                ///< what was left in the view of the kicks before it, see view_kick_at()
    friend bool operator==(const WeaponEvent&, const WeaponEvent&) = default;
};

/// The words for an event, such as "reload started".
std::string_view to_string(WeaponEventKind kind);

/// The words for a reason, such as "reserve empty".
std::string_view to_string(WeaponRefusal refusal);

} // namespace avrek
