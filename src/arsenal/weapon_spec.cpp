#include "../core/words.h"
#include <avrek/arsenal/weapon_spec.h>

namespace avrek {

Delivery delivery_of(const WeaponSpec& spec) {
    if (!spec.projectile.id.empty()) {
        return Delivery::projectile;
    }
    return spec.spray > 0.0 ? Delivery::spray : Delivery::hitscan;
}

std::string_view to_string(Delivery delivery) {
    static constexpr auto words = std::to_array<std::string_view>({"hitscan", "projectile", "spray"});
    return detail::word_of(words, delivery);
}

} // namespace avrek
