#include <avrek/vitals/body.h>

#include <algorithm>

namespace avrek {

Body::Body(const BodySpec& spec, std::span<const ConditionSpec> conditions, Time at)
    : spec_(&spec), conditions_(conditions), vitals_(full_vitals(spec, at)) {}

HitResult Body::take(const IncomingHit& hit, Time at) {
    events_.clear();
    return take_hit(living(), hit, std::max(at, vitals_.now), events_);
}

HitResult Body::take(const Damage& damage, Time at) {
    return take(IncomingHit{.damage = damage}, at);
}

void Body::advance(Time until) {
    events_.clear();
    if (until > vitals_.now) {
        avrek::advance(living(), until, events_);
    }
}

} // namespace avrek
