#pragma once
#include <avrek/skirmish/skirmish.h>
#include <avrek/tuning/engagement.h>

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

/// Plays an engagement's shooter in a Skirmish: through intents, as a player would.
namespace avrek::detail {

/// The arsenal of an engagement, with rules of its own under which nobody comes back; its bodies are those of
/// `engagements` in their order: shooter and target of each, after all others.
Arsenal engagement_arsenal(std::span<const Engagement> engagements);

/// Ticks so long that a kick is pulled back before the next shot, and every press has a tick of its own.
TickRate rate_for(std::span<const PlannedShot> shots);

class Marksman {
  public:
    /// One that stands at `feet` and looks ahead with `yaw`.
    Marksman(const Engagement& engagement, BodyId id, const Vector3& feet, Radians yaw);

    const Engagement& engagement() const { return engagement_; }
    const EngagementPlace& place() const { return place_; }
    std::span<const PlannedShot> shots() const { return shots_; }

    /// How it enters a skirmish; the spans point into this object.
    Entrant entrant(TeamId team, BodySpecId body) const;
    /// Ready, aimed, and without error.
    Intent ready() const;
    /// Begins anew, with the random numbers of a fight: it sees its target at `seen`; in a duel, so much
    /// `later`, and with a reaction that varies.
    void begin(Skirmish& skirmish, std::uint32_t fight, Time seen, std::optional<Duration> later = {});
    /// Returns the intent for the next tick.
    Intent think(const Skirmish& skirmish);
    /// Takes in the events of that tick: kicks that it must pull back.
    void feel(std::span<const Event> events, Span span);
    /// It fires no more.
    void cease() { next_ = static_cast<std::size_t>(-1); }
    /// How fast the target goes around it, rad/s.
    double across() const { return across_; }

  private:
    void look(const Skirmish& skirmish, Time end);
    void press(Span span);

    Engagement engagement_;
    BodyId id_;
    Vector3 feet_;
    Radians yaw_;
    EngagementPlace place_;
    std::vector<WeaponIntent> statements_;
    std::vector<PlannedShot> shots_;
    std::optional<WeaponId> weapon_{};
    double across_ = 0.0;
    Time seen_{};
    Time pulls_{};
    AimDraw draw_{};
    Look loose_{}; // recoil not pulled back at the end of the last tick
    Intent intent_{};
    std::size_t next_ = 0;
};

} // namespace avrek::detail
