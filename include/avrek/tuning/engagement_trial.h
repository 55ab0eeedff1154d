#pragma once
#include <avrek/scene/level.h>
#include <avrek/tuning/engagement.h>

#include <cstdint>
#include <memory>
#include <optional>

/// The same engagements and duels, fought in a Skirmish: what the computed distributions are checked against.
/// Everybody plays by intents, and does nothing that a player could not do. Only for shooters who stand still
/// on the ground.
namespace avrek {

/// The level in which engagements are fought: a floor of the arsenal's first surface.
Level engagement_level();

/// How one engagement ended.
struct EngagementEnd {
    std::optional<Duration> death{}; ///< since the target was seen; none when it lived to the limit
    std::optional<Duration> first_hit{};
    std::uint32_t shots = 0; ///< that left until then
};

/// Fights an engagement again and again.
class EngagementTrial {
  public:
    explicit EngagementTrial(const Engagement& engagement);
    ~EngagementTrial();
    EngagementTrial(const EngagementTrial&) = delete;
    EngagementTrial& operator=(const EngagementTrial&) = delete;

    /// The fight of this number: its random numbers depend on nothing else.
    EngagementEnd fight(std::uint32_t number);

    struct Impl; ///< for its own code alone

  private:
    std::unique_ptr<Impl> impl_;
};

/// How one duel ended.
struct DuelEnd {
    bool died[2]{};
    double health[2]{}; ///< that is left, as a share of the maximum
};

/// Fights a duel again and again: each side by an engagement of its own, at the same distance, with reactions
/// that vary by ShooterSpec::reaction_spread. Hits that shake a shooter keep it from firing here.
class DuelTrial {
  public:
    /// `later`: how much later each side sees the other. Precondition (asserted): the same distance and
    /// arsenal, and targets that stand.
    DuelTrial(const Engagement& one, const Engagement& other, Duration one_later = {},
              Duration other_later = {});
    ~DuelTrial();
    DuelTrial(const DuelTrial&) = delete;
    DuelTrial& operator=(const DuelTrial&) = delete;

    DuelEnd fight(std::uint32_t number);

    struct Impl; ///< for its own code alone

  private:
    std::unique_ptr<Impl> impl_;
};

} // namespace avrek
