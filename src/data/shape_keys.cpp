#include "keys.h"
#include "toml_file.h"
#include "values.h"
#include <avrek/core/units.h>

#include <algorithm>
#include <array>
#include <iterator>
#include <type_traits>
#include <variant>

namespace avrek::detail {

namespace {

constexpr const char* shapes_allowed =
    "{ sphere, radius }, { capsule, radius } or { box, half, turn (may be left out) }";
constexpr const char* with_cylinders_allowed =
    "{ sphere, radius }, { capsule, radius }, { cylinder, radius } or { box, half, turn (may be left out) }";
constexpr const char* with_planes_allowed =
    "{ sphere, radius }, { capsule, radius }, { box, half, turn (may be left out) } or { plane, normal }";

// The rules by their place; those of a body have no planes.
enum ShapeKey : std::size_t {
    sphere_key,
    capsule_key,
    box_key,
    radius_key,
    half_key,
    turn_key,
    plane_key,
    normal_key,
    cylinder_key = plane_key, // those of a hazard have no planes
};

// The values of one table of a shape, each if it is there and allowed.
class ShapeTable {
  public:
    ShapeTable(const toml::table& table, const std::string& where, const std::vector<KeyRule>& rules,
               Faults& faults, const char* allowed)
        : table_(table), where_(where), rules_(rules), faults_(faults), allowed_(allowed) {}

    bool has(ShapeKey key) const { return key < rules_.size() && table_.get(rules_[key].name) != nullptr; }

    // Whether the table has the keys of one kind of shape and of no other; reports it otherwise.
    bool is_only(std::initializer_list<ShapeKey> needed, std::initializer_list<ShapeKey> optional) {
        const auto present = [this](ShapeKey key) { return has(key); };
        const auto found = std::count_if(needed.begin(), needed.end(), present);
        const auto extra = std::count_if(optional.begin(), optional.end(), present);
        const auto known = std::count_if(rules_.begin(), rules_.end(), [this](const KeyRule& rule) {
            return table_.get(rule.name) != nullptr;
        });
        if (found == std::ssize(needed) && known == found + extra) {
            return true;
        }
        faults_.add(table_.source(), {where_, "has keys that do not make one shape", allowed_, {}});
        return false;
    }

    std::optional<double> radius() {
        const KeyRule& rule = rule_of(radius_key);
        return read_number(*table_.get(rule.name), where_ + ".radius", rule, faults_);
    }

    std::optional<Vector3> point(ShapeKey key) {
        const KeyRule& rule = rule_of(key);
        return read_point(*table_.get(rule.name), where_ + '.' + rule.name, rule, faults_);
    }

    std::optional<std::array<Vector3, 2>> segment(ShapeKey key) {
        const KeyRule& rule = rule_of(key);
        const toml::node& node = *table_.get(rule.name);
        const toml::array* ends = node.as_array();
        if (ends == nullptr || ends->size() != 2) {
            refuse(node, where_ + '.' + rule.name, rule, faults_);
            return std::nullopt;
        }
        const auto from = read_point(*ends->get(0), where_ + '.' + rule.name, rule, faults_);
        const auto to = read_point(*ends->get(1), where_ + '.' + rule.name, rule, faults_);
        return from && to ? std::optional{std::array{*from, *to}} : std::nullopt;
    }

    std::optional<Look> turn() {
        const KeyRule& rule = rule_of(turn_key);
        const toml::node* node = table_.get(rule.name);
        if (node == nullptr) {
            return Look{};
        }
        const auto angles = read_pair(*node, where_ + ".turn", rule, faults_);
        return angles ? std::optional{Look{from_degrees(angles->x), from_degrees(angles->y)}} : std::nullopt;
    }

  private:
    const KeyRule& rule_of(ShapeKey key) const { return rules_[key]; }

