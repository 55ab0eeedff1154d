#include <avrek/ballistics/launch_solving.h>

#include <cassert>

namespace avrek {

namespace {

constexpr Metres fits_within = 1e-6;
constexpr int max_turns = 32;

// The lead from where a shot leaves to what was aimed at.
std::optional<Lead> lead_of(const ProjectileSpec& spec, const LaunchQuestion& question,
                            const AimSolution& aim) {
    const Leads leads = solve_lead(spec, {.muzzle = aim.origin,
                                          .shooter_velocity = question.shooter_velocity,
                                          .target = aim.aim_point,
                                          .velocity = question.target_velocity,
                                          .acceleration = question.target_acceleration});
    return question.high_arc && leads.high ? leads.high : leads.low;
}

} // namespace

LaunchSolution solve_launch(const World& world, const ProjectileSpec& spec, const LaunchQuestion& question,
                            const Filter& filter) {
    assert(question.barrel >= 0.0);
    AimQuestion aim = question.aim;
    Vector3 direction = aim.eye.direction;
    LaunchSolution solution;
    for (int round = 0; round < max_turns; ++round) {
        if (question.barrel > 0.0) {
            aim.muzzle = aim.grip + question.barrel * direction;
        }
        solution.aim = solve_aim(world, aim, filter);
        solution.lead = lead_of(spec, question, solution.aim);
        if (!solution.lead) {
            return solution;
        }
        solution.aim.direction = solution.lead->direction;
        const Metres off = question.barrel * (solution.aim.direction - direction).norm();
        direction = solution.aim.direction;
        // A muzzle that is not free does not turn the barrel any further.
        if (off <= fits_within || solution.aim.muzzle == MuzzleState::inside ||
            solution.aim.muzzle == MuzzleState::past) {
            break;
        }
    }
    return solution;
}

} // namespace avrek
