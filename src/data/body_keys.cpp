#include "key_making.h"

#include <algorithm>
#include <array>
#include <iterator>

namespace avrek::detail {

namespace {

constexpr KeyRange body_coordinates{-100.0, 100.0, false};
constexpr std::size_t max_regions = 64;
constexpr std::size_t max_shapes = 16;
void read_shapes(const toml::node& node, const std::string& where, const KeyRule& rule, RegionSpec& spec,
                 Faults& faults) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->empty() || list->size() > max_shapes) {
        refuse(node, where, rule, faults);
        return;
    }
    spec.shapes.clear();
    for (std::size_t index = 0; index < list->size(); ++index) {
        const toml::node& entry = *list->get(index);
        if (const toml::table* table = entry.as_table()) {
            const std::string place = where + '[' + std::to_string(index) + ']';
            check_key_names(*table, place, shape_rules(), faults);
            if (const std::optional<Shape> shape = read_shape(*table, place, shape_rules(), faults)) {
                spec.shapes.push_back(*shape);
            }
        } else {
            refuse(entry, where, rule, faults);
        }
    }
}

std::string joints_allowed(const RigSpec& rig) {
    std::string names;
    for (const JointSpec& joint : rig.joints) {
        names += (names.empty() ? "" : ", ") + joint.name;
    }
    return names.empty() ? "the name of a joint; the body has none" : names;
}

void read_joint(const toml::node& node, const std::string& name, const std::string& where, BodySpec& body,
                Faults& faults) {
    const toml::table* table = node.as_table();
    if (table == nullptr || !is_id(name)) {
        refuse_named(node, name, where, "is not a name for a joint", "a table with the keys at and turn",
                     faults);
        return;
    }
    std::optional<std::uint32_t> known = find_joint(body.rig, name);
    if (!known) {
        body.rig.joints.push_back({name, {}});
        known = static_cast<std::uint32_t>(body.rig.joints.size());
    }
    std::set<std::string> seen;
    read_keys(*table, where, joint_keys(), body.rig.joints[*known - 1], seen, faults);
}

void read_region(const toml::node& node, const std::string& name, const std::string& where, BodySpec& body,
                 Faults& faults) {
    const toml::table* table = node.as_table();
    if (table == nullptr || !is_id(name)) {
        refuse_named(node, name, where, "is not a name for a region", "a table with the key shapes", faults);
        return;
    }
    auto& regions = body.rig.regions;
    std::optional<RegionId> known = find_region(body.rig, name);
    if (!known) {
        known = static_cast<RegionId>(regions.size());
        regions.push_back({name, {}});
    }
    std::set<std::string> seen;
    read_keys(*table, where, region_keys(), regions[static_cast<std::size_t>(*known)], seen, faults);
    if (const toml::node* joint = table->get("joint")) {
        const auto* text = joint->as_string();
        const std::optional<std::uint32_t> found =
            text != nullptr ? find_joint(body.rig, text->get()) : std::nullopt;
        if (found) {
            regions[static_cast<std::size_t>(*known)].joint = *found;
        } else {
            faults.add(joint->source(), {where + ".joint",
                                         "is " + describe(*joint) + ", which is no joint",
                                         joints_allowed(body.rig),
                                         {}});
        }
    }
    if (!seen.contains("shapes") && regions[static_cast<std::size_t>(*known)].shapes.empty()) {
        faults.add(table->source(), {where, "has no shapes", "shapes = [...]", {}});
    }
}

void read_defence_layer(const toml::node& node, const std::string& name, const std::string& where,
                        BodySpec& body, Faults& faults) {
    const toml::table* table = node.as_table();
    if (table == nullptr || !is_id(name)) {
        refuse_named(node, name, where, "is not a name for a defence layer",
                     "a table with the keys of body.defence", faults);
        return;
    }
    auto known = std::find_if(body.defence.begin(), body.defence.end(),
                              [&](const DefenceLayerSpec& layer) { return layer.name == name; });
    if (known == body.defence.end()) {
        if (body.defence.size() == max_defence_layers) {
            faults.add(node.source(), {where, "is one defence layer too many", "at most 4", {}});
            return;
        }
        known = body.defence.insert(known, {.name = name});
    }
    std::set<std::string> seen;
    const double max_before = known->max;
    read_keys(*table, where, defence_layer_keys(), *known, seen, faults);
    if (!seen.contains("max") && max_before <= 0.0) {
        faults.add(table->source(), {where + ".max", "is missing", "over 0 to 1000000 points", {}});
    }
}

} // namespace

