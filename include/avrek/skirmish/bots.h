#pragma once
#include <avrek/core/ids.h>
#include <avrek/skirmish/skirmish.h>
#include <avrek/skirmish/waypoints.h>

#include <cstdint>
#include <span>
#include <vector>

/// Bots: they walk between the points of a level, notice foes in sight, aim with a human's error after a
/// human's reaction time, fire in bursts, reload, and seek cover and pickups. They see only what a player
/// could see, and act through intents alone. The same skirmish gives the same intents.
namespace avrek {

/// State of one bot.
struct Bot {
    BodyId id = nobody;
    ShooterId shooter{};
    BodyId target = nobody; ///< foe in sight, or seen last
    Time noticed_at{};
    Time seen_at{}; ///< last time the target was seen
    Vector3 seen_where = Vector3::Zero();
    Look error{};                ///< aim error when it noticed the target
    std::uint32_t draws = 0;     ///< random numbers drawn so far
    std::uint32_t looked_at = 0; ///< next combatant to look for
    std::int64_t step = -1;      ///< waypoint that it walks to
    std::int64_t goal = -1;      ///< waypoint of its destination; -1: none
    bool hides = false;          ///< its destination is cover
    Time decides_at{};           ///< next decision about where to go
    Vector3 stood_at = Vector3::Zero();
    double aside = 0.0; ///< sidestep, -1 to 1
    Time aside_until{};
    bool was_alive = false;
    Intent intent{};
};

/// All bots of a skirmish.
class Bots {
  public:
    /// Finds the walkable connections between the plan's points.
    explicit Bots(const Skirmish& skirmish);

    /// Adds a bot for a combatant. Precondition (asserted): the arsenal has the shooter profile.
    void add(BodyId id, ShooterId shooter);
    /// Removes a bot.
    void remove(BodyId id);

    /// Returns the intents for the next tick, in order of ids.
    std::span<const Intent> think(const Skirmish& skirmish);

    /// Returns all bots, in order of ids.
    std::span<const Bot> bots() const { return {bots_.data(), bots_.size()}; }

  private:
    Waypoints waypoints_;
    std::vector<Bot> bots_;
    std::vector<Intent> intents_;
};

} // namespace avrek
