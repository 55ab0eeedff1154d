#pragma once
#include <avrek/ballistics/projectiles.h>
#include <avrek/scene/scene.h>
#include <avrek/skirmish/skirmish.h>

#include <optional>
#include <vector>

namespace avrek::detail {

/// Origin of a projectile, by pool and slot.
struct Origin {
    std::optional<WeaponId> weapon{};
    double power = 1.0;
};

/// Returns the room that the bodies of an arsenal need for joints, the body itself counted.
std::size_t joints_of(const Arsenal& arsenal);

/// State of a skirmish: exactly what save and restore cover.
struct SkirmishState {
    SkirmishState(const Arsenal& arsenal, const World& world, Level level, const SkirmishSettings& settings);

    Tick tick = 0; ///< the next tick
    Match match;
    Scene scene;
    std::optional<Scene> snapshots{};
    std::vector<SnapshotBody> snapshot_bodies{};
    std::vector<Fighter> fighters{}; ///< in order of ids, as Match::combatants()
    std::vector<ProjectilePool> pools{};
    std::vector<std::vector<Origin>> origins{};

    /// Goes by another arsenal: rigs, snapshots and projectiles, but not the match.
    void use(const Arsenal& was, const Arsenal& is, const SkirmishSettings& settings);
    /// Writes the whole state.
    void write(StateWriter& to, const Arsenal& arsenal) const;
    /// Reads a state that write() wrote.
    void read(StateReader& from, const Arsenal& arsenal, const SkirmishSettings& settings);
};

} // namespace avrek::detail
