#include <avrek/arsenal/arsenal.h>

#include <algorithm>

namespace avrek {

namespace {

// Finds the places of names, and remembers whether one was missing.
class Linker {
  public:
    explicit Linker(const Arsenal& arsenal) : arsenal_(arsenal) {}

    bool is_complete() const { return complete_; }

    template <class Spec>
    void name(SpecRef& name, const std::vector<Spec>& specs) {
        name.index = -1;
        for (std::size_t index = 0; index < specs.size() && name.index < 0 && !name.id.empty(); ++index) {
            name.index = specs[index].id == name.id ? static_cast<std::int32_t>(index) : -1;
        }
        complete_ &= name.id.empty() || name.index >= 0;
    }

    void damage_type(SpecRef& kind) { name(kind, arsenal_.damage_types); }

    void effect(EffectSpec& effect) {
        damage_type(effect.type);
        name(effect.condition, arsenal_.conditions);
        const DamageTypeSpec* spec = damage_type_of(effect.type);
        effect.heals = spec != nullptr && spec->heals;
        effect.guardable = spec == nullptr || spec->guardable;
    }

    ConditionSet set(std::vector<SpecRef>& names) {
        ConditionSet set;
        for (SpecRef& condition : names) {
            name(condition, arsenal_.conditions);
            set.add(condition.index);
        }
        return set;
    }

    // A multiplier for a region that no body has would never count.
    void regions(const std::vector<RegionMultiplier>& multipliers) {
        for (const RegionMultiplier& multiplier : multipliers) {
            complete_ &=
                std::any_of(arsenal_.bodies.begin(), arsenal_.bodies.end(), [&](const BodySpec& body) {
                    return find_region(body.rig, multiplier.region).has_value();
                });
        }
    }

    void condition(ConditionSpec& spec) {
        damage_type(spec.type);
        const DamageTypeSpec* found = damage_type_of(spec.type);
        spec.heals = found != nullptr && found->heals;
        spec.cancels_set = set(spec.cancels);
        spec.prevents_set = set(spec.prevents);
    }

    void body(BodySpec& body) {
        for (DamageTypeFactor& resisted : body.resists) {
            damage_type(resisted.type);
        }
        for (DefenceLayerSpec& layer : body.defence) {
            for (SpecRef& passing : layer.passes) {
                damage_type(passing);
            }
        }
        if (body.guard) {
            for (DamageTypeFactor& let_through : body.guard->types) {
                damage_type(let_through.type);
            }
        }
        body.immune_set = set(body.immune);
    }

  private:
    const DamageTypeSpec* damage_type_of(const SpecRef& kind) const {
        return kind.index < 0 ? nullptr : &arsenal_.damage_types[static_cast<std::size_t>(kind.index)];
    }

    const Arsenal& arsenal_;
    bool complete_ = true;
};

} // namespace

bool resolve_references(Arsenal& arsenal) {
    Linker linker{arsenal};
    for (WeaponSpec& weapon : arsenal.weapons) {
        linker.effect(weapon.effect);
        linker.regions(weapon.region_multipliers);
    }
    for (ProjectileSpec& projectile : arsenal.projectiles) {
        linker.effect(projectile.blast.effect);
    }
    for (MeleeSpec& melee : arsenal.melee) {
        linker.regions(melee.region_multipliers);
        for (MeleeAttackSpec& attack : melee.attacks) {
            linker.effect(attack.effect);
        }
    }
    for (ConditionSpec& condition : arsenal.conditions) {
        linker.condition(condition);
    }
    for (BodySpec& body : arsenal.bodies) {
        linker.body(body);
    }
    for (HazardSpec& hazard : arsenal.hazards) {
        linker.effect(hazard.effect);
    }
    for (PickupSpec& pickup : arsenal.pickups) {
        linker.name(pickup.ammo, arsenal.ammo);
        linker.name(pickup.weapon, arsenal.weapons);
        linker.name(pickup.condition, arsenal.conditions);
    }
    return linker.is_complete();
}

} // namespace avrek
