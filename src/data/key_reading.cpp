#include "key_reading.h"

#include <variant>

namespace avrek::detail {

namespace {

constexpr std::size_t max_shapes = 16;

template <class Set, class Enum>
void read_set(const KeySource& from, Set& member) {
    if (const auto words = read_words(from.node, from.where, from.rule, from.faults)) {
        member = {};
        for (const std::size_t word : *words) {
            member.add(static_cast<Enum>(word));
        }
    }
}

// Pairs of angles, or of shares.
template <class Point>
void read_points(const KeySource& from, std::vector<Point>& member) {
    if (const auto pairs = read_pairs(from.node, from.where, from.rule, from.faults)) {
        member.clear();
        for (const CurvePoint& pair : *pairs) {
            member.push_back({pair.x * scale_of(from.row), pair.y * scale_of(from.row)});
        }
    }
}

std::string joints_allowed(const std::vector<JointSpec>& joints) {
    std::string names;
    for (const JointSpec& joint : joints) {
        names += (names.empty() ? "" : ", ") + joint.name;
    }
    return names.empty() ? "the name of a joint; the body has none" : names;
}

} // namespace

void read_into(const KeySource& from, double& member) {
    if (const auto value = read_number(from.node, from.where, from.rule, from.faults)) {
        member = *value * scale_of(from.row);
    }
}

void read_into(const KeySource& from, Duration& member) {
    if (const auto value = read_number(from.node, from.where, from.rule, from.faults)) {
        member = from_seconds(*value);
    }
}

void read_into(const KeySource& from, std::optional<double>& member) {
    if (const auto value = read_number(from.node, from.where, from.rule, from.faults)) {
        member = *value * scale_of(from.row);
    }
}

void read_into(const KeySource& from, std::optional<Duration>& member) {
    if (const auto value = read_number(from.node, from.where, from.rule, from.faults)) {
        member = from_seconds(*value);
    }
}

void read_into(const KeySource& from, std::int32_t& member) {
    member = read_integer(from.node, from.where, from.rule, from.faults).value_or(member);
}

void read_into(const KeySource& from, bool& member) {
    if (from.rule.type == KeyType::word) {
        const auto word = read_word(from.node, from.where, from.rule, from.faults);
        member = word ? *word == 1 : member;
    } else {
        member = read_flag(from.node, from.where, from.rule, from.faults).value_or(member);
    }
}

void read_into(const KeySource& from, std::string& member) {
    const auto read = from.rule.type == KeyType::other_id ? read_other : read_name;
    member = read(from.node, from.where, from.rule, from.faults).value_or(member);
}

void read_into(const KeySource& from, std::vector<DamageTypeFactor>& member) {
    if (const auto factors = read_factors(from.node, from.where, from.rule, from.faults)) {
        member.clear();
        for (const auto& [id, value] : *factors) {
            member.push_back({{id}, value});
        }
    }
}

void read_into(const KeySource& from, std::vector<RegionMultiplier>& member) {
    read_multipliers(from.node, from.where, from.rule, member, from.faults);
}

void read_into(const KeySource& from, Curve& member) {
    if (auto curve = read_curve(from.node, from.where, from.rule, from.faults)) {
        for (CurvePoint& point : curve->points) {
            point = {point.x * scale_of(from.row), point.y * scale_of(from.row)};
        }
        member = std::move(*curve);
    }
}

void read_into(const KeySource& from, std::vector<Look>& member) {
    read_points(from, member);
}

void read_into(const KeySource& from, std::vector<PatternPoint>& member) {
    read_points(from, member);
}

void read_into(const KeySource& from, Look& member) {
    if (const auto pair = read_pair(from.node, from.where, from.rule, from.faults)) {
        member = {pair->x * scale_of(from.row), pair->y * scale_of(from.row)};
    }
}

void read_into(const KeySource& from, Rotation& member) {
    if (const auto pair = read_pair(from.node, from.where, from.rule, from.faults)) {
        member = turned_to({pair->x * scale_of(from.row), pair->y * scale_of(from.row)});
    }
}

void read_into(const KeySource& from, Vector3& member) {
    member = read_point(from.node, from.where, from.rule, from.faults).value_or(member);
}

void read_into(const KeySource& from, Volume& member) {
    const toml::table* table = from.node.as_table();
    if (table == nullptr) {
        refuse(from.node, from.where, from.rule, from.faults);
    } else if (const auto volume = read_volume(*table, from.where, from.faults)) {
        member = *volume;
    }
}

// A joint by its name; none and a fault if there is no such joint.
std::optional<std::uint32_t> read_joint(const toml::node& node, const std::string& where,
                                        const std::vector<JointSpec>& joints, Faults& faults) {
    const auto* text = node.as_string();
    for (std::size_t index = 0; text != nullptr && index < joints.size(); ++index) {
        if (joints[index].name == text->get()) {
            return static_cast<std::uint32_t>(index + 1);
        }
    }
    faults.add(node.source(),
               {where, "is " + describe(node) + ", which is no joint", joints_allowed(joints), {}});
    return std::nullopt;
}

void read_into(const KeySource& from, const RegionShapes& member) {
    const toml::array* list = from.node.as_array();
    if (list == nullptr || list->empty() || list->size() > max_shapes) {
        refuse(from.node, from.where, from.rule, from.faults);
        return;
    }
    member.shapes.clear();
    member.joints.clear();
    std::vector<std::optional<std::uint32_t>> joints;
    for (std::size_t index = 0; index < list->size(); ++index) {
        const toml::node& entry = *list->get(index);
        if (const toml::table* table = entry.as_table()) {
            const std::string place = from.where + '[' + std::to_string(index) + ']';
            check_key_names(*table, place, shape_rules(), from.faults);
            if (const std::optional<Shape> shape = read_shape(*table, place, solid_rules(), from.faults)) {
                member.shapes.push_back(*shape);
                const toml::node* joint = table->get("joint");
                joints.push_back(joint != nullptr
                                     ? read_joint(*joint, place + ".joint", member.rig_joints, from.faults)
                                     : std::nullopt);
            }
        } else {
            refuse(entry, from.where, from.rule, from.faults);
        }
    }
    // Shapes without a joint of their own keep that of the region, which is read after them.
    if (std::any_of(joints.begin(), joints.end(), [](const auto& joint) { return joint.has_value(); })) {
        for (const std::optional<std::uint32_t>& joint : joints) {
            member.joints.push_back(joint.value_or(RegionSpec::region_joint));
        }
    }
}

void read_into(const KeySource& from, const JointName& member) {
    member.joint = read_joint(from.node, from.where, member.joints, from.faults).value_or(member.joint);
}

void read_into(const KeySource& from, ActSet& member) {
    read_set<ActSet, Act>(from, member);
}

void read_into(const KeySource& from, CollisionLayers& member) {
    read_set<CollisionLayers, CollisionLayer>(from, member);
}

void read_into(const KeySource& from, Interruptions& member) {
    if (const auto words = read_words(from.node, from.where, from.rule, from.faults)) {
        member = {};
        bool* const members[] = {&member.trigger, &member.swap, &member.sprint, &member.strike, &member.stun};
        for (const std::size_t word : *words) {
            *members[word] = true;
        }
    }
}

bool KeyReading::is_entry(const Named& named, const std::string& where, const KeyTables& rule,
                          bool fits) const {
    const std::string allowed = "a table with the keys of " + section_ + '.' + named.key;
    if (!named.node.is_table() || !is_id(named.name)) {
        const bool is_named = is_id(named.name);
        faults_.add(named.node.source(), {where,
                                          is_named ? "is " + describe(named.node)
                                                   : std::string{"is not a name for "} +
                                                         (rule.entry[0] == 'a' ? "an " : "a ") + rule.entry,
                                          is_named ? allowed : id_allowed,
                                          {}});
        return false;
    }
    if (!fits) {
        faults_.add(named.node.source(), {where,
                                          std::string{"is one "} + rule.entry + " too many",
                                          "at most " + std::to_string(rule.max),
                                          {}});
    }
    return fits;
}

std::vector<const toml::node*> nodes_of(const toml::table& root, const ListOfTables& list,
                                        std::string_view file, Faults& faults) {
    const std::string allowed = "a list of tables [[" + list.name + "]]";
    std::vector<const toml::node*> nodes;
    for (const auto& [key, node] : in_file_order(root)) {
        const toml::array* tables = node->as_array();
        if (key->str() != list.name || tables == nullptr) {
            faults.add(key->source(), {printable(key->str()), "does not belong here", allowed, {}});
        } else if (tables->size() > list.max) {
            faults.add(
                key->source(),
                {list.name, "has too many tables", "at most " + std::to_string(list.max) + " of them", {}});
        } else {
            for (const toml::node& table : *tables) {
                nodes.push_back(&table);
            }
        }
    }
    if (nodes.empty() && !faults.has_errors()) {
        faults.add(file, {1, 1}, {{}, "there is no " + list.name + " in this file", allowed, {}});
    }
    return nodes;
}

} // namespace avrek::detail
