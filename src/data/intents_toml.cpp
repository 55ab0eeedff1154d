#include "key_reading.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/intents_toml.h>

namespace avrek::detail {

static void visit_keys(KeyReading& key, WeaponIntent& intent) {
    Duration at = intent.at.time_since_epoch();
    key("at", at, {.unit = "s", .range = {0.0, 86400.0}}, "Start of its span.");
    intent.at = Time{at};
    key("trigger", intent.trigger, {}, "The trigger is down.");
    key("reload", intent.reload, {}, "The reload button is down.");
    key("aim", intent.aim, {}, "The aim button is down.");
    key("next_mode", intent.next_mode, {}, "The button for the next mode is down.");
    key("in_hand", intent.in_hand, {}, "The weapon is in hand.");
    key("sprint", intent.sprint, {}, "The shooter sprints.");
    key("strike", intent.strike, {}, "The shooter strikes.");
    key("stunned", intent.stunned, {}, "The shooter is stunned.");
    key("crouching", intent.crouching, {}, "The shooter crouches.");
    key("airborne", intent.airborne, {}, "The shooter is off the ground.");
    key("speed", intent.speed, {.unit = "m/s", .range = {0.0, 1000.0}}, "Speed of the shooter.");
}

} // namespace avrek::detail

namespace avrek {

namespace {

using detail::Faults;

constexpr const char* intents_allowed = "a list of tables [[intent]]";

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
    detail::KeyReading reading{*table, "intent", where, seen, faults};
    visit_keys(reading, intent);
    reading.report_unknown();
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
    std::size_t index = 0;
    for (const toml::node* node : detail::nodes_of(root, {"intent", max_intents}, name, faults)) {
        read_intent(*node, index++, before, intents, faults);
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
