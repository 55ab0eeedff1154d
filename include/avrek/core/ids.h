#pragma once
#include <cstdint>

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

/// Number of teams.
inline constexpr std::uint32_t team_count = 32;

} // namespace avrek
