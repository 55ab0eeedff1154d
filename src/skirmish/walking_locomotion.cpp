#include <avrek/core/elementary.h>
#include <avrek/skirmish/walking_locomotion.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

constexpr double gravity = 9.81;
constexpr double fastest_fall = 60.0;
constexpr Metres skin = 0.005;    // kept from everything
constexpr double walkable = 0.55; // upward part of the normal of ground
constexpr Filter solid{.hits = {CollisionLayer::level, CollisionLayer::glass}};

// Share of a difference that is left after a time with this half-life; a rational stand-in for 2^-x.
double left_after(double seconds, double half_life) {
    const double x = seconds / half_life;
    return 1.0 / (1.0 + 0.693 * x + 0.24 * x * x);
}

struct Balls {
    Vector3 low;
    Vector3 high;
};

Balls balls_of(const MovementSpec& body, const Vector3& feet) {
    const Metres top = std::max(body.radius, body.height - body.radius);
    const Metres bottom = std::min(top, body.step + body.radius);
    return {feet + bottom * world_up(), feet + top * world_up()};
}

// Nearest hit of the two balls on a way.
std::optional<Hit> met(const World& world, const MovementSpec& body, const Vector3& feet, const Ray& way) {
    std::optional<Hit> nearest;
    const Balls balls = balls_of(body, feet);
    for (const Vector3& ball : {balls.low, balls.high}) {
        if (world.clearance(ball) > body.radius + way.length + skin) {
            continue;
        }
        const auto hit = world.closest_hit({{ball, way.direction, way.length + skin}, body.radius}, solid);
        if (hit && (!nearest || hit->distance < nearest->distance)) {
            nearest = hit;
        }
    }
    return nearest;
}

// Goes `way` and slides along what is in it; takes from the velocity what is stopped.
void slide(const World& world, const MovementSpec& body, BodyMotion& who, Vector3 way) {
    for (int turn = 0; turn < 3; ++turn) {
        const double length = std::sqrt(way.squaredNorm());
        if (length < 1e-9) {
            return;
        }
        const Vector3 direction = way / length;
        const auto hit = met(world, body, who.position, {Vector3::Zero(), direction, length});
        if (!hit) {
            who.position += way;
            return;
        }
        const double gone = std::clamp(hit->distance - skin, 0.0, length);
        who.position += gone * direction;
        way -= gone * direction;
        Vector3 normal = hit->normal;
        if (normal.y() < walkable && normal.y() > -walkable) { // a wall does not lift
            normal.y() = 0.0;
            const double size = std::sqrt(normal.squaredNorm());
            normal = size > 0.0 ? Vector3(normal / size) : Vector3(-direction);
        }
        way -= std::min(0.0, way.dot(normal)) * normal;
        who.velocity -= std::min(0.0, who.velocity.dot(normal)) * normal;
    }
}

} // namespace

void advance_walking(const World& world, const MovementSpec& body, BodyMotion& who, const DesiredMotion& wish,
                     Duration length) {
    const double seconds = to_seconds(length);
    const double left = left_after(seconds, who.airborne ? 0.5 : 0.05);
    who.velocity.x() = wish.velocity.x() + left * (who.velocity.x() - wish.velocity.x());
    who.velocity.z() = wish.velocity.z() + left * (who.velocity.z() - wish.velocity.z());
    if (wish.jump && !who.airborne) {
        who.velocity.y() = body.jump;
        who.airborne = true;
    }
    Vector3 way = seconds * who.velocity;
    if (!who.airborne) {
        way.y() = 0.0;
    } else {
        way.y() -= 0.5 * gravity * seconds * seconds;
        who.velocity.y() = std::max(-fastest_fall, who.velocity.y() - gravity * seconds);
    }
    const double up = who.airborne ? std::max(0.0, way.y()) : 0.0;
    slide(world, body, who, {way.x(), up, way.z()});
    // The ground under it: as far down as it falls, or as it would step down.
    const double down = who.airborne ? std::max(0.0, -way.y()) : body.step;
    const Ray probe{who.position + (body.step + skin) * world_up(), -world_up(), body.step + skin + down};
    const auto ground = way.y() > 0.0 ? std::nullopt : world.closest_hit({probe}, solid);
    if (ground && !ground->inside) {
        who.position.y() = ground->point.y();
        who.velocity.y() = 0.0;
        who.airborne = false;
        who.ground_surface = ground->surface;
    } else {
        who.position.y() -= who.airborne ? down : 0.0;
        who.airborne = true;
    }
}

DesiredMotion desired_motion(const MotionInput& in) {
    if (!in.can_move) {
        return {};
    }
    const MovementSpec& movement = in.body.movement;
    const Intent& intent = in.intent;
    const Vector3 ahead = direction_of({intent.yaw, 0.0});
    const Vector3 left{ahead.z(), 0.0, -ahead.x()};
    double speed = movement.speed * in.speed;
    if (intent.buttons.has(Button::crouch)) {
        speed *= movement.crouching;
    } else if (intent.buttons.has(Button::sprint)) {
        speed *= movement.sprint;
    }
    return {speed * (double{intent.ahead} * ahead + double{intent.left} * left),
            intent.buttons.has(Button::jump)};
}

BodyMotion WalkingLocomotion::advance(const MotionInput& in, BodyMotion motion) const {
    const DesiredMotion wish = desired_motion(in);
    const bool rests = !motion.airborne && wish.velocity.squaredNorm() == 0.0 && !wish.jump &&
                       motion.velocity.squaredNorm() < 1e-6;
    if (rests) {
        motion.velocity = Vector3::Zero();
        return motion;
    }
    advance_walking(in.world, in.body.movement, motion, wish, in.span.end - in.span.begin);
    return motion;
}

const WalkingLocomotion& walking_locomotion() {
    static const WalkingLocomotion walking;
    return walking;
}

std::vector<std::string> names_of(const Locomotions& locomotions) {
    if (locomotions.empty()) {
        return names_of({&walking_locomotion()});
    }
    std::vector<std::string> names;
    for (const Locomotion* one : locomotions) {
        names.push_back(std::string{one->name()} + ' ' + std::to_string(one->version()));
    }
    return names;
}

} // namespace avrek
