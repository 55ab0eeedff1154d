#pragma once
#include <avrek/arsenal/trigger_spec.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <cstdint>
#include <string_view>

/// Input and output of a weapon.
namespace avrek {

/// Intent for a weapon, from a time on. It states everything each time. Changes count, so a button held over
/// many ticks is one press.
struct WeaponIntent {
    Time at{};
    bool trigger = false;
    bool reload = false;
    bool aim = false;
    bool next_mode = false; ///< a press selects the next of the weapon's modes
    bool in_hand = true;    ///< false puts the weapon away
    bool sprint = false;
    bool strike = false;         ///< the holder is striking
    bool stunned = false;        ///< the holder is stunned
    bool forbids_fire = false;   ///< a condition forbids firing
    bool forbids_reload = false; ///< a condition forbids starting a reload
    bool crouching = false;
    bool airborne = false;
    double speed = 0.0; ///< over the ground in m/s, at least 0
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<WeaponIntent> auto& intent) {
    field("at", intent.at, FieldUse::not_sent);
    field("trigger", intent.trigger);
    field("reload", intent.reload);
    field("aim", intent.aim);
    field("next_mode", intent.next_mode);
    field("in_hand", intent.in_hand);
    field("sprint", intent.sprint);
    field("strike", intent.strike);
    field("stunned", intent.stunned);
    field("forbids_fire", intent.forbids_fire);
    field("forbids_reload", intent.forbids_reload);
    field("crouching", intent.crouching);
    field("airborne", intent.airborne);
    field("speed", intent.speed);
}

/// Kinds of weapon events.
enum class WeaponEventKind : std::uint8_t {
    /// A shot left. `shot` is its number, `spread` its cone, `power` its damage factor, `kick` its recoil.
    shot,
    dry_fire,         ///< trigger held without enough rounds; once per press
    trigger_refused,  ///< a press had no effect; `refusal` says why
    charge_started,   ///< `until` is when the power is full
    charge_dropped,   ///< released too early, or `refusal` says what interrupted
    mode_changed,     ///< `mode` is the new one
    mode_refused,     ///< `refusal` says why the mode stays
    overheated,       ///< locked; `until` is when it unlocks
    cooled,           ///< unlocked
    reload_started,   ///< `until` is when it ends if nothing interrupts
    rounds_loaded,    ///< `moved` rounds are in; `discarded` went with the magazine
    reload_finished,  ///< the weapon is ready again
    reload_cancelled, ///< `refusal` says by what
    reload_refused,   ///< a requested reload did not start; `refusal` says why
    raise_started,    ///< taken in hand; `until` is when it is ready
    raised,           ///< ready in hand
    stow_started,     ///< being put away; `until` is when the hands are free
    stowed,           ///< put away
    swap_refused,     ///< in a loadout: `refusal` says why the weapon in hand stays
    /// The weapon has other values, see retune(). `moved` rounds went to the reserve, or came from it if
    /// negative; `discarded` rounds are lost.
    retuned,
};

/// Reason why something did not happen, or ended.
enum class WeaponRefusal : std::uint8_t {
    none,
    cycling,       ///< the interval since the last shot is not over
    winding_up,    ///< the spin is below the one that the first shot needs
    empty,         ///< there is not enough for a shot
    too_hot,       ///< it is locked until it has cooled
    reloading,     ///< a reload is under way
    magazine_full, ///< there is nothing to load into
    reserve_empty, ///< there is nothing to load
    no_magazine,   ///< the weapon has no magazine
    one_mode,      ///< there is no other mode
    raising,       ///< it is being raised
    put_away,      ///< it is put away, or being put away
    no_weapon,     ///< the slot is empty
    sprinting,     ///< the holder sprints
    sprint_out,    ///< the holder has just stopped sprinting
    striking,      ///< the holder strikes
    stunned,
    forbidden,  ///< a condition forbids it
    airborne,   ///< it does not fire off the ground
    triggered,  ///< the trigger was pulled
    let_go,     ///< the trigger was released
    new_values, ///< the weapon has other values, see retune()
};

/// One event of a weapon, with its exact time. Members that its kind does not name keep their defaults.
struct WeaponEvent {
    Time at{};
    Time until{};
    WeaponEventKind kind = WeaponEventKind::shot;
    WeaponRefusal refusal = WeaponRefusal::none;
    TriggerMode mode = TriggerMode::single; ///< mode that is set
    std::int8_t slot = 0;                   ///< slot in the loadout
    std::uint32_t shot = 0;                 ///< shots fired before; keys the random numbers
    std::int32_t rounds = 0;                ///< rounds to fire without a reload, after the event
    std::int32_t moved = 0;                 ///< rounds that were loaded
    std::int32_t discarded = 0;             ///< rounds thrown away
    Radians spread = 0.0;                   ///< half-angle of the cone
    double power = 1.0;                     ///< multiplies the damage
    Look kick{};                            ///< added to the view by the shot, see kept_kick()
    Look view{};                            ///< recoil left in the view before the shot, see view_kick_at()
    friend bool operator==(const WeaponEvent&, const WeaponEvent&) = default;
};

/// Returns the words for an event, such as "reload started".
std::string_view to_string(WeaponEventKind kind);

/// Returns the words for a reason, such as "reserve empty".
std::string_view to_string(WeaponRefusal refusal);

} // namespace avrek
