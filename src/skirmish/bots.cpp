#include "../core/by_id.h"
#include <avrek/core/elementary.h>
#include <avrek/core/random.h>
#include <avrek/skirmish/aim_error.h>
#include <avrek/skirmish/bots.h>

#include <algorithm>
#include <cassert>
#include <cmath>

namespace avrek {

namespace {

constexpr Metres blow_reach = 1.9;
constexpr Metres arrived_within = 0.7; // near enough to a point
constexpr Metres pickup_reach = 25.0;
constexpr Duration stuck_after = std::chrono::milliseconds{700};

// One bot as it thinks.
struct Thinking {
    const Skirmish& skirmish;
    const Waypoints& waypoints;
    Bot& bot;
    const Combatant& self;
    const Fighter& body;
    const ShooterSpec& shooter;
    double tick_seconds;

    Time now() const { return skirmish.now(); }

    std::array<double, 2> draw() {
        return random_pair(
            {skirmish.seed(), static_cast<std::uint32_t>(bot.id), RandomPurpose::bot, bot.draws++, 0});
    }

    const BodySpec& body_of(const Combatant& who) const { return skirmish.arsenal()[who.body]; }

    Vector3 eye() const { return body.motion.position + body_of(self).posture.eye.y() * world_up(); }

    // The point of somebody that it aims at.
    Vector3 middle_of(const Combatant& who, const Fighter& its) const {
        const RigSpec& rig = body_of(who).rig;
        const RegionId region = find_region(rig, "torso").value_or(RegionId{0});
        return its.motion.position + aim_point(rig, region).y() * world_up();
    }

    bool sees(const Combatant& who, const Fighter& its) const {
        const Vector3 from = eye();
        const Vector3 way = middle_of(who, its) - from;
        const double distance = std::sqrt(way.squaredNorm());
        return distance > 0.0 && distance <= shooter.sight && who.vitals.state != BodyState::gone &&
               !skirmish.scene().any_hit({{from, way / distance, distance}}, {.hits = stops_sight});
    }

    bool is_in_field(const Fighter& its) const {
        const Vector3 way = its.motion.position - body.motion.position;
        if (way.squaredNorm() < 4.0) {
            return true; // it hears who is so near
        }
        return std::abs(shortest_turn(look_of(way).yaw - body.look.yaw)) <= 0.5 * shooter.field;
    }

    const Combatant* target() const {
        const Combatant* who = skirmish.match().find(bot.target);
        return who != nullptr && who->vitals.life == LifeState::alive ? who : nullptr;
    }

    void forget() {
        if (bot.target != nobody) {
            bot.intent.lost_sight_of = bot.target;
            bot.target = nobody;
        }
    }

    // Looks for its target, and for one other combatant.
    void look() {
        const auto all = skirmish.match().combatants();
        const Combatant* aimed = target();
        if (aimed == nullptr || now() - bot.seen_at > shooter.memory) {
            forget();
            aimed = nullptr;
        }
        if (aimed != nullptr && sees(*aimed, *skirmish.find(bot.target))) {
            bot.seen_at = now();
            bot.seen_where = middle_of(*aimed, *skirmish.find(bot.target));
        }
        bot.looked_at = (bot.looked_at + 1) % static_cast<std::uint32_t>(all.size());
        const Combatant& other = all[bot.looked_at];
        const Fighter& its = skirmish.fighters()[bot.looked_at];
        const bool foe = other.role == Role::combatant && other.vitals.life == LifeState::alive &&
                         skirmish.match().are_hostile(other, self) && other.id != bot.target;
        if (!foe || !is_in_field(its)) {
            return;
        }
        const bool nearer = aimed == nullptr || bot.seen_at < now() ||
                            (its.motion.position - body.motion.position).squaredNorm() <
                                0.5 * (bot.seen_where - body.motion.position).squaredNorm();
        if (nearer && sees(other, its)) {
            forget();
            bot.target = bot.intent.spotted = other.id;
            bot.noticed_at = bot.seen_at = now();
            bot.seen_where = middle_of(other, its);
            const auto [u, v] = draw();
            const auto [w, x] = draw();
            bot.error = {2.0 * shooter.error * (u + v - 1.0), shooter.error * (w + x - 1.0)};
        }
    }

