#include "../core/words.h"
#include <avrek/ballistics/melee.h>
#include <avrek/core/elementary.h>

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr Radians largest_turn = 5.0 * pi / 180.0;
constexpr Metres longest_step = 0.25;

double length_of(const Vector3& way) {
    return std::sqrt(way.squaredNorm());
}

// Evenly in both angles along the path of directions.
Look look_at(const MeleeAttackSpec& attack, double share) {
    const std::size_t last = attack.path.size() - 1;
    const double place = std::clamp(share, 0.0, 1.0) * static_cast<double>(last);
    const std::size_t step = std::min(static_cast<std::size_t>(place), last > 0 ? last - 1 : 0);
    if (last == 0) {
        return attack.path.front();
    }
    const double part = place - static_cast<double>(step);
    const Look& from = attack.path[step];
    const Look& to = attack.path[step + 1];
    return {from.yaw + part * (to.yaw - from.yaw), from.pitch + part * (to.pitch - from.pitch)};
}

// How many steps the active span is cut into.
int steps_of(const MeleeAttackSpec& attack) {
    double turned = 0.0;
    for (std::size_t step = 1; step < attack.path.size(); ++step) {
        turned = std::max(turned, std::abs(attack.path[step].yaw - attack.path[step - 1].yaw));
        turned = std::max(turned, std::abs(attack.path[step].pitch - attack.path[step - 1].pitch));
    }
    // The path's corners fall on steps.
    const double segments = std::max(1.0, static_cast<double>(attack.path.size()) - 1.0);
    const double by_turn = std::ceil(1.5 * turned / largest_turn);
    const double by_thrust = std::ceil(attack.thrust / segments / longest_step);
    return static_cast<int>(segments * std::max({1.0, by_turn, by_thrust}));
}

// One piece of the active span, short enough for the blade to move almost straight.
struct Piece {
    Span span;
    Capsule before;
    Capsule after;
};

// The first meeting of a body with one of the balls along the blade.
struct Contact {
    Hit hit{};
    double share = 0.0;
    Vector3 way = Vector3::Zero(); // motion of the sphere
};

class Sweep {
  public:
    Sweep(const World& world, const MeleeAttackSpec& attack, const Filter& filter)
        : world_(world), filter_(filter), radius_(attack.radius) {
        filter_.hits = {CollisionLayer::bodies};
        const double length = attack.reach - attack.grip;
        balls_ = static_cast<int>(std::ceil(length / attack.radius)) + 1;
        const double half_gap = 0.5 * length / (balls_ - 1);
        // Half-way between two balls the blade is no thicker than they are, and an arc no farther out than
        // its chord with this added.
        const double bulge = (attack.reach + attack.thrust) * (1.0 - cosine(0.75 * largest_turn));
        ball_radius_ = std::sqrt(radius_ * radius_ + half_gap * half_gap) + bulge;
    }

    bool meets_nothing(const Piece& piece) const {
        const Vector3 from = 0.5 * (piece.before.from + piece.before.to);
        const Vector3 to = 0.5 * (piece.after.from + piece.after.to);
        const double reach = 0.5 * std::max(length_of(piece.before.to - piece.before.from),
                                            length_of(piece.after.to - piece.after.from));
        return !touched(Sphere{from, reach + ball_radius_}, piece.span.begin) &&
               !closest(from, to, reach + ball_radius_, piece.span);
    }

    // The first body that the blade meets in a piece, of those that are not ignored.
    std::optional<Contact> first(const Piece& piece) const {
        const Capsule blade{piece.before.from, piece.before.to, ball_radius_};
        if (const std::optional<Hit> hit = touched(blade, piece.span.begin)) {
            const Vector3 from = piece.before.from + piece.before.to;
            return Contact{*hit, 0.0, 0.5 * (piece.after.from + piece.after.to - from)};
        }
        std::optional<Contact> best;
        for (int ball = 0; ball < balls_; ++ball) {
            const double share = static_cast<double>(ball) / (balls_ - 1);
            const Vector3 from = piece.before.from + share * (piece.before.to - piece.before.from);
            const Vector3 to = piece.after.from + share * (piece.after.to - piece.after.from);
            const std::optional<Hit> hit = closest(from, to, ball_radius_, piece.span);
            if (hit && (!best || hit->share < best->share ||
                        (hit->share == best->share && hit->body < best->hit.body))) {
                best = Contact{*hit, hit->share, to - from};
            }
        }
        return best;
    }

