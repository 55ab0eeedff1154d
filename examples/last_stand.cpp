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
    const MatchSpec& rules;
    Scene scene{Level{{{HalfSpace{world_up(), 0}}}}, {.bodies = 8, .frames = 8}};
    Match match{arsenal, rules, scene};

    std::string name(BodyId id) const {
        return id == keeper   ? "keeper"
               : id == nobody ? "nobody"
                              : "drone " + std::to_string(static_cast<int>(id));
    }
    const BodySpec& body(BodyId id) const { return arsenal[match.find(id)->body]; }

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
        match.report_action(drone, Act::strike, 0, seconds(at));
        IncomingHit hit;
        hit.damage = strike_damage(shears, attack, "torso");
        hit.effect = &attack.effect;
        hit.source = drone;
        hit.direction = -world_forward(); // the drones are ahead
        hit.off_front = off_front(*scene.pose_of(keeper), hit.direction);
        hit.push = attack.push * hit.direction;
        hit.melee = true;
        match.hit(keeper, hit, seconds(at));
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
            match.report_action(keeper, Act::fire, 1, shot.at);
            const WeaponSpec& weapon = *weapon_in(arsenal, match.find(keeper)->loadout, shot.slot);
            const Vector3 muzzle = keeper_at(shot.at) + Vector3{0, 1.5, 0.3};
            const Vector3 lens = scene.pose_of(drone)->position + Vector3{0, 1.3, 0};
            const auto path = fire_hitscan(scene, muzzle, (lens - muzzle).normalized(), weapon.range,
                                           {.ignores = {keeper}});
            if (path.hit && path.hit->body) {
                const BodyId met = *path.hit->body;
                IncomingHit hit{.effect = &weapon.effect, .source = keeper};
                hit.damage = hit_damage(weapon, path.hit->distance, body(met).rig, *path.hit->region);
                hit.region = path.hit->region;
                hit.shot = shot.shot;
                match.hit(met, hit, shot.at);
            }
        }
    }

    // Says what happened, a line for each event.
    struct Printing {
        const Fight& fight;

        void start(Time at, BodyId who) const {
            std::printf("%6.2f s  %s ", to_seconds(at - Time{}),
                        who == nobody ? "" : fight.name(who).c_str());
        }
        // One tick of a condition in a second is enough to read.
        static bool is_shown(Time at, const std::optional<ConditionId>& condition) {
            return !condition || at.time_since_epoch() % std::chrono::seconds{1} < from_seconds(0.2);
        }
        void operator()(const DamageEvent& hurt) const {
            if (!is_shown(hurt.at, hurt.condition)) {
                return;
            }
            start(hurt.at, hurt.who);
            std::printf("loses %.1f to %s", points_of(hurt), fight.arsenal[*hurt.type].id.c_str());
            if (hurt.source != nobody) {
                std::printf(" by %s", fight.name(hurt.source).c_str());
            }
            if (hurt.absorbed > 0.0) {
                std::printf(", of it %.1f of a layer", hurt.absorbed);
            }
            std::printf("; health %.1f\n", hurt.health_left);
        }
        void operator()(const HealEvent& heal) const {
            if (is_shown(heal.at, heal.condition)) {
                start(heal.at, heal.who);
                std::printf("gains %.1f; health %.1f\n", points_of(heal), heal.health_left);
            }
        }
        void operator()(const ConditionEvent& event) const {
            if (event.change == ConditionChange::stacked) {
                return;
            }
            start(event.at, event.who);
            std::printf("%s %s\n", event.change == ConditionChange::began ? "is now under" : "is rid of",
                        fight.arsenal[event.condition].id.c_str());
        }
        void operator()(const DefenceEvent& event) const {
            start(event.at, event.who);
            std::printf("has no %s left\n", fight.body(event.who).defence[event.layer].name.c_str());
        }
        void operator()(const BodyEvent& event) const {
            start(event.at, event.who);
            if (event.change == BodyChange::reacted) {
                std::printf("is %s%s for %.2f s\n", to_string(event.state).data(),
                            event.on_back ? " on its back" : "", to_seconds(event.until - event.at));
            } else {
                std::printf("%s\n", to_string(event.change).data());
            }
        }
        void operator()(const PushEvent& event) const {
            start(event.at, event.who);
            std::printf("is pushed, to %.1f m/s\n", std::sqrt(event.push.squaredNorm()));
        }
        void operator()(const StoppedHitEvent& event) const {
            start(event.at, event.who);
            std::printf("%s, %.0f stamina left\n", to_string(event.by).data(), event.stamina);
        }
        void operator()(const DeathEvent& death) const {
            start(death.at, death.who);
            std::printf("falls %s\n", death.on_back ? "on its back" : "on its face");
        }
        void operator()(const KillEvent& kill) const {
            start(kill.at, kill.who);
            std::printf("is killed by %s\n", fight.name(kill.by).c_str());
        }
        void operator()(const AlertEvent& alert) const {
            start(alert.at, alert.who);
            if (alert.raised) {
                std::printf("is noticed by %s\n", fight.name(alert.by).c_str());
            } else {
                std::printf("is noticed no more\n");
            }
        }
        void operator()(const OutEvent& event) const {
            start(event.at, event.who);
            std::printf("is out of lives\n");
        }
        void operator()(const AssistEvent& assist) const {
            start(assist.at, assist.who);
            std::printf("assists with %.1f\n", assist.damage);
        }
        void operator()(const LivesEvent& event) const {
            start(event.at, event.who);
            std::printf("has %d li%s left\n", static_cast<int>(event.lives), event.lives == 1 ? "fe" : "ves");
        }
        void operator()(const RespawnEvent& event) const {
            start(event.at, event.who);
            std::printf("is back, protected until %.2f s\n", to_seconds(event.protected_until - Time{}));
        }
        void operator()(const HazardEvent& event) const {
            start(event.at, event.who);
            std::printf("%s the mist\n", event.change == HazardChange::entered ? "enters" : "leaves");
        }
        void operator()(const DropEvent& drop) const {
            start(drop.at, drop.who);
            std::printf("drops %s\n", fight.arsenal[drop.weapon].id.c_str());
        }
        void operator()(const ScoreEvent& event) const {
            start(event.at, event.who);
            std::printf("has a score of %d\n", static_cast<int>(event.score));
        }
        void operator()(const MatchOverEvent& over) const {
            std::printf("%6.2f s  match over: the %s have won\n", to_seconds(over.at - Time{}),
                        over.winner == 0 ? "crew" : "drones");
        }
        template <class Other> // its words are enough
        void operator()(const Other& event) const {
            const Event whole{event};
            start(time_of(whole), who_of(whole));
            std::printf("%s\n", words_of(whole).data());
        }
    };

    // Lets the time pass, at 64 ticks a second, and says what happened.
    void until(double end) {
        const TickRate rate{64};
        for (Tick tick = tick_at(match.now(), rate); match.now() < seconds(end) && !match.is_over(); ++tick) {
            const Time next = std::min(tick_span(tick, rate).end, seconds(end));
            scene.begin_frame(next);
            scene.move(keeper, {keeper_at(next)});
            match.advance(next);
        }
        for (const Event& event : match.events()) {
            std::visit(Printing{*this}, event);
        }
        match.forget_events();
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
    Fight fight{*arsenal, *rules};
    fight.join(keeper, crew_side, "crew", "needle-pistol", {0, 0, 0});
    for (std::uint32_t drone = 2; drone <= 4; ++drone) {
        fight.join(BodyId{drone}, drone_side, "drone", "none", {drone - 3.0, 0, 2.5});
    }
    fight.match.lay_hazard({.spec = *arsenal->hazard("coolant-mist"), .pose = {{6, 0, 0}}}, Time{});
    const auto hold = [&](bool held, double at) { fight.match.hold_guard(keeper, held, seconds(at)); };

    fight.match.notice(keeper, BodyId{2}, true, Time{});
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
