#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/vectors.h>
#include <avrek/net/notices.h>
#include <avrek/skirmish/skirmish.h>

#include <array>
#include <cstdint>
#include <vector>

namespace avrek::detail {

enum class ThingKind : std::uint8_t { pickup, weapon, hazard };
inline constexpr std::size_t thing_kind_count = 3;

/// A pickup, a weapon that lies about, or a hazard, as clients are told of it.
struct LyingThing {
    std::int32_t number = 0; ///< pickups: their index; others: counted
    bool there = true;
    bool is_for_all = false;         ///< told to everybody, seen or not
    bool has_changed = true;         ///< it came or went in the last look
    Time at{};                       ///< when it changed
    BodyId who = nobody;             ///< that made the change
    Notice notice{};                 ///< that it is there
    std::array<Vector3, 6> points{}; ///< it is seen if one of them is
    std::size_t point_count = 0;
    Time ends{}; ///< end of a hazard
};

/// Pickups, dropped weapons and hazards of a fight, with numbers that stay.
struct LyingThings {
    /// In order of their numbers; what is gone, too, until somebody erases it.
    std::array<std::vector<LyingThing>, thing_kind_count> of_kind{};

    /// Notes the time of a change for the next look, and its maker.
    void note(const PickupEvent& event);
    void note(const DropEvent& event);
    /// Looks what has come and gone.
    void look(const Skirmish& fight);

  private:
    struct Change {
        Time at{};
        BodyId who = nobody;
    };
    struct PickupChanged {
        std::size_t index = 0;
        Change change{};
    };
    struct WeaponDropped {
        WeaponId weapon{};
        Vector3 position = Vector3::Zero();
        Change change{};
    };
    void look_at_pickups(const Skirmish& fight);
    void look_at_weapons(const Skirmish& fight);
    void look_at_hazards(const Skirmish& fight);
    LyingThing& add(ThingKind kind, std::int32_t number);

    std::vector<PickupChanged> pickups_{};
    std::vector<WeaponDropped> drops_{};
    std::vector<std::int32_t> hazards_{}; ///< numbers by index in the match; -1: none
    std::int32_t weapon_count_ = 0;
    std::int32_t hazard_count_ = 0;
};

} // namespace avrek::detail
