#include "../digest/bots_fight.h"
#include "../rounds.h"
#include "../scene/draw.h"
#include <avrek/core/state_delta.h>
#include <avrek/skirmish/named_fields.h>

#include <gtest/gtest.h>

#include <bit>
#include <cmath>
#include <cstdlib>
#include <map>
#include <set>

namespace avrek {
namespace {

using trial::bots_arsenal;
using trial::BotsFight;

std::vector<std::byte> saved(const Skirmish& skirmish) {
    std::vector<std::byte> room(skirmish.saved_size());
    EXPECT_EQ(skirmish.save(room).size(), room.size());
    return room;
}

// A fight that has been fought: the states before its ticks, what went in, and the hashes after.
struct Fought {
    Skirmish empty{
        bots_arsenal(), trial::bots_level(), {.limits = {.combatants = 16}}, 9, trial::bots_plan()};
    std::vector<std::vector<std::byte>> states{};
    std::vector<std::vector<Intent>> intents{};
    std::vector<std::uint64_t> hashes{};

    explicit Fought(Tick ticks) {
        BotsFight fight{bots_arsenal(), 16, 9};
        while (fight.skirmish.tick() < ticks) {
            states.push_back(saved(fight.skirmish));
            const auto wanted = fight.bots.think(fight.skirmish);
            intents.emplace_back(wanted.begin(), wanted.end());
            fight.skirmish.advance(wanted);
            hashes.push_back(fight.skirmish.state_hash());
        }
    }
};

TEST(Skirmish, GoesBackToAnyTickAndOnAgainTheSameWay) {
    const Fought fought{700};
    Draw draw{3};
    Skirmish again = fought.empty;
    for (int restore = 0; restore < rounds(40, "AVREK_RESTORES"); ++restore) {
        const std::size_t from = draw.below(fought.states.size());
        ASSERT_TRUE(again.restore(fought.states[from]));
        for (std::size_t tick = from; tick < std::min(from + 24, fought.hashes.size()); ++tick) {
            again.advance(fought.intents[tick]);
            ASSERT_EQ(again.state_hash(), fought.hashes[tick]) << "from " << from << ", after " << tick;
        }
    }
    EXPECT_EQ(saved(again).size(), again.saved_size());
    // The small change between two states leads from one to the other.
    for (int pair = 0; pair < 10; ++pair) {
        const auto& before = fought.states[draw.below(fought.states.size())];
        const auto& after = fought.states[draw.below(fought.states.size())];
        const std::vector<std::byte> delta = make_delta(before, after);
        EXPECT_EQ(apply_delta(before, delta), after);
        std::vector<std::byte> damaged = delta;
        damaged[draw.below(damaged.size())] ^= std::byte{0x41};
        const auto made = apply_delta(before, damaged);
        EXPECT_TRUE(!made || *made != after);
        damaged.resize(draw.below(damaged.size()));
        EXPECT_FALSE(apply_delta(before, damaged));
    }
    const auto next = make_delta(fought.states[300], fought.states[301]);
    EXPECT_LT(4 * next.size(), fought.states[301].size());
}

TEST(Skirmish, RefusesDamagedStatesAndThoseOfOthers) {
    const Fought fought{20};
    Skirmish skirmish = fought.empty;
    const std::vector<std::byte>& sound = fought.states.back();
    ASSERT_TRUE(skirmish.restore(sound));
    const std::uint64_t hash = skirmish.state_hash();
    Draw draw{4};
    for (int round = 0; round < 200; ++round) {
        std::vector<std::byte> bytes = sound;
        bytes[draw.below(bytes.size())] ^= static_cast<std::byte>(1U << draw.below(8));
        EXPECT_FALSE(skirmish.restore(bytes));
        bytes = sound;
        bytes.resize(draw.below(bytes.size()));
        EXPECT_FALSE(skirmish.restore(bytes));
    }
    EXPECT_EQ(skirmish.state_hash(), hash) << "nothing has changed";
    Skirmish other{
        bots_arsenal(), trial::bots_level(), {.limits = {.combatants = 16}}, 10, trial::bots_plan()};
    EXPECT_FALSE(other.restore(sound)) << "another seed";
    const auto of_arsenal = [&](const auto& change) {
        Arsenal changed = trial::make_bots_arsenal();
        change(changed);
        Skirmish its{changed, trial::bots_level(), {.limits = {.combatants = 16}}, 9, trial::bots_plan()};
        return its.restore(sound);
    };
    EXPECT_TRUE(of_arsenal([](Arsenal&) {}));
    EXPECT_FALSE(of_arsenal([](Arsenal& it) { it.weapons[0].damage += 1; }));
    EXPECT_FALSE(of_arsenal([](Arsenal& it) { it.weapons[0].modes = {TriggerMode::single}; }));
    EXPECT_FALSE(of_arsenal([](Arsenal& it) { it.bodies[0].defence.push_back({.name = "bark"}); }));
    std::vector<std::byte> small(sound.size() - 1);
    EXPECT_TRUE(skirmish.save(small).empty());
}

TEST(Skirmish, LookingAtItChangesNothingAndDifferencesHaveNames) {
    BotsFight quiet{bots_arsenal(), 8, 2};
    BotsFight watched{bots_arsenal(), 8, 2};
    for (Tick tick = 0; tick < 200; ++tick) {
        quiet.advance();
        for (const Event& event : watched.advance()) {
            EXPECT_FALSE(words_of(event).empty());
        }
        for (const Fighter& fighter : watched.skirmish.fighters()) {
            const CombatantReadout shown = watched.skirmish.readout(fighter.id);
            EXPECT_TRUE(shown.health >= 0.0 && shown.health <= 1.0);
        }
        (void)saved(watched.skirmish);
        (void)watched.skirmish.high_water();
        ASSERT_TRUE(differences(quiet.skirmish, watched.skirmish).empty());
        ASSERT_EQ(quiet.skirmish.state_hash(), watched.skirmish.state_hash());
    }
    watched.skirmish.match().edit(BodyId{3})->vitals.health += 1.0;
    const auto found = differences(quiet.skirmish, watched.skirmish);
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].name, "match.combatant[3].vitals.health");
    EXPECT_NE(quiet.skirmish.state_hash(), watched.skirmish.state_hash());
    // Every number by name is in the hash too: names are unique.
    std::set<std::string> names;
    for (const NamedField& field : named_fields(quiet.skirmish)) {
        EXPECT_TRUE(names.insert(field.name).second) << field.name;
    }
}

