#include "key_making.h"

namespace avrek::detail {

namespace {

Group<ProjectileSpec> blast_group() {
    Rows<ProjectileSpec> rows{"projectile.blast"};
    rows.number("radius", {0.0, 1000.0, false}, "m", "0", "Radius of the explosion; 0: none.",
                [](ProjectileSpec& spec, double value) { spec.blast.radius = value; });
    rows.number("damage", {0.0, 100000.0, false}, "health", "0", "Damage at the centre.",
                [](ProjectileSpec& spec, double value) { spec.blast.damage = value; });
    rows.curve(
        "falloff", {0.0, 10.0, false}, "share of the radius, share", "[[0, 1], [1, 0]]",
        "Share of damage and push, over the distance of the nearest exposed point as a share of the radius.",
        [](ProjectileSpec& spec, Curve curve) { spec.blast.falloff = std::move(curve); });
    rows.number("team_share", {0.0, 1.0, false}, "", "1", "Share of the damage to the shooter's team.",
                [](ProjectileSpec& spec, double value) { spec.blast.team_share = value; });
    rows.number("self_share", {0.0, 1.0, false}, "", "1", "Share of the damage to the shooter.",
                [](ProjectileSpec& spec, double value) { spec.blast.self_share = value; });
    rows.number("push", {0.0, 1000.0, false}, "m/s", "0", "Speed that it gives at the centre.",
                [](ProjectileSpec& spec, double value) { spec.blast.push = value; });
    rows.group({"effect", blast_effect_keys()});
    return {"blast", rows.rows};
}

void add_flight(Rows<ProjectileSpec>& rows) {
    rows.number("speed", {0.0, 100000.0, true}, "m/s", "60", "Muzzle speed.",
                [](ProjectileSpec& spec, double value) { spec.speed = value; });
    rows.number("inherit", {0.0, 1.0, false}, "", "0", "Share of the shooter's velocity that is added.",
                [](ProjectileSpec& spec, double value) { spec.inherit = value; });
    rows.number("gravity", {-1000.0, 1000.0, false}, "m/s2", "9.81", "Downward acceleration.",
                [](ProjectileSpec& spec, double value) { spec.gravity = value; });
    rows.number("drag", {0.0, 10.0, false}, "1/m", "0", "Deceleration is this times the speed squared.",
                [](ProjectileSpec& spec, double value) { spec.drag = value; });
    rows.number("radius", {0.0, 100.0, false}, "m", "0", "Radius of the projectile.",
                [](ProjectileSpec& spec, double value) { spec.radius = value; });
    rows.number("turn_rate", {0.0, 57000.0, false}, "degrees/s", "0", "Turn rate towards its target.",
                [](ProjectileSpec& spec, double value) { spec.turn_rate = from_degrees(value); });
}

void add_end(Rows<ProjectileSpec>& rows) {
    const auto seconds = [&rows](const char* name, const char* fallback, const char* meaning, bool over_zero,
                                 void (*set)(ProjectileSpec&, double)) {
        rows.number(name, {0.0, 600.0, over_zero}, "s", fallback, meaning, set);
    };
    seconds("lifetime", "5", "Time from launch to removal.", true,
            [](ProjectileSpec& spec, double value) { spec.lifetime = from_seconds(value); });
    seconds("fuse", "none", "Time from launch to explosion.", false,
            [](ProjectileSpec& spec, double value) { spec.fuse = from_seconds(value); });
    rows.number("arming_distance", {0.0, 10000.0, false}, "m", "1",
                "Distance flown before the proximity fuse is armed.",
                [](ProjectileSpec& spec, double value) { spec.arming_distance = value; });
    rows.number("self_hit_after", {0.0, 10000.0, false}, "m", "1",
                "Distance flown, outside of its shooter, before it can hit its shooter.",
                [](ProjectileSpec& spec, double value) { spec.self_hit_after = value; });
    rows.number("proximity", {0.0, 1000.0, false}, "m", "0",
                "Distance to a body of another team at which it explodes; 0: never.",
                [](ProjectileSpec& spec, double value) { spec.proximity = value; });
    rows.flag("sticks", "false", "It sticks to what stops it, until its fuse or its lifetime ends.",
              [](ProjectileSpec& spec, bool value) { spec.sticks = value; });
}

} // namespace

const std::vector<Group<ProjectileSpec>>& projectile_groups() {
    static const std::vector<Group<ProjectileSpec>> groups{bounce_group<ProjectileSpec>("projectile"),
                                                           pierce_group<ProjectileSpec>("projectile"),
                                                           blast_group()};
    return groups;
}

const std::vector<Key<ProjectileSpec>>& projectile_keys() {
    static const std::vector<Key<ProjectileSpec>> keys = [] {
        Rows<ProjectileSpec> rows{"projectile"};
        rows.like();
        add_flight(rows);
        add_end(rows);
        for (const Group<ProjectileSpec>& group : projectile_groups()) {
            rows.group(group);
        }
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::detail
