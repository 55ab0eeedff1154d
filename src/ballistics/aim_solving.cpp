#include "../core/words.h"
#include <avrek/ballistics/aim_solving.h>
#include <avrek/ballistics/impact.h>

#include <algorithm>
#include <cmath>

namespace avrek {

namespace {

// A shot that ends this close to a surface is not obstructed by it.
constexpr Metres surface_margin = 1e-6;

// Nearest hit on the straight line between two points, its end left out.
std::optional<Hit> met_between(const World& world, const Vector3& from, const Vector3& to, Time at,
                               const Filter& filter) {
    const Vector3 way = to - from;
    const double length = std::sqrt(way.squaredNorm());
    if (length <= surface_margin) {
        return std::nullopt;
    }
    return world.closest_hit({.ray = {from, way / length, length - surface_margin}, .begin = at}, filter);
}

Vector3 towards(const Vector3& from, const Vector3& to, const Vector3& otherwise) {
    const Vector3 way = to - from;
    const double length = std::sqrt(way.squaredNorm());
    return length > surface_margin ? Vector3((way / length).normalized()) : otherwise;
}

} // namespace

std::string_view to_string(MuzzleState state) {
    static constexpr auto words = std::to_array<std::string_view>({"clear", "covered", "inside", "past"});
    return detail::word_of(words, state);
}

AimSolution solve_aim(const World& world, const AimQuestion& question, const Filter& filter) {
    Ray eye = question.eye;
    const double skipped =
        std::clamp((question.grip - eye.origin).dot(eye.direction), 0.0, std::max(0.0, eye.length));
    eye.origin = point_at(eye, skipped);
    eye.length -= skipped;
    AimSolution solution;
    solution.seen = world.closest_hit({.ray = eye, .begin = question.at}, filter);
    solution.aim_point = solution.seen ? solution.seen->point : point_at(eye, eye.length);
    solution.origin = question.muzzle;
    solution.direction = towards(question.muzzle, solution.aim_point, eye.direction);

    const std::optional<Hit> inside = met_between(world, question.grip, question.muzzle, question.at, filter);
    if (inside) {
        solution.muzzle = MuzzleState::inside;
        solution.obstruction = inside;
    } else if ((solution.aim_point - question.muzzle).dot(eye.direction) <= 0.0) {
        solution.muzzle = MuzzleState::past;
    } else if (const std::optional<Hit> covered =
                   met_between(world, question.muzzle, solution.aim_point, question.at, filter)) {
        solution.muzzle = MuzzleState::covered;
        solution.obstruction = covered;
    }
    const bool misplaced = solution.muzzle == MuzzleState::inside || solution.muzzle == MuzzleState::past;
    if (solution.muzzle != MuzzleState::clear && question.rule == MuzzleRule::from_eye) {
        solution.origin = eye.origin;
        solution.direction = eye.direction;
    } else if (misplaced && question.rule == MuzzleRule::block_shot) {
        solution.fires = false;
    } else if (misplaced) {
        const double back = inside ? std::max(0.0, inside->distance - off_surface) : 0.0;
        const Vector3 outwards = towards(question.grip, question.muzzle, eye.direction);
        solution.origin = question.grip + back * outwards;
        solution.direction = towards(solution.origin, solution.aim_point, eye.direction);
    }
    return solution;
}

} // namespace avrek
