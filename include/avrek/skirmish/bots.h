#pragma once
#include <avrek/skirmish/skirmish.h>
#include <avrek/skirmish/waypoints.h>

#include <cstdint>
#include <span>
#include <vector>

/// Bots for trials: they walk between the points of a level, notice foes in sight, aim with a human's error
/// after a human's reaction time, fire in bursts, reload, take cover and pickups. They see only what a player
/// would, and all they do goes through intents. The same skirmish gives the same intents.
namespace avrek {

/// One bot. Plain data.
struct Bot {
    BodyId id = nobody;
    std::int32_t shooter = 0; ///< index into Arsenal::shooters
    BodyId target = nobody;   ///< whom it sees, or saw last
    Time noticed_at{};
    Time seen_at{}; ///< last
    Vector3 seen_where = Vector3::Zero();
    Look error{};                ///< of its aim when it noticed the target
    std::uint32_t draws = 0;     ///< of random numbers
    std::uint32_t looked_at = 0; ///< whom it looks for next, of all that are there
    std::int64_t step = -1;      ///< waypoint that it walks to
    std::int64_t goal = -1;      ///< and to which it is on its way
    bool hides = false;          ///< that is cover
    Time decides_at{};           ///< when it next thinks about where to go
    Vector3 stood_at = Vector3::Zero();
    double aside = 0.0; ///< -1 to 1: how it sidesteps
    Time aside_until{};
    bool was_alive = false;
    Intent intent{};
};

/// All bots of a skirmish.
class Bots {
  public:
    /// Finds out between which of the plan's points one can walk.
    explicit Bots(const Skirmish& skirmish);

    /// Lets a bot play somebody who is there. Precondition (asserted): the arsenal has such a shooter.
    void add(BodyId id, std::int32_t shooter);
    void remove(BodyId id);

    /// What they want in the next tick, in order of their ids.
    std::span<const Intent> think(const Skirmish& skirmish);

    std::span<const Bot> bots() const { return {bots_.data(), bots_.size()}; }

  private:
    Waypoints waypoints_;
    std::vector<Bot> bots_;
    std::vector<Intent> intents_;
};

} // namespace avrek
