#include "shared_maps.h"
#include <avrek/tuning/duel.h>
#include <avrek/tuning/measures.h>
#include <avrek/tuning/time_to_kill.h>

#include <algorithm>
#include <cassert>
#include <cmath>
#include <optional>

namespace avrek {

namespace {

bool needs_distribution(const Wish& wish) {
    return wish.measure != WishMeasure::ideal_time && wish.measure != WishMeasure::ideal_shots;
}

// The entry that a path is about: "weapon" and "thorn-rifle".
std::pair<std::string, std::string> entry_of(const std::string& path) {
    const std::size_t dot = path.find('.');
    const std::size_t end = path.find('.', dot + 1);
    return {path.substr(0, dot), path.substr(dot + 1, end - dot - 1)};
}

std::optional<Engagement> wished(const Arsenal& arsenal, const Wish& wish, std::size_t side) {
    const std::string& shooter =
        wish.shooter.empty() && !arsenal.shooters.empty() ? arsenal.shooters.front().id : wish.shooter;
    const std::string& body =
        wish.body.empty() && !arsenal.bodies.empty() ? arsenal.bodies.front().id : wish.body;
    auto engagement = engagement_of(arsenal, wish.weapons[side], shooter, body, wish.at);
    if (engagement && !wish.region.empty()) {
        const auto region = find_region(engagement->target.body->rig, wish.region);
        engagement->aim = region.value_or(engagement->aim);
    }
    return engagement;
}

Measured ideal(const Arsenal& arsenal, const Wish& wish) {
    const auto engagement = wished(arsenal, wish, 0);
    assert(engagement);
    const IdealKill kill =
        engagement->weapon != nullptr
            ? ideal_time_to_kill(*engagement->weapon, engagement->target, wish.at, engagement->aim,
                                 find(arsenal.projectiles, engagement->weapon->projectile.id))
            : ideal_time_to_kill(*engagement->melee, engagement->melee->attacks[engagement->attack],
                                 engagement->target, wish.at, engagement->aim);
    if (kill.verdict != KillVerdict::kills) {
        return {Measures::never, 0.0};
    }
    return {wish.measure == WishMeasure::ideal_time ? to_seconds(kill.time) : static_cast<double>(kill.shots),
            0.0};
}

// By how much the time of half of all moves when the curve is off by its error.
Measured median_of(const KillDistribution& kills) {
    const auto half = time_of_share(kills, 0.5);
    if (!half) {
        return {Measures::never, 0.0};
    }
    const auto early = time_of_share(kills, 0.5 - kills.error);
    const auto late = time_of_share(kills, 0.5 + kills.error);
    const double most = late ? to_seconds(*late) : Measures::never;
    return {to_seconds(*half),
            std::max(to_seconds(*half) - to_seconds(early.value_or(*half)), most - to_seconds(*half))};
}

} // namespace

Measures::Measures(std::span<const Wish> wishes, std::span<const std::string> changed,
                   const DistributionSettings& settings)
    : wishes_(wishes.begin(), wishes.end()), changed_(changed.begin(), changed.end()), settings_(settings),
      maps_(std::make_shared<detail::SharedMaps>()) {}

Measures::Key Measures::key_of(const Arsenal& arsenal, const Wish& wish, std::size_t side) const {
    const auto engagement = wished(arsenal, wish, side);
    assert(engagement);
    return {wish.weapons[side], engagement->shooter.id, engagement->target.body->id, wish.region, wish.at};
}

bool Measures::depends(const Arsenal& arsenal, const Key& key) const {
    const WeaponSpec* weapon = find(arsenal.weapons, key.armament);
    return std::any_of(changed_.begin(), changed_.end(), [&](const std::string& path) {
        const auto [section, id] = entry_of(path);
        if (section == "weapon") {
            return id == key.armament;
        }
        if (section == "melee") {
            return key.armament.rfind(id + ' ', 0) == 0;
        }
        if (section == "projectile") {
            return weapon != nullptr && weapon->projectile.id == id;
        }
        if (section == "shooter") {
            return id == key.shooter || find(arsenal.shooters, key.shooter) == nullptr;
        }
        return section != "link" && section != "match" && section != "pickup" && section != "hazard";
    });
}

Measured Measures::measured(const Arsenal& arsenal, const Wish& wish,
                            const std::map<Key, const KillDistribution*>& known) const {
    if (!needs_distribution(wish)) {
        return ideal(arsenal, wish);
    }
    const KillDistribution& kills = *known.at(key_of(arsenal, wish, 0));
    switch (wish.measure) {
    case WishMeasure::median_time:
        return median_of(kills);
    case WishMeasure::kill_chance:
        return {kills.killed(), kills.error};
    case WishMeasure::magazine_chance:
        return {kills.in_magazine, kills.error};
    default:
        break;
    }
    const Key other = key_of(arsenal, wish, 1);
    const Duration spread = find(arsenal.shooters, other.shooter)->reaction_spread;
    const DuelOutcome outcome = duel({&kills, {}, spread}, {known.at(other), {}, spread});
    return {outcome.win_rate(0), outcome.error};
}

std::vector<Measured> Measures::of(const Arsenal& arsenal) {
    std::map<Key, const KillDistribution*> known;
    std::vector<Key> asked;
    std::vector<Engagement> engagements;
    for (const Wish& wish : wishes_) {
        const std::size_t sides = wish.measure == WishMeasure::win_rate ? 2 : 1;
        for (std::size_t side = 0; side < sides && needs_distribution(wish); ++side) {
            const Key key = key_of(arsenal, wish, side);
            if (const auto kept = kept_.find(key); kept != kept_.end()) {
                known[key] = &kept->second;
            } else if (known.try_emplace(key, nullptr).second) {
                asked.push_back(key);
                engagements.push_back(*wished(arsenal, wish, side));
            }
        }
    }
    std::vector<KillDistribution> computed = kill_distributions(engagements, settings_, *maps_);
    for (std::size_t index = 0; index < asked.size(); ++index) {
        if (depends(arsenal, asked[index])) {
            known[asked[index]] = &computed[index];
        } else {
            known[asked[index]] = &(kept_[asked[index]] = std::move(computed[index]));
        }
    }
    std::vector<Measured> all;
    for (const Wish& wish : wishes_) {
        all.push_back(measured(arsenal, wish, known));
    }
    return all;
}

} // namespace avrek
