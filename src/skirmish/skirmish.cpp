#include "fields.h"
#include "skirmish_impl.h"
#include <avrek/core/state_hash.h>
#include <avrek/scene/level_digest.h>
#include <avrek/skirmish/blended_poses.h>

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

namespace {

constexpr std::uint64_t saved_mark = 0x3230656b72767641U; // "Avrkes02"

// Head of a saved state.
struct SavedHead {
    std::uint64_t mark = saved_mark;
    std::uint64_t kind = 0;
    std::uint64_t size = 0;      // size of what follows
    std::uint64_t companion = 0; // size of the last part of that, the game's own
    std::uint64_t check = 0;
};

// The same for all arsenals.
std::uint64_t kind_of_state(const detail::Fight& fight) {
    const SkirmishSettings& settings = fight.settings;
    StateHash hash;
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
             static_cast<std::uint64_t>(settings.muzzle) << 1U | std::uint64_t{settings.moves_bodies});
    for (const std::string& name : names_of(settings.locomotions)) {
        hash.add(bytes_check(std::as_bytes(std::span{name})));
    }
    const std::string poses = name_of(fight.poses());
    hash.add(bytes_check(std::as_bytes(std::span{poses})));
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
    fight_kind = kind_of_state(fight);
    kind = kind_with(arsenal);
    tunings.push_back({kind, {std::shared_ptr<const Arsenal>{}, &arsenal}});
}

Skirmish::Impl::Impl(const Impl& other)
    : fight(other.fight), tunings(other.tunings), fight_kind(other.fight_kind), kind(other.kind),
      event_count(other.event_count), most(other.most) {}

void Skirmish::Impl::stand_between_ticks() {
    const Time now = tick_span(fight.tick, fight.settings.rate).begin;
    fight.span = {now - Duration{1}, now};
}

std::size_t Skirmish::Impl::write(std::span<std::byte> room) const {
    StateWriter to{room};
    to.value(SavedHead{});
    fight.write(to, *fight.arsenal);
    const std::size_t begin = to.size();
    const std::size_t size = companion != nullptr ? companion->size() : 0;
    if (companion != nullptr && begin + size <= room.size()) {
        companion->save(room.subspan(begin, size));
    }
    return begin + size;
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
    return impl_->roster.enter(entrant, now());
}

bool Skirmish::remove(BodyId id) {
    return impl_->roster.leave(id);
}

std::span<const Event> Skirmish::advance(std::span<const Intent> intents, std::span<const BodyUpdate> updates,
                                         std::span<const GameAction> actions) {
    impl_->advance(intents, updates, actions);
    return events();
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
std::span<ProjectilePool> Skirmish::projectiles() {
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

void Skirmish::set_companion(CompanionState* companion) {
    impl_->companion = companion;
}

CompanionState* Skirmish::companion() const {
    return impl_->companion;
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
    head.companion = impl_->companion != nullptr ? impl_->companion->size() : 0;
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
    const Impl::Tuning* tuning = impl_->find_tuning(head.kind);
    if (tuning == nullptr) {
        return Outcome::refused("the state is of another fight: its arsenal, level, settings or seed differ");
    }
    if (head.companion > head.size || (head.companion > 0 && impl_->companion == nullptr)) {
        return Outcome::refused("the state has a part of the game's own, for which there is no companion");
    }
    const std::span<const std::byte> body = from.subspan(sizeof head);
    if (impl_->companion != nullptr && !impl_->companion->restore(body.last(head.companion))) {
        return Outcome::refused("the companion refuses its part of the state");
    }
    if (head.kind != impl_->kind) {
        impl_->use(*tuning);
        impl_->fight.parts().set_arsenal(*tuning->arsenal);
    }
    StateReader reader{body.first(body.size() - head.companion)};
    impl_->fight.read(reader, arsenal(), settings());
    impl_->stand_between_ticks();
    match().forget_events();
    impl_->event_count = 0;
    return Outcome::done();
}

std::uint64_t Skirmish::state_hash() const {
    if (impl_->companion == nullptr) {
        return fight_hash();
    }
    StateHash hash;
    hash.add(fight_hash());
    hash.add(impl_->companion->hash());
    return hash.value();
}

std::uint64_t Skirmish::fight_hash() const {
    return detail::hash_of_fight(*this);
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
    shown.eye = eye_of(id);
    return shown;
}

Vector3 Skirmish::eye_of(BodyId id) const {
    const detail::Fight& fight = impl_->fight;
    const std::size_t index = fight.index_of(id);
    assert(index < fight.fighters.size());
    const Fighter& fighter = fight.fighters[index];
    return fight.aim_of(fighter, fighter.look, fighter.motion.position, false).eye;
}

} // namespace avrek
