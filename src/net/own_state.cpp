#include "own_state.h"

#include "own_state_repair.h"

#include <algorithm>
#include <bit>
#include <cassert>
#include <cmath>
#include <limits>
#include <utility>

namespace avrek::detail {

namespace {

constexpr std::int64_t latest = std::int64_t{1} << 60U; // ns, of every time but for "never"

// Takes the numbers of a state one after another.
struct Writing {
    std::vector<std::uint64_t> words{};

    void whole(std::int64_t value) { words.push_back(static_cast<std::uint64_t>(value)); }
    template <class T>
    void number(T& value, std::int64_t, std::int64_t) {
        whole(static_cast<std::int64_t>(value));
    }
    void real(double& value, double) { words.push_back(std::bit_cast<std::uint64_t>(value)); }
    void real(float& value, float) { words.push_back(std::bit_cast<std::uint32_t>(value)); }
    void time(Time& value) { whole(value.time_since_epoch().count()); }
    void time_or_never(Time& value) { time(value); }
    void time(Duration& value) { whole(value.count()); }
};

// Puts them back, each within its range.
struct Reading {
    const std::vector<std::uint64_t>& words;
    std::size_t at = 0;

    std::uint64_t next() { return words[at++]; }
    template <class T>
    void number(T& value, std::int64_t least, std::int64_t most) {
        value = static_cast<T>(std::clamp(static_cast<std::int64_t>(next()), least, most));
    }
    template <class T>
    static T within(T value, T most) {
        return std::isfinite(value) ? std::clamp(value, -most, most) : T{0};
    }
    void real(double& value, double most) { value = within(std::bit_cast<double>(next()), most); }
    void real(float& value, float most) {
        value = within(std::bit_cast<float>(static_cast<std::uint32_t>(next())), most);
    }
    void time(Time& value) {
        value = Time{Duration{std::clamp(static_cast<std::int64_t>(next()), -latest, latest)}};
    }
    void time_or_never(Time& value) {
        const auto count = static_cast<std::int64_t>(next());
        const bool never = count == std::numeric_limits<std::int64_t>::max() ||
                           count == std::numeric_limits<std::int64_t>::min();
        value = Time{Duration{never ? count : std::clamp(count, -latest, latest)}};
    }
    void time(Duration& value) {
        value = Duration{std::clamp(static_cast<std::int64_t>(next()), -latest, latest)};
    }
};

// Only says of what kind each number is.
struct Telling {
    std::vector<WordKind> kinds{};

