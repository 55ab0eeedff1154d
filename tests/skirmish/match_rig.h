#pragma once
#include <avrek/scene/nearest.h>
#include <avrek/skirmish/match.h>

#include <cmath>
#include <map>

namespace avrek {

inline Time at(double seconds) {
    return Time{from_seconds(seconds)};
}

// Balls that go to and fro on lines, exactly, so that what touches what does not depend on ticks.
struct Balls final : World {
    std::vector<BodyId> bodies{};
    std::map<BodyId, TeamId> teams{};
    std::map<BodyId, Vector3> fixed{};

    Vector3 position(BodyId id, Time when) const {
        if (const auto found = fixed.find(id); found != fixed.end()) {
            return found->second;
        }
        const auto number = static_cast<double>(id);
        return {4 * std::sin(0.3 * number + to_seconds(when - Time{})), 0, std::fmod(number, 3)};
    }
    std::optional<Hit> closest_hit(const Cast&, const Filter&) const override { return std::nullopt; }
    std::size_t every_hit(const Cast&, const Filter&, std::span<Hit>) const override { return 0; }
    std::optional<Pose> body_pose(BodyId id, Time when) const override { return Pose{position(id, when)}; }
    std::size_t overlaps(const Volume& volume, Time when, const Filter& filter,
                         std::span<Hit> found) const override {
        std::size_t count = 0;
        for (const BodyId id : bodies) {
            if (count < found.size() && filter.hits.contains(CollisionLayer::bodies) &&
                filter.teams.contains(teams.at(id)) && (!filter.only || *filter.only == id) &&
                overlap(volume, Shape{Sphere{position(id, when), 0.5}})) {
                found[count] = {};
                found[count].body = id;
                ++count;
            }
        }
        return count;
    }
};

inline WeaponSpec plain_weapon() {
    WeaponSpec weapon{.id = "w", .rounds_per_minute = 600, .magazine = 20, .reserve = 40};
    weapon.reload.time = from_seconds(1);
    return weapon;
}

} // namespace avrek