    const toml::table& table_;
    const std::string& where_;
    const std::vector<KeyRule>& rules_;
    Faults& faults_;
    const char* allowed_; // what makes a shape, as text
};

const std::vector<KeyRule>& shape_rules_of_hazards() {
    static const std::vector<KeyRule> rules = make_shape_rules("hazard.shape", 1000.0, false);
    return rules;
}

} // namespace

std::optional<Shape> read_shape(const toml::table& table, const std::string& where,
                                const std::vector<KeyRule>& rules, Faults& faults) {
    ShapeTable values{table, where, rules, faults,
                      rules.size() > plane_key ? with_planes_allowed : shapes_allowed};
    if (values.has(plane_key)) {
        if (!values.is_only({plane_key, normal_key}, {})) {
            return std::nullopt;
        }
        const auto point = values.point(plane_key);
        const auto normal = values.point(normal_key);
        if (normal && normal->squaredNorm() < 1e-12) {
            refuse(*table.get("normal"), where + ".normal", rules[normal_key], faults);
            return std::nullopt;
        }
        if (!point || !normal) {
            return std::nullopt;
        }
        return HalfSpace{normal->normalized(), normal->normalized().dot(*point)};
    }
    if (values.has(capsule_key)) {
        if (!values.is_only({capsule_key, radius_key}, {})) {
            return std::nullopt;
        }
        const auto ends = values.segment(capsule_key);
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

std::vector<KeyRule> make_shape_rules(const std::string& section, Metres reach, bool with_planes) {
    const KeyRange coordinates{-reach, reach, false};
    const KeyRange lengths{0.0, reach, true};
    std::vector<KeyRule> rules{
        rule(section, "sphere", KeyType::point, coordinates, "m", "none", "Makes a sphere: its centre."),
        rule(section, "capsule", KeyType::segment, coordinates, "m", "none",
             "Makes a capsule: the two ends of its axis."),
        rule(section, "box", KeyType::point, coordinates, "m", "none", "Makes a box: its centre."),
        rule(section, "radius", KeyType::number, lengths, "m", "none",
             "Radius of a sphere, capsule or cylinder, which need it."),
        rule(section, "half", KeyType::point, lengths, "m", "none",
             "Half of a box's size along each of its axes; a box needs it."),
        rule(section, "turn", KeyType::turn, {-360.0, 360.0, false}, "degrees", "[0, 0]",
             "Yaw and pitch of a box."),
    };
    if (with_planes) {
        rules.push_back(rule(section, "plane", KeyType::point, coordinates, "m", "none",
                             "Makes everything behind a plane: a point of it."));
        rules.push_back(
            rule(section, "normal", KeyType::point, {-1.0, 1.0, false}, "", "none",
                 "Of a plane, which needs it: a direction out of the solid, of any length over 0."));
    }
    return rules;
}

const std::vector<KeyRule>& hazard_shape_rules() {
    static const std::vector<KeyRule> rules = [] {
        std::vector<KeyRule> made = make_shape_rules("hazard.shape", 1000.0, false);
        made.push_back(rule("hazard.shape", "cylinder", KeyType::segment, {-1000.0, 1000.0, false}, "m",
                            "none", "Makes a cylinder with flat ends: the two ends of its axis."));
        return made;
    }();
    return rules;
}

std::optional<Volume> read_volume(const toml::table& table, const std::string& where, Faults& faults) {
    check_key_names(table, where, hazard_shape_rules(), faults);
    ShapeTable values{table, where, hazard_shape_rules(), faults, with_cylinders_allowed};
    if (values.has(cylinder_key)) {
        if (!values.is_only({cylinder_key, radius_key}, {})) {
            return std::nullopt;
        }
        const auto ends = values.segment(cylinder_key);
        const auto radius = values.radius();
        if (ends && ((*ends)[1] - (*ends)[0]).norm() < 1e-6) {
            refuse(*table.get("cylinder"), where + ".cylinder", hazard_shape_rules()[cylinder_key], faults);
            return std::nullopt;
        }
        return ends && radius ? std::optional<Volume>{Cylinder{(*ends)[0], (*ends)[1], *radius}}
                              : std::nullopt;
    }
    const auto shape = read_shape(table, where, shape_rules_of_hazards(), faults);
    if (!shape) {
        return std::nullopt;
    }
    return std::visit(
        [](const auto& solid) -> std::optional<Volume> {
            if constexpr (std::is_same_v<std::decay_t<decltype(solid)>, HalfSpace>) {
                return std::nullopt;
            } else {
                return Volume{solid};
            }
        },
        *shape);
}

const std::vector<KeyRule>& solid_rules() {
    static const std::vector<KeyRule> rules = make_shape_rules("body.region.shape", 100.0, false);
    return rules;
}

const std::vector<KeyRule>& shape_rules() {
    static const std::vector<KeyRule> rules = [] {
        std::vector<KeyRule> made = solid_rules();
        made.push_back(rule("body.region.shape", "joint", KeyType::text, {}, "", "as its region",
                            "Joint that the shape moves with."));
        return made;
    }();
    return rules;
}

} // namespace avrek::detail
