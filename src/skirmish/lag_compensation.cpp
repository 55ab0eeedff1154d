#include "lag_compensation.h"

#include <algorithm>
#include <cmath>

namespace avrek::detail {

void LagCompensation::record_snapshot() {
    if (!fight_.snapshots || (fight_.tick + 1) % fight_.settings.snapshot_interval != 0) {
        return;
    }
    fight_.snapshot_bodies.clear();
    for (const Fighter& fighter : fight_.fighters) {
        if (fighter.in_scene) {
            fight_.snapshot_bodies.push_back({fighter.id, &fight_.body_of(fighter),
                                              fight_.match.find(fighter.id)->team,
                                              snapshot_pose(fighter.motion.position, fighter.facing),
                                              snapshot_pitch(fighter.look.pitch), fighter.pose});
        }
    }
    add_snapshot(*fight_.snapshots, fight_.span.end, fight_.snapshot_bodies, fight_.poses());
}

const World& LagCompensation::rewind_world() const {
    const World& own = fight_.snapshots ? static_cast<const World&>(*fight_.snapshots) : fight_.scene;
    return fight_.rewind_world != nullptr ? *fight_.rewind_world : own;
}

Duration LagCompensation::view_delay_of(const Fighter& fighter) const {
    return std::min(Duration{fighter.intent.view_delay}, fight_.match.rules().lag_compensation.max_rewind);
}

HitVerdict LagCompensation::validate_hit(BodyId target, const RewoundHit& met, BodyId source) const {
    const std::size_t index = fight_.index_of(target);
    const Fighter& fighter = fight_.fighters[index];
    if (fight_.match.combatants()[index].vitals.life == LifeState::dead || fighter.to_place ||
        met.as_of < fighter.alive_since) {
        return {.verdict = Verdict::gone};
    }
    const LagCompensationSpec& rules = fight_.match.rules().lag_compensation;
    const Combatant* shooter = fight_.match.find(source);
    if (!rules.trades && shooter != nullptr && shooter->vitals.life == LifeState::dead) {
        return {.verdict = Verdict::late};
    }
    if (met.as_of >= met.at) {
        return {};
    }
    const Duration covered = covered_for(fighter, met);
    return {covered > rules.cover_grace ? Verdict::covered : Verdict::stands, covered};
}

// How long it has been out of sight: back from now, to where it was seen.
Duration LagCompensation::covered_for(const Fighter& fighter, const RewoundHit& met) const {
    const std::optional<Pose> hit_pose = rewind_world().body_pose(fighter.id, met.as_of);
    const RigSpec& rig = fight_.body_of(fighter).rig;
    const Vector3 own = hit_pose ? to_local(*hit_pose, met.hit.point) : Vector3(Vector3::Zero());
    const auto is_seen = [&](Time at) {
        const std::optional<Pose> pose = fight_.scene.pose_of(fighter.id, at);
        if (!pose) {
            return false;
        }
        const auto clear = [&](const Vector3& point) {
            const Vector3 way = point - met.from;
            const double length = std::sqrt(way.squaredNorm());
            return length < 1e-6 ||
                   !fight_.scene.any_hit({{met.from, way / length, length}},
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
    const Duration tick = fight_.span.end - fight_.span.begin;
    Time at = met.at;
    while (at > met.as_of && !is_seen(at)) {
        at -= tick;
    }
    return met.at - std::max(at, met.as_of);
}

} // namespace avrek::detail
