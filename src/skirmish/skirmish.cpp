#include "fields.h"
#include "skirmish_impl.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/core/state_hash.h>
#include <avrek/scene/level_digest.h>

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

namespace {

constexpr std::uint64_t saved_mark = 0x3130656b72767641U; // "Avrkes01"

// Head of a saved state.
struct SavedHead {
    std::uint64_t mark = saved_mark;
    std::uint64_t kind = 0;
    std::uint64_t size = 0; // size of what follows
    std::uint64_t check = 0;
};

std::uint64_t kind_of_state(const detail::Fight& fight) {
    const SkirmishSettings& settings = fight.settings;
    StateHash hash;
    hash.add(hash_of(*fight.arsenal));
    hash.add(static_cast<std::uint64_t>(settings.rules));
    hash.add(digest_of(fight.scene.level()));
    for (const std::size_t size :
         {settings.limits.combatants, settings.limits.hazards, settings.limits.pickups,
          settings.limits.dropped, settings.projectiles, settings.history_frames, sizeof(Combatant),
          sizeof(Fighter), sizeof(HazardState), fight.plan.spawns.size(), settings.snapshot_history,
          static_cast<std::size_t>(settings.snapshot_interval), std::size_t{settings.applies_damage},
          static_cast<std::size_t>(settings.first_tick)}) {
        hash.add(std::uint64_t{size});
    }
    hash.add(static_cast<std::uint64_t>(settings.rate.hertz) << 8U |
             static_cast<std::uint64_t>(settings.muzzle) << 1U | std::uint64_t{settings.walking_locomotion});
    hash.add(fight.seed);
    return hash.value();
}

} // namespace

Skirmish::Impl::Impl(const Arsenal& arsenal, Level level, const SkirmishSettings& settings,
                     std::uint64_t seed, LevelPlan plan)
    : fight(arsenal, std::move(level), settings, seed, std::move(plan)) {
    assert(validate(arsenal, settings, fight.plan).empty());
    for (const PlannedHazard& hazard : fight.plan.hazards) {
        fight.match.lay_hazard({.spec = hazard.spec, .pose = hazard.pose}, Time{});
    }
    for (const PlannedPickup& pickup : fight.plan.pickups) {
        fight.match.place_pickup(pickup.spec, pickup.position);
    }
    fight.match.advance(tick_span(fight.tick, settings.rate).begin);
    fight.match.forget_events();
    stand_between_ticks();
    most.resize(5 + arsenal.projectiles.size());
    kind = kind_of_state(fight);
}

Skirmish::Impl::Impl(const Impl& other)
    : fight(other.fight), kind(other.kind), event_count(other.event_count), most(other.most) {}

void Skirmish::Impl::stand_between_ticks() {
    const Time now = tick_span(fight.tick, fight.settings.rate).begin;
    fight.span = {now - Duration{1}, now};
}

std::size_t Skirmish::Impl::write(std::span<std::byte> room) const {
    StateWriter to{room};
    to.value(SavedHead{});
    fight.write(to, *fight.arsenal);
    return to.size();
}

Skirmish::Skirmish(const Arsenal& arsenal, Level level, const SkirmishSettings& settings, std::uint64_t seed,
                   LevelPlan plan)
    : impl_(std::make_unique<Impl>(arsenal, std::move(level), settings, seed, std::move(plan))) {}
Skirmish::Skirmish(const Skirmish& other) : impl_(std::make_unique<Impl>(*other.impl_)) {}
Skirmish& Skirmish::operator=(const Skirmish& other) {
    return *this = Skirmish{other};
}
Skirmish::Skirmish(Skirmish&&) noexcept = default;
Skirmish& Skirmish::operator=(Skirmish&&) noexcept = default;
Skirmish::~Skirmish() = default;

