#include "search.h"

namespace avrek {

namespace {

void search_blast(Search& search, const ProjectileSpec& projectile) {
    const BlastSpec& blast = projectile.blast;
    search.error(!within(blast.radius, 0.0, 1e4), "blast.radius", "is no radius", "0 to 10000 m");
    search.error(!within(blast.damage, 0.0, 1e9), "blast.damage", "is no damage", "at least 0 health");
    search.error(!within(blast.team_share, 0.0, 1.0), "blast.team_share", "is no share", "0 to 1");
    search.error(!within(blast.self_share, 0.0, 1.0), "blast.self_share", "is no share", "0 to 1");
    search.error(!within(blast.push, 0.0, 1e4), "blast.push", "is no speed", "0 to 10000 m/s");
    search.error(!positive(blast.effect.strength), "blast.effect", "has a strength that is none", "over 0");
    search.error(!is_sound(blast.falloff, 0.0, 1e3), "blast.falloff",
                 "is not a curve of shares over shares of the radius", "x rising from 0, y at least 0");
    search.warning(!never_rises(blast.falloff), "blast.falloff", "rises: it does more farther away",
                   "a curve that never rises");
    search.warning(!blast.falloff.points.empty() && blast.falloff.points.back().x > 1.0, "blast.falloff",
                   "goes on beyond the radius, where nothing is touched", "a last x of at most 1");
    const bool goes_off = blast.radius > 0.0;
    search.warning(!goes_off && (blast.damage > 0.0 || blast.push > 0.0), "blast.radius",
                   "is 0, so nothing goes off", "over 0 m");
    search.warning(!goes_off && projectile.proximity > 0.0, "proximity",
                   "does nothing for a projectile without a blast", "0 m, or a blast.radius");
    search.warning(goes_off && projectile.proximity > blast.radius, "proximity",
                   "is more than the blast reaches", "at most blast.radius");
}

} // namespace

void search_bounce(Search& search, const BounceSpec& bounce) {
    search.error(bounce.count < 0 || bounce.count > 1000, "bounce.count", "is no number of bounces",
                 "0 to 1000");
    search.error(!within(bounce.restitution, 0.0, 1e3), "bounce.restitution", "is no factor", "0 to 1000");
    search.error(!within(bounce.friction, 0.0, 1e3), "bounce.friction", "is no factor", "0 to 1000");
    search.error(!(bounce.distance >= 0.0), "bounce.distance", "is no distance", "at least 0 m");
    search.error(!within(bounce.min_speed, 0.0, 1e6), "bounce.min_speed", "is no speed", "at least 0 m/s");
}

void search_pierce(Search& search, const PierceSpec& pierce) {
    search.error(!within(pierce.energy, 0.0, 1e9), "pierce.energy", "is no energy", "at least 0");
    search.error(!within(pierce.per_body, 0.0, 1e9), "pierce.per_body", "is no energy", "at least 0");
    search.warning(pierce.energy > 0.0 && pierce.per_body > pierce.energy, "pierce.per_body",
                   "is more than there is, so no body is pierced", "at most pierce.energy");
}

std::vector<SpecFault> validate(const ProjectileSpec& projectile) {
    Search search;
    search.error(!positive(projectile.speed) || projectile.speed > 1e5, "speed", "is no speed",
                 "over 0 to 100000 m/s");
    search.error(!within(projectile.inherit, 0.0, 1.0), "inherit", "is no share", "0 to 1");
    search.error(!within(projectile.gravity, -1e3, 1e3), "gravity", "is no acceleration",
                 "-1000 to 1000 m/s2");
    search.error(!within(projectile.drag, 0.0, 10.0), "drag", "is no drag", "0 to 10 per metre");
    search.error(!within(projectile.radius, 0.0, 100.0), "radius", "is no radius", "0 to 100 m");
    search.error(projectile.lifetime <= Duration::zero(), "lifetime", "is no time", "over 0 s");
    search.error(projectile.fuse < Duration::zero(), "fuse", "is less than 0", "at least 0 s");
    search.warning(projectile.fuse > projectile.lifetime, "fuse", "is longer than the lifetime",
                   "at most lifetime");
    search.error(!(projectile.arming_distance >= 0.0), "arming_distance", "is no distance", "at least 0 m");
    search.error(!(projectile.self_hit_after >= 0.0), "self_hit_after", "is no distance", "at least 0 m");
    search.error(!within(projectile.proximity, 0.0, 1e3), "proximity", "is no distance", "0 to 1000 m");
    search.error(!within(projectile.turn_rate, 0.0, 1e3), "turn_rate", "is no rate", "at least 0 degrees/s");
    search_bounce(search, projectile.bounce);
    search_pierce(search, projectile.pierce);
    search_blast(search, projectile);
    return std::move(search.found);
}

std::vector<SpecFault> validate(const MeleeAttackSpec& attack) {
    Search search;
    search.error(attack.windup < Duration::zero(), "windup", "is less than 0", "at least 0 s");
    search.error(attack.active <= Duration::zero(), "active", "is no time", "over 0 s");
    search.error(attack.recovery < Duration::zero(), "recovery", "is less than 0", "at least 0 s");
    search.error(!within(attack.damage, 0.0, 1e9), "damage", "is no damage", "at least 0 health");
    search.error(!within(attack.push, 0.0, 1e4), "push", "is no speed", "0 to 10000 m/s");
    search.error(!within(attack.push_away, 0.0, 1e4), "push_away", "is no speed", "0 to 10000 m/s");
    search.error(!within(attack.grip, 0.0, 100.0), "grip", "is no distance", "0 to 100 m");
    search.error(!within(attack.reach, 0.0, 100.0) || attack.reach <= attack.grip, "reach",
                 "is not beyond the grip, so there is no blade", "over grip, to 100 m");
    search.error(!within(attack.radius, 1e-3, 10.0), "radius", "is no radius", "0.001 to 10 m");
    search.error(!within(attack.thrust, 0.0, 100.0), "thrust", "is no distance", "0 to 100 m");
    search_effect(search, attack.effect);
    search.error(attack.path.empty() || attack.path.size() > 64, "path", "is no path", "1 to 64 directions");
    for (std::size_t step = 0; step < attack.path.size(); ++step) {
        const Look& look = attack.path[step];
        const bool sound = within(look.yaw, -pi, pi) && within(look.pitch, -0.5 * pi, 0.5 * pi);
        search.error(!sound, "path", "has a step that is no direction",
                     "[yaw, pitch], -180 to 180 and -90 to 90 degrees");
        if (sound && step > 0) {
            const double turn = direction_of(look).dot(direction_of(attack.path[step - 1]));
            search.error(turn < -0.5 - 1e-9, "path", "turns too far in one step",
                         "at most 120 degrees from one direction to the next");
        }
    }
    return std::move(search.found);
}

} // namespace avrek
