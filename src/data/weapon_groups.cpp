#include "effect_keys.h"
#include "key_making.h"

namespace avrek::detail {

namespace {

constexpr KeyRange cone{0.0, 60.0, false};
constexpr KeyRange half_turn{-180.0, 180.0, false};

Curve in_radians(Curve curve, bool x_too) {
    for (CurvePoint& point : curve.points) {
        point.x = x_too ? from_degrees(point.x) : point.x;
        point.y = from_degrees(point.y);
    }
    return curve;
}

WeaponRows burst_rows() {
    WeaponRows rows{"weapon.burst"};
    rows.integer("shots", {1.0, 100.0, false}, "shots", "3", "Shots per press.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.burst.shots = value; });
    rows.seconds(
        "gap", "0.06", "Time between two shots of a burst; at most the interval of rate_of_fire.",
        [](WeaponSpec& spec, double value) { spec.burst.gap = from_seconds(value); }, true);
    rows.word("on_release", {"finish", "cut"}, "\"finish\"",
              "Effect of releasing the trigger during a burst.",
              [](WeaponSpec& spec, std::size_t word) { spec.burst.cut_on_release = word == 1; });
    return rows;
}

WeaponRows charge_rows() {
    WeaponRows rows{"weapon.charge"};
    rows.seconds("min", "0", "Releasing earlier drops the charge; at most charge.full.",
                 [](WeaponSpec& spec, double value) { spec.charge.min = from_seconds(value); });
    rows.seconds(
        "full", "1", "Time to full power.",
        [](WeaponSpec& spec, double value) { spec.charge.full = from_seconds(value); }, true);
    rows.curve("power", {0.0, 100.0, false}, "s, factor", "in proportion, 1 when full",
               "Damage multiplier, over the time that the trigger was held.",
               [](WeaponSpec& spec, Curve curve) { spec.charge.power = std::move(curve); });
    rows.word("at_full", {"wait", "fire"}, "\"wait\"",
              "Whether a full charge waits for the release or fires.",
              [](WeaponSpec& spec, std::size_t word) { spec.charge.fires_when_full = word == 1; });
    return rows;
}

WeaponRows spin_rows() {
    WeaponRows rows{"weapon.spin"};
    rows.seconds(
        "up", "1", "Time from standstill to full speed.",
        [](WeaponSpec& spec, double value) { spec.spin.up = from_seconds(value); }, true);
    rows.seconds(
        "down", "1", "Time from full speed to standstill.",
        [](WeaponSpec& spec, double value) { spec.spin.down = from_seconds(value); }, true);
    rows.curve("rate", {0.001, 1.0, false}, "spin, share", "always 1",
               "Share of rate_of_fire, over the spin from 0 to 1.",
               [](WeaponSpec& spec, Curve curve) { spec.spin.rate = std::move(curve); });
    rows.number("fires_from", share, "", "0", "Spin at which the first shot leaves.",
                [](WeaponSpec& spec, double value) { spec.spin.fires_from = value; });
    return rows;
}

WeaponRows heat_rows() {
    WeaponRows rows{"weapon.heat"};
    rows.number("per_shot", {0.0, 1.0, true}, "", "0.1", "Heat that a shot adds; at 1 the weapon locks.",
                [](WeaponSpec& spec, double value) { spec.heat.per_shot = value; });
    rows.seconds(
        "cooling_time", "3", "Time from a heat of 1 to 0.",
        [](WeaponSpec& spec, double value) { spec.heat.cooling_time = from_seconds(value); }, true);
    rows.seconds("delay", "0", "Delay after a shot before it cools.",
                 [](WeaponSpec& spec, double value) { spec.heat.delay = from_seconds(value); });
    rows.number("unlocks_at", {0.0, 0.999, false}, "", "0", "The heat at which a locked weapon fires again.",
                [](WeaponSpec& spec, double value) { spec.heat.unlocks_at = value; });
    return rows;
}

WeaponRows cell_rows() {
    WeaponRows rows{"weapon.cell"};
    rows.seconds(
        "refill_time", "5", "Time from an empty cell to a full one.",
        [](WeaponSpec& spec, double value) { spec.cell.refill_time = from_seconds(value); }, true);
    rows.seconds("delay", "0", "Delay after a shot before it refills.",
                 [](WeaponSpec& spec, double value) { spec.cell.delay = from_seconds(value); });
    return rows;
}

WeaponRows reload_rows() {
    WeaponRows rows{"weapon.reload"};
    rows.word("style", {"magazine", "rounds"}, "\"magazine\"",
              "Whether rounds go in all at once, or one by one: a start, a repeat for each, an end.",
              [](WeaponSpec& spec, std::size_t word) { spec.reload.style = static_cast<ReloadStyle>(word); });
    rows.seconds("time", "0, but feed magazine needs it", "Time of the whole reload, or of one repeat.",
                 [](WeaponSpec& spec, double value) { spec.reload.time = from_seconds(value); });
    rows.seconds("empty_time", "as time", "Time of the whole reload from an empty magazine.",
                 [](WeaponSpec& spec, double value) { spec.reload.empty_time = from_seconds(value); });
    rows.seconds("commit", "at the end",
                 "Time from the start of the reload, or of the repeat, until the rounds are in for good.",
                 [](WeaponSpec& spec, double value) { spec.reload.commit = from_seconds(value); });
    rows.seconds("start", "0", "Time before the first round goes in, style rounds.",
                 [](WeaponSpec& spec, double value) { spec.reload.start = from_seconds(value); });
    rows.seconds("empty_start", "as start",
                 "Time before the first round goes in when the magazine was empty.",
                 [](WeaponSpec& spec, double value) { spec.reload.empty_start = from_seconds(value); });
    rows.seconds("end", "0", "Time after the last round is in, style rounds.",
                 [](WeaponSpec& spec, double value) { spec.reload.end = from_seconds(value); });
    rows.flag("keeps_rounds", "true",
              "Rounds left in the magazine are kept; otherwise they are discarded with it.",
              [](WeaponSpec& spec, bool value) { spec.reload.keeps_rounds = value; });
    rows.flag("automatic", "false", "The reload starts by itself when too few rounds are left for a shot.",
              [](WeaponSpec& spec, bool value) { spec.reload.automatic = value; });
    rows.words("cancelled_by", {"trigger", "swap", "sprint", "strike", "stun"}, {0.0, 5.0, false},
               "[\"swap\", \"strike\", \"stun\"]",
               "What cancels a reload; trigger only when there is a round to fire.",
               [](WeaponSpec& spec, const std::vector<std::size_t>& words) {
                   Interruptions by;
                   for (const std::size_t word : words) {
                       by.trigger |= word == 0;
                       by.swap |= word == 1;
                       by.sprint |= word == 2;
                       by.strike |= word == 3;
                       by.stun |= word == 4;
                   }
                   spec.reload.cancelled_by = by;
               });
    return rows;
}

WeaponRows spread_rows() {
    WeaponRows rows{"weapon.spread"};
    rows.number("hip", cone, "degrees", "0", "Half-angle of the round spread cone from the hip.",
                [](WeaponSpec& spec, double value) { spec.spread.hip = from_degrees(value); });
    rows.number("aimed", cone, "degrees", "as hip", "Half-angle when aimed; at most spread.hip.",
                [](WeaponSpec& spec, double value) { spec.spread.aimed = from_degrees(value); });
    rows.number("crouching", factor, "", "1", "Factor for a crouching shooter.",
                [](WeaponSpec& spec, double value) { spec.spread.crouching = value; });
    rows.number("airborne", factor, "", "1", "Factor for a shooter off the ground.",
                [](WeaponSpec& spec, double value) { spec.spread.airborne = value; });
    rows.curve("moving", factor, "m/s, factor", "always 1", "Factor over the shooter's speed.",
               [](WeaponSpec& spec, Curve curve) { spec.spread.moving = std::move(curve); });
    rows.seconds("speed_half_life", "0", "Half-life with which the cone follows a change of speed.",
                 [](WeaponSpec& spec, double value) { spec.spread.speed_half_life = from_seconds(value); });
    rows.seconds(
        "first_shot_rest", "0, never",
        "Time without a shot after which a standing shooter's next shot goes exactly where it is aimed.",
        [](WeaponSpec& spec, double value) { spec.spread.first_shot_rest = from_seconds(value); });
    rows.word(
        "shape", {"uniform", "centred"}, "\"uniform\"",
        "Distribution in the cone: uniform by solid angle, or centred (uniform by distance from the middle).",
        [](WeaponSpec& spec, std::size_t word) { spec.spread.shape = static_cast<SpreadShape>(word); });
    rows.pairs("pellet_pattern", {-1.0, 1.0, false}, "of the cone", "at random",
               "Fixed pellet positions: left and up, [0, 0] the middle and 1 the edge.",
               [](WeaponSpec& spec, const std::vector<CurvePoint>& points) {
                   spec.spread.pellet_pattern.clear();
                   for (const CurvePoint& point : points) {
                       spec.spread.pellet_pattern.push_back({point.x, point.y});
                   }
               });
    rows.number("pellet_jitter", share, "of the cone", "0", "Maximum random offset from those positions.",
                [](WeaponSpec& spec, double value) { spec.spread.pellet_jitter = value; });
    return rows;
}

WeaponRows bloom_rows() {
    WeaponRows rows{"weapon.bloom"};
    rows.curve("per_shot", cone, "degrees, degrees", "always 0",
               "Cone that a shot adds, over the bloom before it.", [](WeaponSpec& spec, Curve curve) {
                   spec.spread.bloom.per_shot = in_radians(std::move(curve), true);
               });
    rows.number("max", cone, "degrees", "0", "Maximum bloom.",
                [](WeaponSpec& spec, double value) { spec.spread.bloom.max = from_degrees(value); });
    rows.seconds(
        "delay", "0", "Delay after a shot before the bloom recovers.",
        [](WeaponSpec& spec, double value) { spec.spread.bloom.recovery.delay = from_seconds(value); });
    rows.curve("recovery", share, "s, share", "[[0, 1], [0.4, 0]]",
               "Share of the bloom that remains, over time.",
               [](WeaponSpec& spec, Curve curve) { spec.spread.bloom.recovery.left = std::move(curve); });
    return rows;
}

WeaponRows recoil_rows() {
    WeaponRows rows{"weapon.recoil"};
    rows.pairs("pattern", half_turn, "degrees", "no kick", "Kick of each shot of a run: [yaw, pitch].",
               [](WeaponSpec& spec, const std::vector<CurvePoint>& points) {
                   spec.recoil.pattern.clear();
                   for (const CurvePoint& point : points) {
                       spec.recoil.pattern.push_back({from_degrees(point.x), from_degrees(point.y)});
                   }
               });
    rows.integer("loop_from", {0.0, 999.0, false}, "steps", "0",
                 "Step, counted from 0, that follows the last one.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.recoil.loop_from = value; });
    KeyRule jitter = rule("weapon.recoil", "jitter", KeyType::turn, {0.0, 180.0, false}, "degrees", "[0, 0]",
                          "Maximum random deviation of each kick.");
    rows.rows.push_back(key<WeaponSpec>(jitter, read_pair, [](WeaponSpec& spec, const CurvePoint& pair) {
        spec.recoil.jitter = {from_degrees(pair.x), from_degrees(pair.y)};
    }));
    rows.number("aimed", factor, "", "1", "Factor when aimed.",
                [](WeaponSpec& spec, double value) { spec.recoil.aimed = value; });
    rows.number("crouching", factor, "", "1", "Factor when crouching.",
                [](WeaponSpec& spec, double value) { spec.recoil.crouching = value; });
    rows.number("recovery_share", share, "", "0",
                "Share of the kick that recovers by itself; the player pulls back the rest.",
                [](WeaponSpec& spec, double value) { spec.recoil.recovery_share = value; });
    rows.seconds("delay", "0", "Delay after a shot before that share recovers.",
                 [](WeaponSpec& spec, double value) { spec.recoil.recovery.delay = from_seconds(value); });
    rows.curve("recovery", share, "s, share", "[[0, 1], [0.4, 0]]", "Share of it that remains, over time.",
               [](WeaponSpec& spec, Curve curve) { spec.recoil.recovery.left = std::move(curve); });
    rows.seconds("reset_delay", "0.4", "Time without a shot after which the pattern starts anew.",
                 [](WeaponSpec& spec, double value) { spec.recoil.reset_delay = from_seconds(value); });
    rows.seconds("gun_kick", "0.12", "Duration of the gun model's kick.",
                 [](WeaponSpec& spec, double value) { spec.recoil.gun_kick = from_seconds(value); });
    return rows;
}

WeaponRows aim_rows() {
    WeaponRows rows{"weapon.aim"};
    rows.seconds("in", "0", "Time from the hip to fully aimed.",
                 [](WeaponSpec& spec, double value) { spec.aim.in = from_seconds(value); });
    rows.seconds("out", "0", "Time from fully aimed to the hip.",
                 [](WeaponSpec& spec, double value) { spec.aim.out = from_seconds(value); });
    rows.word("by", {"hold", "toggle"}, "\"hold\"",
              "Whether the button is held, or pressed again to end aiming.",
              [](WeaponSpec& spec, std::size_t word) { spec.aim.toggles = word == 1; });
    rows.number("field_of_view", {1.0, 170.0, false}, "degrees", "the game's own",
                "Vertical field of view when aimed.",
                [](WeaponSpec& spec, double value) { spec.aim.field_of_view = from_degrees(value); });
    rows.number("movement", {0.0, 10.0, false}, "", "1", "Factor of the shooter's speed when aimed.",
                [](WeaponSpec& spec, double value) { spec.aim.movement = value; });
    rows.number("crosshair", share, "", "0", "Opacity of the crosshair when aimed.",
                [](WeaponSpec& spec, double value) { spec.aim.crosshair = value; });
    return rows;
}

WeaponRows handling_rows() {
    WeaponRows rows{"weapon.handling"};
    rows.seconds("raise", "0", "Time from taking the weapon in hand until it is ready.",
                 [](WeaponSpec& spec, double value) { spec.handling.raise = from_seconds(value); });
    rows.seconds("stow", "0", "Time to put the weapon away.",
                 [](WeaponSpec& spec, double value) { spec.handling.stow = from_seconds(value); });
    rows.seconds("sprint_out", "0", "Time from the end of a sprint until the weapon is ready.",
                 [](WeaponSpec& spec, double value) { spec.handling.sprint_out = from_seconds(value); });
    rows.flag("fires_sprinting", "false", "The weapon fires during a sprint.",
              [](WeaponSpec& spec, bool value) { spec.handling.fires_sprinting = value; });
    rows.flag("fires_airborne", "true", "The weapon fires off the ground.",
              [](WeaponSpec& spec, bool value) { spec.handling.fires_airborne = value; });
    return rows;
}

} // namespace

const std::vector<Group<WeaponSpec>>& weapon_groups() {
    static const std::vector<Group<WeaponSpec>> groups{
        {"burst", burst_rows().rows},
        {"charge", charge_rows().rows},
        {"spin", spin_rows().rows},
        {"heat", heat_rows().rows},
        {"cell", cell_rows().rows},
        {"reload", reload_rows().rows},
        {"spread", spread_rows().rows},
        {"bloom", bloom_rows().rows},
        {"recoil", recoil_rows().rows},
        {"aim", aim_rows().rows},
        {"handling", handling_rows().rows},
        bounce_group<WeaponSpec>("weapon"),
        pierce_group<WeaponSpec>("weapon"),
        effect_group<WeaponSpec, [](WeaponSpec& spec) -> EffectSpec& { return spec.effect; }>("weapon"),
    };
    return groups;
}

} // namespace avrek::detail