    // Remaining error of its aim.
    Look error() const {
        const double left = error_left(shooter, now() - bot.noticed_at);
        const double sway = 3.0 * to_seconds(now().time_since_epoch());
        const double most = shooter.min_error;
        return {bot.error.yaw * left + most * sine(sway + static_cast<double>(bot.draws)),
                bot.error.pitch * left + most * cosine(1.3 * sway)};
    }

    // Where its view shall be to hit somebody there.
    Look aim_at(const Vector3& where, const WeaponSpec* weapon, const Fighter& its) const {
        Vector3 point = where;
        const ProjectileSpec* projectile =
            weapon != nullptr ? find(skirmish.arsenal().projectiles, weapon->projectile.id) : nullptr;
        if (projectile != nullptr) {
            const double flight = std::sqrt((point - eye()).squaredNorm()) / projectile->speed;
            point += flight * its.motion.velocity + 0.5 * projectile->gravity * flight * flight * world_up();
        }
        const Look exact = look_of(point - eye());
        const Look off = error();
        return {exact.yaw + off.yaw, exact.pitch + off.pitch};
    }

    // Turns its look to `wanted`, as fast as it can; returns how far off it stays.
    Radians turn_to(const Look& wanted) {
        const double most = shooter.turn * tick_seconds;
        const Radians yaw = shortest_turn(wanted.yaw - shooter.control * body.kick.yaw - body.look.yaw);
        const Radians pitch = wanted.pitch - shooter.control * body.kick.pitch - body.look.pitch;
        const double size = std::sqrt(yaw * yaw + pitch * pitch);
        const double share = size > most ? most / size : 1.0;
        bot.intent.yaw = static_cast<float>(body.look.yaw + share * yaw);
        bot.intent.pitch = static_cast<float>(body.look.pitch + share * pitch);
        return size * (1.0 - share);
    }

    void fight(const WeaponSpec* weapon) {
        const Combatant* who = target();
        if (who == nullptr) {
            return;
        }
        const Fighter& its = *skirmish.find(bot.target);
        const double distance = std::sqrt((bot.seen_where - eye()).squaredNorm());
        const Radians off = turn_to(aim_at(bot.seen_where, weapon, its));
        const bool ready =
            now() >= bot.noticed_at + shooter.reaction && bot.seen_at + shooter.reaction >= now();
        if (body.melee && distance < blow_reach && ready) {
            const bool pressed = bot.intent.strike >= 0;
            bot.intent.strike = pressed ? std::int8_t{-1} : std::int8_t{0};
            return;
        }
        bot.intent.strike = -1;
        if (weapon == nullptr || !ready || off > 0.06 + 0.6 / std::max(1.0, distance)) {
            return;
        }
        if (distance > weapon->range || endangers_friends(*weapon, distance)) {
            return;
        }
        bot.intent.buttons.set(Button::aim, distance > shooter.near);
        pull(*weapon, distance);
    }

    // Whether one of its own side is in the way, or what it fires would burst too near.
    bool endangers_friends(const WeaponSpec& weapon, double distance) const {
        const ProjectileSpec* projectile = find(skirmish.arsenal().projectiles, weapon.projectile.id);
        if (projectile != nullptr && distance < 1.4 * projectile->blast.radius) {
            return true;
        }
        const auto hit = skirmish.scene().closest_hit(
            {{eye(), direction_of(body.look), distance}, 0.15},
            {.hits = {CollisionLayer::bodies}, .teams = {self.team}, .ignores = {bot.id}});
        const Combatant* met = hit && hit->body ? skirmish.match().find(*hit->body) : nullptr;
        return met != nullptr && !skirmish.match().are_hostile(*met, self);
    }

    // The trigger, as its weapon is best fired.
    void pull(const WeaponSpec& weapon, double distance) {
        const WeaponState& state = *state_in(self.loadout, self.loadout.in_hand);
        const TriggerMode mode = mode_of(weapon, state);
        const bool held = body.intent.buttons.has(Button::trigger);
        bool pulls = true;
        if (mode == TriggerMode::single || mode == TriggerMode::burst) {
            const Duration tick = from_seconds(tick_seconds);
            pulls = !held && next_shot_allowed(state) <= now() + tick;
        } else if (mode == TriggerMode::charge) {
            const auto view =
                readout(weapon, state, reserve_of(skirmish.arsenal(), self.loadout, self.loadout.in_hand));
            pulls = !held || view.charge < 1.0;
        } else if (distance > shooter.near) {
            const Duration cycle = shooter.burst + shooter.pause;
            pulls = (now() - bot.noticed_at) % cycle < shooter.burst;
        }
        bot.intent.buttons.set(Button::trigger, pulls);
    }

