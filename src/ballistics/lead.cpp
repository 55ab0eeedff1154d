#include <avrek/ballistics/lead.h>

#include <algorithm>
#include <cmath>
#include <limits>

namespace avrek {

namespace {

constexpr int steps_of_search = 96;
constexpr int max_halvings = 160;
constexpr int max_rounds = 24;
constexpr int rounds_before_new_slopes = 8;

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

// How the place that is reached changes with the launch: the derivatives of along and up by each.
struct Slopes {
    bool known = false;
    Way by_along{};
    Way by_up{};
};

Slopes slopes_at(const ProjectileSpec& spec, const Way& launch, const Way& place, double seconds) {
    const double nudge = 1e-4 * (1.0 + std::abs(launch.along) + std::abs(launch.up));
    const auto slope = [&](const Way& nudged) {
        const Way moved = flown(spec, launch + nudged, seconds);
        return Way{(moved.along - place.along) / nudge, (moved.up - place.up) / nudge};
    };
    return {true, slope({nudge, 0.0}), slope({0.0, nudge})};
}

// The launch velocity that gets to `goal` in `seconds`, starting from a guess; none when none is found. The
// slopes are kept from one call to the next, and mended by what each step has brought (Broyden, "A class of
// methods for solving nonlinear simultaneous equations", 1965).
std::optional<Way> launch_to(const ProjectileSpec& spec, const Way& goal, double seconds, const Way& guess,
                             Slopes& slopes) {
    if (spec.drag == 0.0) {
        return (1.0 / seconds) * goal + (0.5 * spec.gravity * seconds) * Way{0.0, 1.0};
    }
    Way launch = guess;
    Way before;
    Way step;
    for (int round = 0; round < max_rounds; ++round) {
        const Way place = flown(spec, launch, seconds);
        const Way miss{goal.along - place.along, goal.up - place.up};
        if (std::abs(miss.along) + std::abs(miss.up) < 1e-7) {
            return launch;
        }
        if (!slopes.known || round == rounds_before_new_slopes) {
            slopes = slopes_at(spec, launch, place, seconds);
        } else if (round > 0) {
            const double squared = step.along * step.along + step.up * step.up;
            const auto expected = [&](double by_along, double by_up) {
                return by_along * step.along + by_up * step.up;
            };
            const Way off{place.along - before.along - expected(slopes.by_along.along, slopes.by_up.along),
                          place.up - before.up - expected(slopes.by_along.up, slopes.by_up.up)};
            slopes.by_along = slopes.by_along + (step.along / squared) * off;
            slopes.by_up = slopes.by_up + (step.up / squared) * off;
        }
        const double determinant =
            slopes.by_along.along * slopes.by_up.up - slopes.by_up.along * slopes.by_along.up;
        if (!(std::abs(determinant) > 1e-12 * seconds * seconds)) {
            break;
        }
        step = (1.0 / determinant) * Way{slopes.by_up.up * miss.along - slopes.by_up.along * miss.up,
                                         slopes.by_along.along * miss.up - slopes.by_along.up * miss.along};
        before = place;
        launch = launch + step;
        if (!(std::abs(launch.along) + std::abs(launch.up) < 1e9)) {
            break;
        }
    }
    slopes.known = false;
    return std::nullopt;
}

// The search for one question.
struct Search {
    const ProjectileSpec& spec;
    const LeadQuestion& question;
    Way guess{}; // a launch that met the target at a time nearby
    bool guided = false;
    Slopes slopes{};

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
        // Over the ground nothing helps it on.
        const double inherited = spec.inherit * std::sqrt(question.shooter_velocity.squaredNorm());
        if (ground > (spec.speed + inherited) * seconds) {
            return std::nullopt;
        }
        const Way straight = (1.0 / seconds) * goal + Way{0.0, 0.5 * spec.gravity * seconds};
        const std::optional<Way> launch = launch_to(spec, goal, seconds, guided ? guess : straight, slopes);
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

    // Between two times: one is too fast, the other is not.
    std::optional<Lead> meeting_between(double early, double late, bool early_is_fast) {
        double early_excess = excess(early);
        double late_excess = excess(late);
        for (int step = 0; step < max_halvings && late - early > 1e-10; ++step) {
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
    constexpr Metres next_to_it = 0.01;
    if (distance <= next_to_it) { // too near for the search, and for a difference to show
        return from_seconds(std::max(0.0, distance) / spec.speed);
    }
    const Leads leads = solve_lead(spec, {.target = distance * world_forward()});
    return leads.low ? std::optional{leads.low->flight} : std::nullopt;
}

} // namespace avrek
