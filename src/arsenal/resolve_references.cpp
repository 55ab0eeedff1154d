#include <avrek/arsenal/arsenal.h>

#include <algorithm>

namespace avrek {

namespace {

// Finds the places of names, and remembers whether one was missing.
class Linker {
  public:
    explicit Linker(const Arsenal& arsenal) : arsenal_(arsenal) {}

    bool is_complete() const { return complete_; }

    void name(SpecRef<DamageTypeId>& ref) { resolve(ref, arsenal_.damage_type(ref.id)); }
    void name(SpecRef<ConditionId>& ref) { resolve(ref, arsenal_.condition(ref.id)); }
    void name(SpecRef<AmmoId>& ref) { resolve(ref, arsenal_.ammo_type(ref.id)); }
    void name(SpecRef<WeaponId>& ref) { resolve(ref, arsenal_.weapon(ref.id)); }
    void name(SpecRef<SurfaceId>& ref) { resolve(ref, arsenal_.surface(ref.id)); }
    void name(SpecRef<ProjectileId>& ref) { resolve(ref, arsenal_.projectile(ref.id)); }

    void effect(EffectSpec& effect) {
        resolve(effect.reaction, arsenal_.reaction(effect.reaction.id));
        name(effect.type);
        name(effect.condition);
        const DamageTypeSpec* spec = damage_type_of(effect.type);
        effect.heals = spec != nullptr && spec->heals;
        effect.guardable = spec == nullptr || spec->guardable;
    }

    ConditionSet set(std::vector<SpecRef<ConditionId>>& names) {
        ConditionSet set;
        for (SpecRef<ConditionId>& condition : names) {
            name(condition);
            if (condition.spec) {
                set.add(*condition.spec);
            }
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
        name(spec.type);
        const DamageTypeSpec* found = damage_type_of(spec.type);
        spec.heals = found != nullptr && found->heals;
        spec.cancels_set = set(spec.cancels);
        spec.prevents_set = set(spec.prevents);
    }

    void body(BodySpec& body) {
        name(body.surface);
        for (RegionSpec& region : body.rig.regions) {
            name(region.surface);
            region.surface.spec = region.surface.id.empty() ? body.surface.spec : region.surface.spec;
        }
        for (DamageTypeFactor& resisted : body.resists) {
            name(resisted.type);
        }
        for (DefenceLayerSpec& layer : body.defence) {
            for (SpecRef<DamageTypeId>& passing : layer.passes) {
                name(passing);
            }
        }
        if (body.guard) {
            for (DamageTypeFactor& let_through : body.guard->types) {
                name(let_through.type);
            }
        }
        body.immune_set = set(body.immune);
        (void)set(body.first_conditions);
        body.own_reactions = {};
        for (std::size_t place = 0; place < body.reactions.size(); ++place) {
            const auto reaction = arsenal_.reaction(body.reactions[place].name);
            const auto own = static_cast<std::size_t>(reaction.value_or(ReactionClass::none));
            complete_ &= own >= first_own_reaction;
            if (own >= first_own_reaction) {
                body.own_reactions[own - first_own_reaction] = static_cast<std::uint8_t>(place + 1);
            }
        }
        body.ready = ready_poses(body);
    }

  private:
    template <class Id>
    void resolve(SpecRef<Id>& ref, std::optional<Id> found) {
        ref.spec = ref.id.empty() ? std::nullopt : found;
        complete_ &= ref.id.empty() || found.has_value();
    }

    const DamageTypeSpec* damage_type_of(const SpecRef<DamageTypeId>& ref) const {
        return ref.spec ? &arsenal_[*ref.spec] : nullptr;
    }

    const Arsenal& arsenal_;
    bool complete_ = true;
};

} // namespace

bool resolve_references(Arsenal& arsenal) {
    Linker linker{arsenal};
    for (WeaponSpec& weapon : arsenal.weapons) {
        linker.effect(weapon.effect);
        linker.name(weapon.projectile);
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
        linker.name(pickup.ammo);
        linker.name(pickup.weapon);
        linker.name(pickup.condition);
    }
    return linker.is_complete();
}

} // namespace avrek
