#include "skirmish_state.h"

#include "fields.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <utility>

namespace avrek::detail {

namespace {

SceneLimits limits_of(const Arsenal& arsenal, const SkirmishSettings& settings, std::size_t frames) {
    return {.bodies = std::max<std::size_t>(1, settings.limits.combatants),
            .joints = joints_of(arsenal),
            .frames = frames};
}

void prepare(Scene& scene, const Arsenal& arsenal) {
    for (const BodySpec& body : arsenal.bodies) {
        scene.prepare(body.rig);
    }
}

// A body that was shown, as it is saved: id, body, place, yaw and team in one, pitch, and both halves of its
// pose state.
using SavedSnapshot = std::array<std::int32_t, 9>;

SavedSnapshot saved_snapshot(const SnapshotBody& snapshot, std::int32_t body) {
    const std::uint64_t state = snapshot.state.words[0];
    return {static_cast<std::int32_t>(snapshot.id),
            body,
            snapshot.pose.x,
            snapshot.pose.y,
            snapshot.pose.z,
            snapshot.pose.yaw | static_cast<std::int32_t>(snapshot.team) << 16,
            snapshot.pitch,
            static_cast<std::int32_t>(state & 0xffffffffU),
            static_cast<std::int32_t>(state >> 32U)};
}

SnapshotBody snapshot_of(const SavedSnapshot& saved, const Arsenal& arsenal) {
    return {static_cast<BodyId>(saved[0]),
            &arsenal.bodies[static_cast<std::size_t>(saved[1])],
            static_cast<TeamId>(saved[5] >> 16 & 0xff),
            {saved[2], saved[3], saved[4], static_cast<std::uint16_t>(saved[5] & 0xffff)},
            static_cast<std::int16_t>(saved[6]),
            {{static_cast<std::uint32_t>(saved[7]) | std::uint64_t{static_cast<std::uint32_t>(saved[8])}
                                                         << 32U}}};
}

} // namespace

std::size_t joints_of(const Arsenal& arsenal) {
    std::size_t joints = 0;
    for (const BodySpec& body : arsenal.bodies) {
        joints = std::max(joints, body.rig.joints.size());
    }
    return joints + 1;
}

SkirmishState::SkirmishState(const Arsenal& arsenal, const World& world, Level level,
                             const SkirmishSettings& settings)
    : tick(settings.first_tick), match(arsenal, arsenal[settings.rules], world, settings.limits),
      scene(std::move(level), limits_of(arsenal, settings, settings.history_frames)) {
    fighters.reserve(settings.limits.combatants);
    prepare(scene, arsenal);
    for (const ProjectileSpec& projectile : arsenal.projectiles) {
        pools.emplace_back(projectile, settings.projectiles);
        origins.emplace_back(settings.projectiles);
    }
    if (settings.snapshot_interval > 0) {
        prepare(snapshots.emplace(scene.level(), limits_of(arsenal, settings, settings.snapshot_history)),
                arsenal);
        snapshot_bodies.reserve(settings.limits.combatants);
    }
}

void SkirmishState::write(StateWriter& to, const Arsenal& arsenal) const {
    to.value(tick);
    match.save(to);
    scene.save(to);
    if (snapshots) {
        snapshots->save(to);
        to.value(std::uint64_t{snapshot_bodies.size()});
        for (const SnapshotBody& body : snapshot_bodies) {
            to.value(saved_snapshot(body, to_number(arsenal.body(body.body->id))));
        }
    }
    to.clean_list(fighters);
    for (std::size_t pool = 0; pool < pools.size(); ++pool) {
        pools[pool].save(to);
        for (const Origin& origin : origins[pool]) {
            to.value(std::int64_t{to_number(origin.weapon)});
            to.value(origin.power);
        }
    }
}

void SkirmishState::read(StateReader& from, const Arsenal& arsenal, const SkirmishSettings& settings) {
    from.value(tick);
    match.restore(from);
    scene.restore(from);
    if (snapshots) {
        snapshots->restore(from);
        std::uint64_t count = 0;
        from.value(count);
        snapshot_bodies.clear();
        for (SavedSnapshot saved{}; count > 0 && from.value(saved); --count) {
            snapshot_bodies.push_back(snapshot_of(saved, arsenal));
        }
    }
    from.list(fighters, settings.limits.combatants);
    for (std::size_t pool = 0; pool < pools.size(); ++pool) {
        pools[pool].restore(from);
        for (Origin& origin : origins[pool]) {
            std::int64_t weapon = 0;
            from.value(weapon);
            from.value(origin.power);
            origin.weapon = optional_id<WeaponId>(static_cast<std::int32_t>(weapon));
        }
    }
    assert(from.is_sound() && from.is_at_end());
}

} // namespace avrek::detail