    void tend(const WeaponSpec* weapon) {
        if (weapon == nullptr) {
            bot.intent.buttons.set(Button::next_weapon, !body.intent.buttons.has(Button::next_weapon));
            return;
        }
        const WeaponReadout view =
            readout(*weapon, *state_in(self.loadout, self.loadout.in_hand),
                    reserve_of(skirmish.arsenal(), self.loadout, self.loadout.in_hand));
        if (view.activity != WeaponActivity::ready) {
            return;
        }
        const bool empty = view.rounds < weapon->rounds_per_shot;
        if (empty && view.reserve <= 0) {
            bot.intent.buttons.set(Button::next_weapon, !body.intent.buttons.has(Button::next_weapon));
        }
        const bool wants = empty || (bot.target == nobody && view.rounds < view.capacity / 2);
        bot.intent.buttons.set(Button::reload, wants && !body.intent.buttons.has(Button::reload));
    }

    double health() const { return self.vitals.fraction(); }

    // The nearest point that its target does not see, of those within a few steps.
    std::optional<std::size_t> cover() const {
        std::optional<std::size_t> best;
        double nearest = 20.0 * 20.0;
        for (std::size_t point = 0; point < waypoints.points().size(); ++point) {
            const Vector3& place = waypoints.points()[point];
            const double distance = (place - body.motion.position).squaredNorm();
            const Vector3 way = place + 1.2 * world_up() - bot.seen_where;
            const double length = std::sqrt(way.squaredNorm());
            if (distance < nearest && length > 0.0 &&
                skirmish.scene().any_hit({{bot.seen_where, way / length, length}},
                                         {.hits = {CollisionLayer::level}})) {
                nearest = distance;
                best = point;
            }
        }
        return best;
    }

    // The point nearest to a pickup that would be of use.
    std::optional<std::size_t> pickup() const {
        double nearest = pickup_reach * pickup_reach;
        std::optional<std::size_t> best;
        for (const PickupState& pickup : skirmish.match().pickups()) {
            const PickupSpec& spec = skirmish.arsenal()[pickup.spec];
            const bool use =
                (spec.health > 0.0 && health() < 0.7) || (spec.rounds > 0 && bot.target == nobody);
            const double distance = (pickup.position - body.motion.position).squaredNorm();
            if (use && pickup.there && distance < nearest) {
                nearest = distance;
                best = waypoints.nearest(pickup.position);
            }
        }
        return best;
    }

    void decide() {
        const bool stuck = (body.motion.position - bot.stood_at).squaredNorm() < 0.04 && bot.goal >= 0;
        bot.stood_at = body.motion.position;
        bot.decides_at = now() + stuck_after;
        bot.intent.buttons.set(Button::jump, stuck);
        const auto here = waypoints.nearest(body.motion.position);
        const auto [u, v] = draw();
        if (!here) {
            return;
        }
        if (bot.target != nobody && health() < shooter.takes_cover && !bot.hides) {
            if (const auto hiding = cover()) {
                bot.goal = static_cast<std::int64_t>(*hiding);
                bot.hides = true;
            }
        } else if (bot.hides && (bot.target == nobody || health() >= shooter.takes_cover)) {
            bot.hides = false;
            bot.goal = -1;
        }
        if (!bot.hides && (bot.goal < 0 || stuck)) {
            const auto found = u < 0.5 ? pickup() : std::nullopt;
            bot.goal = static_cast<std::int64_t>(
                found.value_or(static_cast<std::size_t>(v * static_cast<double>(waypoints.points().size()))));
            bot.step = -1;
        }
        if (bot.step < 0) {
            bot.step = static_cast<std::int64_t>(*here);
        }
    }

