#include "things.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace avrek::playground {

namespace {

constexpr Colour team_colours[] = {{96, 150, 92, 255}, {186, 112, 74, 255}, {120, 120, 168, 255}};
constexpr Colour tracer_colour{255, 244, 196, 220};

Colour shaded(Colour colour, double factor) {
    for (std::size_t part = 0; part < 3; ++part) {
        colour[part] = static_cast<std::uint8_t>(std::clamp(colour[part] * factor, 0.0, 255.0));
    }
    return colour;
}

// A straight line with a width, which shines by itself: it has no normal.
void add_line(std::vector<Corner>& to, const Vector3& from, const Vector3& end, const Vector3& eye,
              Metres width, Colour colour) {
    const Vector3 way = end - from;
    const Vector3 side = way.cross(eye - from);
    const double length = std::sqrt(side.squaredNorm());
    if (length < 1e-9) {
        return;
    }
    const Vector3 half = side * (0.5 * width / length);
    const auto corner = [colour](const Vector3& at) {
        return Corner{
            {static_cast<float>(at.x()), static_cast<float>(at.y()), static_cast<float>(at.z())}, {}, colour};
    };
    for (const Vector3& at : {Vector3{from - half}, Vector3{from + half}, Vector3{end + half},
                              Vector3{from - half}, Vector3{end + half}, Vector3{end - half}}) {
        to.push_back(corner(at));
    }
}

void add_shining(std::vector<Corner>& to, const Shape& shape, Colour colour) {
    const std::size_t first = to.size();
    add_shape(to, shape, colour);
    for (std::size_t index = first; index < to.size(); ++index) {
        to[index].normal = {};
    }
}

// A gun of boxes: barrel, body, grip and magazine, larger for what holds more.
void add_gun(std::vector<Corner>& to, const WeaponSpec& weapon, const Pose& hand, double kick) {
    const double size = std::clamp(0.7 + 0.01 * weapon.magazine, 0.7, 1.1);
    const auto part = [&](const Vector3& at, const Vector3& half, Colour colour) {
        const Vector3 place = at - Vector3{0.0, 0.0, 0.05 * kick};
        add_shape(to, Box{to_world(hand, Pose{place, Rotation::Identity()}), half * size}, colour);
    };
    part({0, 0.0, 0.10}, {0.025, 0.040, 0.17}, {86, 96, 92, 255});
    part({0, 0.012, 0.36}, {0.012, 0.012, 0.16}, {62, 68, 70, 255});
    part({0, -0.085, 0.14}, {0.016, 0.06, 0.03}, {132, 104, 72, 255});
    part({0, -0.075, -0.02}, {0.016, 0.05, 0.024}, {72, 78, 74, 255});
    part({0, 0.055, 0.10}, {0.006, 0.014, 0.05}, {62, 68, 70, 255});
}

// The blade of a swing that is under way, from where the wielder looks.
void add_blade(std::vector<Corner>& to, const Skirmish& fight, const Fighter& fighter, const Pose& eye) {
    if (!fighter.melee || fighter.swing.attack < 0) {
        return;
    }
    const MeleeSpec& melee = fight.arsenal()[*fighter.melee];
    const auto number = static_cast<std::size_t>(fighter.swing.attack);
    if (number >= melee.attacks.size()) {
        return;
    }
    const MeleeAttackSpec& attack = melee.attacks[number];
    const double since = to_seconds(fight.now() - fighter.swing.started - attack.windup);
    const double share = std::clamp(since / to_seconds(attack.active), 0.0, 1.0);
    const Pose grip{eye.position - 0.2 * world_up(), eye.rotation};
    const bool hits = phase_of(melee, fighter.swing, fight.now()) == MeleePhase::active;
    add_shape(to, blade_at(attack, grip, share),
              hits ? Colour{240, 236, 214, 255} : Colour{150, 160, 158, 255});
}

// A ring of beads above the head: one for each condition.
void add_conditions(std::vector<Corner>& to, const Combatant& who, const Vector3& feet, double turn) {
    constexpr Colour colours[] = {
        {176, 150, 52, 255}, {112, 96, 168, 255}, {66, 128, 150, 255}, {176, 84, 70, 255}};
    const std::size_t count = who.vitals.condition_count;
    for (std::size_t index = 0; index < count; ++index) {
        const double angle = turn + 2.0 * pi * static_cast<double>(index) / static_cast<double>(count);
        const Vector3 at = feet + Vector3{0.22 * std::cos(angle), 2.05, 0.22 * std::sin(angle)};
        add_shape(to, Sphere{at, 0.06}, colours[to_index(who.vitals.conditions[index].spec) % 4], true);
    }
}

} // namespace