TEST(Skirmish, TellsEverythingInOrder) {
    BotsFight fight{bots_arsenal(), 16, 6};
    std::map<std::pair<BodyId, std::uint32_t>, Time> shots;
    std::size_t deaths = 0;
    std::map<BodyId, std::uint32_t> counted;
    double hurt = 0.0;
    for (Tick tick = 0; tick < 1500; ++tick) {
        const Span span = tick_span(tick, {64});
        const std::span<const Event> events = fight.advance();
        for (std::size_t index = 0; index < events.size(); ++index) {
            EXPECT_TRUE(time_of(events[index]) >= span.begin && time_of(events[index]) < span.end);
            EXPECT_TRUE(index == 0 || time_of(events[index - 1]) <= time_of(events[index]));
        }
        for (const ShotEvent& shot : events_of<ShotEvent>(events)) {
            EXPECT_TRUE(shots.emplace(std::pair{shot.who, shot.shot}, shot.at).second);
            ++counted[shot.who];
        }
        for (const SegmentEvent& segment : events_of<SegmentEvent>(events)) {
            EXPECT_EQ(shots.at({segment.who, segment.shot}), segment.at);
            EXPECT_GE(segment.ends_at, segment.begins_at);
        }
        for (const FlightEvent& flight : events_of<FlightEvent>(events)) {
            EXPECT_LE(shots.at({flight.event.shooter, flight.event.shot}), flight.event.at);
        }
        deaths += count_of<KillEvent>(events);
        for (const DamageEvent& damage : events_of<DamageEvent>(events)) {
            hurt += points_of(damage);
        }
    }
    EXPECT_GT(deaths, 5U);
    double taken = 0.0;
    for (const Combatant& who : std::as_const(fight.skirmish).match().combatants()) {
        EXPECT_EQ(who.stats.shots, counted[who.id]);
        taken += who.stats.damage_taken;
    }
    EXPECT_NEAR(taken, hurt, 1e-6 * hurt);
}

