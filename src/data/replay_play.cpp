#include "../core/words.h"
#include <avrek/data/replay_file.h>
#include <avrek/scene/level_digest.h>
#include <avrek/skirmish/blended_poses.h>

#include <algorithm>
#include <bit>
#include <unordered_map>

namespace avrek {

Loaded<SkirmishSettings> settings_for(const ReplayHead& head, const Arsenal& arsenal,
                                      const ArsenalDigest& digest, const Level& level, std::string_view file,
                                      const Locomotions& locomotions, const PoseSource* poses) {
    std::vector<Diagnostic> faults;
    const auto add = [&](std::string what, std::string allowed) {
        faults.push_back(
            {Severity::error, std::string{file}, 0, 0, {}, std::move(what), std::move(allowed), {}});
    };
    if (head.arsenal.whole != digest.whole) {
        std::string names;
        const std::vector<std::string> differing = differing_entries(head.arsenal, digest);
        for (std::size_t index = 0; index < differing.size() && index < 8; ++index) {
            names += (index > 0 ? ", " : "") + differing[index];
        }
        if (differing.size() > 8) {
            names += " and " + std::to_string(differing.size() - 8) + " more";
        }
        add("was recorded with another arsenal; what differs: " + (names.empty() ? "nothing by name" : names),
            "the arsenal that it was recorded with");
    }
    if (head.level != digest_of(level)) {
        add("was recorded in another level than this" +
                (head.level_name.empty() ? std::string{} : ", which was called '" + head.level_name + '\''),
            "the level that it was recorded in");
    }
    const auto rules = arsenal.match(head.rules);
    if (!rules) {
        add("goes by the rules '" + head.rules + "', which the arsenal does not have",
            "a match of the arsenal");
    }
    if (const auto names = names_of(locomotions); head.locomotions != names) {
        add("was recorded with bodies that move by " + detail::quoted(head.locomotions) + ", not by " +
                detail::quoted(names),
            "the locomotions that it was recorded with");
    }
    if (const std::string name = name_of(pose_source_or_built_in(poses)); head.poses != name) {
        add("was recorded with bodies that are posed by '" + head.poses + "', not by '" + name + '\'',
            "the pose source that it was recorded with");
    }
    if (!faults.empty()) {
        return {std::nullopt, std::move(faults)};
    }
    SkirmishSettings settings = head.settings;
    settings.locomotions = locomotions;
    settings.poses = poses;
    settings.rules = *rules;
    return {settings, {}};
}

namespace {

Diagnostic lacking(BodyId who, const std::string& what) {
    return {Severity::error,
            {},
            0,
            0,
            "combatant " + std::to_string(static_cast<std::uint32_t>(who)),
            what,
            {},
            {}};
}

void bring_in(const ReplayEntrant& from, Skirmish& skirmish, std::vector<Diagnostic>& faults) {
    const Arsenal& arsenal = skirmish.arsenal();
    std::vector<WeaponId> weapons;
    for (const std::string& id : from.weapons) {
        const auto weapon = arsenal.weapon(id);
        if (!weapon || weapons.size() == Loadout::slot_count) {
            faults.push_back(lacking(from.id, "carries a weapon too many, or '" + id +
                                                  "', which the arsenal does not have"));
        } else {
            weapons.push_back(*weapon);
        }
    }
    Entrant entrant{.id = from.id,
                    .team = from.team,
                    .role = from.role,
                    .weapons = weapons,
                    .at = from.at,
                    .yaw = from.yaw,
                    .spread_seed = from.spread_seed};
    const auto body = arsenal.body(from.body);
    entrant.body = body.value_or(BodySpecId{});
    entrant.melee = arsenal.melee_weapon(from.melee);
    entrant.spawns =
        std::span{from.spawns}.first(std::min(from.spawns.size(), std::size_t{Fighter::max_spawns}));
    if (!body || from.id == nobody) {
        faults.push_back(lacking(from.id, "is a '" + from.body + "', which the arsenal does not have"));
    } else if (!skirmish.add(entrant)) {
        faults.push_back(lacking(from.id, "finds no room, or is there already"));
    }
}

} // namespace

std::vector<Diagnostic> make_arsenals(ReplayTick& tick, TunedArsenal& tuned) {
    std::vector<Diagnostic> faults;
    tick.arsenals.clear();
    for (const TuningStep& step : tick.tuning) {
        auto arsenal = tuned.with(step);
        if (arsenal) { // its warnings were said when the fight took it
            tick.arsenals.push_back(std::move(*arsenal.value));
            tuned.take(step);
        } else {
            tick.arsenals.push_back(nullptr);
            faults.insert(faults.end(), arsenal.diagnostics.begin(), arsenal.diagnostics.end());
        }
    }
    return faults;
}

std::vector<Diagnostic> play(const ReplayTick& tick, Skirmish& skirmish) {
    std::vector<Diagnostic> faults;
    std::size_t left = 0;
    std::size_t entered = 0;
    std::size_t tuned = 0;
    const auto take = [&](std::uint8_t what) {
        if (what == 0 && left < tick.leavers.size()) {
            skirmish.remove(tick.leavers[left++]);
        } else if (what == 1 && entered < tick.entrants.size()) {
            bring_in(tick.entrants[entered++], skirmish, faults);
        } else if (what == 2 && tuned < tick.tuning.size()) {
            const auto arsenal = tuned < tick.arsenals.size() ? tick.arsenals[tuned] : nullptr;
            ++tuned;
            const Outcome done =
                arsenal != nullptr ? skirmish.retune(arsenal) : Outcome::refused("its arsenal was not made");
            if (!done) {
                faults.push_back({.where = "tuning", .message = std::string{done.why()}});
            }
        }
    };
    for (const std::uint8_t what : tick.order) {
        take(what);
    }
    while (left < tick.leavers.size()) {
        take(0);
    }
    while (entered < tick.entrants.size()) {
        take(1);
    }
    while (tuned < tick.tuning.size()) {
        take(2);
    }
    std::vector<BodyUpdate> updates;
    for (const ReplayBodyUpdate& from : tick.body_updates) {
        updates.push_back(from.update);
        updates.back().poses = from.poses;
    }
    skirmish.advance(tick.intents, updates, tick.actions);
    if (skirmish.companion() != nullptr && !tick.companion.empty() &&
        !skirmish.companion()->restore(tick.companion)) {
        faults.push_back(
            {.where = "companion", .message = "the state of the game's own is none of this game"});
    }
    return faults;
}

std::vector<FieldDifference> differences(const std::vector<NamedField>& here,
                                         const std::vector<ReplayField>& recorded, std::size_t most) {
    std::unordered_map<std::uint32_t, std::uint64_t> values;
    for (const ReplayField& field : recorded) {
        values.emplace(field.name, field.bits);
    }
    std::vector<FieldDifference> found;
    for (const NamedField& field : here) {
        const auto same = values.find(replay_name(field.name));
        if (same != values.end() && same->second == bits_of(field)) {
            continue;
        }
        if (found.size() < most) {
            NamedField then = field;
            std::string text;
            if (same != values.end()) {
                if (std::holds_alternative<double>(field.value)) {
                    then.value = std::bit_cast<double>(same->second);
                } else {
                    then.value = static_cast<std::int64_t>(same->second);
                }
                text = value_text(then);
            }
            found.push_back({field.name, value_text(field), text});
        }
    }
    return found;
}

} // namespace avrek
