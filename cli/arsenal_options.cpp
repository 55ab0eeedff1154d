#include "arsenal_options.h"

#include "command_line.h"
#include "session_options.h"
#include "shipped_arsenal.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <iterator>

namespace avrek::cli {

namespace {

bool is_file(const std::string& word) {
    return word.ends_with(".toml") || is_session(word);
}

WrongCall wrong_arsenal(const std::vector<Diagnostic>& diagnostics) {
    WrongCall call;
    for (const Diagnostic& diagnostic : diagnostics) {
        call.lines.push_back(to_string(diagnostic));
    }
    return call;
}

} // namespace

std::vector<std::string> files_among(const std::vector<std::string>& words) {
    std::vector<std::string> files;
    std::copy_if(words.begin(), words.end(), std::back_inserter(files), is_file);
    return files;
}

std::vector<std::string> ids_among(const std::vector<std::string>& words) {
    std::vector<std::string> ids;
    std::remove_copy_if(words.begin(), words.end(), std::back_inserter(ids), is_file);
    return ids;
}

std::vector<ArsenalText> arsenal_texts(const std::vector<std::string>& files) {
    if (files.empty()) {
        return {{"halm-ring.toml", shipped_arsenal_text}};
    }
    std::vector<ArsenalText> texts;
    add_texts(texts, files);
    return texts;
}

void add_texts(std::vector<ArsenalText>& texts, const std::vector<std::string>& files) {
    std::vector<Diagnostic> faults;
    for (const std::string& file : files) {
        if (is_session(file)) {
            texts = session_texts(file);
            continue;
        }
        Loaded<ArsenalText> text = read_arsenal_text(file);
        if (text) {
            texts.push_back(std::move(*text.value));
        }
        std::move(text.diagnostics.begin(), text.diagnostics.end(), std::back_inserter(faults));
    }
    if (!faults.empty()) {
        throw wrong_arsenal(faults);
    }
}

Arsenal arsenal_of(const std::vector<std::string>& files) {
    Loaded<Arsenal> arsenal = parse_arsenal(arsenal_texts(files));
    if (!arsenal) {
        throw wrong_arsenal(arsenal.diagnostics);
    }
    for (const Diagnostic& warning : arsenal.diagnostics) {
        fmt::print(stderr, "{}\n", to_string(warning));
    }
    return std::move(*arsenal);
}

std::vector<const WeaponSpec*> weapons_of(const Arsenal& arsenal, const std::vector<std::string>& ids) {
    std::vector<const WeaponSpec*> weapons;
    for (const std::string& id : ids) {
        weapons.push_back(find(arsenal.weapons, id));
        if (weapons.back() == nullptr) {
            throw unknown_name("weapon", id, ids_of(arsenal.weapons));
        }
    }
    if (ids.empty()) {
        for (const WeaponSpec& weapon : arsenal.weapons) {
            weapons.push_back(&weapon);
        }
    }
    if (weapons.empty()) {
        throw WrongCall{{"error: the arsenal has no weapon"}};
    }
    return weapons;
}

const WeaponSpec& one_weapon_of(const Arsenal& arsenal, const std::vector<std::string>& ids) {
    if (ids.size() > 1) {
        throw WrongCall{{fmt::format("error: one weapon at a time, not {}", ids.size())}};
    }
    return *weapons_of(arsenal, ids).front();
}

Fired fired_of(const Arsenal& arsenal, const std::vector<std::string>& ids) {
    if (ids.size() == 1) {
        if (const MeleeSpec* melee = find(arsenal.melee, ids.front())) {
            return {nullptr, melee};
        }
        if (find(arsenal.weapons, ids.front()) == nullptr) {
            std::vector<std::string> names = ids_of(arsenal.weapons);
            const std::vector<std::string> blades = ids_of(arsenal.melee);
            names.insert(names.end(), blades.begin(), blades.end());
            throw unknown_name("weapon", ids.front(), names);
        }
    }
    if (ids.empty() && arsenal.weapons.empty() && !arsenal.melee.empty()) {
        return {nullptr, &arsenal.melee.front()};
    }
    return {&one_weapon_of(arsenal, ids), nullptr};
}

std::size_t attack_named(const MeleeSpec& melee, const std::string& name) {
    if (name.empty()) {
        return 0;
    }
    if (const std::optional<std::size_t> attack = find_attack(melee, name)) {
        return *attack;
    }
    std::vector<std::string> names;
    for (const MeleeAttackSpec& attack : melee.attacks) {
        names.push_back(attack.name);
    }
    throw unknown_name("attack", name, names);
}

const BodySpec& body_of(const Arsenal& arsenal, const std::string& id) {
    if (id.empty() && !arsenal.bodies.empty()) {
        return arsenal.bodies.front();
    }
    const BodySpec* body = find(arsenal.bodies, id);
    if (body == nullptr) {
        throw unknown_name("body", id, ids_of(arsenal.bodies));
    }
    return *body;
}

RegionId region_named(const BodySpec& body, const std::string& name) {
    const std::optional<RegionId> region = find_region(body.rig, name);
    if (!region) {
        std::vector<std::string> names;
        for (const RegionSpec& known : body.rig.regions) {
            names.push_back(known.name);
        }
        throw unknown_name("region", name, names);
    }
    return *region;
}

} // namespace avrek::cli
