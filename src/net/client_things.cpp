#include "client_impl.h"
#include <avrek/core/elementary.h>

#include <algorithm>
#include <utility>

/// Pickups, dropped weapons and hazards, as the player of a client knows them.
namespace avrek {

namespace {

constexpr std::size_t max_things = 65'536; // a kind: a server cannot fill the memory

template <class Thing>
void put(std::vector<Thing>& things, const Thing& thing) {
    const auto place =
        std::lower_bound(things.begin(), things.end(), thing.number,
                         [](const Thing& one, std::int32_t number) { return one.number < number; });
    if (place != things.end() && place->number == thing.number) {
        *place = thing;
    } else if (things.size() < max_things) {
        things.insert(place, thing);
    }
}

template <class Thing>
void take_away(std::vector<Thing>& things, std::int32_t number) {
    std::erase_if(things, [number](const Thing& one) { return one.number == number; });
}

// Axes that look along a direction, with another one upwards.
Rotation rotation_of(const Vector3& direction, const Vector3& up) {
    const double length = std::sqrt(direction.squaredNorm());
    const Vector3 forward = length > 1e-6 ? Vector3(direction / length) : world_forward();
    const Vector3 upwards = up - up.dot(forward) * forward;
    const double height = std::sqrt(upwards.squaredNorm());
    if (length <= 1e-6 || height <= 1e-6) {
        return Rotation::Identity();
    }
    Eigen::Matrix3d axes;
    axes.col(1) = upwards / height;
    axes.col(2) = forward;
    axes.col(0) = axes.col(1).cross(forward);
    return Rotation{axes};
}

} // namespace

// The plan's, which the server has and the client only knows of.
void Client::Impl::know_plan() {
    for (const PlannedPickup& pickup : std::exchange(plan.pickups, {})) {
        pickups.push_back({pickup.spec, pickup.position});
    }
    for (const PlannedHazard& hazard : std::exchange(plan.hazards, {})) {
        hazards.push_back({.number = static_cast<std::int32_t>(hazards.size()),
                           .hazard = hazard.spec,
                           .pose = hazard.pose});
    }
}

void Client::Impl::take_thing(const Notice& notice) {
    if (notice.index < 0) {
        return;
    }
    switch (notice.kind) {
    case NoticeKind::pickup_taken:
    case NoticeKind::pickup_placed:
        take_pickup(notice);
        break;
    case NoticeKind::weapon_dropped:
        take_weapon(notice);
        break;
    case NoticeKind::weapon_taken:
        take_away(dropped, notice.index);
        break;
    case NoticeKind::hazard_laid:
        take_hazard(notice);
        break;
    case NoticeKind::hazard_ended:
        take_away(hazards, notice.index);
        break;
    default:
        break;
    }
}

void Client::Impl::take_pickup(const Notice& notice) {
    const bool is_there = notice.kind == NoticeKind::pickup_placed;
    const auto index = static_cast<std::size_t>(notice.index);
    if (index >= max_things || (is_there && notice.number >= arsenal().pickups.size())) {
        return;
    }
    if (index >= pickups.size()) {
        pickups.resize(index + 1, {.there = false});
    }
    pickups[index].there = is_there;
    if (is_there) {
        pickups[index].spec = static_cast<PickupId>(notice.number);
        pickups[index].position = notice.point;
    }
}

void Client::Impl::take_weapon(const Notice& notice) {
    if (notice.weapon && to_index(*notice.weapon) < arsenal().weapons.size()) {
        put(dropped, SeenWeapon{notice.index, *notice.weapon,
                                static_cast<std::int32_t>(std::min(notice.number, 0xffffU)), notice.point});
    }
}

void Client::Impl::take_hazard(const Notice& notice) {
    if (notice.number < arsenal().hazards.size()) {
        const auto team = static_cast<std::uint8_t>(std::clamp(notice.amount, 0.0, 255.0));
        put(hazards, SeenHazard{notice.index,
                                static_cast<HazardId>(notice.number),
                                TeamId{team},
                                {notice.point, rotation_of(notice.direction, notice.aim)}});
    }
}

std::span<const PickupState> Client::pickups() const {
    return impl_->pickups;
}

std::span<const SeenWeapon> Client::dropped() const {
    return impl_->dropped;
}

std::span<const SeenHazard> Client::hazards() const {
    return impl_->hazards;
}

} // namespace avrek
