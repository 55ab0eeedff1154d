// The specs by themselves, as code makes them: words, look-ups, links between entries and closed forms.
#include "../digest/bots_fight.h"
#include "../test_data.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/arsenal/finish.h>
#include <avrek/arsenal/validate.h>

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <limits>
#include <random>
#include <set>

namespace avrek {
namespace {

// Every value of an enumeration has a word of its own, such as a file can hold.
template <class Enum>
void expect_words(std::size_t count) {
    std::set<std::string_view> words;
    for (std::size_t value = 0; value < count; ++value) {
        const std::string_view word = to_string(static_cast<Enum>(value));
        EXPECT_FALSE(word.empty()) << value;
        EXPECT_EQ(word.find_first_not_of("abcdefghijklmnopqrstuvwxyz-_ "), std::string_view::npos) << word;
        words.insert(word);
    }
    EXPECT_EQ(words.size(), count);
}

TEST(ArsenalWords, AreOneForEachValue) {
    expect_words<Act>(act_count);
    expect_words<AmmoFeed>(4);
    expect_words<AmmoSupply>(3);
    expect_words<BodyState>(7);
    expect_words<ConditionEnd>(condition_end_count);
    expect_words<FriendlyFire>(4);
    expect_words<ReactionClass>(3);
    expect_words<ReloadStyle>(2);
    expect_words<SpreadShape>(2);
    expect_words<Stacking>(5);
    expect_words<TriggerMode>(5);
}

TEST(ActSet, IsTheSetOfWhatWasAdded) {
    for (unsigned bits = 0; bits < 1U << act_count; ++bits) {
        ActSet set;
        ActSet twice;
        for (unsigned act = 0; act < act_count; ++act) {
            if ((bits >> act & 1U) != 0) {
                set.add(static_cast<Act>(act));
                twice.add(set);
            }
        }
        EXPECT_EQ(set, twice);
        EXPECT_EQ(set.is_empty(), bits == 0);
        EXPECT_EQ(set == ActSet::all(), bits + 1 == 1U << act_count);
        for (unsigned act = 0; act < act_count; ++act) {
            EXPECT_EQ(set.contains(static_cast<Act>(act)), (bits >> act & 1U) != 0);
        }
    }
}

TEST(ConditionSet, IgnoresWhatNoArsenalHas) {
    ConditionSet set;
    set.add(ConditionId{64});
    EXPECT_EQ(set.bits, 0U);
    set.add(ConditionId{63});
    EXPECT_TRUE(set.contains(ConditionId{63}));
    for (const std::int32_t other : {62, 64, 1000, -1}) {
        EXPECT_FALSE(set.contains(ConditionId{other})) << other;
    }
}

// A name leads to an id, and the id to the entry of that name.
template <class Spec, class Find>
void expect_found(const Arsenal& arsenal, const std::vector<Spec>& specs, Find find_id) {
    ASSERT_FALSE(specs.empty());
    for (const Spec& spec : specs) {
        const auto id = std::invoke(find_id, arsenal, spec.id);
        ASSERT_TRUE(id);
        EXPECT_EQ(&arsenal[*id], &spec) << spec.id;
        EXPECT_EQ(find(specs, spec.id), &spec);
        EXPECT_FALSE(std::invoke(find_id, arsenal, spec.id + 'x'));
    }
    EXPECT_EQ(find(specs, ""), nullptr);
}

TEST(Arsenal, NamesAndIdsLeadToEntries) {
    const Arsenal& arsenal = shipped();
    expect_found(arsenal, arsenal.weapons, &Arsenal::weapon);
    expect_found(arsenal, arsenal.ammo, &Arsenal::ammo_type);
    expect_found(arsenal, arsenal.bodies, &Arsenal::body);
    expect_found(arsenal, arsenal.projectiles, &Arsenal::projectile);
    expect_found(arsenal, arsenal.melee, &Arsenal::melee_weapon);
    expect_found(arsenal, arsenal.damage_types, &Arsenal::damage_type);
    expect_found(arsenal, arsenal.conditions, &Arsenal::condition);
    expect_found(arsenal, arsenal.hazards, &Arsenal::hazard);
    expect_found(arsenal, arsenal.pickups, &Arsenal::pickup);
    expect_found(arsenal, arsenal.matches, &Arsenal::match);
    expect_found(arsenal, arsenal.shooters, &Arsenal::shooter);
    expect_found(arsenal, arsenal.links, &Arsenal::link);
    for (std::size_t index = 0; index < arsenal.surfaces.size(); ++index) {
        const auto id = arsenal.surface(arsenal.surfaces[index].id);
        ASSERT_TRUE(id);
        EXPECT_EQ(&surface_of(arsenal.surfaces, *id), &arsenal.surfaces[index]);
    }
    EXPECT_FALSE(arsenal.surface("marzipan"));
    const SurfaceSpec plain;
    for (const std::uint32_t beyond : {0U, 1000U, 0xffffffffU}) {
        EXPECT_EQ(surface_of(arsenal.surfaces, SurfaceId{beyond}).resistance, plain.resistance);
    }
    for (const MeleeSpec& melee : arsenal.melee) {
        for (std::size_t attack = 0; attack < melee.attacks.size(); ++attack) {
            EXPECT_EQ(find_attack(melee, melee.attacks[attack].name), attack);
            EXPECT_EQ(length_of(melee.attacks[attack]), melee.attacks[attack].windup +
                                                            melee.attacks[attack].active +
                                                            melee.attacks[attack].recovery);
        }
        EXPECT_FALSE(find_attack(melee, "somersault"));
    }
}

TEST(Arsenal, GivesEveryWeaponWithAReserveAKindOfAmmunition) {
    std::mt19937_64 random{4};
    for (int round = 0; round < 200; ++round) {
        Arsenal arsenal;
        const std::size_t count = round == 0 ? max_ammo_kinds + 3 : random() % 12;
        for (std::size_t index = 0; index < count; ++index) {
            WeaponSpec weapon{.id = "weapon-" + std::to_string(index)};
            weapon.feed = round == 0 ? AmmoFeed::magazine : static_cast<AmmoFeed>(random() % 4);
            weapon.ammo.id = round > 0 && random() % 2 == 0 ? "shared-" + std::to_string(random() % 3) : "";
            arsenal.weapons.push_back(weapon);
        }
        const bool fits = assign_ammo(arsenal);
        EXPECT_EQ(fits, round > 0);
        EXPECT_LE(arsenal.ammo.size(), max_ammo_kinds);
        const Arsenal once = arsenal;
        for (const WeaponSpec& weapon : arsenal.weapons) {
            const bool has = weapon.feed == AmmoFeed::magazine || weapon.feed == AmmoFeed::reserve;
            if (!has) {
                EXPECT_FALSE(weapon.ammo.spec);
            } else if (fits) {
                ASSERT_TRUE(weapon.ammo.spec);
                EXPECT_EQ(arsenal[*weapon.ammo.spec].id, weapon.ammo.id.empty() ? weapon.id : weapon.ammo.id);
            }
        }
        assign_ammo(arsenal);
        EXPECT_EQ(arsenal.ammo.size(), once.ammo.size()) << "a second time changes nothing";
    }
}

TEST(Arsenal, LinksNamesToPlacesAndSaysWhenOneIsMissing) {
    Arsenal arsenal;
    arsenal.damage_types = {{.id = "cut"}, {.id = "mend", .heals = true, .guardable = false}};
    arsenal.conditions = {{.id = "rot", .type = {"cut"}, .cancels = {{"calm"}}},
                          {.id = "calm", .type = {"mend"}, .prevents = {{"rot"}}}};
    arsenal.weapons = {{.id = "rifle"}};
    arsenal.weapons[0].effect = {.type = {"mend"}, .condition = {"rot"}};
    EXPECT_TRUE(resolve_references(arsenal));
    EXPECT_EQ(arsenal.weapons[0].effect.type.spec, DamageTypeId{1});
    EXPECT_TRUE(arsenal.weapons[0].effect.heals);
    EXPECT_FALSE(arsenal.weapons[0].effect.guardable);
    EXPECT_EQ(arsenal.weapons[0].effect.condition.spec, ConditionId{0});
    EXPECT_FALSE(arsenal.conditions[0].heals);
    EXPECT_TRUE(arsenal.conditions[1].heals);
    EXPECT_TRUE(arsenal.conditions[0].cancels_set.contains(ConditionId{1}));
    EXPECT_TRUE(arsenal.conditions[1].prevents_set.contains(ConditionId{0}));
    arsenal.weapons[0].effect.condition = {"rash"};
    EXPECT_FALSE(resolve_references(arsenal));
    EXPECT_EQ(arsenal.weapons[0].effect.condition.spec, std::nullopt);
    EXPECT_EQ(arsenal.weapons[0].effect.type.spec, DamageTypeId{1}) << "the rest is linked all the same";
    Arsenal again = shipped();
    EXPECT_TRUE(resolve_references(again));
    again.weapons[0].region_multipliers.push_back({"haed", 3.0});
    EXPECT_FALSE(resolve_references(again)) << "no body has such a region";
}

// Each fault of an arsenal made in code is named by its key, all at once; without them it is ready.
TEST(Arsenal, IsFinishedInOneCallOrSaysAllThatIsWrong) {
    Arsenal made;
    made.weapons = {{.id = "rifle"}, {.id = "rifle"}};
    made.weapons[0].effect.condition = {"rash"};
    made.weapons[0].region_multipliers = {{"haed", 2.0}};
    made.weapons[1].rounds_per_minute = 0;
    made.melee = {{.id = "sickle", .attacks = {{.name = "wide", .grip = 2}}}};
    made.conditions = {{.id = "calm", .prevents = {{"storm"}}}};
    made.pickups = {{.id = "box", .ammo = {"nuts"}, .rounds = 3}};
    const Loaded<Arsenal> faulty = finish(made);
    EXPECT_FALSE(faulty);
    std::set<std::string> where;
    for (const Diagnostic& fault : faulty.diagnostics) {
        EXPECT_FALSE(fault.message.empty() || fault.allowed.empty()) << fault.where;
        where.insert(fault.where);
    }
    EXPECT_EQ(where,
              (std::set<std::string>{"condition.calm.prevents", "melee.sickle.attack.wide.reach",
                                     "pickup.box.ammo", "weapon.rifle", "weapon.rifle.effect.condition",
                                     "weapon.rifle.rate_of_fire", "weapon.rifle.region"}));
    made = shipped();
    const std::uint64_t loaded = hash_of(made);
    for (WeaponSpec& weapon : made.weapons) {
        weapon.ammo.spec.reset();
        weapon.projectile.spec.reset();
    }
    const Loaded<Arsenal> finished = finish(std::move(made));
    ASSERT_TRUE(finished) << to_string(finished.diagnostics.front());
    EXPECT_EQ(hash_of(*finished), loaded);
    EXPECT_EQ((*finished)[*finished->weapon("thorn-rifle")].ammo.spec, finished->ammo_type("cartridge"));
    EXPECT_TRUE((*finished)[*finished->weapon("seed-lobber")].projectile.spec);
}

TEST(Specs, FactorsAreOneForWhatIsNotNamed) {
    const std::vector<RegionMultiplier> regions{{"head", 2.5}, {"legs", 0.0}};
    EXPECT_EQ(region_multiplier(regions, "head"), 2.5);
    EXPECT_EQ(region_multiplier(regions, "legs"), 0.0);
    EXPECT_EQ(region_multiplier(regions, "torso"), 1.0);
    EXPECT_EQ(region_multiplier({}, ""), 1.0);
    const std::vector<DamageTypeFactor> factors{{{"cut", DamageTypeId{0}}, 0.25},
                                                {{"burn", DamageTypeId{2}}, 3.0}};
    for (const auto& [kind, factor] : {std::pair{0, 0.25}, {1, 1.0}, {2, 3.0}, {-1, 1.0}, {99, 1.0}}) {
        EXPECT_EQ(factor_of(factors, optional_id<DamageTypeId>(kind)), factor) << kind;
    }
}

TEST(Specs, ChargeAndRecoveryAreLevelOutsideAndNeverTurn) {
    std::mt19937_64 random{6};
    std::uniform_real_distribution<double> unit{0.0, 1.0};
    for (int round = 0; round < 200; ++round) {
        ChargeSpec charge{.full = from_seconds(0.1 + unit(random))};
        Recovery recovery{.delay = from_seconds(unit(random))};
        recovery.left = {{{0.0, 1.0}, {0.2, 0.3 + 0.5 * unit(random)}, {0.2 + unit(random), 0.0}}};
        double power = -1.0;
        double left = 1.0;
        for (double at = 0.0; at < 3.0; at += 0.05) {
            const Duration held = from_seconds(at);
            const double now = charge_power(charge, held);
            EXPECT_GE(now, power);
            EXPECT_TRUE(now >= 0.0 && now <= 1.0);
            power = now;
            const double share = share_left(recovery, held);
            EXPECT_LE(share, left);
            EXPECT_EQ(held <= recovery.delay && share < 1.0, false);
            left = share;
        }
        EXPECT_EQ(charge_power(charge, charge.full), 1.0);
        // A last point at the full charge is reached, though times are whole nanoseconds.
        const double full = 0.1 + unit(random);
        const ChargeSpec curved{.full = from_seconds(full), .power = {{{0.0, 0.5}, {full, 3.0}}}};
        EXPECT_EQ(charge_power(curved, curved.full), 3.0);
        EXPECT_EQ(left, 0.0);
    }
}

// Every number of a sound spec that is spoilt is found: not a number, infinite, or far below what is allowed.
TEST(Contradictions, FindEverySpoiltNumberOfASpec) {
    const Arsenal sound = trial::make_bots_arsenal();
    const double nan = std::numeric_limits<double>::quiet_NaN();
    const double infinite = std::numeric_limits<double>::infinity();
    for (const double bad : {nan, -infinite, -1e12}) {
        for (double WeaponSpec::*member :
             {&WeaponSpec::damage, &WeaponSpec::rounds_per_minute, &WeaponSpec::range}) {
            WeaponSpec weapon = sound.weapons.front();
            EXPECT_TRUE(validate(weapon).empty());
            weapon.*member = bad;
            EXPECT_FALSE(validate(weapon).empty()) << bad;
        }
        for (double ProjectileSpec::*member :
             {&ProjectileSpec::speed, &ProjectileSpec::drag, &ProjectileSpec::radius}) {
            ProjectileSpec projectile = sound.projectiles.front();
            EXPECT_TRUE(validate(projectile).empty());
            projectile.*member = bad;
            EXPECT_FALSE(validate(projectile).empty()) << bad;
        }
        for (double MeleeAttackSpec::*member : {&MeleeAttackSpec::damage, &MeleeAttackSpec::push,
                                                &MeleeAttackSpec::reach, &MeleeAttackSpec::radius}) {
            MeleeAttackSpec attack = sound.melee.front().attacks.front();
            EXPECT_TRUE(validate(attack).empty());
            attack.*member = bad;
            EXPECT_FALSE(validate(attack).empty()) << bad;
        }
        for (double ConditionSpec::*member :
             {&ConditionSpec::amount, &ConditionSpec::damage_taken, &ConditionSpec::damage_dealt,
              &ConditionSpec::speed, &ConditionSpec::spread, &ConditionSpec::grants_points}) {
            ConditionSpec condition = sound.conditions.front();
            EXPECT_TRUE(validate(condition).empty());
            condition.*member = bad;
            EXPECT_FALSE(validate(condition).empty()) << bad;
        }
        BodySpec body = sound.bodies.front();
        body.health = bad;
        EXPECT_FALSE(validate(body).empty()) << bad;
        HazardSpec hazard = sound.hazards.front();
        hazard.damage = bad;
        EXPECT_FALSE(validate(hazard).empty()) << bad;
        MatchSpec match = sound.matches.front();
        match.team_share = bad;
        EXPECT_FALSE(validate(match).empty()) << bad;
    }
}

} // namespace
} // namespace avrek
