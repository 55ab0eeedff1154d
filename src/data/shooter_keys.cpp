#include "key_making.h"

namespace avrek::detail {

const std::vector<Key<ShooterSpec>>& shooter_keys() {
    static const std::vector<Key<ShooterSpec>> keys = [] {
        Rows<ShooterSpec> rows{"shooter"};
        rows.like();
        rows.seconds("reaction", "0.25", "Time from seeing a target to acting on it.",
                     [](ShooterSpec& spec, double value) { spec.reaction = from_seconds(value); });
        rows.seconds("reaction_spread", "0", "Maximum deviation of the reaction time, in duels.",
                     [](ShooterSpec& spec, double value) { spec.reaction_spread = from_seconds(value); });
        rows.number("error", {0.0, 45.0, false}, "degrees", "2.86", "Typical error of the first aim.",
                    [](ShooterSpec& spec, double value) { spec.error = from_degrees(value); });
        rows.number("min_error", {0.0, 45.0, false}, "degrees", "0.23", "Error that always remains.",
                    [](ShooterSpec& spec, double value) { spec.min_error = from_degrees(value); });
        rows.seconds(
            "recovery", "0.3",
            "Time scale of aiming: after h times this, 1 / (1 + h + h^2) of the first error remains.",
            [](ShooterSpec& spec, double value) { spec.recovery = from_seconds(value); }, true);
        rows.seconds("tracking", "0", "Typical lag of the aim behind a moving target.",
                     [](ShooterSpec& spec, double value) { spec.tracking = from_seconds(value); });
        rows.number("turn", {0.0, 3600.0, true}, "degrees/s", "344", "Maximum turn rate.",
                    [](ShooterSpec& spec, double value) { spec.turn = from_degrees(value); });
        rows.number("field", {0.0, 360.0, true}, "degrees", "120", "Angle in which it notices targets.",
                    [](ShooterSpec& spec, double value) { spec.field = from_degrees(value); });
        rows.number("sight", {0.0, 1000.0, true}, "m", "60", "Distance at which it sees targets.",
                    [](ShooterSpec& spec, double value) { spec.sight = value; });
        rows.number("control", share, "", "0.6", "Share of the recoil that it pulls back.",
                    [](ShooterSpec& spec, double value) { spec.control = value; });
        rows.number("near", {0.0, 1000.0, false}, "m", "12", "Distance within which it holds the trigger.",
                    [](ShooterSpec& spec, double value) { spec.near = value; });
        rows.seconds(
            "burst", "0.35", "Length of its bursts beyond that distance.",
            [](ShooterSpec& spec, double value) { spec.burst = from_seconds(value); }, true);
        rows.seconds(
            "pause", "0.25", "Pause between bursts.",
            [](ShooterSpec& spec, double value) { spec.pause = from_seconds(value); }, true);
        rows.seconds("memory", "3", "Time for which it keeps turning to a target out of sight.",
                     [](ShooterSpec& spec, double value) { spec.memory = from_seconds(value); });
        rows.number("takes_cover", share, "", "0.35", "Share of its health below which it looks for cover.",
                    [](ShooterSpec& spec, double value) { spec.takes_cover = value; });
        return rows.rows;
    }();
    return keys;
}

Group<BodySpec> movement_group() {
    Rows<BodySpec> rows{"body.movement"};
    rows.number("speed", {0.0, 100.0, false}, "m/s", "5", "Speed over the ground.",
                [](BodySpec& body, double value) { body.movement.speed = value; });
    rows.number("sprint", {0.0, 10.0, false}, "", "1.5", "Factor for sprinting.",
                [](BodySpec& body, double value) { body.movement.sprint = value; });
    rows.number("crouching", {0.0, 10.0, false}, "", "0.5", "Factor for crouching.",
                [](BodySpec& body, double value) { body.movement.crouching = value; });
    rows.number("jump", {0.0, 100.0, false}, "m/s", "4", "Upward speed of a jump.",
                [](BodySpec& body, double value) { body.movement.jump = value; });
    rows.number("radius", {0.0, 100.0, true}, "m", "0.35",
                "Radius of the upright capsule that collides with the level.",
                [](BodySpec& body, double value) { body.movement.radius = value; });
    rows.number("height", {0.0, 200.0, true}, "m", "1.8", "Height of that capsule.",
                [](BodySpec& body, double value) { body.movement.height = value; });
    rows.number("step", {0.0, 100.0, false}, "m", "0.45", "Maximum height of a step that it walks up.",
                [](BodySpec& body, double value) { body.movement.step = value; });
    return {"movement", rows.rows};
}

Group<BodySpec> posture_group() {
    constexpr KeyRange coordinates{-100.0, 100.0, false};
    Rows<BodySpec> rows{"body.posture"};
    rows.rows.push_back(key<BodySpec>(rule("body.posture", "eye", KeyType::point, coordinates, "m",
                                           "[0, 1.62, 0.08]", "Position of the eye, in the body's axes."),
                                      read_point,
                                      [](BodySpec& body, const Vector3& eye) { body.posture.eye = eye; }));
    rows.rows.push_back(
        key<BodySpec>(rule("body.posture", "grip", KeyType::point, coordinates, "m", "[-0.18, 1.4, 0.1]",
                           "Position at which it holds its weapon; the weapon turns about it."),
                      read_point, [](BodySpec& body, const Vector3& hold) { body.posture.grip = hold; }));
    rows.number("muzzle", {0.0, 10.0, false}, "m", "0.55",
                "Distance from the grip to the muzzle, along the look.",
                [](BodySpec& body, double value) { body.posture.muzzle = value; });
    rows.number("crouched", {0.0, 1.0, true}, "", "0.7", "Factor for the heights of both while crouching.",
                [](BodySpec& body, double value) { body.posture.crouched = value; });
    return {"posture", rows.rows};
}

} // namespace avrek::detail
