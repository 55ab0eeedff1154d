#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <array>
#include <cstddef>
#include <cstdint>

/// What lies about in a match: hazards and pickups.
namespace avrek {

/// Who touches hazards and pickups is looked at at fixed moments: every 1/64 s from the start of the
/// simulation. So it does not depend on the tick rate.
inline constexpr Duration touch_step{15'625'000};

/// Somebody in a hazard.
struct HazardTouch {
    BodyId body = nobody;
    Time next{};         ///< when it is next harmed
    bool inside = false; ///< otherwise it has left, and `next` still holds when it comes back
};

/// A hazard that was laid. Trivially copyable.
struct HazardState {
    static constexpr std::size_t max_touched = 64;

    std::int32_t spec = -1; ///< index into Arsenal::hazards; -1: there is none any more
    Pose pose{};
    TeamId team{};           ///< that laid it
    BodyId source = nobody;  ///< who gets credit
    BodyId carrier = nobody; ///< it ends with this one's life; nobody: with its time alone
    Time ends = Time::max();
    Time due = Time::max();                         ///< when somebody in it is next harmed
    std::array<HazardTouch, max_touched> touched{}; ///< more than these it does not touch
    std::size_t touched_count = 0;
};

/// A pickup that was placed. Trivially copyable.
struct PickupState {
    std::int32_t spec = -1; ///< index into Arsenal::pickups
    Vector3 position = Vector3::Zero();
    bool there = true;
    Time back_at = Time::max(); ///< while it is not there
};

} // namespace avrek
