#include "key_making.h"

namespace avrek::data {

const std::vector<Key<ShooterSpec>>& shooter_keys() {
    static const std::vector<Key<ShooterSpec>> keys = [] {
        Rows<ShooterSpec> rows{"shooter"};
        rows.like();
        rows.seconds("reaction", "0.25", "From seeing somebody to acting on it.",
                     [](ShooterSpec& spec, double value) { spec.reaction = from_seconds(value); });
        rows.seconds("reaction_spread", "0", "By which that is shorter or longer at most, in duels.",
                     [](ShooterSpec& spec, double value) { spec.reaction_spread = from_seconds(value); });
        rows.number("error", {0.0, 45.0, false}, "degrees", "2.86",
                    "By which the first aim at somebody is off, typically.",
                    [](ShooterSpec& spec, double value) { spec.error = from_degrees(value); });
        rows.number("least_error", {0.0, 45.0, false}, "degrees", "0.23", "However long it aims.",
                    [](ShooterSpec& spec, double value) { spec.least_error = from_degrees(value); });
        rows.seconds(
            "settle", "0.3", "After h times this, 1 / (1 + h + h^2) of the first error is left.",
            [](ShooterSpec& spec, double value) { spec.settle = from_seconds(value); }, true);
        rows.seconds("tracking", "0", "By which its aim is behind a target that moves, typically.",
                     [](ShooterSpec& spec, double value) { spec.tracking = from_seconds(value); });
        rows.number("turn", {0.0, 3600.0, true}, "degrees/s", "344", "At which it turns at most.",
                    [](ShooterSpec& spec, double value) { spec.turn = from_degrees(value); });
        rows.number("field", {0.0, 360.0, true}, "degrees", "120", "Angle in which it notices somebody.",
                    [](ShooterSpec& spec, double value) { spec.field = from_degrees(value); });
        rows.number("sight", {0.0, 1000.0, true}, "m", "60", "How far it sees somebody.",
                    [](ShooterSpec& spec, double value) { spec.sight = value; });
        rows.number("control", share, "", "0.6", "Share of the kick that it pulls back.",
                    [](ShooterSpec& spec, double value) { spec.control = value; });
        rows.number("near", {0.0, 1000.0, false}, "m", "12", "Nearer than this it holds the trigger.",
                    [](ShooterSpec& spec, double value) { spec.near = value; });
        rows.seconds(
            "burst", "0.35", "For which it holds it farther away.",
            [](ShooterSpec& spec, double value) { spec.burst = from_seconds(value); }, true);
        rows.seconds(
            "pause", "0.25", "Between two of these.",
            [](ShooterSpec& spec, double value) { spec.pause = from_seconds(value); }, true);
        rows.seconds("memory", "3", "For which it still turns to whom it saw last.",
                     [](ShooterSpec& spec, double value) { spec.memory = from_seconds(value); });
        rows.number("takes_cover", share, "", "0.35", "Share of its health below which it looks for cover.",
                    [](ShooterSpec& spec, double value) { spec.takes_cover = value; });
        return rows.rows;
    }();
    return keys;
}

Group<BodySpec> movement_group() {
    Rows<BodySpec> rows{"body.movement"};
    rows.number("speed", {0.0, 100.0, false}, "m/s", "5", "Over the ground.",
                [](BodySpec& body, double value) { body.movement.speed = value; });
    rows.number("sprint", {0.0, 10.0, false}, "", "1.5", "Factor of a sprint.",
                [](BodySpec& body, double value) { body.movement.sprint = value; });
    rows.number("crouching", {0.0, 10.0, false}, "", "0.5", "Factor of a crouch.",
                [](BodySpec& body, double value) { body.movement.crouching = value; });
    rows.number("jump", {0.0, 100.0, false}, "m/s", "4", "Upwards, with which it jumps.",
                [](BodySpec& body, double value) { body.movement.jump = value; });
    rows.number("radius", {0.0, 100.0, true}, "m", "0.35", "Of the upright capsule that meets the level.",
                [](BodySpec& body, double value) { body.movement.radius = value; });
    rows.number("height", {0.0, 200.0, true}, "m", "1.8", "Of that capsule.",
                [](BodySpec& body, double value) { body.movement.height = value; });
    rows.number("step", {0.0, 100.0, false}, "m", "0.45", "Height that it walks up at once.",
                [](BodySpec& body, double value) { body.movement.step = value; });
    return {"movement", rows.rows};
}

Group<BodySpec> posture_group() {
    constexpr KeyRange coordinates{-100.0, 100.0, false};
    Rows<BodySpec> rows{"body.posture"};
    rows.rows.push_back(key<BodySpec>(rule("body.posture", "eye", KeyType::point, coordinates, "m",
                                           "[0, 1.62, 0.08]", "From where it sees, in its own axes."),
                                      read_point,
                                      [](BodySpec& body, const Vector3& eye) { body.posture.eye = eye; }));
    rows.rows.push_back(
        key<BodySpec>(rule("body.posture", "hold", KeyType::point, coordinates, "m", "[-0.18, 1.4, 0.1]",
                           "Where it holds its weapon, which turns about there."),
                      read_point, [](BodySpec& body, const Vector3& hold) { body.posture.hold = hold; }));
    rows.number("muzzle", {0.0, 10.0, false}, "m", "0.55", "From there to the muzzle, along the look.",
                [](BodySpec& body, double value) { body.posture.muzzle = value; });
    rows.number("crouched", {0.0, 1.0, true}, "", "0.7", "Factor of the heights of both in a crouch.",
                [](BodySpec& body, double value) { body.posture.crouched = value; });
    return {"posture", rows.rows};
}

} // namespace avrek::data