// Two who face each other, each with a weapon that kills at once.
struct GunFight {
    Arsenal arsenal;
    Skirmish skirmish;

    static Arsenal deadly() {
        Arsenal arsenal = bots_arsenal();
        WeaponSpec& weapon = arsenal.weapons[0];
        weapon.spread = {};
        weapon.damage = 1000;
        weapon.bounce.count = 0;
        weapon.recoil = {};
        return arsenal;
    }
    explicit GunFight(TickRate rate = {64})
        : arsenal(deadly()), skirmish(arsenal, Level{}, {.rate = rate, .moves_bodies = false}, 1) {
        const WeaponId rifle{0};
        (void)skirmish.add(
            {.id = BodyId{1}, .team = TeamId{0}, .weapons = {&rifle, 1}, .at = Vector3{0, 0, 0}});
        (void)skirmish.add(
            {.id = BodyId{2}, .team = TeamId{1}, .weapons = {&rifle, 1}, .at = Vector3{0, 0, 10}, .yaw = pi});
    }
    // Each at the other's chest; who presses when in the tick.
    std::span<const Event> shoot(std::uint32_t one, std::uint32_t other) {
        Intent first{.who = BodyId{1}, .press_offset = one, .pitch = -0.05F, .buttons = {Button::trigger}};
        Intent second{.who = BodyId{2},
                      .press_offset = other,
                      .yaw = static_cast<float>(pi),
                      .pitch = -0.05F,
                      .buttons = {Button::trigger}};
        const Intent both[] = {second, first};
        return skirmish.advance(both);
    }
    bool is_dead(unsigned id) const {
        return skirmish.match().find(BodyId{id})->vitals.life == LifeState::dead;
    }
};

TEST(Skirmish, TheEarlierOfTwoDeadlyShotsWinsAndThoseOfOneMomentTrade) {
    for (const auto& [one, other] : {std::pair{1000U, 1001U}, {1001U, 1000U}, {7'000'000U, 3U}, {5U, 5U}}) {
        GunFight duel;
        const std::span<const Event> events = duel.shoot(one, other);
        const std::size_t fired = count_of<ShotEvent>(events);
        EXPECT_EQ(fired, one == other ? 2U : 1U) << one << ' ' << other;
        EXPECT_EQ(duel.is_dead(1), other <= one);
        EXPECT_EQ(duel.is_dead(2), one <= other);
        // A combatant that did not fire keeps the round.
        const auto& combatants = std::as_const(duel.skirmish).match().combatants();
        std::int32_t rounds = 0;
        for (const Combatant& who : combatants) {
            const WeaponState* state = state_in(who.loadout, 0);
            rounds += state != nullptr ? state->rounds : 0;
        }
        for (const DroppedWeapon& dropped : std::as_const(duel.skirmish).match().dropped()) {
            rounds += dropped.state.rounds;
        }
        EXPECT_EQ(rounds, 2 * 25 - static_cast<std::int32_t>(fired)) << "rounds are conserved";
    }
}