void add_bodies(PassingCorners& to, const Seen& seen, const Camera& camera, bool regions) {
    const Skirmish& fight = seen.fight;
    std::array<Pose, max_joints + 1> poses;
    for (std::size_t index = 0; index < fight.scene().body_count(); ++index) {
        const BodyId id = fight.scene().body_at(index);
        const Combatant* who = fight.match().find(id);
        if (who == nullptr || (id == seen.player && seen.view == View::eye)) {
            continue;
        }
        const std::size_t count = fight.scene().poses_of(id, poses, seen.bodies_at);
        const RigSpec* rig = fight.scene().rig_of(id);
        if (count == 0 || rig == nullptr) {
            continue;
        }
        const Vector3& feet = poses[0].position;
        const Bounds around{feet - Vector3::Constant(1.5), feet + Vector3{1.5, 2.5, 1.5}};
        if (!may_be_seen(around, camera)) {
            continue;
        }
        const bool is_far = (feet - camera.pose.position).squaredNorm() > 12.0 * 12.0;
        const bool is_dead = who->vitals.life == LifeState::dead;
        const Colour team = team_colours[std::min<std::size_t>(to_index(who->team), 2)];
        for (const PosedShape& part : posed_shapes(*rig, std::span{poses}.first(count))) {
            Colour colour = shaded(team, part.region == RegionId{} ? 1.25 : 1.0);
            if (regions) {
                const auto number = static_cast<double>(part.region);
                colour = shaded({200, 190, 210, 255}, 0.55 + 0.45 * std::fmod(number * 0.37, 1.0));
            }
            add_shape(to.solid, part.shape, is_dead ? shaded(colour, 0.55) : colour, is_far);
        }
        const Fighter* fighter = fight.find(id);
        if (fighter != nullptr && !is_dead) {
            const CombatantReadout readout = fight.readout(id);
            add_conditions(to.solid, *who, feet, 2.0 * to_seconds(seen.at - Time{}));
            add_blade(to.solid, fight, *fighter, {readout.eye, turned_to(readout.view)});
        }
    }
}

void add_traces(PassingCorners& to, const Seen& seen, const Camera& camera, bool paths) {
    const Vector3& eye = camera.pose.position;
    const Time shown = seen.at;
    const Picture& picture = seen.picture;
    for (const Mark& mark : picture.marks) {
        if (mark.since <= shown && !mark.on_body) {
            // Darker than the surface: a hole in bark is not one in stone.
            const Colour surface = colour_of(surface_of(seen.fight.arsenal().surfaces, mark.surface));
            add_shape(to.solid, Sphere{mark.at, 0.035},
                      shaded({surface[0], surface[1], surface[2], 255}, 0.4), true);
        }
    }
    for (const Tracer& tracer : picture.tracers) {
        if (paths) {
            add_line(to.clear, tracer.from, tracer.to, eye, 0.012, {250, 220, 120, 130});
        }
        const double length = to_seconds(tracer.ends - tracer.begins);
        const double head = length > 0.0 ? to_seconds(shown - tracer.begins) / length : 1.0;
        if (head < 0.0 || head > 1.4) {
            continue;
        }
        const Vector3 way = tracer.to - tracer.from;
        add_line(to.clear, tracer.from + way * std::clamp(head - 0.35, 0.0, 1.0),
                 tracer.from + way * std::clamp(head, 0.0, 1.0), eye, 0.03, tracer_colour);
    }
    for (const Flash& flash : picture.flashes) {
        const double age = to_seconds(shown - flash.since);
        if (flash.radius <= 0.0 && age >= 0.0 && age < 0.05 &&
            !(flash.who == seen.player && seen.view == View::eye)) {
            add_shining(to.clear, Sphere{flash.at, 0.10}, {255, 236, 170, 220});
        } else if (flash.radius > 0.0 && age >= 0.0) {
            const double grown = std::min(1.0, age / 0.12);
            const auto faded = static_cast<std::uint8_t>(150.0 * std::max(0.0, 1.0 - age / 0.3));
            add_shining(to.clear, Sphere{flash.at, 0.1 + flash.radius * grown}, {240, 190, 110, faded});
        }
    }
    for (const ProjectilePool& pool : seen.fight.projectiles()) {
        std::vector<ProjectileHandle> handles(pool.size());
        const std::size_t count = pool.list(handles);
        for (std::size_t index = 0; index < count; ++index) {
            if (const auto flying = pool.find(handles[index])) {
                add_shape(to.solid, Sphere{flying->position, 0.08}, {70, 92, 52, 255});
            }
        }
    }
}

