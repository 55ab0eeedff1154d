// A fight of one of the crew against three pruning drones, by script: light and heavy cuts, a guard that is
// held well, then broken, a cloud of coolant, nectar, two deaths and the end of the match. Everything that is
// printed comes out of the match's events.
//
//     last_stand [data/halm-ring.toml]
#include <avrek/avrek.h>

#include <cmath>
#include <cstdio>

using namespace avrek;

namespace {

constexpr BodyId keeper{1};
constexpr TeamId crew_side{0};
constexpr TeamId drone_side{1};

Time seconds(double value) {
    return Time{from_seconds(value)};
}

// Stands, walks into the mist on its left, comes back past the nectar, and stands again.
Vector3 keeper_at(Time time) {
    const double at = to_seconds(time - Time{});
    const double out = std::clamp(at - 5.0, 0.0, 1.5) - std::clamp(at - 7.0, 0.0, 1.5);
    return {4.0 * out, 0, 0};
}

struct Fight {
    const Arsenal& arsenal;
    Match match;
    Scene scene{Level{{{HalfSpace{world_up(), 0}}}}, {.bodies = 8, .frames = 8}};
    std::vector<MatchEvent> events{};

    std::string name(BodyId id) const {
        return id == keeper   ? "keeper"
               : id == nobody ? "nobody"
                              : "drone " + std::to_string(static_cast<int>(id));
    }
    const BodySpec& body(BodyId id) const { return arsenal[match.find(id)->body]; }
    const std::string& condition(const MatchEvent& event) const {
        return arsenal[*event.vitals.condition].id;
    }

    void join(BodyId id, TeamId team, const char* body_id, const char* weapon, const Vector3& at) {
        const BodySpecId body = *arsenal.body(body_id);
        const auto held = arsenal.weapon(weapon);
        (void)match.join({.id = id,
                          .team = team,
                          .body = body,
                          .weapons = held ? std::span{&*held, 1} : std::span<const WeaponId>{}});
        (void)scene.add({id, &arsenal[body].rig, {at, turned_to({id == keeper ? 0.0 : pi, 0})}, team});
    }

    // A drone cuts with its shears, which are the crew's sickle.
    void cut(BodyId drone, const char* attack_name, double at) {
        until(at);
        const MeleeSpec& shears = *find(arsenal.melee, "sickle");
        const MeleeAttackSpec& attack = shears.attacks[*find_attack(shears, attack_name)];
        if (!match.can_act(drone, Act::strike)) {
            std::printf("%6.2f s  %s would strike, and may not\n", at, name(drone).c_str());
            return;
        }
        match.report_action(scene, drone, Act::strike, 0, seconds(at), events);
        IncomingHit hit;
        hit.damage = strike_damage(shears, attack, "torso");
        hit.effect = &attack.effect;
        hit.source = drone;
        hit.direction = -world_forward(); // the drones are ahead
        hit.off_front = off_front(*scene.pose_of(keeper), hit.direction);
        hit.push = attack.push * hit.direction;
        hit.melee = true;
        match.hit(scene, keeper, hit, seconds(at), events);
    }

    // The keeper aims at a drone and pulls the trigger from `from` to `to`.
    void shoot(BodyId drone, double from, double to) {
        until(from);
        const LoadoutIntent pull{.weapon = {.at = seconds(from), .trigger = true}};
        const LoadoutIntent let_go{.weapon = {.at = seconds(to)}};
        std::vector<WeaponEvent> shots;
        match.act(keeper, seconds(to), {&pull, 1}, shots);
        match.act(keeper, seconds(to) + Duration{1}, {&let_go, 1}, shots);
        for (const WeaponEvent& shot : shots) {
            if (shot.kind != WeaponEventKind::shot) {
                continue;
            }
            match.report_action(scene, keeper, Act::fire, 1, shot.at, events);
            const WeaponSpec& weapon = *weapon_in(arsenal, match.find(keeper)->loadout, shot.slot);
            const Vector3 muzzle = keeper_at(shot.at) + Vector3{0, 1.5, 0.3};
            const Vector3 lens = scene.pose_of(drone)->position + Vector3{0, 1.3, 0};
            const auto path = fire_hitscan(scene, muzzle, (lens - muzzle).normalized(), weapon.range,
                                           {.ignores = {keeper}});
            if (path.hit && path.hit->body) {
                const BodyId met = *path.hit->body;
                IncomingHit hit{.effect = &weapon.effect, .source = keeper};
                hit.damage =
                    hit_damage(weapon, path.hit->distance, region_of(body(met).rig, *path.hit->region).name);
                hit.region = path.hit->region;
                hit.shot = shot.shot;
                match.hit(scene, met, hit, shot.at, events);
            }
        }
    }

