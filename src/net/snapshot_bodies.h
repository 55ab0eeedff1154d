#pragma once
#include <avrek/skirmish/snapshots.h>

#include <array>
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

/// Bodies of a moment as their receiver has them.
struct ReceivedBodies {
    std::vector<SeenBody> bodies{};
    /// Which are as of that moment; the others were left out of it and are as they were before. Empty: all.
    std::vector<bool> fresh{};
    bool is_fresh(std::size_t index) const { return fresh.empty() || fresh[index]; }
    friend bool operator==(const ReceivedBodies&, const ReceivedBodies&) = default;
};

/// A body as what is not as at an earlier moment, in bits.
struct PackedChange {
    std::array<std::uint64_t, 4> words{};
    std::uint32_t bits = 0;
    bool is_none() const { return bits == 1; }
};

/// Packs a body as a change of an older one; of SeenBody{.id = now.id} for a receiver that does not have it.
PackedChange packed_change(const SeenBody& before, const SeenBody& now);

/// Fate of a body in a snapshot.
enum class BodyFate : std::uint8_t {
    fresh,  ///< it is told
    kept,   ///< it is left out, and stays as its receiver has it
    absent, ///< it is left out, and its receiver does not have it
};

/// A body that a snapshot could tell.
struct BodyOffer {
    BodyId id = nobody;
    const PackedChange* change = nullptr; ///< not null; from what its receiver has
    bool is_new = false;                  ///< its receiver does not have it
    double worth = 0.0;                   ///< for choose_bodies()
    BodyFate fate = BodyFate::fresh;
};

/// Returns the bytes that it takes at most to tell all. `had` are the bodies that the receiver has. Both in
/// order of their ids.
std::size_t size_of(std::span<const BodyId> had, std::span<const BodyOffer> offers);
/// Sets the fates: leaves out the bodies of least worth until the others fit into `room` bytes. A body that
/// has not changed takes no room and is fresh. At least one that has changed is told.
void choose_bodies(std::size_t room, std::span<const BodyId> had, std::span<BodyOffer> offers);
/// Packs bodies by their fates.
std::vector<std::uint8_t> pack_bodies(std::span<const BodyId> had, std::span<const BodyOffer> offers);

/// None when it is no such thing.
std::optional<ReceivedBodies> unpack_bodies(std::span<const std::uint8_t> packed,
                                            std::span<const SeenBody> before);

} // namespace avrek::detail
