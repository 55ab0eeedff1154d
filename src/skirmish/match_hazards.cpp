#include "match_parts.h"

#include <algorithm>
#include <cassert>

/// Hazards of a match.
namespace avrek::detail {

namespace {

Filter touched_by(const HazardSpec& spec, TeamId team) {
    Filter filter{.hits = spec.layers};
    if (spec.side != HazardSide::all) {
        filter.teams = spec.side == HazardSide::others ? TeamSet::all_but(team) : TeamSet{team};
    }
    return filter;
}

void forget_touch(HazardState& hazard, std::size_t touch) {
    const auto begin = hazard.touched.begin();
    std::copy(begin + static_cast<std::ptrdiff_t>(touch) + 1,
              begin + static_cast<std::ptrdiff_t>(hazard.touched_count),
              begin + static_cast<std::ptrdiff_t>(touch));
    --hazard.touched_count;
}

void leave_hazard(MatchParts& match, std::size_t index, std::size_t touch, Time at) {
    HazardTouch& touched = match.hazards[index].touched[touch];
    if (touched.inside) {
        touched.inside = false;
        match.events.emplace_back(HazardEvent{at, touched.body, HazardChange::left, index});
    }
}

void check_hazard(MatchParts& match, std::size_t slot, Time at) {
    HazardState& hazard = match.hazards[slot];
    const HazardSpec& spec = (*match.arsenal)[*hazard.spec];
    std::array<Hit, max_found> found;
    const std::size_t count =
        match.world->overlaps(to_world(hazard.pose, spec.volume), at, touched_by(spec, hazard.team), found);
    const auto is_found = [&](BodyId id) {
        return std::any_of(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(count),
                           [id](const Hit& hit) { return hit.body == id; });
    };
    for (std::size_t touch = hazard.touched_count; touch > 0; --touch) {
        HazardTouch& touched = hazard.touched[touch - 1];
        if (!is_found(touched.body)) {
            leave_hazard(match, slot, touch - 1, at);
            if (touched.next <= at) {
                forget_touch(hazard, touch - 1);
            }
        }
    }
    for (std::size_t index = 0; index < count; ++index) {
        const std::optional<BodyId> id = found[index].body;
        const Combatant* who = id ? match.find(*id) : nullptr;
        if (who == nullptr || who->vitals.life == LifeState::dead || who->id == hazard.carrier) {
            continue;
        }
        auto* const end = hazard.touched.data() + hazard.touched_count;
        auto* touched = std::find_if(hazard.touched.data(), end,
                                     [&](const HazardTouch& touch) { return touch.body == *id; });
        if (touched == end) {
            if (hazard.touched_count == HazardState::max_touched) {
                continue;
            }
            *touched = {*id, at, false};
            ++hazard.touched_count;
        }
        if (!touched->inside) {
            touched->inside = true;
            touched->next = std::max(touched->next, at);
            match.events.emplace_back(HazardEvent{at, *id, HazardChange::entered, slot});
        }
    }
    find_hazard_due(hazard);
    match.schedule.push({due_of(hazard), DueKind::hazard, static_cast<std::uint32_t>(slot)});
}

} // namespace

void find_hazard_due(HazardState& hazard) {
    hazard.due = Time::max();
    for (std::size_t touch = 0; touch < hazard.touched_count; ++touch) {
        if (hazard.touched[touch].inside) {
            hazard.due = std::min(hazard.due, hazard.touched[touch].next);
        }
    }
}

void stop_hazard(MatchParts& match, std::size_t index, Time at) {
    HazardState& hazard = match.hazards[index];
    for (std::size_t touch = hazard.touched_count; touch > 0; --touch) {
        leave_hazard(match, index, touch - 1, at);
    }
    hazard = {};
    match.events.emplace_back(HazardEvent{at, nobody, HazardChange::ended, index});
}

bool has_touches(const MatchParts& match) {
    return std::any_of(match.hazards.begin(), match.hazards.end(),
                       [](const HazardState& hazard) { return hazard.spec.has_value(); }) ||
           std::any_of(match.pickups.begin(), match.pickups.end(),
                       [&](const PickupState& pickup) { return !(*match.arsenal)[pickup.spec].on_request; });
}

std::optional<std::size_t> lay_hazard(MatchParts& match, const HazardPlacement& placement, Time at) {
    advance(match, at);
    if (match.over) {
        return std::nullopt;
    }
    auto place = std::find_if(match.hazards.begin(), match.hazards.end(),
                              [](const HazardState& hazard) { return !hazard.spec; });
    if (place == match.hazards.end()) {
        if (match.hazards.size() >= match.limits.hazards) {
            return std::nullopt;
        }
        place = match.hazards.insert(place, HazardState{});
    }
    match.schedule.forget();
    match.looked_until = std::max(match.looked_until, match.now);
    const HazardSpec& spec = (*match.arsenal)[placement.spec];
    *place = {};
    place->spec = placement.spec;
    place->pose = placement.pose;
    place->team = placement.team;
    place->source = placement.source;
    place->carrier = placement.carrier;
    place->ends = spec.lasts == Duration::max() ? Time::max() : at + spec.lasts;
    return static_cast<std::size_t>(place - match.hazards.begin());
}

void forget_touches(MatchParts& match, BodyId id, Time at) {
    for (std::size_t index = 0; index < match.hazards.size(); ++index) {
        HazardState& hazard = match.hazards[index];
        for (std::size_t touch = hazard.touched_count; touch > 0; --touch) {
            if (hazard.touched[touch - 1].body == id) {
                leave_hazard(match, index, touch - 1, at);
                forget_touch(hazard, touch - 1);
            }
        }
        if (hazard.spec.has_value() && hazard.carrier == id) {
            stop_hazard(match, index, at);
        }
        find_hazard_due(hazard);
        match.schedule.push({due_of(hazard), DueKind::hazard, static_cast<std::uint32_t>(index)});
    }
}

void check_touches(MatchParts& match, Time at) {
    for (std::size_t index = 0; index < match.hazards.size() && !match.over; ++index) {
        if (match.hazards[index].spec.has_value()) {
            check_hazard(match, index, at);
        }
    }
    check_pickups(match, at);
}

void do_hazard(MatchParts& match, std::size_t index, Time at) {
    if (match.hazards[index].ends == at) {
        stop_hazard(match, index, at);
        return;
    }
    const HazardSpec& spec = (*match.arsenal)[*match.hazards[index].spec];
    for (std::size_t touch = 0; touch < match.hazards[index].touched_count && !match.over; ++touch) {
        HazardTouch& touched = match.hazards[index].touched[touch];
        Combatant* who = touched.inside && touched.next <= at ? match.find(touched.body) : nullptr;
        if (who == nullptr) {
            continue;
        }
        touched.next += spec.period;
        IncomingHit hit;
        hit.damage.multiply(DamageStepKind::base, spec.damage);
        hit.effect = &spec.effect;
        hit.source = match.hazards[index].source;
        const std::size_t before = match.hazards[index].touched_count;
        hit_now(match, *who, hit, at);
        if (!match.hazards[index].spec) {
            return; // it was the life of its carrier
        }
        touch -= match.hazards[index].touched_count < before ? 1 : 0; // who died has left it
    }
    find_hazard_due(match.hazards[index]);
}

} // namespace avrek::detail
