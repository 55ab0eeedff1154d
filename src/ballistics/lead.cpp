#include <avrek/ballistics/lead.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek {

namespace {

constexpr int steps_of_search = 96;
constexpr int most_halvings = 160;
constexpr int most_newton_steps = 24;

// A way in the upright plane that holds the launch: along the ground, and up.
struct Way {
    double along = 0.0;
    double up = 0.0;
};

Way operator+(const Way& a, const Way& b) {
    return {a.along + b.along, a.up + b.up};
}

Way operator*(double factor, const Way& way) {
    return {factor * way.along, factor * way.up};
}

// How far a projectile that leaves with velocity `launch` gets in `seconds`; Runge and Kutta's method of
// fourth order.
Way flown(const ProjectileSpec& spec, const Way& launch, double seconds) {
    if (spec.drag == 0.0) {
        return seconds * launch + (-0.5 * spec.gravity * seconds * seconds) * Way{0.0, 1.0};
    }
    const double speed = std::sqrt(launch.along * launch.along + launch.up * launch.up);
    const int steps = static_cast<int>(
        std::clamp(std::ceil(6.0 * (1.0 + seconds * (1.0 + spec.drag * speed))), 8.0, 1024.0));
    const double step = seconds / steps;
    const auto slows = [&spec](const Way& velocity) {
        const double pace = std::sqrt(velocity.along * velocity.along + velocity.up * velocity.up);
        return (-spec.drag * pace) * velocity + Way{0.0, -spec.gravity};
    };
    Way place;
    Way velocity = launch;
    for (int index = 0; index < steps; ++index) {
        const Way a = slows(velocity);
        const Way second = velocity + (0.5 * step) * a;
        const Way b = slows(second);
        const Way third = velocity + (0.5 * step) * b;
        const Way c = slows(third);
        const Way fourth = velocity + step * c;
        const Way d = slows(fourth);
        place = place + (step / 6.0) * (velocity + 2.0 * second + 2.0 * third + fourth);
        velocity = velocity + (step / 6.0) * (a + 2.0 * b + 2.0 * c + d);
    }
    return place;
}

// The launch velocity that gets to `goal` in `seconds`, starting from a guess; none when none is found.
std::optional<Way> launch_to(const ProjectileSpec& spec, const Way& goal, double seconds, const Way& guess) {
    if (spec.drag == 0.0) {
        return (1.0 / seconds) * goal + (0.5 * spec.gravity * seconds) * Way{0.0, 1.0};
    }
    Way launch = guess;
    double before = std::numeric_limits<double>::infinity();
    for (int step = 0; step < most_newton_steps; ++step) {
        const Way place = flown(spec, launch, seconds);
        const Way miss{goal.along - place.along, goal.up - place.up};
        const double off = std::abs(miss.along) + std::abs(miss.up);
        if (off < 1e-7) {
            return launch;
        }
        if (!(off < 4.0 * before)) {
            return std::nullopt;
        }
        before = off;
        const double nudge = 1e-4 * (1.0 + std::abs(launch.along) + std::abs(launch.up));
        const Way by_along = flown(spec, launch + Way{nudge, 0.0}, seconds);
        const Way by_up = flown(spec, launch + Way{0.0, nudge}, seconds);
        const double a = (by_along.along - place.along) / nudge;
        const double b = (by_up.along - place.along) / nudge;
        const double c = (by_along.up - place.up) / nudge;
        const double d = (by_up.up - place.up) / nudge;
        const double determinant = a * d - b * c;
        if (!(std::abs(determinant) > 1e-12 * seconds * seconds)) {
            return std::nullopt;
        }
        launch =
            launch + (1.0 / determinant) * Way{d * miss.along - b * miss.up, a * miss.up - c * miss.along};
    }
    return std::nullopt;
}

// The search for one question.
struct Search {
    const ProjectileSpec& spec;
    const LeadQuestion& question;
    Way guess{}; // a launch that met the target at a time nearby
    bool guided = false;

