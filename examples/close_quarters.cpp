// Spray, then strike: a keeper holds a pollen fan on a rival who walks up, while another stays behind a
// crate, and swings a sickle when the first is near.
//
//     close_quarters [data/halm-ring.toml]
#include <avrek/avrek.h>

#include <cstdio>

using namespace avrek;

namespace {

constexpr BodyId keeper{1};
constexpr BodyId walker{2};
constexpr BodyId hidden{3};

Vector3 walker_at(Time time) {
    return {0.1, 0, std::max(1.1, 7.0 - 4.4 * to_seconds(time - Time{}))};
}

struct Rival {
    Vitals vitals;

    void take(const Damage& damage, Time at, bool say, const char* what, const std::string& where) {
        std::vector<VitalsEvent> events;
        apply_damage(vitals, damage, at, events);
        for (const VitalsEvent& event : events) {
            if (const auto* hurt = std::get_if<DamageEvent>(&event); hurt != nullptr && say) {
                std::printf("%7.1f ms  %s the %s: %.1f, %.1f left\n", to_milliseconds(at - Time{}), what,
                            where.c_str(), hurt->damage.amount(), hurt->health_left);
            } else if (std::holds_alternative<DeathEvent>(event)) {
                std::printf("%7.1f ms  and is down\n", to_milliseconds(at - Time{}));
            }
        }
    }
};

} // namespace

int main(int count, char** words) {
    const auto arsenal = load_arsenal(count > 1 ? words[1] : "data/halm-ring.toml");
    const WeaponSpec* fan = arsenal ? find(arsenal->weapons, "pollen-spray") : nullptr;
    const MeleeSpec* sickle = arsenal ? find(arsenal->melee, "sickle") : nullptr;
    const BodySpec* crew = arsenal ? find(arsenal->bodies, "crew") : nullptr;
    if (fan == nullptr || sickle == nullptr || crew == nullptr) {
        std::fprintf(stderr, "close_quarters needs an arsenal with pollen-spray, sickle and crew\n");
        return 2;
    }
    Scene yard{Level{{{HalfSpace{world_up(), 0}}, {Box{{{-1.2, 0.5, 4}}, {0.8, 1.2, 0.3}}}}}};
    (void)yard.add({walker, &crew->rig, {walker_at(Time{})}, TeamId{1}});
    (void)yard.add({hidden, &crew->rig, {{-1.2, -0.5, 5}}, TeamId{1}});
    Rival rivals[2]{{full_vitals(*crew)}, {full_vitals(*crew)}};
    const auto region = [&](const Hit& hit) { return region_of(crew->rig, *hit.region).name; };

    const Filter foes{.teams = {TeamId{1}}};
    const Pose hands{{0, 1.3, 0}};
    WeaponState state = full_weapon(*fan);
    AmmoReserve none{};
    MeleeState swing;
    bool swung = false;
    for (Tick tick = 0; tick < 75; ++tick) { // at 30 ticks a second
        const Span span = tick_span(tick, {.hertz = 30});
        yard.begin_frame(span.end);
        yard.move(walker, {walker_at(span.end)});
        const bool near = walker_at(span.begin).z() < 1.5;

        const WeaponIntent intent{.at = span.begin, .trigger = !near};
        std::vector<WeaponEvent> shots;
        advance(*fan, state, none, span.end, {&intent, 1}, shots);
        for (const WeaponEvent& shot : shots) {
            if (shot.kind != WeaponEventKind::shot) {
                continue;
            }
            std::array<SprayHit, 8> hits;
            const Spray cone{hands.position, world_forward(), fan->spray, fan->range, shot.at};
            for (std::size_t hit = spray(yard, cone, foes, hits); hit > 0; --hit) {
                const Hit& nearest = hits[hit - 1].nearest;
                Rival& rival = rivals[hits[hit - 1].body == walker ? 0 : 1];
                // Every fourth is enough to read.
                rival.take(hit_damage(*fan, nearest.distance, region(nearest), shot.power), shot.at,
                           shot.shot % 4 == 0,
                           &rival == rivals ? "pollen on the walker," : "pollen on the hidden one,",
                           region(nearest));
            }
        }

        // The heavy attack takes its time: begun when the walker is in reach.
        const MeleePress press{span.begin, *find_attack(*sickle, "heavy")};
        std::vector<MeleeEvent> strikes;
        advance(*sickle, swing, yard, foes, {keeper, hands, hands}, span, {&press, near && !swung ? 1U : 0U},
                strikes);
        swung |= near;
        for (const MeleeEvent& event : strikes) {
            if (event.kind == MeleeEventKind::struck) {
                rivals[event.hit.body == walker ? 0 : 1].take(
                    strike_damage(*sickle, sickle->attacks[event.attack], region(event.hit)), event.at, true,
                    "the sickle meets", region(event.hit));
            } else {
                std::printf("%7.1f ms  the swing has %s\n", to_milliseconds(event.at - Time{}),
                            to_string(event.kind).data());
            }
        }
    }
    std::printf("the walker has %.1f health, the one behind the crate %.1f\n", rivals[0].vitals.health,
                rivals[1].vitals.health);
}
