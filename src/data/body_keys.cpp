#include "key_making.h"
#include "toml_file.h"

#include <algorithm>
#include <array>
#include <iterator>

namespace avrek::data {

namespace {

constexpr KeyRange coordinates{-100.0, 100.0, false};
constexpr KeyRange lengths{0.0, 100.0, true};
constexpr std::size_t most_regions = 64;
constexpr std::size_t most_shapes = 16;
constexpr const char* shapes_allowed =
    "{ sphere, radius }, { capsule, radius } or { box, half, turn (may be left out) }";

const KeyRule& shape_rule(std::size_t index) {
    return shape_rules()[index];
}

// The rules by their place in shape_rules().
enum ShapeKey : std::size_t { sphere_key, capsule_key, box_key, radius_key, half_key, turn_key };

// The values of one table of a shape, each if it is there and allowed.
class ShapeTable {
  public:
    ShapeTable(const toml::table& table, const std::string& where, Faults& faults)
        : table_(table), where_(where), faults_(faults) {}

    bool has(ShapeKey key) const { return table_.get(shape_rule(key).name) != nullptr; }

    // Whether the table has the keys of one kind of shape and of no other; reports it otherwise.
    bool is_only(std::initializer_list<ShapeKey> needed, std::initializer_list<ShapeKey> optional) {
        const auto present = [this](ShapeKey key) { return has(key); };
        const auto found = std::count_if(needed.begin(), needed.end(), present);
        const auto extra = std::count_if(optional.begin(), optional.end(), present);
        const auto known =
            std::count_if(shape_rules().begin(), shape_rules().end(),
                          [this](const KeyRule& rule) { return table_.get(rule.name) != nullptr; });
        if (found == std::ssize(needed) && known == found + extra) {
            return true;
        }
        faults_.add(table_.source(), {where_, "has keys that do not make one shape", shapes_allowed, {}});
        return false;
    }

    std::optional<double> radius() {
        const KeyRule& rule = shape_rule(radius_key);
        return read_number(*table_.get(rule.name), where_ + ".radius", rule, faults_);
    }

    std::optional<Vector3> point(ShapeKey key) {
        const KeyRule& rule = shape_rule(key);
        return read_point(*table_.get(rule.name), where_ + '.' + rule.name, rule, faults_);
    }

    std::optional<std::array<Vector3, 2>> segment() {
        const KeyRule& rule = shape_rule(capsule_key);
        const toml::node& node = *table_.get(rule.name);
        const toml::array* ends = node.as_array();
        if (ends == nullptr || ends->size() != 2) {
            refuse(node, where_ + ".capsule", rule, faults_);
            return std::nullopt;
        }
        const auto from = read_point(*ends->get(0), where_ + ".capsule", rule, faults_);
        const auto to = read_point(*ends->get(1), where_ + ".capsule", rule, faults_);
        return from && to ? std::optional{std::array{*from, *to}} : std::nullopt;
    }

    std::optional<Look> turn() {
        const KeyRule& rule = shape_rule(turn_key);
        const toml::node* node = table_.get(rule.name);
        if (node == nullptr) {
            return Look{};
        }
        const auto angles = read_pair(*node, where_ + ".turn", rule, faults_);
        return angles ? std::optional{Look{from_degrees(angles->x), from_degrees(angles->y)}} : std::nullopt;
    }