    Vector3 target_after(double seconds) const {
        return question.target + seconds * question.velocity +
               (0.5 * seconds * seconds) * question.acceleration;
    }

    // The velocity relative to the shooter's with which to meet the target after `seconds`.
    std::optional<Vector3> velocity_for(double seconds) {
        const Vector3 way = target_after(seconds) - question.muzzle;
        const double ground = std::sqrt(way.x() * way.x() + way.z() * way.z());
        const Vector3 ahead =
            ground > 0.0 ? Vector3{way.x() / ground, 0.0, way.z() / ground} : world_forward();
        const Way goal{ground, way.y()};
        const Way straight = (1.0 / seconds) * goal + Way{0.0, 0.5 * spec.gravity * seconds};
        const std::optional<Way> launch = launch_to(spec, goal, seconds, guided ? guess : straight);
        guided = launch.has_value();
        if (!launch) {
            return std::nullopt;
        }
        guess = *launch;
        return Vector3{launch->along * ahead + launch->up * world_up() -
                       spec.inherit * question.shooter_velocity};
    }

    // By how much that is too fast: endlessly, where no velocity was found.
    double excess(double seconds) {
        const std::optional<Vector3> velocity = velocity_for(seconds);
        return velocity ? std::sqrt(velocity->squaredNorm()) - spec.speed
                        : std::numeric_limits<double>::infinity();
    }

    // Between two times of which one is too fast and the other is not.
    std::optional<Lead> meeting_between(double early, double late, bool early_is_fast) {
        double early_excess = excess(early);
        double late_excess = excess(late);
        for (int step = 0; step < most_halvings && late - early > 1e-10; ++step) {
            // Along the chord between the two, unless one is endless or the last such step did little.
            const double chord = early - early_excess * (late - early) / (late_excess - early_excess);
            const bool sound = step % 3 != 2 && chord > early && chord < late;
            const double middle = sound ? chord : 0.5 * (early + late);
            const double over = excess(middle);
            if (std::abs(over) < 1e-9) {
                early = late = middle;
            }
            ((over > 0.0) == early_is_fast ? early : late) = middle;
            ((over > 0.0) == early_is_fast ? early_excess : late_excess) = over;
        }
        const double seconds = 0.5 * (early + late);
        const std::optional<Vector3> velocity = velocity_for(seconds);
        if (!velocity) {
            return std::nullopt;
        }
        return Lead{velocity->normalized(), from_seconds(seconds), target_after(seconds)};
    }
};

} // namespace

Leads solve_lead(const ProjectileSpec& spec, const LeadQuestion& question) {
    const Duration longest =
        spec.fuse > Duration::zero() ? std::min(spec.fuse, spec.lifetime) : spec.lifetime;
    const double seconds = to_seconds(longest);
    Leads leads;
    Search search{spec, question};
    // At once the target would have to be met with any speed, unless it is at the muzzle.
    double before = 1.0;
    double early = 1e-6 * seconds;
    for (int step = 1; step <= steps_of_search; ++step) {
        // Closer together where the flight is short.
        const double share = static_cast<double>(step) / steps_of_search;
        const double late = seconds * share * share;
        const double over = search.excess(late);
        if ((before > 0.0) != (over > 0.0)) {
            std::optional<Lead>& lead = leads.low ? leads.high : leads.low;
            if (!lead) {
                Search closer = search;
                lead = closer.meeting_between(early, late, before > 0.0);
            }
        }
        before = over;
        early = late;
    }
    return leads;
}

std::optional<Duration> flight_time(const ProjectileSpec& spec, Metres distance) {
    if (distance <= 0.0) {
        return Duration::zero();
    }
    const Leads leads = solve_lead(spec, {.target = distance * world_forward()});
    return leads.low ? std::optional{leads.low->flight} : std::nullopt;
}

} // namespace avrek