    void print_vitals(const MatchEvent& event) const {
        const VitalsEvent& felt = event.vitals;
        switch (felt.kind) {
        case VitalsEventKind::damaged: {
            const std::string& kind = arsenal[*felt.damage_type].id;
            std::printf("loses %.1f to %s", felt.damage.amount() + felt.absorbed, kind.c_str());
            if (felt.source != nobody) {
                std::printf(" by %s", name(felt.source).c_str());
            }
            if (felt.absorbed > 0.0) {
                std::printf(", of it %.1f of a layer", felt.absorbed);
            }
            std::printf("; health %.1f", felt.health_left);
            break;
        }
        case VitalsEventKind::healed:
            std::printf("gains %.1f; health %.1f", felt.damage.amount() + felt.absorbed, felt.health_left);
            break;
        case VitalsEventKind::condition_began:
        case VitalsEventKind::condition_ended:
            std::printf("%s %s", felt.kind == VitalsEventKind::condition_began ? "is now under" : "is rid of",
                        condition(event).c_str());
            break;
        case VitalsEventKind::defence_broken:
            std::printf("has no %s left",
                        body(event.who).defence[static_cast<std::size_t>(felt.defence)].name.c_str());
            break;
        case VitalsEventKind::reacted:
            std::printf("is %s%s for %.2f s", to_string(felt.state).data(),
                        felt.on_back ? " on its back" : "", to_seconds(felt.until - felt.at));
            break;
        case VitalsEventKind::pushed:
            std::printf("is pushed, to %.1f m/s", std::sqrt(felt.push.squaredNorm()));
            break;
        case VitalsEventKind::guarded:
        case VitalsEventKind::guarded_perfectly:
            std::printf("%s, %.0f stamina left", to_string(felt.kind).data(), felt.stamina);
            break;
        default:
            std::printf("%s", to_string(felt.kind).data());
        }
    }

    void print(const MatchEvent& event) const {
        const bool tick =
            event.kind == MatchEventKind::vitals && event.vitals.condition &&
            (event.vitals.kind == VitalsEventKind::damaged || event.vitals.kind == VitalsEventKind::healed);
        const bool stacked = event.kind == MatchEventKind::vitals &&
                             (event.vitals.kind == VitalsEventKind::condition_stacked ||
                              event.vitals.kind == VitalsEventKind::died);
        if (stacked || (tick && event.at.time_since_epoch() % std::chrono::seconds{1} >= from_seconds(0.2))) {
            return; // one tick in a second is enough to read, and `killed` says that it died
        }
        std::printf("%6.2f s  ", to_seconds(event.at - Time{}));
        if (event.kind == MatchEventKind::match_over) {
            std::printf("match over: the %s have won\n", event.count == 0 ? "crew" : "drones");
            return;
        }
        std::printf("%s ", event.who == nobody ? "" : name(event.who).c_str());
        switch (event.kind) {
        case MatchEventKind::vitals:
            print_vitals(event);
            break;
        case MatchEventKind::alert_raised:
            std::printf("is noticed by %s", name(event.by).c_str());
            break;
        case MatchEventKind::alert_cleared:
            std::printf("is noticed no more");
            break;
        case MatchEventKind::out:
            std::printf("is out of lives");
            break;
        case MatchEventKind::killed:
            std::printf("is killed by %s, falls %s", name(event.by).c_str(),
                        event.vitals.on_back ? "on its back" : "on its face");
            break;
        case MatchEventKind::assisted:
            std::printf("assists with %.1f", event.amount);
            break;
        case MatchEventKind::lives_changed:
            std::printf("has %lld li%s left", static_cast<long long>(event.count),
                        event.count == 1 ? "fe" : "ves");
            break;
        case MatchEventKind::respawned:
            std::printf("is back, protected until %.2f s", to_seconds(event.until - Time{}));
            break;
        case MatchEventKind::hazard_entered:
        case MatchEventKind::hazard_left:
            std::printf("%s the mist", event.kind == MatchEventKind::hazard_entered ? "enters" : "leaves");
            break;
        case MatchEventKind::weapon_dropped:
            std::printf("drops %s", arsenal[event.dropped.weapon].id.c_str());
            break;
        case MatchEventKind::pickup_taken:
            std::printf("drinks the nectar");
            break;
        case MatchEventKind::score_changed:
            std::printf("has a score of %lld", static_cast<long long>(event.count));
            break;
        default:
            std::printf("%s", to_string(event.kind).data());
        }
        std::printf("\n");
    }

