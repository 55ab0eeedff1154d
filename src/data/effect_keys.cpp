#include "effect_keys.h"

namespace avrek::detail {

const std::vector<Key<ProjectileSpec>>& blast_effect_keys() {
    static const std::vector<Key<ProjectileSpec>> keys =
        effect_group<ProjectileSpec, [](ProjectileSpec& spec) -> EffectSpec& { return spec.blast.effect; }>(
            "projectile.blast")
            .keys;
    return keys;
}

const std::vector<Key<MeleeAttackSpec>>& attack_effect_keys() {
    static const std::vector<Key<MeleeAttackSpec>> keys =
        effect_group<MeleeAttackSpec, [](MeleeAttackSpec& spec) -> EffectSpec& { return spec.effect; }>(
            "melee.attack")
            .keys;
    return keys;
}

} // namespace avrek::detail