    bool ignore(BodyId body) { return filter_.ignores.add(body); }

  private:
    // Casts leave out what they overlap at their start and get away from.
    std::optional<Hit> touched(const Volume& volume, Time at) const {
        std::array<Hit, 1> found;
        return world_.overlaps(volume, at, filter_, found) > 0 ? std::optional{found[0]} : std::nullopt;
    }

    std::optional<Hit> closest(const Vector3& from, const Vector3& to, Metres radius, Span span) const {
        const Vector3 way = to - from;
        const double length = length_of(way);
        const Ray ray{from, length > 0.0 ? Vector3((way / length).normalized()) : world_forward(), length};
        return world_.closest_hit({ray, radius, span.begin, span.end}, filter_);
    }

    const World& world_;
    Filter filter_;
    double radius_;
    double ball_radius_ = 0.0;
    int balls_ = 2;
};

// A swing on its way through a span.
struct Swing {
    const MeleeSpec& spec;
    MeleeState& state;
    const World& world;
    const Filter& filter;
    const Wielder& wielder;
    Span span;
    std::vector<MeleeEvent>& events;

    const MeleeAttackSpec& attack() const { return spec.attacks[static_cast<std::size_t>(state.attack)]; }
    Time active_from() const { return state.started + attack().windup; }
    Time ends_at() const { return state.started + avrek::length_of(attack()); }

    void add(MeleeEventKind kind, Time at, Time until) {
        MeleeEvent event;
        event.kind = kind;
        event.at = at;
        event.until = until;
        event.attack = static_cast<std::size_t>(state.attack);
        event.swing = state.swings - 1;
        events.push_back(event);
    }

    Pose wielder_at(Time at) const {
        const double share =
            span.end > span.begin ? to_seconds(at - span.begin) / to_seconds(span.end - span.begin) : 1.0;
        return between(wielder.before, wielder.after, share);
    }

    Capsule blade(Time at) const {
        const double share = to_seconds(at - active_from()) / to_seconds(attack().active);
        return blade_at(attack(), wielder_at(at), share);
    }

    // The blade is swept over [begin, end) of the active span.
    void strike(Time begin, Time end) {
        const MeleeAttackSpec& swung = attack();
        const int steps = steps_of(swung);
        Capsule first = blade(begin);
        Sweep sweep{world, swung, filter};
        sweep.ignore(wielder.body);
        for (int step = 0; step < steps; ++step) {
            const Time from = active_from() + swung.active * step / steps;
            const Time to = active_from() + swung.active * (step + 1) / steps;
            if (std::max(begin, from) < std::min(end, to)) {
                first = strike_between(std::max(begin, from), first, std::min(end, to), sweep);
            }
        }
    }

    // In pieces that are short enough, also for a wielder that turns. Returns the blade at the end.
    Capsule strike_between(Time begin, const Capsule& first, Time end, const Sweep& sweep) {
        const Capsule last = blade(end);
        const Vector3 before = (first.to - first.from).normalized();
        const Vector3 after = (last.to - last.from).normalized();
        const Radians turned = arc_tangent(length_of(before.cross(after)), before.dot(after));
        const int pieces = std::max(1, static_cast<int>(std::ceil(turned / largest_turn - 1e-9)));
        Piece piece{{begin, begin}, first, first};
        for (int part = 1; part <= pieces; ++part) {
            piece.span = {piece.span.end, begin + (end - begin) * part / pieces};
            piece.before = piece.after;
            piece.after = part == pieces ? last : blade(piece.span.end);
            strike_in(piece, sweep);
        }
        return last;
    }

