#pragma once
#include <avrek/core/game_bytes.h>
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/vectors.h>

#include <cstdint>
#include <initializer_list>
#include <limits>
#include <span>

/// Intents: what each combatant wants this tick.
namespace avrek {

/// Buttons of a combatant.
enum class Button : std::uint8_t {
    trigger,
    reload,
    aim,
    next_mode,
    next_weapon,
    last_weapon,
    sprint,
    crouch,
    jump,
    guard,
    take, ///< a press takes the nearest pickup, or else the nearest weapon
};

/// Number of buttons that mean something to Avrek.
inline constexpr std::size_t button_count = 11;
/// Number of buttons of the game's own.
inline constexpr std::size_t game_button_count = 16;

/// Returns a button of the game's own. Precondition: `number` is less than game_button_count.
constexpr Button game_button(std::size_t number) {
    return static_cast<Button>(button_count + number);
}

/// A set of buttons.
class Buttons {
  public:
    constexpr Buttons() = default;
    /// Makes a set of these buttons.
    constexpr Buttons(std::initializer_list<Button> buttons) {
        for (const Button button : buttons) {
            set(button, true);
        }
    }
    /// Makes a set from bits. Bits beyond the last button are dropped.
    static constexpr Buttons from_bits(std::uint32_t bits) {
        Buttons buttons;
        buttons.bits_ = bits & ((1U << (button_count + game_button_count)) - 1U);
        return buttons;
    }
    /// Returns the bits: bit n stands for the button with number n.
    constexpr std::uint32_t bits() const { return bits_; }
    /// Returns whether a button is held.
    constexpr bool has(Button button) const { return (bits_ >> static_cast<unsigned>(button) & 1U) != 0; }
    /// Sets whether a button is held.
    constexpr void set(Button button, bool held) {
        const std::uint32_t bit = 1U << static_cast<unsigned>(button);
        bits_ = held ? bits_ | bit : bits_ & ~bit;
    }
    friend constexpr bool operator==(Buttons, Buttons) = default;

  private:
    std::uint32_t bits_ = 0;
};

/// The intent of one combatant for a tick. It states everything each time. Changes count, so a button held
/// over many ticks is one press. Any input is safe: values out of range are clamped, and NaN keeps the
/// previous value.
///
///     Intent intent{.who = me, .yaw = 0.5F, .ahead = 1.0F, .buttons = {Button::trigger, Button::sprint}};
struct Intent {
    BodyId who = nobody;
    std::uint32_t press_offset = 0; ///< ns into the tick at which buttons, slot and strike change
    float yaw = 0.0F;               ///< radians: look at the end of the tick, without recoil
    float pitch = 0.0F;
    float ahead = 0.0F; ///< wanted direction by its yaw; |(ahead, left)| at most 1
    float left = 0.0F;
    Buttons buttons{};
    std::int8_t slot = -1;         ///< swaps to this slot of its loadout; -1: no swap
    std::int8_t strike = -1;       ///< attack of its blade; a change to one is a press
    BodyId spotted = nobody;       ///< foe that it notices from now on
    BodyId lost_sight_of = nobody; ///< foe that it no longer notices
    std::uint32_t view_delay = 0;  ///< age of the remote players as drawn for this player, in ns
    GameBytes<32> game{};          ///< inputs of the game's own; unchanged ones cost nothing on the wire
    friend bool operator==(const Intent&, const Intent&) = default;
};

/// Visits the fields, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Intent> auto& intent) {
    field("who", intent.who, FieldUse::not_sent);
    field("press_offset", intent.press_offset, FieldUse::not_sent);
    field("yaw", intent.yaw);
    field("pitch", intent.pitch);
    field("ahead", intent.ahead, FieldUse::not_sent);
    field("left", intent.left, FieldUse::not_sent);
    field("buttons", intent.buttons);
    field("slot", intent.slot, FieldUse::not_sent);
    field("strike", intent.strike, FieldUse::not_sent);
    field("spotted", intent.spotted, FieldUse::not_sent);
    field("lost_sight_of", intent.lost_sight_of, FieldUse::not_sent);
    field("view_delay", intent.view_delay, FieldUse::not_sent);
    field("game", intent.game);
}

/// Returns the intent of a combatant that gives none: its last one, with the same buttons held and no new
/// press.
inline Intent repeated(Intent last) {
    last.press_offset = 0;
    last.spotted = last.lost_sight_of = nobody;
    return last;
}

/// Position of a body that the game moves itself, at the end of a tick. An update without a position, or with
/// values beyond 1e5 m or m/s, is ignored.
struct BodyUpdate {
    BodyId who = nobody;
    Vector3 position = Vector3::Constant(std::numeric_limits<double>::quiet_NaN()); ///< the feet; required
    Radians yaw = 0.0;
    Vector3 velocity = Vector3::Zero(); ///< m/s
    bool airborne = false;
    bool teleported = false; ///< it passes through nothing in between
    /// Poses in the world's axes: itself first, then the joints of its rig in order; none: as the pose source
    /// says. They are this fight's alone: players see, and rewound hits meet, what the pose source says.
    std::span<const Pose> poses = {};
};

} // namespace avrek
