#pragma once
#include <avrek/skirmish/snapshots.h>

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

/// Bodies as they are shown to players, as they travel: each as what is not as at an earlier moment.
namespace avrek::detail {

/// One body, and what its owner is seen to do.
struct SeenBody {
    BodyId id = nobody;
    SnapshotPose pose{};
    std::int16_t pitch = 0;  ///< pitch of its look: 1024 steps per right angle
    std::uint8_t flags = 0;  ///< SeenFlag
    std::uint8_t weapon = 0; ///< in hand, counted from 1; 0: none
    std::uint8_t shots = 0;  ///< it has fired, modulo 256
    BodyState state = BodyState::active;
    PoseState posed{};
    friend bool operator==(const SeenBody&, const SeenBody&) = default;
};

enum class SeenFlag : std::uint8_t {
    dead = 1,
    airborne = 2,
    crouching = 4,
    aiming = 8,
    reloading = 16,
    guarding = 32,
    on_back = 64 ///< while it lies
};

inline bool has(const SeenBody& body, SeenFlag flag) {
    return (body.flags & static_cast<std::uint8_t>(flag)) != 0;
}

inline constexpr std::size_t max_seen_bodies = 1024;

/// Both in order of their ids.
std::vector<std::uint8_t> pack_bodies(std::span<const SeenBody> before, std::span<const SeenBody> now);

/// None when it is no such thing.
std::optional<std::vector<SeenBody>> unpack_bodies(std::span<const std::uint8_t> packed,
                                                   std::span<const SeenBody> before);

} // namespace avrek::detail