namespace {

// Lines from each bot to the foe that it sees, and the capsules by which walkers collide.
void add_sight(PassingCorners& to, const Session& session, const Seen& seen, const Vector3& eye) {
    const Skirmish& fight = seen.fight;
    for (const Bot& bot : session.linked() == nullptr ? session.stage().bots() : std::span<const Bot>{}) {
        const Fighter* from = fight.find(bot.id);
        const Fighter* target = fight.find(bot.target);
        if (from != nullptr && target != nullptr && bot.target != nobody) {
            const Vector3 up{0.0, 1.5, 0.0};
            add_line(to.clear, from->motion.position + up, target->motion.position + up, eye, 0.02,
                     bot.target == seen.player ? Colour{200, 70, 60, 170} : Colour{90, 120, 190, 120});
        }
    }
    for (const Fighter& fighter : fight.fighters()) {
        const MovementSpec& walk = fight.arsenal()[fight.match().find(fighter.id)->body].movement;
        if (fighter.in_scene && fighter.id != seen.player) {
            const Vector3& feet = fighter.motion.position;
            add_shape(to.clear,
                      Capsule{feet + Vector3{0, walk.radius, 0},
                              feet + Vector3{0, walk.height - walk.radius, 0}, walk.radius},
                      {200, 210, 230, 70});
        }
    }
}

void add_board(PassingCorners& to, const FiringBoard& board, const Vector3& eye) {
    const auto at = [&](double left, double up) { return to_world(board.pose, Vector3{left, up, 0.0}); };
    const double half = FiringBoard::half_size;
    add_shape(to.clear, Box{board.pose, {half, half, 0.01}}, {236, 240, 226, 120});
    for (const double radius : {0.25, 0.5, 1.0, 1.5}) {
        constexpr int parts = 32;
        for (int part = 0; part < parts; ++part) {
            const double from = 2.0 * pi * part / parts;
            const double end = 2.0 * pi * (part + 1) / parts;
            add_line(to.clear, at(radius * std::cos(from), radius * std::sin(from)),
                     at(radius * std::cos(end), radius * std::sin(end)), eye, 0.012, {86, 138, 84, 220});
        }
    }
    for (const Vector3& hit : board.points) {
        add_shape(to.solid, Sphere{hit, 0.022}, {188, 66, 52, 255}, true);
    }
}

} // namespace

void add_shown(PassingCorners& to, const Session& session, const Seen& seen, const Camera& camera) {
    const Vector3& eye = camera.pose.position;
    if (session.shows(Command::show_sight)) {
        add_sight(to, session, seen, eye);
    }
    if (session.shows(Command::show_blasts)) {
        for (const BlastLine& line : seen.picture.blast_lines) {
            add_line(to.clear, line.from, line.to, eye, 0.015,
                     line.reaches ? Colour{206, 138, 52, 220} : Colour{90, 100, 110, 150});
        }
    }
    if (session.shows(Command::show_ghosts) && session.linked() != nullptr) {
        for (const Ghost& ghost : session.linked()->ghosts()) {
            const double age = to_seconds(session.linked()->now() - ghost.since);
            const auto opacity = static_cast<std::uint8_t>(130.0 * std::clamp(1.0 - age, 0.0, 1.0));
            for (const PosedShape& part : ghost.parts) {
                add_shape(to.clear, part.shape, {92, 96, 190, opacity}, true);
            }
        }
    }
    if (session.board().distance > 0.0) {
        add_board(to, session.board(), eye);
    }
}

void add_own_hands(PassingCorners& to, const Seen& seen, const Camera& camera) {
    const CombatantReadout player = seen.fight.readout(seen.player);
    const Combatant& who = *seen.fight.match().find(seen.player);
    const Fighter* fighter = seen.fight.find(seen.player);
    if (seen.view != View::eye || !player.alive || fighter == nullptr) {
        return;
    }
    add_blade(to.solid, seen.fight, *fighter, camera.pose);
    const WeaponSpec* weapon = weapon_in(seen.fight.arsenal(), who.loadout, who.loadout.in_hand);
    if (player.weapon && weapon != nullptr && fighter->swing.attack < 0) {
        const double aim = player.weapon->aim_blend;
        const Pose hand = to_world(
            camera.pose, Pose{Vector3{-0.16 * (1.0 - aim), -0.15 + 0.045 * aim, 0.32}, Rotation::Identity()});
        add_gun(to.solid, *weapon, hand, player.weapon->gun_kick);
    }
}

} // namespace avrek::playground
