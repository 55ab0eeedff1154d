#include <avrek/vitals/vitals.h>

#include <algorithm>
#include <type_traits>

namespace avrek {

static_assert(std::is_trivially_copyable_v<Vitals> && std::is_trivially_copyable_v<VitalsEvent>);

double Vitals::fraction() const {
    return maximum > 0.0 ? std::clamp(health / maximum, 0.0, 1.0) : 0.0;
}

Vitals full_vitals(const BodySpec& spec) {
    return {spec.health, spec.health, LifeState::alive};
}

void apply_damage(Vitals& vitals, Damage damage, Time at, std::vector<VitalsEvent>& events) {
    const double wanted = damage.amount();
    if (vitals.life == LifeState::dead || wanted <= 0.0) {
        return;
    }
    const bool lethal = vitals.health - wanted < vitals.maximum * 1e-9;
    if (lethal && wanted != vitals.health) {
        damage.multiply(DamageStepKind::clamp, vitals.health / wanted);
    }
    vitals.health = lethal ? 0.0 : vitals.health - wanted;
    const double overkill = std::max(0.0, wanted - damage.amount());
    events.push_back({at, VitalsEventKind::damaged, damage, vitals.health, overkill});
    if (lethal) {
        vitals.life = LifeState::dead;
        events.push_back({at, VitalsEventKind::died, {}, 0.0, 0.0});
    }
}

} // namespace avrek
