#include "skirmish_impl.h"
#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/arsenal/places.h>
#include <avrek/core/state_hash.h>

#include <algorithm>
#include <cassert>
#include <utility>

/// A fight goes on with the values of another arsenal.
namespace avrek {

namespace {

bool has_room(const Arsenal& arsenal) {
    return arsenal.ammo.size() <= max_ammo_kinds && arsenal.conditions.size() <= max_condition_kinds;
}

std::vector<const RigSpec*> rigs_of(const Arsenal& arsenal) {
    std::vector<const RigSpec*> rigs;
    for (const BodySpec& body : arsenal.bodies) {
        rigs.push_back(&body.rig);
    }
    return rigs;
}

} // namespace

void detail::SkirmishState::use(const Arsenal& was, const Arsenal& is, const SkirmishSettings& settings) {
    const std::vector<const RigSpec*> rigs_before = rigs_of(was);
    const std::vector<const RigSpec*> rigs = rigs_of(is);
    scene.change_rigs(rigs_before, rigs, joints_of(is));
    if (snapshots) {
        snapshots->change_rigs(rigs_before, rigs, joints_of(is));
    }
    for (SnapshotBody& body : snapshot_bodies) {
        const auto place = static_cast<std::size_t>(body.body - was.bodies.data());
        body.body = &is.bodies[std::min(place, is.bodies.size() - 1)];
    }
    for (std::size_t pool = 0; pool < is.projectiles.size(); ++pool) {
        if (pool < pools.size()) {
            pools[pool].retune(is.projectiles[pool]);
        } else {
            pools.emplace_back(is.projectiles[pool], settings.projectiles);
            origins.emplace_back(settings.projectiles);
        }
    }
    pools.erase(pools.begin() + static_cast<std::ptrdiff_t>(is.projectiles.size()), pools.end());
    origins.resize(is.projectiles.size());
}

void Skirmish::Impl::use(const Tuning& tuning) {
    const Arsenal& is = *tuning.arsenal;
    fight.use(*fight.arsenal, is, fight.settings);
    fight.arsenal = &is;
    fight.moved_by = detail::movers_of(is, fight.settings.locomotions);
    most.resize(5 + is.projectiles.size());
    kind = tuning.kind;
}

const Skirmish::Impl::Tuning* Skirmish::Impl::find_tuning(std::uint64_t wanted) const {
    const auto found = std::find_if(tunings.begin(), tunings.end(),
                                    [wanted](const Tuning& one) { return one.kind == wanted; });
    return found != tunings.end() ? &*found : nullptr;
}

std::uint64_t Skirmish::Impl::kind_with(const Arsenal& arsenal) const {
    StateHash hash;
    hash.add(fight_kind);
    hash.add(hash_of(arsenal));
    return hash.value();
}

Outcome Skirmish::Impl::take_in(const Arsenal& before, std::shared_ptr<const Arsenal> arsenal,
                                const Tuning*& taken) {
    assert(arsenal != nullptr);
    if (fight.match.is_over()) {
        return Outcome::refused("the match is over");
    }
    const std::uint64_t given = hash_of(*arsenal);
    if (!keeps_places(before, *arsenal)) {
        arsenal = std::make_shared<const Arsenal>(with_places_of(before, *arsenal));
    }
    if (!has_room(*arsenal)) {
        return Outcome::refused("the arsenal has more conditions or types of ammunition, with those that it "
                                "had before, than there is room for");
    }
    if (!validate(*arsenal, fight.settings, fight.plan).empty()) {
        return Outcome::refused("the settings of the fight do not fit the arsenal: see validate()");
    }
    const std::uint64_t its_kind = kind_with(*arsenal);
    taken = find_tuning(its_kind);
    if (taken == nullptr) {
        taken = &tunings.emplace_back(Tuning{its_kind, std::move(arsenal), given});
    }
    return Outcome::done();
}

Outcome Skirmish::retune(std::shared_ptr<const Arsenal> arsenal) {
    const Impl::Tuning* taken = nullptr;
    const Outcome outcome = impl_->take_in(this->arsenal(), std::move(arsenal), taken);
    if (!outcome || taken->kind == impl_->kind) {
        return outcome;
    }
    detail::Fight& fight = impl_->fight;
    const Arsenal& was = *fight.arsenal;
    const Impl::Tuning tuning = *taken; // the list may move
    impl_->use(tuning);
    fight.match.retune(*fight.arsenal);
    impl_->retune_swings(was);
    return outcome;
}

void Skirmish::Impl::retune_swings(const Arsenal& was) {
    for (Fighter& fighter : fight.fighters) {
        if (!fighter.melee) {
            continue;
        }
        std::vector<MeleeEvent> events;
        const std::uint32_t swing = fighter.swing.swings;
        avrek::retune(was[*fighter.melee], (*fight.arsenal)[*fighter.melee], fighter.swing,
                      tick_span(fight.tick, fight.settings.rate).begin, events);
        for (const MeleeEvent& event : events) {
            fighter.swing_ended = swing; // it is cancelled
            fight.events().emplace_back(SwingEvent{fighter.id, event});
        }
    }
}

Outcome Skirmish::know(std::shared_ptr<const Arsenal> arsenal) {
    const Impl::Tuning* taken = nullptr;
    return impl_->take_in(*impl_->tunings.back().arsenal, std::move(arsenal), taken);
}

void Skirmish::forget_arsenals(std::span<const std::shared_ptr<const Arsenal>> keep) {
    std::vector<std::uint64_t> kept;
    for (const std::shared_ptr<const Arsenal>& arsenal : keep) {
        kept.push_back(hash_of(*arsenal));
    }
    const std::uint64_t first = impl_->tunings.front().kind;
    std::erase_if(impl_->tunings, [&](const Impl::Tuning& one) {
        return one.kind != first && one.kind != impl_->kind &&
               std::find(kept.begin(), kept.end(), one.given) == kept.end();
    });
}

} // namespace avrek