  private:
    const toml::table& table_;
    const std::string& where_;
    Faults& faults_;
};

std::optional<Shape> read_shape(const toml::table& table, const std::string& where, Faults& faults) {
    check_key_names(table, where, shape_rules(), faults);
    ShapeTable values{table, where, faults};
    if (values.has(capsule_key)) {
        if (!values.is_only({capsule_key, radius_key}, {})) {
            return std::nullopt;
        }
        const auto ends = values.segment();
        const auto radius = values.radius();
        return ends && radius ? std::optional<Shape>{Capsule{(*ends)[0], (*ends)[1], *radius}} : std::nullopt;
    }
    if (values.has(box_key)) {
        if (!values.is_only({box_key, half_key}, {turn_key})) {
            return std::nullopt;
        }
        const auto centre = values.point(box_key);
        const auto half = values.point(half_key);
        const auto turn = values.turn();
        return centre && half && turn ? std::optional<Shape>{Box{{*centre, turned_to(*turn)}, *half}}
                                      : std::nullopt;
    }
    if (!values.is_only({sphere_key, radius_key}, {})) {
        return std::nullopt;
    }
    const auto centre = values.point(sphere_key);
    const auto radius = values.radius();
    return centre && radius ? std::optional<Shape>{Sphere{*centre, *radius}} : std::nullopt;
}

void read_shapes(const toml::node& node, const std::string& where, const KeyRule& rule, RegionSpec& spec,
                 Faults& faults) {
    const toml::array* list = node.as_array();
    if (list == nullptr || list->empty() || list->size() > most_shapes) {
        refuse(node, where, rule, faults);
        return;
    }
    spec.shapes.clear();
    for (std::size_t index = 0; index < list->size(); ++index) {
        const toml::node& entry = *list->get(index);
        if (const toml::table* table = entry.as_table()) {
            const std::string place = where + '[' + std::to_string(index) + ']';
            if (const std::optional<Shape> shape = read_shape(*table, place, faults)) {
                spec.shapes.push_back(*shape);
            }
        } else {
            refuse(entry, where, rule, faults);
        }
    }
}

void read_region(const toml::node& node, const std::string& name, const std::string& where, BodySpec& body,
                 Faults& faults) {
    const toml::table* table = node.as_table();
    if (table == nullptr || !is_id(name)) {
        const bool named = is_id(name);
        faults.add(node.source(), {where,
                                   named ? "is " + describe(node) : "is not a name for a region",
                                   named ? "a table with the key shapes" : id_allowed,
                                   {}});
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
    if (seen.empty() && regions[static_cast<std::size_t>(*known)].shapes.empty()) {
        faults.add(table->source(), {where, "has no shapes", "shapes = [...]", {}});
    }
}

Key<BodySpec> body_region_key() {
    const KeyRule region = rule("body", "region", KeyType::table, {}, "", "",
                                "The hit regions: one table for each, under its name.");
    return {region, [=](const toml::node& node, const std::string& where, BodySpec& body, Faults& faults) {
                const toml::table* table = node.as_table();
                if (table == nullptr || table->empty() || table->size() > most_regions) {
                    refuse(node, where, region, faults);
                    return;
                }
                for (const auto& [key, value] : in_file_order(*table)) {
                    const std::string name{key->str()};
                    read_region(*value, name, where + '.' + printable(name), body, faults);
                }
            }};
}

} // namespace

const std::vector<Key<BodySpec>>& body_keys() {
    const KeyRule health = rule("body", "health", KeyType::number, {0.0, 1e6, true}, "health", "100",
                                "Health at the start, and at most.");
    static const std::vector<Key<BodySpec>> keys{
        {rule("body", "like", KeyType::entry_id, {}, "", "none",
              "Another body, whose values hold for every key that is not given here."),
         [](const toml::node&, const std::string&, BodySpec&, Faults&) {}}, // the loader has followed it
        {health,
         [=](const toml::node& node, const std::string& where, BodySpec& body, Faults& faults) {
             body.health = read_number(node, where, health, faults).value_or(body.health);
         }},
        body_region_key(),
    };
    return keys;
}

const std::vector<Key<RegionSpec>>& region_keys() {
    const KeyRule shapes =
        rule("body.region", "shapes", KeyType::shapes, {}, "", "",
             "The solids that the region is made of, in the body's axes: feet at the origin, "
             "facing +Z, +Y up, +X to its left.");
    static const std::vector<Key<RegionSpec>> keys{
        {shapes, [=](const toml::node& node, const std::string& where, RegionSpec& region, Faults& faults) {
             read_shapes(node, where, shapes, region, faults);
         }}};
    return keys;
}

const std::vector<KeyRule>& shape_rules() {
    const std::string section = "body.region.shape";
    static const std::vector<KeyRule> rules{
        rule(section, "sphere", KeyType::point, coordinates, "m", "none", "Makes a ball: its centre."),
        rule(section, "capsule", KeyType::segment, coordinates, "m", "none",
             "Makes a capsule: the two ends of its axis."),
        rule(section, "box", KeyType::point, coordinates, "m", "none", "Makes a box: its centre."),
        rule(section, "radius", KeyType::number, lengths, "m", "none",
             "Of a ball or capsule, which need it."),
        rule(section, "half", KeyType::point, lengths, "m", "none",
             "Half of a box's size along each of its axes; a box needs it."),
        rule(section, "turn", KeyType::turn, {-360.0, 360.0, false}, "degrees", "[0, 0]",
             "Of a box: its yaw and pitch."),
    };
    return rules;
}

} // namespace avrek::data
