#include "world_view.h"

#include <algorithm>
#include <cmath>

namespace avrek::playground {

namespace {

constexpr Metres panes_gone_at = 18.0; // glass before a bright sky: it is not seen, and takes long to draw

} // namespace

Camera camera_of(const Seen& seen, double width, double height) {
    const Skirmish& fight = seen.fight;
    const CombatantReadout player = fight.readout(seen.player);
    const Fighter& fighter = *fight.find(seen.player);
    Camera camera{.width = width, .height = height};
    const Span last = tick_span(fight.tick() - 1, fight.settings().rate);
    const double share = to_seconds(seen.at - last.begin) / to_seconds(last.end - last.begin);
    const Vector3 eye = player.eye + (fighter.position_before - fighter.motion.position) *
                                         (1.0 - std::clamp(share, 0.0, 1.0));
    Look look = turned(seen.look, fighter.kick.yaw, fighter.kick.pitch);
    if (player.weapon) {
        look = turned(look, player.weapon->view_kick.yaw, player.weapon->view_kick.pitch);
        camera.field_of_view =
            player.weapon->field_of_view > 0.0 ? player.weapon->field_of_view : camera.field_of_view;
    }
    camera.pose = {eye, turned_to(look)};
    if (seen.view == View::behind) {
        const Vector3 back = to_world(camera.pose, Vector3{-0.5, 0.25, -2.6}) - eye;
        const double length = std::sqrt(back.squaredNorm());
        const auto hit =
            fight.scene().closest_hit({{eye, back / length, length}}, {.hits = {CollisionLayer::level}});
        camera.pose.position = eye + back * (hit ? std::max(0.0, hit->distance - 0.15) / length : 1.0);
    } else if (seen.view == View::above) {
        camera.pose = {eye + Vector3{0, 15, 0}, turned_to({look.yaw, -0.4999 * pi})};
        camera.field_of_view = pi / 3.0;
    }
    return camera;
}

WorldView::WorldView(Painter& painter, const GameData& data)
    : painter_(painter), level_(geometry_of(data.arena.level, data.arsenal.surfaces)),
      kept_(painter.keep(level_.corners, level_.numbers)) {}

void WorldView::draw_level(const Camera& camera, bool clear) {
    // The nearest first, so that what they hide is not painted; panes from behind.
    seen_.clear();
    for (const Chunk& chunk : clear ? level_.clear : level_.solid) {
        const bool is_gone = clear && distance_to(chunk, camera.pose.position) > panes_gone_at / coarser;
        if (draws_all || (!is_gone && may_be_seen(chunk.bounds, camera))) {
            const Vector3 middle = 0.5 * (chunk.bounds.low + chunk.bounds.high);
            seen_.emplace_back((middle - camera.pose.position).squaredNorm() * (clear ? -1.0 : 1.0), &chunk);
        }
    }
    std::sort(seen_.begin(), seen_.end());
    for (const auto& [distance, chunk] : seen_) {
        const CornerRange& part = chunk->details[draws_all ? 0 : detail_of(*chunk, camera, coarser)];
        painter_.paint(kept_, part.first, part.count);
    }
}

void WorldView::draw(const Session& session, const Seen& seen, const Camera& camera, const Frame& frame) {
    passing_.solid.clear();
    passing_.clear.clear();
    painter_.begin(camera, frame);
    add_own_hands(passing_, seen, camera);
    painter_.set_near(true);
    painter_.paint(passing_.solid);
    painter_.set_near(false);
    passing_.solid.clear();
    add_bodies(passing_, seen, camera, session.shows(Command::show_regions));
    add_traces(passing_, seen, camera, session.shows(Command::show_segments));
    add_shown(passing_, session, seen, camera);
    draw_level(camera, false);
    painter_.paint(passing_.solid);
    painter_.set_clear(true);
    painter_.fade_out(draws_all ? 1e6 : panes_gone_at / coarser);
    draw_level(camera, true);
    painter_.fade_out(1e6);
    painter_.paint(passing_.clear);
    painter_.end();
}

} // namespace avrek::playground
