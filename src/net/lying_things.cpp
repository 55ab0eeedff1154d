#include "lying_things.h"

#include <avrek/core/bounds.h>

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr Metres above_ground = 0.3; // the middle of a weapon that lies there

std::size_t index_of(ThingKind kind) {
    return static_cast<std::size_t>(kind);
}

// The middle of a volume, of its top and of its sides, a little inside.
void set_points(LyingThing& thing, const Volume& volume) {
    const Bounds bounds = bounds_of(volume);
    const Vector3 middle = 0.5 * (bounds.low + bounds.high);
    const Vector3 half = 0.45 * (bounds.high - bounds.low);
    thing.points = {middle,
                    middle + Vector3{0.0, half.y(), 0.0},
                    middle + Vector3{half.x(), 0.0, 0.0},
                    middle - Vector3{half.x(), 0.0, 0.0},
                    middle + Vector3{0.0, 0.0, half.z()},
                    middle - Vector3{0.0, 0.0, half.z()}};
    thing.point_count = thing.points.size();
}

void set_change(LyingThing& thing, Time at, BodyId who = nobody) {
    thing.has_changed = true;
    thing.at = at;
    thing.who = who;
}

} // namespace

void LyingThings::note(const PickupEvent& event) {
    if (event.change != PickupChange::refused) {
        pickups_.push_back({event.index, {event.at, event.who}});
    }
}

void LyingThings::note(const DropEvent& event) {
    if (!event.lost) {
        drops_.push_back({event.weapon, event.position, {event.at, event.who}});
    }
}

void LyingThings::look(const Skirmish& fight) {
    for (auto& things : of_kind) {
        for (LyingThing& thing : things) {
            thing.has_changed = false;
        }
    }
    look_at_pickups(fight);
    look_at_weapons(fight);
    look_at_hazards(fight);
    pickups_.clear();
    drops_.clear();
}

LyingThing& LyingThings::add(ThingKind kind, std::int32_t number) {
    LyingThing& thing = of_kind[index_of(kind)].emplace_back();
    thing.number = thing.notice.index = number;
    return thing;
}

void LyingThings::look_at_pickups(const Skirmish& fight) {
    std::vector<LyingThing>& things = of_kind[index_of(ThingKind::pickup)];
    const std::span<const PickupState> all = fight.match().pickups();
    for (std::size_t index = 0; index < all.size(); ++index) {
        const PickupState& pickup = all[index];
        if (index == things.size()) {
            LyingThing& thing = add(ThingKind::pickup, static_cast<std::int32_t>(index));
            const Metres radius = fight.arsenal()[pickup.spec].radius;
            thing.there = !pickup.there;
            thing.points[0] = pickup.position + Vector3{0.0, 0.5 * radius, 0.0};
            thing.point_count = 1;
            thing.notice.kind = NoticeKind::pickup_placed;
            thing.notice.number = static_cast<std::uint32_t>(to_index(pickup.spec));
            thing.notice.point = pickup.position;
        }
        if (things[index].there != pickup.there) {
            const auto last = std::find_if(pickups_.rbegin(), pickups_.rend(),
                                           [index](const PickupChanged& one) { return one.index == index; });
            const Change change = last != pickups_.rend() ? last->change : Change{fight.now()};
            set_change(things[index], change.at, change.who);
            things[index].there = pickup.there;
        }
    }
}

// The list of the match loses some and gets new ones at its end.
void LyingThings::look_at_weapons(const Skirmish& fight) {
    const std::span<const DroppedWeapon> all = fight.match().dropped();
    std::size_t next = 0;
    for (LyingThing& thing : of_kind[index_of(ThingKind::weapon)]) {
        if (thing.there && next < all.size() && all[next].weapon == thing.notice.weapon &&
            all[next].position == thing.notice.point) {
            ++next;
        } else if (thing.there) {
            thing.there = false;
            set_change(thing, fight.now());
        }
    }
    for (; next < all.size(); ++next) {
        const DroppedWeapon& weapon = all[next];
        LyingThing& thing = add(ThingKind::weapon, weapon_count_++);
        thing.points[0] = weapon.position + Vector3{0.0, above_ground, 0.0};
        thing.point_count = 1;
        thing.notice.kind = NoticeKind::weapon_dropped;
        thing.notice.weapon = weapon.weapon;
        thing.notice.number = static_cast<std::uint32_t>(std::max(0, weapon.state.rounds));
        thing.notice.point = weapon.position;
        const auto drop = std::find_if(drops_.begin(), drops_.end(), [&weapon](const WeaponDropped& one) {
            return one.weapon == weapon.weapon && one.position == weapon.position;
        });
        const Change change = drop != drops_.end() ? drop->change : Change{fight.now()};
        set_change(thing, change.at, change.who);
    }
}

void LyingThings::look_at_hazards(const Skirmish& fight) {
    std::vector<LyingThing>& things = of_kind[index_of(ThingKind::hazard)];
    const std::span<const HazardState> all = fight.match().hazards();
    hazards_.resize(std::max(hazards_.size(), all.size()), -1);
    for (std::size_t index = 0; index < all.size(); ++index) {
        const HazardState& hazard = all[index];
        std::int32_t& number = hazards_[index];
        const auto thing = std::find_if(things.begin(), things.end(),
                                        [number](const LyingThing& one) { return one.number == number; });
        if (thing != things.end() && thing->there) {
            if (hazard.spec && thing->ends == hazard.ends && thing->notice.point == hazard.pose.position) {
                continue;
            }
            thing->there = false;
            set_change(*thing, fight.now());
        }
        number = -1;
        if (hazard.spec) {
            number = hazard_count_++;
            LyingThing& made = add(ThingKind::hazard, number);
            set_points(made, to_world(hazard.pose, fight.arsenal()[*hazard.spec].volume));
            made.ends = hazard.ends;
            made.notice.kind = NoticeKind::hazard_laid;
            made.notice.number = static_cast<std::uint32_t>(to_index(*hazard.spec));
            made.notice.amount = static_cast<double>(hazard.team);
            made.notice.point = hazard.pose.position;
            made.notice.direction = hazard.pose.rotation * world_forward();
            made.notice.aim = hazard.pose.rotation * world_up();
            set_change(made, fight.now(), hazard.source);
        }
    }
}

} // namespace avrek::detail