    // Lets the time pass, at 64 ticks a second, and says what happened.
    void until(double end) {
        const TickRate rate{64};
        for (Tick tick = tick_at(match.now(), rate); match.now() < seconds(end) && !match.is_over(); ++tick) {
            const Time next = std::min(tick_span(tick, rate).end, seconds(end));
            scene.begin_frame(next);
            scene.move(keeper, {keeper_at(next)});
            match.advance(scene, next, events);
        }
        for (const MatchEvent& event : events) {
            print(event);
        }
        events.clear();
    }
};

} // namespace

int main(int count, char** words) {
    const auto arsenal = load_arsenal(count > 1 ? words[1] : "data/halm-ring.toml");
    const MatchSpec* rules = arsenal ? find(arsenal->matches, "last-stand") : nullptr;
    if (rules == nullptr || find(arsenal->bodies, "drone") == nullptr ||
        find(arsenal->hazards, "coolant-mist") == nullptr || find(arsenal->pickups, "nectar") == nullptr ||
        find(arsenal->melee, "sickle") == nullptr) {
        std::fprintf(stderr, "last_stand needs the arsenal of the Halm Ring\n");
        return 2;
    }
    Fight fight{*arsenal, Match{*arsenal, *rules}};
    fight.join(keeper, crew_side, "crew", "needle-pistol", {0, 0, 0});
    for (std::uint32_t drone = 2; drone <= 4; ++drone) {
        fight.join(BodyId{drone}, drone_side, "drone", "none", {drone - 3.0, 0, 2.5});
    }
    fight.match.lay_hazard(fight.scene, {.spec = *arsenal->hazard("coolant-mist"), .pose = {{6, 0, 0}}},
                           Time{}, fight.events);
    const auto hold = [&](bool held, double at) {
        fight.match.hold_guard(fight.scene, keeper, held, seconds(at), fight.events);
    };

    fight.match.notice(fight.scene, keeper, BodyId{2}, true, Time{}, fight.events);
    fight.cut(BodyId{2}, "light", 0.5);
    hold(true, 1.0);
    fight.cut(BodyId{2}, "heavy", 1.1); // in the window of a perfect guard
    fight.cut(BodyId{2}, "light", 1.3);
    fight.cut(BodyId{3}, "heavy", 1.6); // takes most of the stamina
    fight.cut(BodyId{4}, "light", 2.0); // and this the rest
    hold(false, 2.2);
    fight.shoot(BodyId{3}, 4.0, 4.05);
    fight.shoot(BodyId{3}, 4.3, 4.35);
    fight.until(7.5); // through the mist, and back past the nectar
    fight.match.place_pickup(*arsenal->pickup("nectar"), {2, 0, 0});
    fight.cut(BodyId{4}, "light", 11.5);
    fight.cut(BodyId{2}, "heavy", 12.0);
    fight.cut(BodyId{2}, "heavy", 12.6);
    fight.cut(BodyId{4}, "light", 14.6); // its protection still lasts
    fight.shoot(BodyId{2}, 14.8, 14.85); // and it gives that up
    fight.cut(BodyId{3}, "heavy", 15.5);
    fight.cut(BodyId{4}, "heavy", 16.5);
    fight.until(20.0);
    const PlayerStats& stats = fight.match.find(keeper)->stats;
    std::printf("keeper: %d deaths, %.1f damage done, %.1f taken, %u of %u shots hit\n", stats.deaths,
                stats.damage_dealt, stats.damage_taken, stats.shots_hit, stats.shots);
}
