#pragma once
#include <cstddef>
#include <cstdint>
#include <optional>
#include <type_traits>

/// Typed ids.
namespace avrek {

/// A body in a scene. The game chooses it; it is unique among the bodies of a scene.
enum class BodyId : std::uint32_t {};

/// Stands for no body.
inline constexpr BodyId nobody{0xffffffffU};

/// A region of a rig: its index in RigSpec::regions.
enum class RegionId : std::uint32_t {};

/// A material of the level: its index in Arsenal::surfaces, counted from 1, or a number of the game's
/// choosing.
enum class SurfaceId : std::uint32_t {};

/// The team of a body: 0 to 31, chosen by the game. Higher numbers are not teams: no set of teams contains
/// them, and a match refuses them.
enum class TeamId : std::uint8_t {};

/// @{ A spec of an arsenal: its index in the list that is named. Arsenal::operator[] returns the spec.
enum class WeaponId : std::int32_t {};     ///< Arsenal::weapons
enum class AmmoId : std::int32_t {};       ///< Arsenal::ammo
enum class BodySpecId : std::int32_t {};   ///< Arsenal::bodies
enum class ProjectileId : std::int32_t {}; ///< Arsenal::projectiles
enum class MeleeId : std::int32_t {};      ///< Arsenal::melee
enum class DamageTypeId : std::int32_t {}; ///< Arsenal::damage_types
enum class ConditionId : std::int32_t {};  ///< Arsenal::conditions
enum class HazardId : std::int32_t {};     ///< Arsenal::hazards
enum class PickupId : std::int32_t {};     ///< Arsenal::pickups
enum class MatchId : std::int32_t {};      ///< Arsenal::matches
enum class ShooterId : std::int32_t {};    ///< Arsenal::shooters
enum class LinkId : std::int32_t {};       ///< Arsenal::links
/// @}

/// Returns the index that an id stands for.
template <class Id>
requires std::is_enum_v<Id>
constexpr std::size_t to_index(Id id) {
    return static_cast<std::size_t>(id);
}

/// Returns the number of an id, or -1 for none: for files and wires.
template <class Id>
constexpr std::int32_t to_number(std::optional<Id> id) {
    return id ? static_cast<std::int32_t>(*id) : -1;
}

/// Returns the id with a number, or none for a number below 0.
template <class Id>
constexpr std::optional<Id> optional_id(std::int32_t number) {
    return number >= 0 ? std::optional{static_cast<Id>(number)} : std::nullopt;
}

/// Number of teams.
inline constexpr std::uint32_t team_count = 32;

} // namespace avrek
