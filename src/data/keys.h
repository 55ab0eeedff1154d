#pragma once
#include "faults.h"
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/shapes.h>
#include <avrek/data/arsenal_keys.h>

#include <toml++/toml.h>

#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace avrek::detail {

/// A key of a section together with how its value gets into the spec. A value that is not allowed is reported
/// and leaves the spec as it was.
template <class Spec>
struct Key {
    KeyRule rule;
    std::function<void(const toml::node& value, const std::string& where, Spec& spec, Faults& faults)> read;
};

const std::vector<Key<WeaponSpec>>& weapon_keys();

/// Keys that stand in a table of their own.
template <class Spec>
struct Group {
    std::string name; ///< "spread"
    std::vector<Key<Spec>> keys;
};
const std::vector<Group<WeaponSpec>>& weapon_groups();
const std::vector<Key<ProjectileSpec>>& projectile_keys();
const std::vector<Group<ProjectileSpec>>& projectile_groups();
const std::vector<Key<MeleeSpec>>& melee_keys();
const std::vector<Key<MeleeAttackSpec>>& melee_attack_keys();
const std::vector<Key<AmmoSpec>>& ammo_keys();
const std::vector<Key<BodySpec>>& body_keys();
const std::vector<Group<BodySpec>>& body_groups();
Group<BodySpec> movement_group();
Group<BodySpec> posture_group();
const std::vector<Key<DefenceLayerSpec>>& defence_layer_keys();
const std::vector<Key<RegionSpec>>& region_keys();

const std::vector<Key<JointSpec>>& joint_keys();
const std::vector<Key<SurfaceSpec>>& surface_keys();
const std::vector<Key<DamageTypeSpec>>& damage_type_keys();
const std::vector<Key<ConditionSpec>>& condition_keys();
const std::vector<Group<ConditionSpec>>& condition_groups();
const std::vector<Key<HazardSpec>>& hazard_keys();
const std::vector<Group<HazardSpec>>& hazard_groups();
const std::vector<Key<PickupSpec>>& pickup_keys();
const std::vector<Key<MatchSpec>>& match_keys();
const std::vector<Key<ShooterSpec>>& shooter_keys();
const std::vector<Group<MatchSpec>>& match_groups();
const std::vector<Key<LinkSpec>>& link_keys();

/// The effects that stand in tables of a blast and of an attack.
const std::vector<Key<ProjectileSpec>>& blast_effect_keys();
const std::vector<Key<MeleeAttackSpec>>& attack_effect_keys();

/// The keys of one shape of a body. They are rules alone: which go together decides what shape it is.
const std::vector<KeyRule>& shape_rules();

/// The same for shapes up to `reach` from the origin; `with_planes`, also everything behind a plane.
std::vector<KeyRule> make_shape_rules(const std::string& section, Metres reach, bool with_planes);

/// The shape that a table describes by `rules`, which are shape rules; other keys are not looked at.
std::optional<Shape> read_shape(const toml::table& table, const std::string& where,
                                const std::vector<KeyRule>& rules, Faults& faults);

/// The keys of the volume of a hazard, and the volume that a table describes by them.
const std::vector<KeyRule>& hazard_shape_rules();
std::optional<Volume> read_volume(const toml::table& table, const std::string& where, Faults& faults);

/// Reads a table of region names and multipliers over what is in `multipliers`.
void read_multipliers(const toml::node& node, const std::string& where, const KeyRule& rule,
                      std::vector<RegionMultiplier>& multipliers, Faults& faults);

/// The rules of `keys`.
template <class Spec>
std::vector<KeyRule> rules_of(const std::vector<Key<Spec>>& keys) {
    std::vector<KeyRule> rules;
    rules.reserve(keys.size());
    for (const Key<Spec>& key : keys) {
        rules.push_back(key.rule);
    }
    return rules;
}

/// Reports every key of `table` that is not among `rules`.
void check_key_names(const toml::table& table, const std::string& where, const std::vector<KeyRule>& rules,
                     Faults& faults);

/// Reads every key of `table` that `keys` knows into `spec`, reports the others, and adds the names it saw to
/// `seen`.
template <class Spec>
void read_keys(const toml::table& table, const std::string& where, const std::vector<Key<Spec>>& keys,
               Spec& spec, std::set<std::string>& seen, Faults& faults) {
    std::size_t known = 0;
    for (const Key<Spec>& key : keys) {
        if (const toml::node* value = table.get(key.rule.name)) {
            ++known;
            seen.insert(key.rule.name);
            key.read(*value, where + '.' + key.rule.name, spec, faults);
        }
    }
    if (known < table.size()) {
        check_key_names(table, where, rules_of(keys), faults);
    }
}

} // namespace avrek::detail
