#include <avrek/vitals/gun.h>
#include <avrek/weapon/spread.h>

namespace avrek {

Vector3 Shot::Directions::Iterator::operator*() const {
    const Shot& shot = of_.shot_;
    const RandomKey key{
        .seed = shot.seed, .combatant = static_cast<std::uint32_t>(shot.shooter), .shot = shot.event.shot};
    return pellet_direction(shot.weapon->spread, of_.middle_, shot.event.spread, key, pellet_);
}

Shot::Directions Shot::directions(const Look& view) const {
    return {*this, direction_of({view.yaw + event.view.yaw, view.pitch + event.view.pitch})};
}

Damage Shot::damage(Metres distance, const RigSpec& rig, RegionId region, double pierced) const {
    return hit_damage(*weapon, distance, rig, region, event.power, pierced);
}

Damage Shot::damage(Metres distance, std::string_view region, double pierced) const {
    return hit_damage(*weapon, distance, region, event.power, pierced);
}

Gun::Gun(const WeaponSpec& spec, const GunSettings& settings)
    : spec_(&spec), settings_(settings), state_(full_weapon(spec, settings.at)),
      reserve_(full_reserve(spec)) {}

std::span<const Shot> Gun::advance(Time until, const WeaponIntent& input) {
    return advance(until, {&input, 1});
}

std::span<const Shot> Gun::advance(Time until, std::span<const WeaponIntent> inputs) {
    events_.clear();
    shots_.clear();
    avrek::advance(*spec_, state_, reserve_, until, inputs, events_);
    for (const WeaponEvent& event : events_) {
        if (event.kind == WeaponEventKind::shot) {
            shots_.push_back({event.at, event, spec_, settings_.seed, settings_.shooter});
        }
    }
    return shots_;
}

WeaponReadout Gun::readout(const Screen& screen) const {
    return avrek::readout(*spec_, state_, reserve_, screen);
}

} // namespace avrek