TEST(Skirmish, ShootsTheSameAtAnyTickRate) {
    const auto shots_at = [](std::int32_t hertz) {
        GunFight duel{{hertz}};
        WeaponSpec& rifle = duel.arsenal.weapons[0];
        rifle.damage = 3;
        rifle.spread.hip = 0.002;
        rifle.recoil = {.pattern = {{0.004, 0.001}}, .recovery_share = 0.5};
        rifle.recoil.recovery.delay = from_seconds(0.02);
        std::vector<std::pair<Time, Vector3>> shots;
        while (duel.skirmish.now() < Time{from_seconds(3)}) {
            for (const ShotEvent& shot : events_of<ShotEvent>(duel.shoot(0, 0))) {
                if (shot.who == BodyId{1}) {
                    shots.emplace_back(shot.at, shot.direction);
                }
            }
        }
        const Fighter& fighter = *duel.skirmish.find(BodyId{1});
        EXPECT_NEAR(fighter.kick.yaw, 0.002 * fighter.shots, 1e-12) << "what does not return adds up";
        while (!shots.empty() && shots.back().first >= Time{from_seconds(3)}) {
            shots.pop_back();
        }
        return std::pair{shots, duel.skirmish.match().find(BodyId{1})->vitals.health};
    };
    const auto [expected, health] = shots_at(64);
    EXPECT_GT(expected.size(), 12U);
    for (const std::int32_t hertz : {20, 30, 125, 240}) {
        const auto [shots, left] = shots_at(hertz);
        ASSERT_EQ(shots.size(), expected.size()) << hertz;
        for (std::size_t shot = 0; shot < shots.size(); ++shot) {
            EXPECT_EQ(shots[shot].first, expected[shot].first);
            EXPECT_EQ(shots[shot].second, expected[shot].second);
        }
        EXPECT_NEAR(left, health, 1e-9);
    }
}

TEST(Skirmish, AFullPoolRefusesAndLosesNothingElse) {
    Arsenal arsenal = bots_arsenal();
    arsenal.weapons[1].pellets = 4;
    arsenal.projectiles[0].fuse = from_seconds(3);
    Skirmish skirmish{arsenal, Level{}, {.projectiles = 3}, 1};
    const WeaponId lobber{1};
    ASSERT_TRUE(skirmish.add({.id = BodyId{1}, .weapons = {&lobber, 1}, .at = Vector3{0, 0, 0}}));
    EXPECT_FALSE(skirmish.add({.id = BodyId{1}})) << "the id is taken";
    const Intent pull{.who = BodyId{1}, .pitch = 0.5F, .buttons = {Button::trigger}};
    std::size_t refused = 0;
    for (const FlightEvent& flight : events_of<FlightEvent>(skirmish.advance({&pull, 1}))) {
        refused += flight.event.kind == ProjectileEventKind::refused ? 1 : 0;
    }
    EXPECT_EQ(refused, 1U);
    EXPECT_EQ(skirmish.projectiles()[0].size(), 3U);
    EXPECT_EQ(skirmish.high_water()[5].max, 3U);
    std::size_t bursts = 0;
    while (skirmish.now() < Time{from_seconds(4)}) {
        bursts += count_of<BlastEvent>(skirmish.advance({}));
    }
    EXPECT_EQ(bursts, 3U);
    EXPECT_TRUE(skirmish.remove(BodyId{1}));
    EXPECT_FALSE(skirmish.remove(BodyId{1}));
    EXPECT_EQ(count_of<ShotEvent>(skirmish.advance({&pull, 1})), 0U) << "nobody is there";
}

