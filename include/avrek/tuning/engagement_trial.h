#pragma once
#include <avrek/scene/level.h>
#include <avrek/tuning/engagement.h>

#include <cstdint>
#include <memory>
#include <optional>

/// Engagements and duels simulated in a Skirmish, to check computed distributions. Everyone acts through
/// intents, as a player could. Only for shooters who stand still on the ground.
namespace avrek {

/// Returns the level of engagements: a floor of the arsenal's first surface.
Level engagement_level();

/// Result of one engagement.
struct EngagementEnd {
    std::optional<Duration> death{}; ///< since the target was seen; none: it lived to the limit
    std::optional<Duration> first_hit{};
    std::uint32_t shots = 0; ///< shots that left until then
};

/// Simulates an engagement repeatedly.
class EngagementTrial {
  public:
    /// Prepares an engagement.
    explicit EngagementTrial(const Engagement& engagement);
    ~EngagementTrial();
    EngagementTrial(const EngagementTrial&) = delete;
    EngagementTrial& operator=(const EngagementTrial&) = delete;

    /// Simulates the fight of this number. Its random numbers depend on the number alone.
    EngagementEnd fight(std::uint32_t number);

    struct Impl; ///< private

  private:
    std::unique_ptr<Impl> impl_;
};

/// Result of one duel.
struct DuelEnd {
    bool died[2]{};
    double health[2]{}; ///< health left, as a share of the maximum
};

/// Simulates a duel repeatedly: each side with its own engagement, at the same distance, with reactions that
/// vary by ShooterSpec::reaction_spread. Staggered shooters do not fire.
class DuelTrial {
  public:
    /// `one_later` and `other_later` delay when each side sees the other. Precondition (asserted): the same
    /// distance and arsenal, and targets that stand still.
    DuelTrial(const Engagement& one, const Engagement& other, Duration one_later = {},
              Duration other_later = {});
    ~DuelTrial();
    DuelTrial(const DuelTrial&) = delete;
    DuelTrial& operator=(const DuelTrial&) = delete;

    /// Simulates the duel of this number.
    DuelEnd fight(std::uint32_t number);

    struct Impl; ///< private

  private:
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
