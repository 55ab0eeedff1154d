#include "key_ranges.h"

namespace avrek {

namespace {

void search_blast(detail::Search& search, const ProjectileSpec& projectile) {
    const BlastSpec& blast = projectile.blast;
    search.warning(!detail::never_rises(blast.falloff), "blast.falloff", "rises: it does more farther away",
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

void detail::search_pierce(detail::Search& search, const PierceSpec& pierce) {
    search.warning(pierce.energy > 0.0 && pierce.per_body > pierce.energy, "pierce.per_body",
                   "is more than there is, so no body is pierced", "at most pierce.energy");
}

std::vector<SpecFault> validate(const ProjectileSpec& projectile) {
    detail::Search search;
    detail::search_ranges(search, projectile);
    search.warning(projectile.fuse > projectile.lifetime, "fuse", "is longer than the lifetime",
                   "at most lifetime");
    detail::search_pierce(search, projectile.pierce);
    search_blast(search, projectile);
    return std::move(search.found);
}

std::vector<SpecFault> validate(const MeleeAttackSpec& attack) {
    detail::Search search;
    detail::search_ranges(search, attack);
    search.error(attack.reach <= attack.grip, "reach", "is not beyond the grip, so there is no blade",
                 "over grip");
    search.error(attack.path.empty() || attack.path.size() > 64, "path", "is no path", "1 to 64 directions");
    for (std::size_t step = 0; step < attack.path.size(); ++step) {
        const Look& look = attack.path[step];
        const bool sound = detail::within(look.pitch, -0.5 * pi, 0.5 * pi) && std::isfinite(look.yaw);
        search.error(!sound, "path", "has a step that is no direction", "pitch from -90 to 90 degrees");
        if (sound && step > 0) {
            const double turn = direction_of(look).dot(direction_of(attack.path[step - 1]));
            search.error(turn < -0.5 - 1e-9, "path", "turns too far in one step",
                         "at most 120 degrees from one direction to the next");
        }
    }
    return std::move(search.found);
}

} // namespace avrek