const std::vector<Key<BodySpec>>& body_keys() {
    const KeyRule health = rule("body", "health", KeyType::number, {0.0, 1e6, true}, "health", "100",
                                "Health at the start, and its maximum.");
    static const std::vector<Key<BodySpec>> keys = [&] {
        Rows<BodySpec> rows{"body"};
        rows.rows = {
            {rule("body", "like", KeyType::entry_id, {}, "", "none",
                  "Another body, whose values hold for every key that is not given here."),
             [](const toml::node&, const std::string&, BodySpec&, Faults&) {}}, // the loader has followed it
            {health,
             [=](const toml::node& node, const std::string& where, BodySpec& body, Faults& faults) {
                 body.health = read_number(node, where, health, faults).value_or(body.health);
             }},
            named_tables<BodySpec>(rule("body", "joint", KeyType::table, {}, "", "none",
                                        "Parts that move by themselves: one table each, under its name."),
                                   max_joints, read_joint),
            named_tables<BodySpec>(rule("body", "region", KeyType::table, {}, "", "",
                                        "Hit regions: one table each, under its name."),
                                   max_regions, read_region),
            named_tables<BodySpec>(rule("body", "defence", KeyType::table, {}, "", "none",
                                        "Defence layers that take damage before the health: one table each, "
                                        "under its name, the outermost first; at most 4."),
                                   max_defence_layers, read_defence_layer),
        };
        rows.factors("resists", "damage", {0.0, 100.0, false}, "each 1",
                     "Share of the damage, or healing, of a type that counts; 0: none.",
                     [](BodySpec& body, const std::vector<std::pair<std::string, double>>& pairs) {
                         body.resists.clear();
                         for (const auto& [id, value] : pairs) {
                             body.resists.push_back({{id}, value});
                         }
                     });
        rows.others(
            "immune", "condition", "none", "Conditions that never take hold.",
            [](BodySpec& body, const std::vector<std::string>& ids) { body.immune = entry_names(ids); });
        for (const Group<BodySpec>& group : body_groups()) {
            rows.group(group);
        }
        return rows.rows;
    }();
    return keys;
}

const std::vector<Key<RegionSpec>>& region_keys() {
    const KeyRule shapes = rule("body.region", "shapes", KeyType::shapes, {}, "", "",
                                "Solids of the region, in the axes of its joint; the body's own: feet at the "
                                "origin, facing +Z, +Y up, +X to its left.");
    static const std::vector<Key<RegionSpec>> keys{
        {shapes, [=](const toml::node& node, const std::string& where, RegionSpec& region,
                     Faults& faults) { read_shapes(node, where, shapes, region, faults); }},
        {rule("body.region", "joint", KeyType::text, {}, "", "the body itself",
              "Joint that the region moves with."),
         [](const toml::node&, const std::string&, RegionSpec&, Faults&) {}}, // read with the body's joints
    };
    return keys;
}

const std::vector<Key<JointSpec>>& joint_keys() {
    static const std::vector<Key<JointSpec>> keys{
        key<JointSpec>(rule("body.joint", "at", KeyType::point, body_coordinates, "m", "[0, 0, 0]",
                            "Position in the body's axes, at rest."),
                       read_point, [](JointSpec& joint, const Vector3& at) { joint.rest.position = at; }),
        key<JointSpec>(rule("body.joint", "turn", KeyType::turn, {-360.0, 360.0, false}, "degrees", "[0, 0]",
                            "Yaw and pitch at rest."),
                       read_pair,
                       [](JointSpec& joint, const CurvePoint& turn) {
                           joint.rest.rotation = turned_to({from_degrees(turn.x), from_degrees(turn.y)});
                       }),
    };
    return keys;
}

} // namespace avrek::detail