Outcome Skirmish::add(const Entrant& entrant) {
    detail::Fight& fight = impl_->fight;
    assert(!entrant.melee || to_index(*entrant.melee) < fight.arsenal->melee.size());
    assert(entrant.spawns.size() <= Fighter::max_spawns);
    const Outcome joined = fight.match.join({.id = entrant.id,
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
    Fighter& there = *fight.fighters.insert(detail::place_by_id(fight.fighters, entrant.id), fighter);
    if (entrant.at) {
        there.position = there.position_before = *entrant.at;
        there.look = there.look_before = {entrant.yaw, 0.0};
    } else {
        impl_->bodies.place(there, true);
    }
    there.intent.yaw = static_cast<float>(there.look.yaw);
    there.facing = there.look.yaw;
    there.alive_since = now();
    there.in_scene = fight.scene.add({.id = entrant.id,
                                      .rig = &fight.body_of(there).rig,
                                      .pose = {there.position, turned_to({there.look.yaw, 0.0})},
                                      .team = entrant.team});
    assert(there.in_scene);
    return joined;
}

bool Skirmish::remove(BodyId id) {
    detail::Fight& fight = impl_->fight;
    const std::size_t index = fight.index_of(id);
    if (index == fight.fighters.size()) {
        return false;
    }
    fight.match.leave(id);
    fight.scene.remove(id);
    fight.fighters.erase(fight.fighters.begin() + static_cast<std::ptrdiff_t>(index));
    return true;
}

std::span<const Event> Skirmish::advance(std::span<const Intent> intents,
                                         std::span<const BodyUpdate> updates) {
    impl_->advance(intents, updates);
    return events();
}

HitResult Skirmish::hit(BodyId target, const IncomingHit& hit) {
    return match().hit(target, hit, now());
}

bool Skirmish::give_condition(BodyId target, const NewCondition& condition) {
    return match().give_condition(target, condition, now());
}

Tick Skirmish::tick() const {
    return impl_->fight.tick;
}
Time Skirmish::now() const {
    return tick_span(tick(), settings().rate).begin;
}
bool Skirmish::is_over() const {
    return match().is_over();
}
std::span<const Event> Skirmish::events() const {
    return match().events().first(impl_->event_count);
}
std::uint32_t Skirmish::disregarded() const {
    return impl_->fight.disregarded;
}
const SkirmishSettings& Skirmish::settings() const {
    return impl_->fight.settings;
}
const Arsenal& Skirmish::arsenal() const {
    return *impl_->fight.arsenal;
}
const LevelPlan& Skirmish::plan() const {
    return impl_->fight.plan;
}
std::uint64_t Skirmish::seed() const {
    return impl_->fight.seed;
}
const Match& Skirmish::match() const {
    return impl_->fight.match;
}
Match& Skirmish::match() {
    return impl_->fight.match;
}
const Scene& Skirmish::scene() const {
    return impl_->fight.scene;
}
Scene& Skirmish::scene() {
    return impl_->fight.scene;
}
std::span<const Fighter> Skirmish::fighters() const {
    return impl_->fight.fighters;
}
std::span<const ProjectilePool> Skirmish::projectiles() const {
    return impl_->fight.pools;
}
const Scene* Skirmish::snapshots() const {
    return impl_->fight.snapshots ? &*impl_->fight.snapshots : nullptr;
}
std::span<const SnapshotBody> Skirmish::snapshot_bodies() const {
    return impl_->fight.snapshot_bodies;
}
void Skirmish::set_rewind_world(const World* seen) {
    impl_->fight.rewind_world = seen;
}

const Fighter* Skirmish::find(BodyId id) const {
    return detail::find_by_id(std::as_const(impl_->fight.fighters), id);
}

Fighter* Skirmish::edit(BodyId id) {
    return detail::find_by_id(impl_->fight.fighters, id);
}

std::vector<HighWater> Skirmish::high_water() const {
    const std::vector<std::size_t>& most = impl_->most;
    const MatchLimits& limits = settings().limits;
    std::vector<HighWater> all{{"combatants", most[0], limits.combatants},
                               {"hazards", most[1], limits.hazards},
                               {"pickups", most[2], limits.pickups},
                               {"dropped weapons", most[3], limits.dropped},
                               {"conditions of one", most[4], Vitals::max_conditions}};
    for (const ProjectilePool& pool : projectiles()) {
        all.push_back({pool.spec().id, pool.high_water(), pool.capacity()});
    }
    return all;
}

std::span<std::byte> Skirmish::save(std::span<std::byte> room) const {
    const std::size_t size = impl_->write(room);
    if (size > room.size()) {
        return {};
    }
    SavedHead head;
    head.kind = impl_->kind;
    head.size = size - sizeof head;
    head.check = bytes_check(room.subspan(sizeof head, head.size));
    std::memcpy(room.data(), &head, sizeof head);
    return room.first(size);
}

std::size_t Skirmish::saved_size() const {
    return impl_->write({});
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
    if (head.kind != impl_->kind) {
        return Outcome::refused("the state is of another fight: its arsenal, level, settings or seed differ");
    }
    StateReader reader{from.subspan(sizeof head)};
    impl_->fight.read(reader, arsenal(), settings());
    impl_->stand_between_ticks();
    match().forget_events();
    impl_->event_count = 0;
    return Outcome::done();
}

std::uint64_t Skirmish::state_hash() const {
    detail::FieldHashing hashing;
    detail::add_fighters(hashing, *this);
    StateHash hash = hashing.hash();
    hash.add(static_cast<std::uint64_t>(tick()));
    hash.add(match().state_hash());
    return hash.value();
}

CombatantReadout Skirmish::readout(BodyId id, const Screen& screen) const {
    const detail::Fight& fight = impl_->fight;
    const std::size_t index = fight.index_of(id);
    assert(index < fight.fighters.size());
    const Fighter& fighter = fight.fighters[index];
    const Combatant& who = fight.match.combatants()[index];
    CombatantReadout shown;
    shown.alive = who.vitals.life == LifeState::alive;
    shown.health = who.vitals.fraction();
    shown.view = {fighter.look.yaw + fighter.kick.yaw, fighter.look.pitch + fighter.kick.pitch};
    if (who.respawn_at != Time::max()) {
        shown.respawn_at = who.respawn_at;
    }
    const WeaponSpec* weapon = weapon_in(arsenal(), who.loadout, who.loadout.in_hand);
    if (weapon != nullptr) {
        shown.weapon = avrek::readout(*weapon, *state_in(who.loadout, who.loadout.in_hand),
                                      reserve_of(arsenal(), who.loadout, who.loadout.in_hand), screen);
        shown.view.yaw += shown.weapon->view_kick.yaw;
        shown.view.pitch += shown.weapon->view_kick.pitch;
    }
    shown.eye = fight.aim_of(fighter, fighter.look, fighter.position, weapon != nullptr).eye;
    return shown;
}

} // namespace avrek