    template <class T>
    void number(T&, std::int64_t, std::int64_t) {
        kinds.push_back(WordKind::whole);
    }
    template <class T>
    void real(T&, T) {
        kinds.push_back(WordKind::real);
    }
    template <class T>
    void time(T&) {
        kinds.push_back(WordKind::whole);
    }
    void time_or_never(Time& value) { time(value); }
};

constexpr double far = 1e5;
constexpr std::int64_t many = std::numeric_limits<std::int32_t>::max();

template <class Visitor>
void visit(Visitor& visitor, Vector3& vector, double most) {
    for (Eigen::Index axis = 0; axis < 3; ++axis) {
        visitor.real(vector[axis], most);
    }
}

template <class Visitor>
void visit_weapon(Visitor& visitor, WeaponState& state, const WeaponSpec& spec) {
    std::uint32_t flags = std::uint32_t{state.trigger_held} | std::uint32_t{state.reload_held} << 1U |
                          std::uint32_t{state.aim_held} << 2U | std::uint32_t{state.mode_held} << 3U |
                          std::uint32_t{state.in_hand} << 4U | std::uint32_t{state.sprinting} << 5U |
                          std::uint32_t{state.striking} << 6U | std::uint32_t{state.stunned} << 7U |
                          std::uint32_t{state.fire_forbidden} << 8U |
                          std::uint32_t{state.reload_forbidden} << 9U |
                          std::uint32_t{state.crouching} << 10U | std::uint32_t{state.airborne} << 11U |
                          std::uint32_t{state.aim_wanted} << 12U | std::uint32_t{state.aiming} << 13U |
                          std::uint32_t{state.winding} << 14U | std::uint32_t{state.reload_wanted} << 15U |
                          std::uint32_t{state.from_empty} << 16U | std::uint32_t{state.press_waits} << 17U |
                          std::uint32_t{state.answered} << 18U | std::uint32_t{state.spent} << 19U |
                          std::uint32_t{state.dry} << 20U | std::uint32_t{state.locked} << 21U;
    visitor.number(flags, 0, (1 << 22) - 1);
    const auto flag = [flags](unsigned bit) { return (flags >> bit & 1U) != 0; };
    state.trigger_held = flag(0);
    state.reload_held = flag(1);
    state.aim_held = flag(2);
    state.mode_held = flag(3);
    state.in_hand = flag(4);
    state.sprinting = flag(5);
    state.striking = flag(6);
    state.stunned = flag(7);
    state.fire_forbidden = flag(8);
    state.reload_forbidden = flag(9);
    state.crouching = flag(10);
    state.airborne = flag(11);
    state.aim_wanted = flag(12);
    state.aiming = flag(13);
    state.winding = flag(14);
    state.reload_wanted = flag(15);
    state.from_empty = flag(16);
    state.press_waits = flag(17);
    state.answered = flag(18);
    state.spent = flag(19);
    state.dry = flag(20);
    state.locked = flag(21);
    visitor.time(state.next_shot);
    visitor.time(state.activity_end);
    visitor.number(state.cadence_shots, 0, many);
    visitor.real(state.speed_to, 1e4F);
    visitor.number(state.mode, 0, static_cast<std::int64_t>(spec.modes.size()) - 1);
    visitor.number(state.burst_left, 0, 255);
    visitor.number(state.activity, 0, static_cast<std::int64_t>(WeaponActivity::closing));
    visitor.number(state.rounds, 0, std::int64_t{spec.magazine} + 1);
    visitor.number(state.shots, 0, many);
    visitor.time(state.last_shot);
    visitor.real(state.rate_share, 1.0F);
    visitor.real(state.bloom, 10.0F);
    visitor.time(state.cadence_start);
    visitor.time(state.refill_left);
    visitor.time(state.windup_since);
    visitor.time(state.aim_since);
    visitor.time(state.speed_since);
    visitor.real(state.speed_from, 1e4F);
    visitor.real(state.return_yaw, 100.0F);
    visitor.real(state.return_pitch, 100.0F);
    visitor.number(state.kick_seed, 0, std::numeric_limits<std::uint32_t>::max());
    visitor.number(state.recoil_step, 0, 65535);
    visitor.number(state.reload_loaded, 0, 65535);
}

template <class Visitor>
void visit_stated(Visitor& visitor, WeaponIntent& stated) {
    bool* const flags[] = {&stated.trigger,      &stated.reload,         &stated.aim,       &stated.next_mode,
                           &stated.in_hand,      &stated.sprint,         &stated.strike,    &stated.stunned,
                           &stated.forbids_fire, &stated.forbids_reload, &stated.crouching, &stated.airborne};
    std::uint32_t bits = 0;
    for (std::size_t flag = 0; flag < std::size(flags); ++flag) {
        bits |= std::uint32_t{*flags[flag]} << flag;
    }
    visitor.number(bits, 0, 4095);
    for (std::size_t flag = 0; flag < std::size(flags); ++flag) {
        *flags[flag] = (bits >> flag & 1U) != 0;
    }
    visitor.real(stated.speed, 1e4);
    stated.speed = std::abs(stated.speed);
}

template <class Visitor>
void visit_loadout(Visitor& visitor, Loadout& loadout, const Arsenal& arsenal) {
    const auto slots = std::int64_t{Loadout::slot_count} - 1;
    for (LoadoutSlot& slot : loadout.slots) {
        visitor.number(slot.weapon, -1, static_cast<std::int64_t>(arsenal.weapons.size()) - 1);
        WeaponState none;
        static const WeaponSpec nothing;
        if (slot.weapon >= 0) {
            visit_weapon(visitor, slot.state, arsenal.weapons[static_cast<std::size_t>(slot.weapon)]);
        } else {
            visit_weapon(visitor, none, nothing); // so that there are always as many words
        }
    }
    for (std::size_t kind = 0; kind < std::min(max_ammo_kinds, arsenal.ammo.size()); ++kind) {
        visitor.number(loadout.ammo[kind].rounds, 0, many);
    }
    visit_stated(visitor, loadout.stated);
    visitor.number(loadout.in_hand, -1, slots);
    visitor.number(loadout.wanted, -1, slots);
    for (std::int8_t* slot : {&loadout.in_hand, &loadout.wanted}) {
        if (*slot >= 0 && loadout.slots[static_cast<std::uint8_t>(*slot)].weapon < 0) {
            *slot = -1; // there is none to hold
        }
    }
    visitor.number(loadout.last_used, -1, slots);
    visitor.number(loadout.slot_stated, -1, slots);
    visitor.number(loadout.next_held, 0, 1);
    visitor.number(loadout.last_held, 0, 1);
}

template <class Visitor>
void visit_vitals(Visitor& visitor, Vitals& vitals, const Arsenal& arsenal, const BodySpec& body) {
    visitor.number(vitals.life, 0, 1);
    visitor.real(vitals.health, 1e9);
    visitor.real(vitals.maximum, 1e9);
    vitals.maximum = std::max(0.0, vitals.maximum);
    vitals.health = std::clamp(vitals.health, 0.0, vitals.maximum);
    visitor.time_or_never(vitals.due);
    visitor.number(vitals.state, 0, static_cast<std::int64_t>(BodyState::ragdoll));
    visitor.number(vitals.reaction, 0, static_cast<std::int64_t>(ReactionClass::heavy));
    visitor.number(vitals.on_back, 0, 1);
    visitor.time_or_never(vitals.state_until);
    visitor.time_or_never(vitals.protected_until);
    visitor.time_or_never(vitals.last_hurt);
    for (std::size_t layer = 0; layer < body.defence.size(); ++layer) {
        visitor.real(vitals.defence[layer].points, 1e9);
        visitor.time_or_never(vitals.defence[layer].at);
    }
    visitor.real(vitals.guard.stamina, 1e9);
    visitor.time(vitals.guard.stamina_at);
    visitor.time(vitals.guard.perfect_until);
    visitor.time_or_never(vitals.guard.broken_until);
    visitor.number(vitals.guard.wanted, 0, 1);
    visitor.number(vitals.guard.up, 0, 1);
    for (ReactionCount& reaction : vitals.reactions) {
        visitor.number(reaction.count, 0, many);
        visitor.time(reaction.until);
    }
    visitor.number(vitals.condition_count, 0, arsenal.conditions.empty() ? 0 : Vitals::max_conditions);
    for (std::size_t index = 0; index < vitals.conditions.size(); ++index) {
        ConditionState none;
        ConditionState& condition = index < vitals.condition_count ? vitals.conditions[index] : none;
        const bool there = index < vitals.condition_count;
        visitor.number(condition.spec, there ? 0 : -1,
                       static_cast<std::int64_t>(arsenal.conditions.size()) - 1);
        const bool known = there && condition.spec >= 0;
        visitor.number(
            condition.count, 1,
            known ? std::max(1, arsenal.conditions[static_cast<std::size_t>(condition.spec)].max_count)
                  : many);
        visitor.real(condition.strength, 1e6);
        condition.strength = std::max(1e-6, condition.strength);
        visitor.time_or_never(condition.until);
        visitor.time_or_never(condition.next_tick);
    }
}

template <class Visitor>
void visit_fighter(Visitor& visitor, Fighter& fighter, const Arsenal& arsenal) {
    visit(visitor, fighter.position, far);
    visit(visitor, fighter.velocity, far);
    auto yaw = static_cast<float>(fighter.look.yaw);
    auto pitch = static_cast<float>(fighter.look.pitch);
    visitor.real(yaw, 10.0F);
    visitor.real(pitch, 2.0F);
    fighter.look = {yaw, pitch};
    fighter.intent.yaw = yaw;
    fighter.intent.pitch = pitch;
    visitor.real(fighter.kick.yaw, 1e3);
    visitor.real(fighter.kick.pitch, 10.0);
    visitor.number(fighter.airborne, 0, 1);
    std::uint32_t buttons = fighter.intent.buttons.bits();
    visitor.number(buttons, 0, 65535);
    fighter.intent.buttons = Buttons::from_bits(buttons);
    visitor.number(fighter.strike_before, -1, 127);
    const MeleeSpec* melee =
        fighter.melee >= 0 ? &arsenal.melee[static_cast<std::size_t>(fighter.melee)] : nullptr;
    visitor.number(fighter.swing.attack, -1,
                   melee != nullptr ? static_cast<std::int64_t>(melee->attacks.size()) - 1 : -1);
    visitor.time(fighter.swing.started);
    visitor.number(fighter.swing.swings, 0, many);
    visitor.number(fighter.swing_ended, 0, many);
    visitor.number(fighter.shots, 0, many);
    visitor.number(fighter.spawned, 0, many);
}

template <class Visitor>
void visit_all(Visitor& visitor, Fighter& fighter, Combatant& who, const Arsenal& arsenal) {
    visit_fighter(visitor, fighter, arsenal);
    visit_vitals(visitor, who.vitals, arsenal, arsenal.bodies[static_cast<std::size_t>(who.body)]);
    visit_loadout(visitor, who.loadout, arsenal);
    visit_stated(visitor, who.stated.weapon);
    visitor.number(who.stated.slot, -1, std::int64_t{Loadout::slot_count} - 1);
    visitor.number(who.stated.next, 0, 1);
    visitor.number(who.stated.last, 0, 1);
    visitor.number(who.lives, -1, many);
    visitor.number(who.out, 0, 1);
}

template <class Visitor>
Visitor visited(const Skirmish& skirmish, BodyId id, Visitor visitor) {
    const Fighter* there = skirmish.find(id);
    assert(there != nullptr);
    Fighter fighter = *there;
    Combatant who = *skirmish.match().find(id);
    visit_all(visitor, fighter, who, skirmish.arsenal());
    return visitor;
}

} // namespace

OwnState own_state(const Skirmish& skirmish, BodyId id) {
    Writing writing;
    writing.words.reserve(512);
    return {visited(skirmish, id, std::move(writing)).words};
}

std::vector<WordKind> kinds_of_own_state(const Skirmish& skirmish, BodyId id) {
    return visited(skirmish, id, Telling{}).kinds;
}

bool assume(Skirmish& skirmish, BodyId id, const OwnState& state) {
    Fighter* fighter = skirmish.find_fighter(id);
    if (fighter == nullptr || state.words.size() != kinds_of_own_state(skirmish, id).size()) {
        return false;
    }
    Combatant& who = *skirmish.match().find(id);
    Reading reading{state.words};
    visit_all(reading, *fighter, who, skirmish.arsenal());
    repair(who, skirmish.arsenal(), skirmish.now());
    who.respawn_at = who.vanish_at = Time::max(); // the server says when
    fighter->position_before = fighter->position;
    fighter->look_before = fighter->look;
    fighter->to_place = false;
    return true;
}

} // namespace avrek::detail
