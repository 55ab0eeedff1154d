#include "feet_world.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/core/state_hash.h>
#include <avrek/scene/level_digest.h>
#include <avrek/skirmish/skirmish.h>

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

namespace {

constexpr std::uint64_t saved_mark = 0x3130656b72767641U; // "Avrkes01"

std::size_t max_joints_of(const Arsenal& arsenal) {
    std::size_t most = 0;
    for (const BodySpec& body : arsenal.bodies) {
        most = std::max(most, body.rig.joints.size());
    }
    return most + 1;
}

// Head of a saved state.
struct SavedHead {
    std::uint64_t mark = saved_mark;
    std::uint64_t kind = 0;
    std::uint64_t size = 0; // size of what follows
    std::uint64_t check = 0;
};

// A body that was shown, as it is saved: id, body, place, and yaw, team and stance in one.
using SavedSnapshot = std::array<std::int32_t, 6>;

SavedSnapshot saved_snapshot(const SnapshotBody& snapshot, std::int32_t body) {
    return {static_cast<std::int32_t>(snapshot.id),
            body,
            snapshot.pose.x,
            snapshot.pose.y,
            snapshot.pose.z,
            snapshot.pose.yaw | static_cast<std::int32_t>(snapshot.team) << 16 |
                static_cast<std::int32_t>(snapshot.stance) << 24};
}

SnapshotBody snapshot_of(const SavedSnapshot& saved, const Arsenal& arsenal) {
    return {static_cast<BodyId>(saved[0]),
            &arsenal.bodies[static_cast<std::size_t>(saved[1])],
            static_cast<TeamId>(saved[5] >> 16 & 0xff),
            {saved[2], saved[3], saved[4], static_cast<std::uint16_t>(saved[5] & 0xffff)},
            static_cast<BodyStance>(saved[5] >> 24)};
}

} // namespace

Skirmish::Skirmish(const Arsenal& arsenal, Level level, const SkirmishSettings& settings, std::uint64_t seed,
                   LevelPlan plan)
    : arsenal_(&arsenal), settings_(settings), seed_(seed), plan_(std::move(plan)),
      match_(arsenal, arsenal[settings.rules], settings.limits),
      scene_(std::move(level), {.bodies = std::max<std::size_t>(1, settings.limits.combatants),
                                .joints = max_joints_of(arsenal),
                                .frames = settings.history_frames}) {
    assert(settings.rate.hertz >= 1 && settings.rate.hertz <= 1000);
    const std::size_t most = settings.limits.combatants;
    fighters_.reserve(most);
    weapon_plans_.reserve(most);
    for (const BodySpec& body : arsenal.bodies) {
        scene_.prepare(body.rig);
    }
    for (const ProjectileSpec& projectile : arsenal.projectiles) {
        pools_.emplace_back(projectile, settings.projectiles);
        origins_.emplace_back(settings.projectiles);
    }
    const std::size_t each = 8 * most + 64;
    events_.reserve(each);
    actions_.reserve(8 * each);
    planned_events_.reserve(4 * each);
    swung_.reserve(each);
    flown_.reserve(4 * each);
    weapon_events_.reserve(each);
    melee_events_.reserve(each);
    projectile_events_.reserve(each);
    most_.resize(5 + arsenal.projectiles.size());
    for (const PlannedHazard& hazard : plan_.hazards) {
        match_.lay_hazard(scene_, {.spec = hazard.spec, .pose = hazard.pose}, Time{}, events_.match);
    }
    for (const PlannedPickup& pickup : plan_.pickups) {
        match_.place_pickup(pickup.spec, pickup.position);
    }
    events_.clear();
    tick_ = settings.first_tick;
    match_.advance(scene_, now(), events_.match);
    events_.clear();
    if (settings.snapshot_interval > 0) {
        snapshots_.emplace(scene_.level(), SceneLimits{std::max<std::size_t>(1, most), max_joints_of(arsenal),
                                                       settings.snapshot_history});
        for (const BodySpec& body : arsenal.bodies) {
            snapshots_->prepare(body.rig);
        }
        snapshot_bodies_.reserve(most);
    }
    kind_ = kind_of_state();
}

