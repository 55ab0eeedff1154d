#include "feet_world.h"
#include <avrek/skirmish/skirmish.h>
#include <avrek/vitals/guard.h>

#include <algorithm>
#include <cmath>
#include <utility>

/// Lag compensation: snapshots of bodies, and the validation of hits against them.
namespace avrek {

// At the end of every few ticks: the bodies in the scene, where they are shown.
void Skirmish::record_snapshot() {
    if (!snapshots_ || (tick_ + 1) % settings_.snapshot_interval != 0) {
        return;
    }
    snapshot_bodies_.clear();
    for (const Fighter& fighter : fighters_) {
        if (fighter.in_scene) {
            snapshot_bodies_.push_back({fighter.id, &body_of(fighter),
                                        std::as_const(match_).find(fighter.id)->team,
                                        snapshot_pose(fighter.position, fighter.facing), fighter.stance});
        }
    }
    add_snapshot(*snapshots_, span_.end, snapshot_bodies_);
}

FeetWorld Skirmish::feet() const {
    return {scene_, fighters_, span_};
}

// World that rewound shots are cast at.
const World& Skirmish::rewind_world() const {
    const World& own = snapshots_ ? static_cast<const World&>(*snapshots_) : scene_;
    return rewind_world_ != nullptr ? *rewind_world_ : own;
}

// How far back somebody's shots look.
Duration Skirmish::view_delay_of(const Fighter& fighter) const {
    return std::min(Duration{fighter.intent.view_delay}, match_.rules().lag_compensation.max_rewind);
}

const RigSpec* Skirmish::rig_of(BodyId id) const {
    const std::size_t index = index_of(id);
    return index < fighters_.size() ? &body_of(fighters_[index]).rig : nullptr;
}

Skirmish::HitVerdict Skirmish::validate_hit(BodyId target, const RewoundHit& met, BodyId source) const {
    HitVerdict validated;
    const std::size_t index = index_of(target);
    const Fighter& fighter = fighters_[index];
    if (match_.combatants()[index].vitals.life == LifeState::dead || fighter.to_place ||
        met.as_of < fighter.alive_since) {
        validated.verdict = Verdict::gone;
        return validated;
    }
    const LagCompensationSpec& rules = match_.rules().lag_compensation;
    const Combatant* shooter = match_.find(source);
    if (!rules.trades && shooter != nullptr && shooter->vitals.life == LifeState::dead) {
        validated.verdict = Verdict::late;
        return validated;
    }
    if (met.as_of >= met.at) {
        return validated;
    }
    // How long it has been out of sight: back from now, to where it was seen.
    const std::optional<Pose> hit_pose = rewind_world().body_pose(target, met.as_of);
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
                                                    {.hits = {CollisionLayer::level, CollisionLayer::glass}});
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
    validated.covered_for = met.at - std::max(at, met.as_of);
    validated.verdict = validated.covered_for > rules.cover_grace ? Verdict::covered : Verdict::stands;
    return validated;
}

Skirmish::HitVerdict Skirmish::apply_hit(BodyId target, const RewoundHit& met, IncomingHit hit) {
    const std::size_t index = index_of(target);
    if (index == fighters_.size() || !settings_.applies_damage) {
        return {};
    }
    const HitVerdict validated = validate_hit(target, met, hit.source);
    if (validated.verdict != Verdict::stands) {
        return validated;
    }
    const std::optional<Pose> pose = scene_.pose_of(target, met.at);
    hit.region = met.hit.region;
    hit.off_front = pose ? off_front(*pose, hit.direction) : pi;
    commit_until(index, met.at);
    match_.hit(feet(), target, hit, met.at, events_.match);
    apply_match_events();
    return validated;
}

} // namespace avrek
