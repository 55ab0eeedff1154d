#include "feet_world.h"
#include <avrek/skirmish/skirmish.h>
#include <avrek/vitals/guard.h>

#include <algorithm>
#include <cmath>
#include <utility>

/// What players have seen, and what of it counts.
namespace avrek {

// At the end of every few ticks: the bodies in the scene, where they are shown.
void Skirmish::remember_shown() {
    if (!shown_ || (tick_ + 1) % settings_.shown_every != 0) {
        return;
    }
    shown_bodies_.clear();
    for (const Fighter& fighter : fighters_) {
        if (fighter.in_scene) {
            shown_bodies_.push_back({fighter.id, &body_of(fighter),
                                     std::as_const(match_).find(fighter.id)->team,
                                     shown_place(fighter.position, fighter.facing), fighter.stance});
        }
    }
    avrek::show(*shown_, span_.end, shown_bodies_);
}

FeetWorld Skirmish::feet() const {
    return {scene_, fighters_, span_};
}

// What shots that look back are cast at.
const World& Skirmish::seen_world() const {
    const World& own = shown_ ? static_cast<const World&>(*shown_) : scene_;
    return seen_ != nullptr ? *seen_ : own;
}

// How far back somebody's shots look.
Duration Skirmish::behind_of(const Fighter& fighter) const {
    return std::min(Duration{fighter.intent.behind}, match_.rules().judging.rewind);
}

const RigSpec* Skirmish::rig_of(BodyId id) const {
    const std::size_t index = index_of(id);
    return index < fighters_.size() ? &body_of(fighters_[index]).rig : nullptr;
}

Skirmish::Judged Skirmish::judge(BodyId target, const Met& met, BodyId source) const {
    Judged judged;
    const std::size_t index = index_of(target);
    const Fighter& fighter = fighters_[index];
    if (match_.combatants()[index].vitals.life == LifeState::dead || fighter.to_place ||
        met.as_of < fighter.alive_since) {
        judged.verdict = Verdict::gone;
        return judged;
    }
    const JudgingSpec& rules = match_.rules().judging;
    const Combatant* shooter = match_.find(source);
    if (!rules.trades && shooter != nullptr && shooter->vitals.life == LifeState::dead) {
        judged.verdict = Verdict::late;
        return judged;
    }
    if (met.as_of >= met.at) {
        return judged;
    }
    // How long it has been out of sight: back from now, to where it was seen.
    const std::optional<Pose> hit_pose = seen_world().body_pose(target, met.as_of);
    const RigSpec& rig = body_of(fighter).rig;
    const Vector3 own = hit_pose ? to_local(*hit_pose, met.hit.point) : Vector3(Vector3::Zero());
    const auto is_seen = [&](Time at) {
        const std::optional<Pose> pose = scene_.pose_of(target, at);
        if (!pose) {
            return false;
        }
        const auto clear = [&](const Vector3& point) {
            const Vector3 way = point - met.from;
            const double length = std::sqrt(way.squaredNorm());
            return length < 1e-6 || !scene_.any_hit({{met.from, way / length, length}},
                                                    {.hits = {Layer::level, Layer::glass}});
        };
        // A hair nearer to the middle than the surface, so that what it stands at does not hide it.
        if (hit_pose && clear(to_world(*pose, 0.98 * own))) {
            return true;
        }
        for (std::uint32_t region = 0; region < rig.regions.size(); ++region) {
            if (clear(pose->position + pose->rotation * aim_point(rig, RegionId{region}))) {
                return true;
            }
        }
        return false;
    };
    const Duration tick = span_.end - span_.begin;
    Time at = met.at;
    while (at > met.as_of && !is_seen(at)) {
        at -= tick;
    }
    judged.covered_for = met.at - std::max(at, met.as_of);
    judged.verdict = judged.covered_for > rules.cover ? Verdict::covered : Verdict::stands;
    return judged;
}

Skirmish::Judged Skirmish::hurt(BodyId target, const Met& met, IncomingHit hit) {
    const std::size_t index = index_of(target);
    if (index == fighters_.size() || !settings_.judges) {
        return {};
    }
    const Judged judged = judge(target, met, hit.source);
    if (judged.verdict != Verdict::stands) {
        return judged;
    }
    const std::optional<Pose> pose = scene_.pose_of(target, met.at);
    hit.region = met.hit.region;
    hit.off_front = pose ? off_front(*pose, hit.direction) : pi;
    confirm(index, met.at);
    match_.hit(feet(), target, hit, met.at, events_.lives);
    absorb();
    return judged;
}

} // namespace avrek
