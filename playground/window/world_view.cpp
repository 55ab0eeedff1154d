#include "world_view.h"

#include <algorithm>
#include <cmath>

namespace avrek::playground {

namespace {

constexpr Colour team_colours[] = {{96, 150, 92, 255}, {186, 112, 74, 255}, {120, 120, 168, 255}};
constexpr Colour tracer_colour{255, 244, 196, 220};
constexpr Colour mark_colour{52, 46, 40, 255};

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

} // namespace

Camera camera_of(const Session& session, double width, double height) {
    const Skirmish& fight = session.fight();
    const CombatantReadout player = fight.readout(session.player());
    const Fighter& fighter = *fight.find(session.player());
    Camera camera{.width = width, .height = height};
    const Span last = tick_span(fight.tick() - 1, fight.settings().rate);
    const double share = to_seconds(session.picture_time() - last.begin) / to_seconds(last.end - last.begin);
    const Vector3 eye = player.eye + (fighter.position_before - fighter.motion.position) *
                                         (1.0 - std::clamp(share, 0.0, 1.0));
    Look look = session.controls().look;
    if (player.weapon) {
        look = turned(look, player.weapon->view_kick.yaw, player.weapon->view_kick.pitch);
        camera.field_of_view =
            player.weapon->field_of_view > 0.0 ? player.weapon->field_of_view : camera.field_of_view;
    }
    camera.pose = {eye, turned_to(look)};
    if (session.view() == View::behind) {
        const Vector3 back = to_world(camera.pose, Vector3{-0.5, 0.25, -2.6}) - eye;
        const double length = std::sqrt(back.squaredNorm());
        const auto hit =
            fight.scene().closest_hit({{eye, back / length, length}}, {.hits = {CollisionLayer::level}});
        camera.pose.position = eye + back * (hit ? std::max(0.0, hit->distance - 0.15) / length : 1.0);
    } else if (session.view() == View::above) {
        camera.pose = {eye + Vector3{0, 15, 0}, turned_to({look.yaw, -0.4999 * pi})};
        camera.field_of_view = pi / 3.0;
    }
    return camera;
}

WorldView::WorldView(Painter& painter, const GameData& data)
    : painter_(painter), level_(geometry_of(data.arena.level, data.arsenal.surfaces)),
      kept_(painter.keep(level_.corners)) {}

void WorldView::draw_level(const Camera& camera, bool clear) {
    // The nearest first, so that what they hide is not painted; panes from behind.
    seen_.clear();
    for (const Chunk& chunk : clear ? level_.clear : level_.solid) {
        if (may_be_seen(chunk.bounds, camera)) {
            const Vector3 middle = 0.5 * (chunk.bounds.low + chunk.bounds.high);
            seen_.emplace_back((middle - camera.pose.position).squaredNorm() * (clear ? -1.0 : 1.0), &chunk);
        }
    }
    std::sort(seen_.begin(), seen_.end());
    for (const auto& [distance, chunk] : seen_) {
        painter_.paint(kept_, chunk->first, chunk->count);
    }
}

void WorldView::add_bodies(const Session& session, const Camera& camera) {
    const Skirmish& fight = session.fight();
    // Over a link the client has placed everybody for the present picture.
    const Time shown = session.is_linked() ? present : session.picture_time();
    std::array<Pose, max_joints + 1> poses;
    for (std::size_t index = 0; index < fight.scene().body_count(); ++index) {
        const BodyId id = fight.scene().body_at(index);
        const Combatant* who = fight.match().find(id);
        if (who == nullptr || (id == session.player() && session.view() == View::eye)) {
            continue;
        }
        const std::size_t count = fight.scene().poses_of(id, poses, shown);
        const RigSpec* rig = fight.scene().rig_of(id);
        if (count == 0 || rig == nullptr) {
            continue;
        }
        const Bounds around{poses[0].position - Vector3::Constant(1.5),
                            poses[0].position + Vector3{1.5, 2.5, 1.5}};
        if (!may_be_seen(around, camera)) {
            continue;
        }
        const bool is_far = (poses[0].position - camera.pose.position).squaredNorm() > 12.0 * 12.0;
        const Colour team = team_colours[std::min<std::size_t>(to_index(who->team), 2)];
        for (const PosedShape& part : posed_shapes(*rig, std::span{poses}.first(count))) {
            Colour colour = shaded(team, part.region == RegionId{} ? 1.25 : 1.0);
            if (session.shown().regions) {
                const auto number = static_cast<double>(part.region);
                colour = shaded({200, 190, 210, 255}, 0.55 + 0.45 * std::fmod(number * 0.37, 1.0));
            }
            add_shape(solid_, part.shape, who->vitals.life == LifeState::dead ? shaded(colour, 0.55) : colour,
                      is_far);
        }
    }
}

// Lines from each bot to the foe that it sees, and the capsules by which walkers collide.
void WorldView::add_sight(const Session& session, const Camera& camera) {
    const Skirmish& fight = session.fight();
    for (const Bot& bot : session.linked() == nullptr ? session.stage().bots() : std::span<const Bot>{}) {
        const Fighter* from = fight.find(bot.id);
        const Fighter* target = fight.find(bot.target);
        if (from != nullptr && target != nullptr && bot.target != nobody) {
            const Vector3 up{0.0, 1.5, 0.0};
            add_line(clear_, from->motion.position + up, target->motion.position + up, camera.pose.position,
                     0.02,
                     bot.target == session.player() ? Colour{200, 70, 60, 170} : Colour{90, 120, 190, 120});
        }
    }
    for (const Fighter& fighter : fight.fighters()) {
        const MovementSpec& walk = fight.arsenal()[fight.match().find(fighter.id)->body].movement;
        if (fighter.in_scene && fighter.id != session.player()) {
            const Vector3& feet = fighter.motion.position;
            add_shape(clear_,
                      Capsule{feet + Vector3{0, walk.radius, 0},
                              feet + Vector3{0, walk.height - walk.radius, 0}, walk.radius},
                      {200, 210, 230, 70});
        }
    }
}

void WorldView::add_things(const Session& session, const Camera& camera) {
    const Vector3& eye = camera.pose.position;
    const Time shown = session.picture_time();
    const Picture& picture = session.picture();
    for (const Mark& mark : picture.marks) {
        if (mark.since <= shown && !mark.on_body) {
            add_shape(solid_, Sphere{mark.at, 0.035}, mark_colour);
        }
    }
    for (const Tracer& tracer : picture.tracers) {
        if (session.shown().segments) {
            add_line(clear_, tracer.from, tracer.to, eye, 0.012, {250, 220, 120, 130});
        }
        const double length = to_seconds(tracer.ends - tracer.begins);
        const double head = length > 0.0 ? to_seconds(shown - tracer.begins) / length : 1.0;
        if (head < 0.0 || head > 1.4) {
            continue;
        }
        const Vector3 way = tracer.to - tracer.from;
        add_line(clear_, tracer.from + way * std::clamp(head - 0.35, 0.0, 1.0),
                 tracer.from + way * std::clamp(head, 0.0, 1.0), eye, 0.03, tracer_colour);
    }
    for (const Flash& flash : picture.flashes) {
        const double age = to_seconds(shown - flash.since);
        if (flash.radius <= 0.0 && age >= 0.0 && age < 0.05 &&
            !(flash.who == session.player() && session.view() == View::eye)) {
            add_shining(clear_, Sphere{flash.at, 0.10}, {255, 236, 170, 220});
        } else if (flash.radius > 0.0 && age >= 0.0) {
            const double grown = std::min(1.0, age / 0.12);
            const auto faded = static_cast<std::uint8_t>(150.0 * std::max(0.0, 1.0 - age / 0.3));
            add_shining(clear_, Sphere{flash.at, 0.1 + flash.radius * grown}, {240, 190, 110, faded});
        }
    }
    for (const ProjectilePool& pool : session.fight().projectiles()) {
        handles_.resize(pool.size());
        for (std::size_t index = 0; index < pool.list(handles_); ++index) {
            if (const auto flying = pool.find(handles_[index])) {
                add_shape(solid_, Sphere{flying->position, 0.08}, {70, 92, 52, 255});
            }
        }
    }
}

void WorldView::draw(const Session& session, const Camera& camera, int height) {
    solid_.clear();
    clear_.clear();
    add_bodies(session, camera);
    add_things(session, camera);
    if (session.shown().sight) {
        add_sight(session, camera);
    }
    painter_.begin(camera, height);
    draw_level(camera, false);
    painter_.paint(solid_);
    painter_.set_clear(true);
    draw_level(camera, true);
    painter_.paint(clear_);
    const CombatantReadout player = session.fight().readout(session.player());
    if (session.view() == View::eye && player.alive && player.weapon) {
        const Combatant& who = *session.fight().match().find(session.player());
        const WeaponSpec* weapon = weapon_in(session.fight().arsenal(), who.loadout, who.loadout.in_hand);
        const double aim = player.weapon->aim_blend;
        const Pose hand = to_world(
            camera.pose, Pose{Vector3{-0.16 * (1.0 - aim), -0.15 + 0.045 * aim, 0.32}, Rotation::Identity()});
        solid_.clear();
        if (weapon != nullptr) {
            add_gun(solid_, *weapon, hand, player.weapon->gun_kick);
        }
        painter_.begin_near();
        painter_.paint(solid_);
    }
}

} // namespace avrek::playground
