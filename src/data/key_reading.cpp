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

void read_into(const KeySource& from, std::vector<Shape>& member) {
    const toml::array* list = from.node.as_array();
    if (list == nullptr || list->empty() || list->size() > max_shapes) {
        refuse(from.node, from.where, from.rule, from.faults);
        return;
    }
    member.clear();
    for (std::size_t index = 0; index < list->size(); ++index) {
        const toml::node& entry = *list->get(index);
        if (const toml::table* table = entry.as_table()) {
            const std::string place = from.where + '[' + std::to_string(index) + ']';
            check_key_names(*table, place, shape_rules(), from.faults);
            if (const std::optional<Shape> shape = read_shape(*table, place, shape_rules(), from.faults)) {
                member.push_back(*shape);
            }
        } else {
            refuse(entry, from.where, from.rule, from.faults);
        }
    }
}

void read_into(const KeySource& from, const JointName& member) {
    const auto* text = from.node.as_string();
    for (std::size_t index = 0; text != nullptr && index < member.joints.size(); ++index) {
        if (member.joints[index].name == text->get()) {
            member.joint = static_cast<std::uint32_t>(index + 1);
            return;
        }
    }
    from.faults.add(
        from.node.source(),
        {from.where, "is " + describe(from.node) + ", which is no joint", joints_allowed(member.joints), {}});
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

} // namespace avrek::detail
