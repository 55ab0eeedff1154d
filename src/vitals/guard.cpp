#include "living.h"
#include <avrek/core/elementary.h>
#include <avrek/vitals/guard.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

void hold_guard(const LivingBody& body, bool held, Time at, std::vector<VitalsEvent>& events) {
    Vitals& vitals = body.vitals;
    if (!body.spec.guard || vitals.life == LifeState::dead || held == vitals.guard.wanted) {
        return;
    }
    advance(body, std::max(at, vitals.now), events);
    vitals.guard.wanted = held;
    if (held) {
        vitals.guard.perfect_until = vitals.now + body.spec.guard->perfect;
    }
    detail::Living living{body, events};
    catch_up(living, vitals.now);
}

double stamina_at(const GuardSpec& spec, const GuardState& state, Time at) {
    const Time begin = state.stamina_at + spec.delay;
    return at <= begin ? state.stamina
                       : std::min(spec.stamina, state.stamina + spec.refill * to_seconds(at - begin));
}

double guard_share(const GuardSpec& spec, Radians off_front, std::optional<DamageTypeId> damage_type) {
    if (off_front > 0.5 * spec.arc) {
        return 1.0;
    }
    for (const DamageTypeFactor& kind : spec.types) {
        if (damage_type && kind.type.spec == damage_type) {
            return kind.factor;
        }
    }
    return spec.lets_through;
}

Radians off_front(const Pose& pose, const Vector3& direction) {
    assert(std::abs(direction.squaredNorm() - 1.0) < 1e-8);
    const Vector3 front = pose.rotation * world_forward();
    const double ahead = -front.dot(direction);
    return arc_tangent(std::sqrt(front.cross(direction).squaredNorm()), ahead);
}

} // namespace avrek