    void strike_in(const Piece& piece, Sweep sweep) {
        for (const BodyId body : state.struck) {
            sweep.ignore(body);
        }
        if (sweep.meets_nothing(piece)) {
            return;
        }
        while (const std::optional<Contact> contact = sweep.first(piece)) {
            const BodyId body = *contact->hit.body;
            if (!sweep.ignore(body)) {
                return;
            }
            const Duration length = piece.span.end - piece.span.begin;
            const Time at = piece.span.begin + from_seconds(contact->share * to_seconds(length));
            const Vector3 pivot = wielder_at(at).position;
            const Vector3 way = contact->hit.point - pivot;
            if (is_blocked(pivot, way, at) || !state.struck.add(body)) {
                continue; // another part of the swing may get past the wall
            }
            add(MeleeEventKind::struck, at, at);
            MeleeEvent& event = events.back();
            event.hit = contact->hit;
            event.hit.distance = length_of(way);
            const double moved = length_of(contact->way);
            event.push = attack().push * (moved > 0.0 ? Vector3(contact->way / moved) : world_forward());
            const Vector3 away{way.x(), 0.0, way.z()};
            const double over_ground = length_of(away);
            event.push +=
                attack().push_away * (over_ground > 0.0 ? Vector3(away / over_ground) : world_forward());
        }
    }

    bool is_blocked(const Vector3& pivot, const Vector3& way, Time at) const {
        constexpr Metres short_of = 1e-4;
        const double distance = length_of(way);
        if (!filter.hits.contains(CollisionLayer::level) || distance <= short_of) {
            return false;
        }
        return world.any_hit({.ray = {pivot, way / distance, distance - short_of}, .begin = at},
                             {.hits = {CollisionLayer::level, CollisionLayer::glass}});
    }

    // Goes on with the swing under way until `end`, which is not after the span's.
    void run(Time begin, Time end) {
        if (state.attack < 0) {
            return;
        }
        const Time active_to = active_from() + attack().active;
        if (active_from() < end && active_to > begin) {
            strike(std::max(begin, active_from()), std::min(end, active_to));
        }
        if (ends_at() < end) {
            add(MeleeEventKind::ended, ends_at(), ends_at());
            state.attack = -1;
        }
    }

    void press(const MeleePress& press) {
        if (state.attack >= 0 && ends_at() > press.at) {
            add(MeleeEventKind::refused, press.at, ends_at());
            events.back().attack = press.attack;
            return;
        }
        if (state.attack >= 0) {
            add(MeleeEventKind::ended, ends_at(), ends_at());
        }
        state.started = press.at;
        state.attack = static_cast<std::int32_t>(press.attack);
        state.struck = {};
        ++state.swings;
        add(MeleeEventKind::started, press.at, ends_at());
    }
};

} // namespace

std::string_view to_string(MeleePhase phase) {
    static constexpr auto words = std::to_array<std::string_view>({"ready", "windup", "active", "recovery"});
    return detail::word_of(words, phase);
}

std::string_view to_string(MeleeEventKind kind) {
    static constexpr auto words =
        std::to_array<std::string_view>({"started", "refused", "struck", "ended", "cancelled"});
    return detail::word_of(words, kind);
}

MeleePhase phase_of(const MeleeSpec& spec, const MeleeState& state, Time at) {
    if (state.attack < 0) {
        return MeleePhase::ready;
    }
    const MeleeAttackSpec& attack = spec.attacks[static_cast<std::size_t>(state.attack)];
    const Duration since = at - state.started;
    if (since < attack.windup) {
        return MeleePhase::windup;
    }
    if (since < attack.windup + attack.active) {
        return MeleePhase::active;
    }
    return since < length_of(attack) ? MeleePhase::recovery : MeleePhase::ready;
}

Capsule blade_at(const MeleeAttackSpec& attack, const Pose& wielder, double share) {
    const Vector3 direction = direction_of(look_at(attack, share));
    const Metres out = attack.thrust * std::clamp(share, 0.0, 1.0);
    return {to_world(wielder, (attack.grip + out) * direction),
            to_world(wielder, (attack.reach + out) * direction), attack.radius};
}

void advance(const MeleeSpec& spec, MeleeState& state, const World& world, const Filter& filter,
             const Wielder& wielder, Span span, std::span<const MeleePress> presses,
             std::vector<MeleeEvent>& events) {
    Swing swing{spec, state, world, filter, wielder, span, events};
    Time from = span.begin;
    for (const MeleePress& press : presses) {
        assert(press.attack < spec.attacks.size() && press.at >= from && press.at < span.end);
        swing.run(from, press.at);
        swing.press(press);
        from = press.at;
    }
    swing.run(from, span.end);
}

} // namespace avrek
