#include "effect_keys.h"
#include "key_making.h"

namespace avrek::data {

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
    rows.integer("shots", {1.0, 100.0, false}, "shots", "3", "Shots of one press.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.burst.shots = value; });
    rows.seconds(
        "gap", "0.06", "Between two shots of a burst; at most the interval of rate_of_fire.",
        [](WeaponSpec& spec, double value) { spec.burst.gap = from_seconds(value); }, true);
    rows.word("on_release", {"finish", "cut"}, "\"finish\"", "What letting go in the middle of a burst does.",
              [](WeaponSpec& spec, std::size_t word) { spec.burst.cut_on_release = word == 1; });
    return rows;
}

WeaponRows charge_rows() {
    WeaponRows rows{"weapon.charge"};
    rows.seconds("least", "0", "Letting go before drops the charge; at most charge.full.",
                 [](WeaponSpec& spec, double value) { spec.charge.least = from_seconds(value); });
    rows.seconds(
        "full", "1", "When the power is greatest.",
        [](WeaponSpec& spec, double value) { spec.charge.full = from_seconds(value); }, true);
    rows.curve("power", {0.0, 100.0, false}, "s, factor", "in proportion, 1 when full",
               "What the damage is multiplied by, over the time that the trigger was held.",
               [](WeaponSpec& spec, Curve curve) { spec.charge.power = std::move(curve); });
    rows.word("at_full", {"wait", "fire"}, "\"wait\"", "Whether a full charge waits for letting go.",
              [](WeaponSpec& spec, std::size_t word) { spec.charge.fires_when_full = word == 1; });
    return rows;
}

WeaponRows spin_rows() {
    WeaponRows rows{"weapon.spin"};
    rows.seconds(
        "up", "1", "From standing still to full speed.",
        [](WeaponSpec& spec, double value) { spec.spin.up = from_seconds(value); }, true);
    rows.seconds(
        "down", "1", "From full speed to standing still.",
        [](WeaponSpec& spec, double value) { spec.spin.down = from_seconds(value); }, true);
    rows.curve("rate", {0.001, 1.0, false}, "spin, share", "always 1",
               "Share of rate_of_fire, over the spin from 0 to 1.",
               [](WeaponSpec& spec, Curve curve) { spec.spin.rate = std::move(curve); });
    rows.number("fires_from", share, "", "0", "The spin that the first shot waits for.",
                [](WeaponSpec& spec, double value) { spec.spin.fires_from = value; });
    return rows;
}

WeaponRows heat_rows() {
    WeaponRows rows{"weapon.heat"};
    rows.number("per_shot", {0.0, 1.0, true}, "", "0.1", "Heat that a shot adds; at 1 the weapon locks.",
                [](WeaponSpec& spec, double value) { spec.heat.per_shot = value; });
    rows.seconds(
        "cooling_time", "3", "From a heat of 1 to 0.",
        [](WeaponSpec& spec, double value) { spec.heat.cooling_time = from_seconds(value); }, true);
    rows.seconds("delay", "0", "After a shot, before it cools.",
                 [](WeaponSpec& spec, double value) { spec.heat.delay = from_seconds(value); });
    rows.number("unlocks_at", {0.0, 0.999, false}, "", "0", "The heat at which a locked weapon fires again.",
                [](WeaponSpec& spec, double value) { spec.heat.unlocks_at = value; });
    return rows;
}

WeaponRows cell_rows() {
    WeaponRows rows{"weapon.cell"};
    rows.seconds(
        "refill_time", "5", "From an empty cell to a full one.",
        [](WeaponSpec& spec, double value) { spec.cell.refill_time = from_seconds(value); }, true);
    rows.seconds("delay", "0", "After a shot, before it refills.",
                 [](WeaponSpec& spec, double value) { spec.cell.delay = from_seconds(value); });
    return rows;
}

WeaponRows reload_rows() {
    WeaponRows rows{"weapon.reload"};
    rows.word("style", {"magazine", "rounds"}, "\"magazine\"",
              "Whether rounds go in all at once or one after the other: a start, a repeat for each, an end.",
              [](WeaponSpec& spec, std::size_t word) { spec.reload.style = static_cast<ReloadStyle>(word); });
    rows.seconds("time", "0, but feed magazine needs it", "Of the whole reload, or of one repeat.",
                 [](WeaponSpec& spec, double value) { spec.reload.time = from_seconds(value); });
    rows.seconds("empty_time", "as time", "Of the whole reload when the magazine was empty.",
                 [](WeaponSpec& spec, double value) { spec.reload.empty_time = from_seconds(value); });
    rows.seconds("commit", "at the end",
                 "From the start, or from that of the repeat, to the rounds being in for good.",
                 [](WeaponSpec& spec, double value) { spec.reload.commit = from_seconds(value); });
    rows.seconds("start", "0", "Before the first round goes in, style rounds.",
                 [](WeaponSpec& spec, double value) { spec.reload.start = from_seconds(value); });
    rows.seconds("empty_start", "as start", "The same when the magazine was empty.",
                 [](WeaponSpec& spec, double value) { spec.reload.empty_start = from_seconds(value); });
    rows.seconds("end", "0", "After the last round is in, style rounds.",
                 [](WeaponSpec& spec, double value) { spec.reload.end = from_seconds(value); });
    rows.flag("keeps_rounds", "true", "What was in the magazine stays; otherwise it is thrown away with it.",
              [](WeaponSpec& spec, bool value) { spec.reload.keeps_rounds = value; });
    rows.flag("automatic", "false", "Starts by itself when there is not enough for a shot.",
              [](WeaponSpec& spec, bool value) { spec.reload.automatic = value; });
    rows.words("cancelled_by", {"trigger", "swap", "sprint", "strike", "stun"}, {0.0, 5.0, false},
               "[\"swap\", \"strike\", \"stun\"]",
               "What ends a reload before its time; trigger only when there is a round to fire.",
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
    rows.number("hip", cone, "degrees", "0",
                "Half-angle of the round cone that shots leave in, from the hip.",
                [](WeaponSpec& spec, double value) { spec.spread.hip = from_degrees(value); });
    rows.number("aimed", cone, "degrees", "as hip", "The same when aimed; at most spread.hip.",
                [](WeaponSpec& spec, double value) { spec.spread.aimed = from_degrees(value); });
    rows.number("crouching", factor, "", "1", "Factor of a crouching shooter.",
                [](WeaponSpec& spec, double value) { spec.spread.crouching = value; });
    rows.number("airborne", factor, "", "1", "Factor of a shooter off the ground.",
                [](WeaponSpec& spec, double value) { spec.spread.airborne = value; });
    rows.curve("moving", factor, "m/s, factor", "always 1", "Factor over speed.",
               [](WeaponSpec& spec, Curve curve) { spec.spread.moving = std::move(curve); });
    rows.seconds("settle", "0", "The time in which half of a change of speed shows.",
                 [](WeaponSpec& spec, double value) { spec.spread.settle = from_seconds(value); });
    rows.seconds("first_shot_rest", "0, never",
                 "After this long without a shot, the next of who stands still goes where it is aimed.",
                 [](WeaponSpec& spec, double value) { spec.spread.first_shot_rest = from_seconds(value); });
    rows.word("shape", {"uniform", "centred"}, "\"uniform\"",
              "How shots lie in the cone: the same chance for each part of it, or for each distance from the "
              "middle.",
              [](WeaponSpec& spec, std::size_t word) { spec.spread.shape = static_cast<SpreadShape>(word); });
    rows.pairs("figure", {-1.0, 1.0, false}, "of the cone", "at random",
               "Where the pellets go: left and up, [0, 0] the middle and 1 the edge.",
               [](WeaponSpec& spec, const std::vector<CurvePoint>& points) {
                   spec.spread.figure.clear();
                   for (const CurvePoint& point : points) {
                       spec.spread.figure.push_back({point.x, point.y});
                   }
               });
    rows.number("figure_jitter", share, "of the cone", "0", "How far from there they may be.",
                [](WeaponSpec& spec, double value) { spec.spread.figure_jitter = value; });
    return rows;
}

WeaponRows bloom_rows() {
    WeaponRows rows{"weapon.bloom"};
    rows.curve("per_shot", cone, "degrees, degrees", "always 0",
               "What a shot adds to the cone, over what the shots before have added.",
               [](WeaponSpec& spec, Curve curve) {
                   spec.spread.bloom.per_shot = in_radians(std::move(curve), true);
               });
    rows.number("most", cone, "degrees", "0", "The most that shots add together.",
                [](WeaponSpec& spec, double value) { spec.spread.bloom.most = from_degrees(value); });
    rows.seconds(
        "delay", "0", "After a shot, before the bloom recovers.",
        [](WeaponSpec& spec, double value) { spec.spread.bloom.recovery.delay = from_seconds(value); });
    rows.curve("recovery", share, "s, share", "[[0, 1], [0.4, 0]]",
               "Share of the bloom that is left, over time.",
               [](WeaponSpec& spec, Curve curve) { spec.spread.bloom.recovery.left = std::move(curve); });
    return rows;
}

WeaponRows recoil_rows() {
    WeaponRows rows{"weapon.recoil"};
    rows.pairs("path", half_turn, "degrees", "no kick", "The kick of each shot of a run: [yaw, pitch].",
               [](WeaponSpec& spec, const std::vector<CurvePoint>& points) {
                   spec.recoil.path.clear();
                   for (const CurvePoint& point : points) {
                       spec.recoil.path.push_back({from_degrees(point.x), from_degrees(point.y)});
                   }
               });
    rows.integer("loop_from", {0.0, 999.0, false}, "steps", "0",
                 "The step, counted from 0, that follows the last one.",
                 [](WeaponSpec& spec, std::int32_t value) { spec.recoil.loop_from = value; });
    KeyRule jitter = rule("weapon.recoil", "jitter", KeyType::turn, {0.0, 180.0, false}, "degrees", "[0, 0]",
                          "Each kick is off by up to this much.");
    rows.rows.push_back(key<WeaponSpec>(jitter, read_pair, [](WeaponSpec& spec, const CurvePoint& pair) {
        spec.recoil.jitter = {from_degrees(pair.x), from_degrees(pair.y)};
    }));
    rows.number("aimed", factor, "", "1", "Factor when aimed.",
                [](WeaponSpec& spec, double value) { spec.recoil.aimed = value; });
    rows.number("crouching", factor, "", "1", "Factor when crouching.",
                [](WeaponSpec& spec, double value) { spec.recoil.crouching = value; });
    rows.number("returns", share, "", "0",
                "The share that goes back by itself; the player pulls back the rest.",
                [](WeaponSpec& spec, double value) { spec.recoil.returns = value; });
    rows.seconds("delay", "0", "After a shot, before that share goes back.",
                 [](WeaponSpec& spec, double value) { spec.recoil.recovery.delay = from_seconds(value); });
    rows.curve("recovery", share, "s, share", "[[0, 1], [0.4, 0]]",
               "Share of it that has not yet gone back, over time.",
               [](WeaponSpec& spec, Curve curve) { spec.recoil.recovery.left = std::move(curve); });
    rows.seconds("rest", "0.4", "After this long without a shot the path starts anew.",
                 [](WeaponSpec& spec, double value) { spec.recoil.rest = from_seconds(value); });
    rows.seconds("gun_kick", "0.12", "How long the gun model moves for a shot.",
                 [](WeaponSpec& spec, double value) { spec.recoil.gun_kick = from_seconds(value); });
    return rows;
}

WeaponRows aim_rows() {
    WeaponRows rows{"weapon.aim"};
    rows.seconds("in", "0", "From the hip to fully aimed.",
                 [](WeaponSpec& spec, double value) { spec.aim.in = from_seconds(value); });
    rows.seconds("out", "0", "And back.",
                 [](WeaponSpec& spec, double value) { spec.aim.out = from_seconds(value); });
    rows.word("by", {"hold", "toggle"}, "\"hold\"", "Whether the button is held, or pressed again to end it.",
              [](WeaponSpec& spec, std::size_t word) { spec.aim.toggles = word == 1; });
    rows.number("field_of_view", {1.0, 170.0, false}, "degrees", "the game's own", "Vertical, when aimed.",
                [](WeaponSpec& spec, double value) { spec.aim.field_of_view = from_degrees(value); });
    rows.number("movement", {0.0, 10.0, false}, "", "1", "Factor of the shooter's speed when aimed.",
                [](WeaponSpec& spec, double value) { spec.aim.movement = value; });
    rows.number("crosshair", share, "", "0", "Opacity of the crosshair when aimed.",
                [](WeaponSpec& spec, double value) { spec.aim.crosshair = value; });
    return rows;
}

WeaponRows handling_rows() {
    WeaponRows rows{"weapon.handling"};
    rows.seconds("raise", "0", "From taking the weapon in hand to being ready.",
                 [](WeaponSpec& spec, double value) { spec.handling.raise = from_seconds(value); });
    rows.seconds("stow", "0", "From putting it away to free hands.",
                 [](WeaponSpec& spec, double value) { spec.handling.stow = from_seconds(value); });
    rows.seconds("sprint_out", "0", "From the end of a sprint to being ready.",
                 [](WeaponSpec& spec, double value) { spec.handling.sprint_out = from_seconds(value); });
    rows.flag("fires_sprinting", "false", "May fire during a sprint.",
              [](WeaponSpec& spec, bool value) { spec.handling.fires_sprinting = value; });
    rows.flag("fires_airborne", "true", "May fire off the ground.",
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

} // namespace avrek::data
