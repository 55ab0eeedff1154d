#include "key_making.h"
#include "toml_file.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/intents_toml.h>

namespace avrek {

namespace {

using detail::Faults;
using detail::rule;

constexpr const char* intents_allowed = "a list of tables [[intent]]";

detail::Key<WeaponIntent> button(const char* name, const char* meaning, void (*set)(WeaponIntent&, bool)) {
    return detail::key<WeaponIntent>(rule("intent", name, KeyType::flag, {}, "", "as before", meaning),
                                     detail::read_flag, set);
}

const std::vector<detail::Key<WeaponIntent>>& intent_keys() {
    static const std::vector<detail::Key<WeaponIntent>> keys{
        detail::key<WeaponIntent>(
            rule("intent", "at", KeyType::number, {0.0, 86400.0, false}, "s", "", "When it holds from."),
            detail::read_number,
            [](WeaponIntent& intent, double value) { intent.at = Time{from_seconds(value)}; }),
        button("trigger", "The trigger is down.", [](WeaponIntent& intent, bool on) { intent.trigger = on; }),
        button("reload", "So is the reload button.",
               [](WeaponIntent& intent, bool on) { intent.reload = on; }),
        button("aim", "So is the aim button.", [](WeaponIntent& intent, bool on) { intent.aim = on; }),
        button("next_mode", "So is the button for the next mode.",
               [](WeaponIntent& intent, bool on) { intent.next_mode = on; }),
        button("in_hand", "The weapon is in hand.",
               [](WeaponIntent& intent, bool on) { intent.in_hand = on; }),
        button("sprint", "The shooter sprints.", [](WeaponIntent& intent, bool on) { intent.sprint = on; }),
        button("strike", "The shooter strikes.", [](WeaponIntent& intent, bool on) { intent.strike = on; }),
        button("stunned", "The shooter is stunned.",
               [](WeaponIntent& intent, bool on) { intent.stunned = on; }),
        button("crouching", "The shooter crouches.",
               [](WeaponIntent& intent, bool on) { intent.crouching = on; }),
        button("airborne", "The shooter is off the ground.",
               [](WeaponIntent& intent, bool on) { intent.airborne = on; }),
        detail::key<WeaponIntent>(
            rule("intent", "speed", KeyType::number, {0.0, 1000.0, false}, "m/s", "as before", "The speed."),
            detail::read_number, [](WeaponIntent& intent, double value) { intent.speed = value; }),
    };
    return keys;
}

void read_intent(const toml::node& node, std::size_t index, const WeaponIntent& before,
                 std::vector<WeaponIntent>& intents, Faults& faults) {
    const std::string where = "intent[" + std::to_string(index) + ']';
    const toml::table* table = node.as_table();
    if (table == nullptr) {
        faults.add(node.source(), {where, "is " + detail::describe(node), intents_allowed, {}});
        return;
    }
    WeaponIntent intent = intents.empty() ? before : intents.back();
    std::set<std::string> seen;
    read_keys(*table, where, intent_keys(), intent, seen, faults);
    if (!seen.contains("at")) {
        faults.add(table->source(), {where + ".at", "is missing", "0 to 86400 s", {}});
    } else if (!intents.empty() && intent.at < intents.back().at) {
        faults.add(table->get("at")->source(),
                   {where + ".at", "is before that of the intent above", "times in order", {}});
    } else {
        intents.push_back(intent);
    }
}

} // namespace

Loaded<std::vector<WeaponIntent>> parse_intents(std::string_view text, std::string_view name,
                                                const WeaponIntent& before) {
    Faults faults;
    std::vector<WeaponIntent> intents;
    const toml::table root = detail::parse_toml(text, name, faults);
    for (const auto& [key, node] : detail::in_file_order(root)) {
        const toml::array* list = node->as_array();
        if (key->str() != "intent" || list == nullptr) {
            faults.add(key->source(),
                       {detail::printable(key->str()), "does not belong here", intents_allowed, {}});
            continue;
        }
        for (std::size_t index = 0; index < list->size(); ++index) {
            read_intent(*list->get(index), index, before, intents, faults);
        }
    }
    if (intents.empty() && !faults.has_errors()) {
        faults.add(name, {1, 1}, {{}, "there is no intent in this file", intents_allowed, {}});
    }
    Loaded<std::vector<WeaponIntent>> loaded;
    if (!faults.has_errors()) {
        loaded.value = std::move(intents);
    }
    loaded.diagnostics = faults.take();
    return loaded;
}

Loaded<std::vector<WeaponIntent>> load_intents(const std::string& file, const WeaponIntent& before) {
    Loaded<ArsenalText> text = read_arsenal_text(file);
    if (!text) {
        return {std::nullopt, std::move(text.diagnostics)};
    }
    return parse_intents(text->text, text->name, before);
}

} // namespace avrek
