#include <avrek/arsenal/weapon_spec.h>

namespace avrek {

Delivery delivery_of(const WeaponSpec& spec) {
    if (!spec.projectile.id.empty()) {
        return Delivery::projectile;
    }
    return spec.spray > 0.0 ? Delivery::spray : Delivery::hitscan;
}

std::string_view to_string(Delivery delivery) {
    switch (delivery) {
    case Delivery::hitscan:
        return "hitscan";
    case Delivery::projectile:
        return "projectile";
    case Delivery::spray:
        return "spray";
    }
    return "unknown";
}

} // namespace avrek