std::uint64_t Skirmish::kind_of_state() const {
    StateHash hash;
    hash.add(hash_of(*arsenal_));
    hash.add(static_cast<std::uint64_t>(settings_.rules));
    hash.add(digest_of(scene_.level()));
    for (const std::size_t size :
         {settings_.limits.combatants, settings_.limits.hazards, settings_.limits.pickups,
          settings_.limits.dropped, settings_.projectiles, settings_.history_frames, sizeof(Combatant),
          sizeof(Fighter), sizeof(HazardState), plan_.spawns.size(), settings_.snapshot_history,
          static_cast<std::size_t>(settings_.snapshot_interval), std::size_t{settings_.applies_damage},
          static_cast<std::size_t>(settings_.first_tick)}) {
        hash.add(std::uint64_t{size});
    }
    hash.add(static_cast<std::uint64_t>(settings_.rate.hertz) << 8U |
             static_cast<std::uint64_t>(settings_.muzzle) << 1U |
             std::uint64_t{settings_.walking_locomotion});
    hash.add(seed_);
    return hash.value();
}

std::size_t Skirmish::index_of(BodyId id) const {
    const auto found = std::lower_bound(fighters_.begin(), fighters_.end(), id,
                                        [](const Fighter& one, BodyId wanted) { return one.id < wanted; });
    return found != fighters_.end() && found->id == id ? static_cast<std::size_t>(found - fighters_.begin())
                                                       : fighters_.size();
}

const Fighter* Skirmish::find(BodyId id) const {
    const std::size_t index = index_of(id);
    return index < fighters_.size() ? &fighters_[index] : nullptr;
}

const BodySpec& Skirmish::body_of(const Fighter& fighter) const {
    return (*arsenal_)[match_.combatants()[static_cast<std::size_t>(&fighter - fighters_.data())].body];
}

Fighter* Skirmish::edit(BodyId id) {
    const std::size_t index = index_of(id);
    return index < fighters_.size() ? &fighters_[index] : nullptr;
}

Outcome Skirmish::add(const Entrant& entrant) {
    assert(!entrant.melee || to_index(*entrant.melee) < arsenal_->melee.size());
    assert(entrant.spawns.size() <= Fighter::max_spawns);
    const Outcome joined = match_.join({.id = entrant.id,
                                        .team = entrant.team,
                                        .body = entrant.body,
                                        .role = entrant.role,
                                        .weapons = entrant.weapons});
    if (!joined) {
        return joined;
    }
    Fighter fighter;
    fighter.id = entrant.id;
    fighter.intent.who = entrant.id;
    fighter.melee = entrant.melee;
    fighter.spawn_count = entrant.spawns.size();
    std::copy(entrant.spawns.begin(), entrant.spawns.end(), fighter.spawns.begin());
    const auto before = std::lower_bound(fighters_.begin(), fighters_.end(), entrant.id,
                                         [](const Fighter& one, BodyId id) { return one.id < id; });
    Fighter& there = *fighters_.insert(before, fighter);
    weapon_plans_.resize(fighters_.size());
    const Combatant& who = *match_.find(entrant.id);
    if (entrant.at) {
        there.position = there.position_before = *entrant.at;
        there.look = there.look_before = {entrant.yaw, 0.0};
    } else {
        place_body(there, who, true);
    }
    there.intent.yaw = static_cast<float>(there.look.yaw);
    there.facing = there.look.yaw;
    there.alive_since = now();
    there.in_scene = scene_.add({.id = entrant.id,
                                 .rig = &body_of(there).rig,
                                 .pose = {there.position, turned_to({there.look.yaw, 0.0})},
                                 .team = entrant.team});
    assert(there.in_scene);
    return joined;
}

HitResult Skirmish::hit(BodyId target, const IncomingHit& hit) {
    span_ = {now(), tick_span(tick_, settings_.rate).end};
    return match_.hit(feet(), target, hit, now(), early_);
}

bool Skirmish::give_condition(BodyId target, const NewCondition& condition) {
    span_ = {now(), tick_span(tick_, settings_.rate).end};
    return match_.give_condition(feet(), target, condition, now(), early_);
}

bool Skirmish::remove(BodyId id) {
    const std::size_t index = index_of(id);
    if (index == fighters_.size()) {
        return false;
    }
    match_.leave(id, early_);
    scene_.remove(id);
    fighters_.erase(fighters_.begin() + static_cast<std::ptrdiff_t>(index));
    weapon_plans_.resize(fighters_.size());
    return true;
}

std::vector<HighWater> Skirmish::high_water() const {
    std::vector<HighWater> all{{"combatants", most_[0], settings_.limits.combatants},
                               {"hazards", most_[1], settings_.limits.hazards},
                               {"pickups", most_[2], settings_.limits.pickups},
                               {"dropped weapons", most_[3], settings_.limits.dropped},
                               {"conditions of one", most_[4], Vitals::max_conditions}};
    for (const ProjectilePool& pool : pools_) {
        all.push_back({pool.spec().id, pool.high_water(), pool.capacity()});
    }
    return all;
}

