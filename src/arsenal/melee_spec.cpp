#include <avrek/arsenal/melee_spec.h>

namespace avrek {

std::optional<std::size_t> find_attack(const MeleeSpec& spec, std::string_view name) {
    for (std::size_t index = 0; index < spec.attacks.size(); ++index) {
        if (spec.attacks[index].name == name) {
            return index;
        }
    }
    return std::nullopt;
}

Duration length_of(const MeleeAttackSpec& attack) {
    return attack.windup + attack.active + attack.recovery;
}

} // namespace avrek
