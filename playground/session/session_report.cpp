#include "session.h"

#include <nlohmann/json.hpp>

#include <cstdio>

// Report of a session.
namespace avrek::playground {

std::optional<Sighted> Session::sighted() const {
    const Skirmish& seen = fight();
    const CombatantReadout me = seen.readout(player());
    const auto hit =
        seen.scene().closest_hit({{me.eye, direction_of(me.view), 200.0}}, {.ignores = {player()}});
    if (!hit) {
        return std::nullopt;
    }
    Sighted sighted{hit->distance, surface_of(seen.arsenal().surfaces, hit->surface).id};
    if (hit->body) {
        const RigSpec* rig = seen.scene().rig_of(*hit->body);
        sighted.what = name_of(*hit->body) +
                       (rig != nullptr && hit->region ? ", " + region_of(*rig, *hit->region).name : "");
    }
    return sighted;
}

std::string Session::report() const {
    const Skirmish& seen = fight();
    const CombatantReadout me = seen.readout(player());
    char hash[17];
    std::snprintf(hash, sizeof hash, "%016llx", static_cast<unsigned long long>(seen.state_hash()));
    nlohmann::ordered_json json{
        {"tick", seen.tick()},
        {"hash", hash},
        {"paused", stage_.is_paused()},
        {"speed", stage_.speed()},
        {"alive", me.alive},
        {"health", me.health},
        {"shots", seen.match().find(player())->stats.shots},
        {"view", static_cast<int>(view_)},
        {"entry", entry_},
        {"changes", tuner_.change_count()},
        {"first_values", tuner_.shows_first()},
        {"notice", notice_},
        {"scores", {team_score(TeamId{0}), team_score(TeamId{1})}},
    };
    if (me.weapon) {
        json["rounds"] = me.weapon->rounds;
        json["reserve"] = me.weapon->reserve;
        json["cone_degrees"] = to_degrees(me.weapon->cone);
    }
    if (const auto what = sighted()) {
        json["sighted"] = {{"what", what->what}, {"distance", what->distance}};
    }
    if (linked_ != nullptr) {
        json["link"]["playing"] = is_linked();
        LinkFigures sum;
        for (const LinkFigures& second : linked_->figures()) {
            sum.corrections += second.corrections;
            sum.withdrawn += second.withdrawn;
            sum.round_trip = second.round_trip;
        }
        json["link"]["corrections"] = sum.corrections;
        json["link"]["withdrawn"] = sum.withdrawn;
        json["link"]["round_trip_ms"] = to_milliseconds(sum.round_trip);
        if (linked_->server() != nullptr) {
            json["link"]["server_tick"] = linked_->server()->tick();
        }
        json["link"]["kills"] = linked_->accounts().kills().size();
        json["link"]["ghosts"] = linked_->ghosts().size();
    }
    if (board_.distance > 0.0) {
        json["board"] = {{"metres", board_.distance},
                         {"hits", board_.hits.size()},
                         {"radius_50", group_of(board_).radius_50}};
    }
    json["moments"] = picture_.moments.size();
    for (const ArsenalDifference& one : differences_) {
        json["values"][one.path] = one.after;
    }
    return json.dump(2) + '\n';
}

} // namespace avrek::playground
