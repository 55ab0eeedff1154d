#pragma once
#include <cstdint>

/// Handles that cannot be mixed up.
namespace avrek {

/// Names one body in a scene; chosen by the game, unique among the bodies of a scene.
enum class BodyId : std::uint32_t {};

/// Stands for no body.
inline constexpr BodyId nobody{0xffffffffU};

/// A region of a rig: its place in RigSpec::regions.
enum class RegionId : std::uint32_t {};

/// What a piece of level is made of: its place in Arsenal::surfaces, or a number of the game's choosing.
enum class SurfaceId : std::uint32_t {};

/// The side that a body is on: 0 to 31, chosen by the game. A number beyond is no team: no set of teams holds
/// it, and a match lets nobody of it in.
enum class TeamId : std::uint8_t {};

inline constexpr std::uint32_t team_count = 32;

} // namespace avrek
