#include "level_plan_keys.h"

#include "keys.h"
#include "toml_file.h"
#include "values.h"
#include <avrek/core/units.h>
#include <avrek/data/nearest_name.h>

namespace avrek::detail {

namespace {

constexpr std::size_t max_planned = 10'000; // per kind
constexpr KeyRange level_range{-1e5, 1e5, false};

const KeyRule& at_rule() {
    static const KeyRule at = rule("spawn", "at", KeyType::point, level_range, "m", "", "Where it is.");
    return at;
}

const KeyRule& yaw_rule() {
    static const KeyRule yaw = rule("spawn", "yaw", KeyType::number, {-360.0, 360.0, false}, "degrees", "0",
                                    "Where it looks: 0 along +Z, positive to the left.");
    return yaw;
}

// The id of the entry of `specs` that `table` names under `key`.
template <class Id, class Spec>
std::optional<Id> read_entry(const toml::table& table, const std::string& key, const std::string& where,
                             const std::vector<Spec>& specs, Faults& faults) {
    const toml::node* node = table.get(key);
    const auto* text = node != nullptr ? node->as_string() : nullptr;
    std::vector<std::string> known;
    for (std::size_t index = 0; index < specs.size(); ++index) {
        if (text != nullptr && specs[index].id == text->get()) {
            return static_cast<Id>(index);
        }
        known.push_back(specs[index].id);
    }
    faults.add(node != nullptr ? node->source() : table.source(),
               {where + '.' + key,
                node != nullptr ? "names no " + key + ": " + describe(*node) : std::string{"is missing"},
                "the id of one, defined as [" + key + ".ID] in the arsenal",
                text != nullptr ? nearest_name(text->get(), known) : std::string{}});
    return std::nullopt;
}

std::optional<Vector3> read_at(const toml::table& table, const std::string& where, Faults& faults) {
    const toml::node* node = table.get("at");
    if (node == nullptr) {
        faults.add(table.source(), {where + ".at", "is missing", allowed_text(at_rule()), {}});
        return std::nullopt;
    }
    return read_point(*node, where + ".at", at_rule(), faults);
}

Radians read_yaw(const toml::table& table, const std::string& where, Faults& faults) {
    const toml::node* node = table.get("yaw");
    return node != nullptr
               ? from_degrees(read_number(*node, where + ".yaw", yaw_rule(), faults).value_or(0.0))
               : 0.0;
}

void read_spawn(const toml::table& table, const std::string& where, LevelPlan& plan, Faults& faults) {
    const KeyRule team =
        rule("spawn", "team", KeyType::integer, {0.0, 31.0, false}, "", "everybody's", "Whose it is.");
    check_key_names(table, where, {at_rule(), yaw_rule(), team}, faults);
    SpawnPoint spawn;
    spawn.yaw = read_yaw(table, where, faults);
    if (const toml::node* node = table.get("team")) {
        if (const auto number = read_integer(*node, where + ".team", team, faults)) {
            spawn.team = static_cast<TeamId>(*number);
        }
    }
    if (const auto at = read_at(table, where, faults)) {
        spawn.position = *at;
        plan.spawns.push_back(spawn);
    }
}

void read_hazard(const toml::table& table, const std::string& where, const Arsenal& arsenal, LevelPlan& plan,
                 Faults& faults) {
    const KeyRule id = rule("hazard", "hazard", KeyType::text, {}, "", "", "A hazard of the arsenal.");
    check_key_names(table, where, {at_rule(), yaw_rule(), id}, faults);
    const auto spec = read_entry<HazardId>(table, "hazard", where, arsenal.hazards, faults);
    const Radians yaw = read_yaw(table, where, faults);
    if (const auto at = read_at(table, where, faults); at && spec) {
        plan.hazards.push_back({*spec, {*at, turned_to({yaw, 0.0})}});
    }
}

void read_pickup(const toml::table& table, const std::string& where, const Arsenal& arsenal, LevelPlan& plan,
                 Faults& faults) {
    const KeyRule id = rule("pickup", "pickup", KeyType::text, {}, "", "", "A pickup of the arsenal.");
    check_key_names(table, where, {at_rule(), id}, faults);
    const auto spec = read_entry<PickupId>(table, "pickup", where, arsenal.pickups, faults);
    if (const auto at = read_at(table, where, faults); at && spec) {
        plan.pickups.push_back({*spec, *at});
    }
}

// Calls `read(table, where)` for each table of a list [[key]].
template <class Read>
void read_tables(const std::string& key, const toml::node& node, Faults& faults, const Read& read) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->size() > max_planned) {
        faults.add(node.source(), {key, "is " + describe(node), "up to 10000 tables [[" + key + "]]", {}});
        return;
    }
    for (std::size_t index = 0; index < list->size(); ++index) {
        const std::string where = key + '[' + std::to_string(index) + ']';
        if (const toml::table* table = list->get(index)->as_table()) {
            read(*table, where);
        } else {
            faults.add(list->get(index)->source(),
                       {where, "is " + describe(*list->get(index)), "a table [[" + key + "]]", {}});
        }
    }
}

void read_points(const toml::node& node, LevelPlan& plan, Faults& faults) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->size() > max_planned) {
        faults.add(node.source(), {"points", "is " + describe(node), "a list of up to 10000 [x, y, z]", {}});
        return;
    }
    for (std::size_t index = 0; index < list->size(); ++index) {
        const std::string where = "points[" + std::to_string(index) + ']';
        if (const auto at = read_point(*list->get(index), where, at_rule(), faults)) {
            plan.points.push_back(*at);
        }
    }
}

} // namespace

bool read_plan(const std::string& key, const toml::node& node, const Arsenal& arsenal, LevelPlan& plan,
               Faults& faults) {
    if (key == "points") {
        read_points(node, plan, faults);
    } else if (key == "spawn") {
        read_tables(key, node, faults, [&](const toml::table& table, const std::string& where) {
            read_spawn(table, where, plan, faults);
        });
    } else if (key == "hazard") {
        read_tables(key, node, faults, [&](const toml::table& table, const std::string& where) {
            read_hazard(table, where, arsenal, plan, faults);
        });
    } else if (key == "pickup") {
        read_tables(key, node, faults, [&](const toml::table& table, const std::string& where) {
            read_pickup(table, where, arsenal, plan, faults);
        });
    } else {
        return false;
    }
    return true;
}

} // namespace avrek::detail
