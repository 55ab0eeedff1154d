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
    void name(EntryName& name, const std::vector<Spec>& specs) {
        name.index = -1;
        for (std::size_t place = 0; place < specs.size() && name.index < 0 && !name.id.empty(); ++place) {
            name.index = specs[place].id == name.id ? static_cast<std::int32_t>(place) : -1;
        }
        complete_ &= name.id.empty() || name.index >= 0;
    }

    void kind(EntryName& kind) { name(kind, arsenal_.damage_kinds); }

    void effect(EffectSpec& effect) {
        kind(effect.kind);
        name(effect.condition, arsenal_.conditions);
        const DamageKindSpec* spec = kind_of(effect.kind);
        effect.heals = spec != nullptr && spec->heals;
        effect.guardable = spec == nullptr || spec->guardable;
    }

    ConditionSet set(std::vector<EntryName>& names) {
        ConditionSet set;
        for (EntryName& condition : names) {
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
        kind(spec.kind);
        const DamageKindSpec* found = kind_of(spec.kind);
        spec.heals = found != nullptr && found->heals;
        spec.cancels_set = set(spec.cancels);
        spec.prevents_set = set(spec.prevents);
    }

    void body(BodySpec& body) {
        for (KindFactor& resisted : body.resists) {
            kind(resisted.kind);
        }
        for (LayerSpec& layer : body.layers) {
            for (EntryName& passing : layer.passes) {
                kind(passing);
            }
        }
        if (body.guard) {
            for (KindFactor& let_through : body.guard->kinds) {
                kind(let_through.kind);
            }
        }
        body.immune_set = set(body.immune);
    }

  private:
    const DamageKindSpec* kind_of(const EntryName& kind) const {
        return kind.index < 0 ? nullptr : &arsenal_.damage_kinds[static_cast<std::size_t>(kind.index)];
    }

    const Arsenal& arsenal_;
    bool complete_ = true;
};

} // namespace

bool link(Arsenal& arsenal) {
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
