#include "living.h"
#include <avrek/vitals/ragdoll.h>

#include <cassert>

namespace avrek {

bool make_ragdoll(const LivingBody& body, Duration lasts, bool on_back, Time at,
                  std::vector<VitalsEvent>& events) {
    assert(at >= body.vitals.now && lasts > Duration::zero());
    advance(body, at, events);
    Vitals& vitals = body.vitals;
    if (vitals.life == LifeState::dead) {
        return false;
    }
    detail::Living living{body, events};
    vitals.reaction = ReactionClass::heavy;
    vitals.state = BodyState::ragdoll;
    vitals.state_until = at + lasts;
    vitals.on_back = on_back;
    detail::emit_body(
        living,
        {.at = at, .change = BodyChange::reacted, .reaction = vitals.reaction, .until = vitals.state_until});
    catch_up(living, at);
    return true;
}

bool stand_up(const LivingBody& body, Time at, std::vector<VitalsEvent>& events) {
    assert(at >= body.vitals.now);
    advance(body, at, events);
    Vitals& vitals = body.vitals;
    const bool lies = vitals.state == BodyState::down || vitals.state == BodyState::ragdoll;
    if (vitals.life == LifeState::dead || !lies) {
        return false;
    }
    detail::Living living{body, events};
    end_state(living, at);
    catch_up(living, at);
    return true;
}

} // namespace avrek