TEST(Skirmish, TakesAnyBitsForIntentsAndPlacings) {
    Draw draw{8};
    Skirmish skirmish{
        bots_arsenal(), trial::bots_level(), {.limits = {.combatants = 6}}, 3, trial::bots_plan()};
    const WeaponId weapons[] = {WeaponId{0}, WeaponId{1}, WeaponId{2}, WeaponId{3}};
    for (std::uint32_t id = 1; id <= 6; ++id) {
        ASSERT_TRUE(skirmish.add({.id = BodyId{id},
                                  .team = TeamId{static_cast<std::uint8_t>(id % 2)},
                                  .melee = MeleeId{0},
                                  .weapons = weapons}));
    }
    const auto bits = [&] { return static_cast<std::uint32_t>(draw.below(1ULL << 32U)); };
    const auto number = [&] {
        return draw.below(2) == 0 ? std::bit_cast<float>(bits()) : static_cast<float>(draw(-2, 2));
    };
    std::size_t shots = 0;
    for (Tick tick = 0; tick < 1500; ++tick) {
        std::vector<Intent> intents;
        for (std::size_t count = draw.below(9); count > 0; --count) {
            intents.push_back({BodyId{static_cast<std::uint32_t>(draw.below(8))}, bits(), number(), number(),
                               number(), number(), Buttons::from_bits(bits()),
                               static_cast<std::int8_t>(bits()), static_cast<std::int8_t>(draw.below(3)),
                               BodyId{static_cast<std::uint32_t>(draw.below(8))}, BodyId{bits()}});
        }
        std::vector<BodyUpdate> updates;
        if (draw.below(4) == 0) {
            updates.push_back({.who = BodyId{static_cast<std::uint32_t>(draw.below(8))},
                               .position = {number(), number(), number()},
                               .yaw = number(),
                               .velocity = {number(), number(), number()}});
        }
        shots += count_of<ShotEvent>(skirmish.advance(intents, updates));
        for (const NamedField& field : named_fields(skirmish)) {
            const double* value = std::get_if<double>(&field.value);
            ASSERT_TRUE(value == nullptr || !std::isnan(*value)) << field.name << " at tick " << tick;
        }
    }
    EXPECT_GT(shots, 50U);
    std::size_t index = 0;
    visit_named_fields(skirmish, [&, fields = named_fields(skirmish)](std::string_view name,
                                                                      std::uint64_t value) {
        ASSERT_TRUE(index < fields.size() && name == fields[index].name && value == bits_of(fields[index]));
        ++index;
    });
    EXPECT_EQ(index, named_fields(skirmish).size());
}

TEST(Skirmish, BodiesOfTheStandInStayOnTheirSideOfWalls) {
    BotsFight fight{bots_arsenal(), 24, 12};
    for (Tick tick = 0; tick < 1200; ++tick) {
        fight.advance();
        for (const Fighter& fighter : fight.skirmish.fighters()) {
            EXPECT_TRUE(std::abs(fighter.motion.position.x()) < 30.0 &&
                        std::abs(fighter.motion.position.z()) < 30.0);
            EXPECT_GE(fighter.motion.position.y(), -1e-6);
            std::array<Hit, 1> found;
            EXPECT_EQ(fight.skirmish.scene().overlaps(Sphere{fighter.motion.position + Vector3{0, 1, 0}, 0.2},
                                                      present, {.hits = {CollisionLayer::level}}, found),
                      0U)
                << fighter.motion.position.transpose() << " at tick " << tick;
        }
    }
}

TEST(Skirmish, RoundsAreConservedWhateverHappens) {
    BotsFight fight{bots_arsenal(), 12, 21};
    // Each life: what it started with, fired, and has or left behind.
    std::map<BodyId, std::int64_t> expected;
    const auto rounds_of = [](const Loadout& loadout) {
        std::int64_t rounds = 0;
        for (const LoadoutSlot& slot : loadout.slots) {
            rounds += slot.weapon ? slot.state.rounds : 0;
        }
        for (const AmmoReserve& reserve : loadout.ammo) {
            rounds += reserve.rounds;
        }
        return rounds;
    };
    for (const Combatant& who : std::as_const(fight.skirmish).match().combatants()) {
        expected[who.id] = rounds_of(who.loadout);
    }
    for (Tick tick = 0; tick < 1500; ++tick) {
        const std::span<const Event> events = fight.advance();
        for (const ShotEvent& shot : events_of<ShotEvent>(events)) {
            const WeaponSpec& weapon = bots_arsenal()[*shot.weapon];
            expected[shot.who] -= weapon.supply == AmmoSupply::counted ? 1 : 0;
        }
        for (const DropEvent& drop : events_of<DropEvent>(events)) {
            expected[drop.who] -= drop.rounds;
        }
        for (const RespawnEvent& back : events_of<RespawnEvent>(events)) {
            expected[back.who] = rounds_of(std::as_const(fight.skirmish).match().find(back.who)->loadout);
        }
        for (const Combatant& who : std::as_const(fight.skirmish).match().combatants()) {
            ASSERT_EQ(rounds_of(who.loadout), expected[who.id])
                << "#" << static_cast<unsigned>(who.id) << " at tick " << tick;
        }
    }
}

} // namespace
} // namespace avrek
