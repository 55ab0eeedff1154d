#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/vectors.h>

#include <cstdint>
#include <initializer_list>
#include <limits>
#include <span>

/// What combatants want.
namespace avrek {

/// What is held down.
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
    take, ///< a press takes the nearest pickup, or else the nearest weapon that lies about
};

inline constexpr std::size_t button_count = 11;

/// A set of buttons.
class Buttons {
  public:
    constexpr Buttons() = default;
    constexpr Buttons(std::initializer_list<Button> buttons) {
        for (const Button button : buttons) {
            set(button, true);
        }
    }
    /// Bits beyond the last button are left out.
    static constexpr Buttons from_bits(std::uint32_t bits) {
        Buttons buttons;
        buttons.bits_ = static_cast<std::uint16_t>(bits & ((1U << button_count) - 1U));
        return buttons;
    }
    constexpr std::uint16_t bits() const { return bits_; }
    constexpr bool has(Button button) const { return (bits_ >> static_cast<unsigned>(button) & 1U) != 0; }
    constexpr void set(Button button, bool held) {
        const auto bit = static_cast<std::uint16_t>(1U << static_cast<unsigned>(button));
        bits_ = static_cast<std::uint16_t>(held ? bits_ | bit : bits_ & ~bit);
    }
    friend constexpr bool operator==(Buttons, Buttons) = default;

  private:
    std::uint16_t bits_ = 0;
};

/// What one combatant wants in a tick. It states everything each time; what counts is the change, so a button
/// that is held over many ticks is one press. Any bits are allowed: what is no number, too large or unknown
/// counts as the nearest that is allowed, or as what it was before.
struct Intent {
    BodyId who = nobody;
    std::uint32_t press_offset = 0; ///< ns into the tick at which buttons, slot and strike change
    float yaw = 0.0F; ///< radians: where it looks at the end of the tick, kicks of weapons apart
    float pitch = 0.0F;
    float ahead = 0.0F; ///< where it wants to go, by its yaw: with `left` within 1 of the middle
    float left = 0.0F;
    Buttons buttons{};
    std::int8_t slot = -1;         ///< swaps to this slot of its loadout; -1 does nothing
    std::int8_t strike = -1;       ///< attack of its blade; a change to one that is not -1 is a press
    BodyId spotted = nobody;       ///< somebody that it notices from now on
    BodyId lost_sight_of = nobody; ///< and somebody that it does not any more
    std::uint32_t view_delay = 0;  ///< ns by which what it sees of others is older than the tick
    friend bool operator==(const Intent&, const Intent&) = default;
};

/// The intent that a combatant is taken to give when it gives none: its last one, with every button still
/// held and nothing newly pressed, noticed or lost.
inline Intent repeated(Intent last) {
    last.press_offset = 0;
    last.spotted = last.lost_sight_of = nobody;
    return last;
}

/// Where a game that moves its bodies itself has put one by the end of a tick. A placing without a position,
/// or with numbers beyond 1e5 m or m/s, does nothing.
struct BodyUpdate {
    BodyId who = nobody;
    Vector3 position =
        Vector3::Constant(std::numeric_limits<double>::quiet_NaN()); ///< of the feet; to be set
    Radians yaw = 0.0;
    Vector3 velocity = Vector3::Zero(); ///< m/s
    bool airborne = false;
    bool jumps = false;                ///< it comes here at once, not on a way
    std::span<const Pose> joints = {}; ///< in the world's axes, all of the rig's; none: at rest
};

} // namespace avrek