    // On to its goal; with a foe in sight, from side to side.
    void walk() {
        if (now() >= bot.decides_at) {
            decide();
        } else {
            bot.intent.buttons.set(Button::jump, false);
        }
        Vector3 way = Vector3::Zero();
        if (bot.step >= 0 && bot.goal >= 0) {
            const Vector3 to = waypoints.points()[static_cast<std::size_t>(bot.step)] - body.motion.position;
            way = {to.x(), 0.0, to.z()};
            if (way.squaredNorm() < arrived_within * arrived_within) {
                const bool arrived = bot.step == bot.goal;
                bot.step = arrived
                               ? bot.step
                               : static_cast<std::int64_t>(waypoints.next_step(
                                     static_cast<std::size_t>(bot.step), static_cast<std::size_t>(bot.goal)));
                bot.goal = arrived && !bot.hides ? -1 : bot.goal;
                way = Vector3::Zero();
            }
        }
        const bool fights = target() != nullptr && !bot.hides;
        if (now() >= bot.aside_until) {
            const auto [u, v] = draw();
            bot.aside = 2.0 * u - 1.0;
            bot.aside_until = now() + from_seconds(0.3 + 0.9 * v);
        }
        if (!fights && way.squaredNorm() > 0.0 && target() == nullptr) {
            turn_to({look_of(way).yaw, 0.0});
        }
        const double size = std::sqrt(way.squaredNorm());
        const Vector3 ahead = direction_of({body.look.yaw, 0.0});
        const Vector3 left{ahead.z(), 0.0, -ahead.x()};
        const Vector3 there_way = size > 0.0 ? Vector3(way / size) : Vector3(Vector3::Zero());
        const double pace = fights ? 0.45 : 1.0;
        bot.intent.ahead = static_cast<float>(pace * there_way.dot(ahead));
        bot.intent.left = static_cast<float>(pace * there_way.dot(left) + (fights ? 0.6 * bot.aside : 0.0));
        bot.intent.buttons.set(Button::sprint, target() == nullptr && size > 2.0);
        bot.intent.buttons.set(Button::crouch, bot.hides && bot.step == bot.goal && size < 1.0);
    }

    void think() {
        Intent& intent = bot.intent;
        intent.spotted = intent.lost_sight_of = nobody;
        intent.who = bot.id;
        intent.press_offset = 0;
        if (self.vitals.life == LifeState::dead) {
            intent = {};
            intent.who = bot.id;
            bot.target = nobody;
            bot.goal = bot.step = -1;
            bot.hides = bot.was_alive = false;
            return;
        }
        if (!bot.was_alive) {
            bot.was_alive = true;
            intent.yaw = static_cast<float>(body.look.yaw);
            intent.pitch = 0.0F;
        }
        const bool jump = intent.buttons.has(Button::jump);
        intent.buttons = {};
        intent.buttons.set(Button::jump, jump);
        const WeaponSpec* weapon = weapon_in(skirmish.arsenal(), self.loadout, self.loadout.in_hand);
        look();
        walk();
        fight(weapon);
        tend(weapon);
    }
};

} // namespace

Bots::Bots(const Skirmish& skirmish) : waypoints_(skirmish.scene(), skirmish.plan().points, 0.35) {
    bots_.reserve(skirmish.settings().limits.combatants);
    intents_.reserve(skirmish.settings().limits.combatants);
}

void Bots::add(BodyId id, ShooterId shooter) {
    Bot bot;
    bot.id = id;
    bot.shooter = shooter;
    bots_.insert(detail::place_by_id(bots_, id), bot);
}

void Bots::remove(BodyId id) {
    std::erase_if(bots_, [id](const Bot& bot) { return bot.id == id; });
}

std::span<const Intent> Bots::think(const Skirmish& skirmish) {
    const Span span = tick_span(skirmish.tick(), skirmish.settings().rate);
    intents_.clear();
    for (Bot& bot : bots_) {
        const Combatant* self = skirmish.match().find(bot.id);
        if (self == nullptr) {
            continue;
        }
        const auto& shooters = skirmish.arsenal().shooters;
        assert(to_index(bot.shooter) < shooters.size());
        Thinking{skirmish,
                 waypoints_,
                 bot,
                 *self,
                 *skirmish.find(bot.id),
                 shooters[to_index(bot.shooter)],
                 to_seconds(span.end - span.begin)}
            .think();
        intents_.push_back(bot.intent);
    }
    return intents_;
}

} // namespace avrek
