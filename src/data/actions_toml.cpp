#include "action_keys.h"
#include <avrek/data/actions_toml.h>
#include <avrek/data/arsenal_toml.h>

#include <algorithm>
#include <array>
#include <utility>

namespace avrek {

namespace {

using detail::ActionKeys;
using detail::Faults;

constexpr const char* actions_allowed = "a list of tables [[action]]";

// The names of the kinds in a file, in order of ActionKind.
constexpr auto kinds = std::to_array<std::string_view>(
    {"hit", "heal", "blast", "push", "condition", "ragdoll", "stand-up", "lives", "score", "hazard",
     "end-hazard", "pickup", "remove-pickup", "place", "team", "enter", "leave", "rules"});
static_assert(kinds.size() == std::variant_size_v<ActionKind>);

std::string kinds_allowed() {
    std::string text = "one of ";
    for (const std::string_view kind : kinds) {
        text += (kind == kinds.front() ? "" : ", ") + std::string{kind};
    }
    return text;
}

// An action of the kind with this index, with its defaults.
template <std::size_t... Index>
ActionKind made(std::size_t kind, std::index_sequence<Index...>) {
    ActionKind what;
    ((kind == Index ? void(what.emplace<Index>()) : void()), ...);
    return what;
}

class ActionReading {
  public:
    ActionReading(const Arsenal& arsenal, Faults& faults) : arsenal_(arsenal), faults_(faults) {
        detail::know_ids(arsenal, faults);
    }

    std::optional<GameAction> read(const toml::node& node, std::size_t index) {
        const std::string where = "action[" + std::to_string(index) + ']';
        const toml::table* table = node.as_table();
        if (table == nullptr) {
            faults_.add(node.source(), {where, "is " + detail::describe(node), actions_allowed, {}});
            return std::nullopt;
        }
        const std::size_t before = faults_.count();
        std::set<std::string> seen;
        detail::KeyReading reading{*table, "action", where, seen, faults_};
        GameAction action;
        Duration at{};
        auto tag = static_cast<std::int32_t>(0);
        reading("at", at, {.unit = "s", .range = {0.0, 86400.0}}, "Time.");
        reading("tag", tag, {.range = {0.0, 1e9}}, "Number of the game's own.");
        detail::read_body(reading, "by", action.by, "Combatant that does it.");
        for (const std::string_view kind : kinds) {
            reading.allow(std::string{kind}.c_str());
        }
        reading.report_unknown();
        action.at = Time{at};
        action.tag = static_cast<std::uint32_t>(tag);
        if (!seen.contains("at")) {
            faults_.add(table->source(), {where + ".at", "is missing", "0 to 86400 s", {}});
        }
        read_kind(*table, where, seen, action);
        const Outcome valid = validate(arsenal_, action);
        if (faults_.count() == before && !valid) {
            faults_.add(table->source(), {where, std::string{valid.why()}, "values in their ranges", {}});
        }
        return faults_.count() == before ? std::optional{action} : std::nullopt;
    }

  private:
    void read_kind(const toml::table& table, const std::string& where, const std::set<std::string>& seen,
                   GameAction& action) {
        std::vector<std::size_t> found;
        for (std::size_t kind = 0; kind < kinds.size(); ++kind) {
            if (seen.contains(std::string{kinds[kind]})) {
                found.push_back(kind);
            }
        }
        if (found.size() != 1) {
            faults_.add(
                table.source(),
                {where, found.empty() ? "does nothing" : "does two things at once", kinds_allowed(), {}});
            return;
        }
        const std::string name{kinds[found.front()]};
        const toml::table* values = table[name].as_table();
        if (values == nullptr) {
            faults_.add(table.get(name)->source(), {where + '.' + name,
                                                    "is " + detail::describe(*table.get(name)),
                                                    "a table, such as { who = 1 }",
                                                    {}});
            return;
        }
        action.what = made(found.front(), std::make_index_sequence<kinds.size()>{});
        std::set<std::string> its;
        detail::KeyReading reading{*values, "action." + name, where + '.' + name, its, faults_};
        reading.needs_all();
        std::visit(ActionKeys{reading, arsenal_}, action.what);
        reading.report_unknown();
    }

    const Arsenal& arsenal_;
    Faults& faults_;
};

} // namespace

Loaded<std::vector<GameAction>> parse_actions(std::string_view text, std::string_view name,
                                              const Arsenal& arsenal) {
    Faults faults;
    std::vector<GameAction> actions;
    ActionReading reading{arsenal, faults};
    const toml::table root = detail::parse_toml(text, name, faults);
    std::size_t index = 0;
    for (const toml::node* node : detail::nodes_of(root, {"action", max_scripted_actions}, name, faults)) {
        if (auto action = reading.read(*node, index++)) {
            actions.push_back(std::move(*action));
        }
    }
    std::stable_sort(actions.begin(), actions.end(),
                     [](const GameAction& one, const GameAction& other) { return one.at < other.at; });
    Loaded<std::vector<GameAction>> loaded;
    if (!faults.has_errors()) {
        loaded.value = std::move(actions);
    }
    loaded.diagnostics = faults.take();
    return loaded;
}

Loaded<std::vector<GameAction>> load_actions(const std::string& file, const Arsenal& arsenal) {
    Loaded<ArsenalText> text = read_arsenal_text(file);
    if (!text) {
        return {std::nullopt, std::move(text.diagnostics)};
    }
    return parse_actions(text->text, text->name, arsenal);
}

} // namespace avrek