std::size_t Skirmish::write(std::span<std::byte> room) const {
    StateWriter to{room};
    to.value(SavedHead{});
    to.value(tick_);
    match_.save(to);
    scene_.save(to);
    if (snapshots_) {
        snapshots_->save(to);
        to.value(std::uint64_t{snapshot_bodies_.size()});
        for (const SnapshotBody& body : snapshot_bodies_) {
            to.value(saved_snapshot(body, to_number(arsenal_->body(body.body->id))));
        }
    }
    to.clean_list(fighters_);
    for (std::size_t pool = 0; pool < pools_.size(); ++pool) {
        pools_[pool].save(to);
        for (const Origin& origin : origins_[pool]) {
            to.value(std::int64_t{to_number(origin.weapon)});
            to.value(origin.power);
        }
    }
    return to.size();
}

std::span<std::byte> Skirmish::save(std::span<std::byte> room) const {
    const std::size_t size = write(room);
    if (size > room.size()) {
        return {};
    }
    SavedHead head;
    head.kind = kind_;
    head.size = size - sizeof head;
    head.check = bytes_check(room.subspan(sizeof head, head.size));
    std::memcpy(room.data(), &head, sizeof head);
    return room.first(size);
}

std::size_t Skirmish::saved_size() const {
    return write({});
}

Outcome Skirmish::restore(std::span<const std::byte> from) {
    SavedHead head;
    if (from.size() >= sizeof head) {
        std::memcpy(&head, from.data(), sizeof head);
    }
    if (from.size() < sizeof head || head.mark != saved_mark || head.size != from.size() - sizeof head ||
        head.check != bytes_check(from.subspan(sizeof head))) {
        return Outcome::refused("the bytes are damaged, or no saved state");
    }
    if (head.kind != kind_) {
        return Outcome::refused("the state is of another fight: its arsenal, level, settings or seed differ");
    }
    StateReader reader{from.subspan(sizeof head)};
    reader.value(tick_);
    match_.restore(reader);
    scene_.restore(reader);
    if (snapshots_) {
        snapshots_->restore(reader);
        std::uint64_t count = 0;
        reader.value(count);
        snapshot_bodies_.clear();
        for (SavedSnapshot saved{}; count > 0 && reader.value(saved); --count) {
            snapshot_bodies_.push_back(snapshot_of(saved, *arsenal_));
        }
    }
    reader.list(fighters_, settings_.limits.combatants);
    for (std::size_t pool = 0; pool < pools_.size(); ++pool) {
        pools_[pool].restore(reader);
        for (Origin& origin : origins_[pool]) {
            std::int64_t weapon = 0;
            reader.value(weapon);
            reader.value(origin.power);
            origin.weapon = optional_id<WeaponId>(static_cast<std::int32_t>(weapon));
        }
    }
    assert(reader.is_sound() && reader.is_at_end());
    weapon_plans_.resize(fighters_.size());
    events_.clear();
    early_.clear();
    return Outcome::done();
}

CombatantReadout Skirmish::readout(BodyId id, const Screen& screen) const {
    const std::size_t index = index_of(id);
    assert(index < fighters_.size());
    const Fighter& fighter = fighters_[index];
    const Combatant& who = match_.combatants()[index];
    CombatantReadout shown;
    shown.alive = who.vitals.life == LifeState::alive;
    shown.health = who.vitals.fraction();
    shown.view = {fighter.look.yaw + fighter.kick.yaw, fighter.look.pitch + fighter.kick.pitch};
    if (who.respawn_at != Time::max()) {
        shown.respawn_at = who.respawn_at;
    }
    const WeaponSpec* weapon = weapon_in(*arsenal_, who.loadout, who.loadout.in_hand);
    if (weapon != nullptr) {
        shown.weapon = avrek::readout(*weapon, *state_in(who.loadout, who.loadout.in_hand),
                                      reserve_of(*arsenal_, who.loadout, who.loadout.in_hand), screen);
        shown.view.yaw += shown.weapon->view_kick.yaw;
        shown.view.pitch += shown.weapon->view_kick.pitch;
    }
    shown.eye = aim_of(fighter, fighter.look, fighter.position, fighter.intent.buttons.has(Button::crouch),
                       weapon != nullptr)
                    .eye;
    return shown;
}

} // namespace avrek
