#include "drawing.h"
#include "panels.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <string>
#include <utility>

namespace avrek::playground {

namespace {

// A player's picture on the screen.
struct Display {
    ImDrawList& to;
    const Session& session;
    const Seen& seen;
    const Camera& camera;
    CombatantReadout player;
    float left; // where the picture begins

    ImVec2 middle() const {
        return {left + 0.5F * static_cast<float>(camera.width), 0.5F * static_cast<float>(camera.height)};
    }
    std::optional<ImVec2> place_of(const Vector3& point) const {
        const auto at = on_screen(camera, point);
        if (!at || !at->inside) {
            return std::nullopt;
        }
        return ImVec2{left + static_cast<float>(at->at.right), static_cast<float>(at->at.down)};
    }
    bool is_fresh(const std::optional<Time>& at, int milliseconds) const {
        return at && seen.at >= *at && seen.at - *at < std::chrono::milliseconds{milliseconds};
    }
};

void draw_cone(const Display& on, float gap) {
    const ImVec2 middle = on.middle();
    const WeaponReadout& weapon = *on.player.weapon;
    const double per_radian = weapon.cone > 0.0 ? weapon.crosshair_gap / weapon.cone : 0.0;
    for (const Direction& direction : on.seen.picture.directions) {
        on.to.AddCircleFilled({middle.x - static_cast<float>(direction.left * per_radian),
                               middle.y - static_cast<float>(direction.up * per_radian)},
                              2.0F, IM_COL32(188, 66, 52, 190));
    }
    on.to.AddCircle(middle, gap, IM_COL32(206, 138, 52, 220), 48, 1.5F);
    write(on.to, {middle.x + gap + 14.0F, middle.y + 10.0F}, 15.0F, amber,
          text_of("%.2f deg", to_degrees(weapon.cone)));
}

// The path of the recoil, and that which was pulled against it: where they are one, the aim stays.
void draw_recoil(const Display& on) {
    const auto& points = on.seen.picture.recoil;
    if (points.empty()) {
        return;
    }
    const auto per_radian = static_cast<float>(on.camera.height / on.camera.field_of_view);
    const ImVec2 from{on.middle().x + 0.30F * static_cast<float>(on.camera.width), on.middle().y};
    const auto place = [&](const Look& look) {
        return ImVec2{from.x - per_radian * static_cast<float>(look.yaw),
                      from.y - per_radian * static_cast<float>(look.pitch)};
    };
    for (std::size_t index = 1; index < points.size(); ++index) {
        on.to.AddLine(place(points[index - 1].kick), place(points[index].kick), amber, 2.5F);
        on.to.AddLine(place(points[index - 1].pulled), place(points[index].pulled), leaf, 2.5F);
    }
    on.to.AddCircleFilled(from, 3.0F, ink);
    on.to.AddCircleFilled(place(points.back().kick), 4.0F, amber);
    on.to.AddCircleFilled(place(points.back().pulled), 4.0F, leaf);
    const Look off{points.back().kick.yaw - points.back().pulled.yaw,
                   points.back().kick.pitch - points.back().pulled.pitch};
    write(on.to, {from.x, from.y + 10.0F}, 13.0F, amber, "recoil", true);
    write(on.to, {from.x, from.y + 25.0F}, 13.0F, leaf, "pulled", true);
    write(on.to, {from.x, from.y + 40.0F}, 13.0F, ink,
          text_of("%.2f deg off", to_degrees(std::hypot(off.yaw, off.pitch))), true);
}

void draw_crosshair(const Display& on) {
    if (!on.player.alive || !on.player.weapon) {
        return;
    }
    ImDrawList& to = on.to;
    const ImVec2 middle = on.middle();
    const auto gap = static_cast<float>(on.player.weapon->crosshair_gap);
    const auto strength = static_cast<int>(230.0 * on.player.weapon->crosshair_opacity);
    const ImU32 colour = IM_COL32(20, 36, 30, strength);
    const ImU32 edge = IM_COL32(255, 255, 255, strength);
    for (const auto& [x, y] : {std::pair{1.0F, 0.0F}, {-1.0F, 0.0F}, {0.0F, 1.0F}, {0.0F, -1.0F}}) {
        const ImVec2 from{middle.x + x * gap, middle.y + y * gap};
        const ImVec2 end{middle.x + x * (gap + 9.0F), middle.y + y * (gap + 9.0F)};
        to.AddLine(from, end, edge, 4.0F);
        to.AddLine(from, end, colour, 2.0F);
    }
    to.AddCircleFilled(middle, 1.5F, colour);
    if (on.session.shows(Command::show_cone)) {
        draw_cone(on, gap);
    }
    if (on.is_fresh(on.seen.picture.hit_at, 220)) {
        const ImU32 mark = on.is_fresh(on.seen.picture.kill_at, 220) ? alarm : paper;
        for (const auto& [x, y] : {std::pair{1.0F, 1.0F}, {-1.0F, 1.0F}, {1.0F, -1.0F}, {-1.0F, -1.0F}}) {
            to.AddLine({middle.x + 7.0F * x, middle.y + 7.0F * y},
                       {middle.x + 15.0F * x, middle.y + 15.0F * y}, mark, 2.5F);
        }
    }
}

void draw_bar(ImDrawList& to, ImVec2 at, ImVec2 size, double share, ImU32 colour) {
    to.AddRectFilled(at, {at.x + size.x, at.y + size.y}, IM_COL32(255, 255, 255, 120), 3.0F);
    const auto full = static_cast<float>(std::clamp(share, 0.0, 1.0)) * size.x;
    to.AddRectFilled(at, {at.x + full, at.y + size.y}, colour, 3.0F);
    to.AddRect(at, {at.x + size.x, at.y + size.y}, IM_COL32(28, 40, 36, 160), 3.0F);
}

// Damage step by step, above a corner on its lower right.
void draw_explanation(ImDrawList& to, const std::vector<std::string>& lines, ImVec2 corner) {
    const auto height = 18.0F * static_cast<float>(lines.size());
    if (lines.empty()) {
        return;
    }
    const ImVec2 at{corner.x - 190.0F, corner.y - height - 10.0F};
    to.AddRectFilled(at, corner, IM_COL32(246, 248, 240, 200), 6.0F);
    float line = at.y + 5.0F;
    for (const std::string& text : lines) {
        write(to, {at.x + 10.0F, line}, 14.0F, ink, text);
        line += 18.0F;
    }
}

// Names of the conditions that a combatant has.
std::string conditions_of(const Skirmish& fight, const Combatant& who) {
    std::string names;
    for (std::size_t index = 0; index < who.vitals.condition_count; ++index) {
        const ConditionState& one = who.vitals.conditions[index];
        names += (names.empty() ? "" : ", ") + fight.arsenal()[one.spec].id +
                 (one.count > 1 ? " x" + std::to_string(one.count) : "");
    }
    return names;
}

void draw_state(const Display& on, ImVec2 corner) {
    ImDrawList& to = on.to;
    const Skirmish& fight = on.seen.fight;
    const CombatantReadout& player = on.player;
    const Combatant& who = *fight.match().find(on.seen.player);
    to.AddRectFilled(corner, {corner.x + 250.0F, corner.y + 96.0F}, IM_COL32(246, 248, 240, 170), 6.0F);
    const ImVec2 at{corner.x + 12.0F, corner.y + 8.0F};
    if (!player.alive) {
        const double wait = player.respawn_at ? to_seconds(*player.respawn_at - fight.now()) : 0.0;
        write(to, at, 20.0F, alarm, "dead");
        write(to, {at.x, at.y + 28.0F}, 16.0F, ink,
              wait > 0.0 ? text_of("back in %.1f s", wait) : std::string{"waits for a place"});
        return;
    }
    if (const std::string conditions = conditions_of(fight, who); !conditions.empty()) {
        write(to, {at.x, corner.y - 20.0F}, 15.0F, amber, conditions);
    }
    double shield = 0.0;
    const auto& layers = fight.arsenal()[who.body].defence;
    for (std::size_t layer = 0; layer < layers.size(); ++layer) {
        shield += who.vitals.defence[layer].points;
    }
    write(to, at, 15.0F, ink, text_of("health %.0f", std::ceil(who.vitals.health)));
    draw_bar(to, {at.x + 96.0F, at.y + 2.0F}, {130.0F, 13.0F}, player.health,
             player.health < 0.35 ? alarm : leaf);
    if (shield > 0.0) {
        const double share = std::min(1.0, shield / std::max(1.0, who.vitals.maximum));
        draw_bar(to, {at.x + 96.0F, at.y + 15.0F}, {130.0F, 6.0F}, share, IM_COL32(70, 130, 160, 255));
    }
    if (!player.weapon) {
        return;
    }
    const WeaponReadout& hands = *player.weapon;
    const WeaponSpec* weapon = weapon_in(fight.arsenal(), who.loadout, who.loadout.in_hand);
    write(to, {at.x, at.y + 24.0F}, 15.0F, ink, weapon != nullptr ? weapon->id : "");
    const std::string rounds = hands.rounds == endless_rounds ? "endless" : std::to_string(hands.rounds);
    const std::string reserve = hands.reserve == endless_rounds ? "" : " / " + std::to_string(hands.reserve);
    write(to, {at.x, at.y + 42.0F}, 24.0F, hands.rounds == 0 ? alarm : ink, rounds + reserve);
    write(to, {at.x + 112.0F, at.y + 50.0F}, 15.0F, ink, std::string{to_string(hands.activity)});
    const double busy = std::max({hands.reload_progress, hands.charge, hands.spin, hands.heat});
    if (busy > 0.0) {
        draw_bar(to, {at.x, at.y + 72.0F}, {226.0F, 8.0F}, busy, amber);
    }
}

// Marks over the world: damage, distances of shots, the board.
void draw_marks(const Display& on) {
    const Picture& picture = on.seen.picture;
    if (on.is_fresh(picture.hurt_at, 300)) {
        constexpr float rim = 9.0F;
        on.to.AddRect(
            {on.left + rim, rim},
            {on.left + static_cast<float>(on.camera.width) - rim, static_cast<float>(on.camera.height) - rim},
            IM_COL32(188, 66, 52, 150), 0.0F, 0, 2.0F * rim);
    }
    for (const FloatingDamage& damage : picture.damage) {
        const double age = to_seconds(on.seen.at - damage.since);
        const auto place = on.place_of(damage.at + world_up() * (0.25 + 0.5 * age));
        if ((damage.by_player || on.session.stage().is_paused()) && place && age >= 0.0) {
            write(on.to, *place, damage.killed ? 22.0F : 17.0F, damage.killed ? alarm : ink,
                  text_of("%.0f", damage.amount), true);
        }
    }
    if (on.session.shows(Command::show_segments)) {
        for (const Tracer& tracer : picture.tracers) {
            const auto place = on.place_of(tracer.to);
            if (place && tracer.who == on.seen.player) {
                write(on.to, *place, 13.0F, amber, text_of("%.1f m", tracer.flown));
            }
        }
    }
}

// Returns the explanation of the damage under the mouse, or null.
const FloatingDamage* damage_under_mouse(const Display& on) {
    constexpr float reach = 24.0F; // pixels
    const ImVec2 mouse = ImGui::GetIO().MousePos;
    for (const FloatingDamage& damage : on.seen.picture.damage) {
        const double age = to_seconds(on.seen.at - damage.since);
        const auto place = on.place_of(damage.at + world_up() * (0.25 + 0.5 * age));
        if (place && age >= 0.0 && std::hypot(place->x - mouse.x, place->y + 8.0F - mouse.y) < reach) {
            return &damage;
        }
    }
    return nullptr;
}

// Distances to a board on the ground, and its group.
void draw_board_text(const Display& on, const FiringBoard& board) {
    if (board.distance <= 0.0) {
        return;
    }
    for (Metres metres = 5.0; metres <= board.distance; metres += 5.0) {
        const Vector3 ground = board.foot + board.pose.rotation * world_forward() * metres;
        if (const auto place = on.place_of(ground)) {
            write(on.to, *place, 14.0F, ink, text_of("%.0f m", metres), true);
        }
    }
    const GroupSize group = group_of(board);
    if (const auto place = on.place_of(board.pose.position + world_up() * (FiringBoard::half_size + 0.35))) {
        write(on.to, *place, 15.0F, ink,
              std::to_string(board.hits.size()) + " hits, half within " +
                  text_of("%.2f m, 90 %% within ", group.radius_50) + text_of("%.2f m", group.radius_90),
              true);
    }
}

} // namespace

void draw_second_display(const Session& session, const Seen& seen, const Camera& camera, float left) {
    ImDrawList& to = *ImGui::GetBackgroundDrawList();
    const Display on{to,
                     session,
                     seen,
                     camera,
                     seen.fight.readout(seen.player, Screen{camera.field_of_view, camera.height}),
                     left};
    to.AddLine({left - 1.0F, 0.0F}, {left - 1.0F, static_cast<float>(camera.height)}, ink, 2.0F);
    draw_marks(on);
    draw_crosshair(on);
    draw_state(on, {left + 16.0F, static_cast<float>(camera.height) - 112.0F});
    write(to, {on.middle().x, 30.0F}, 16.0F, ink, session.name_of(seen.player), true);
}

void draw_display(const Session& session, const Camera& camera) {
    ImDrawList& to = *ImGui::GetBackgroundDrawList();
    const Seen seen = session.seen();
    const Display on{to,
                     session,
                     seen,
                     camera,
                     seen.fight.readout(seen.player, Screen{camera.field_of_view, camera.height}),
                     0.0F};
    const ImVec2 middle = on.middle();
    const Picture& picture = seen.picture;
    to.PushClipRect({0.0F, 0.0F}, {2.0F * middle.x, 2.0F * middle.y});
    draw_marks(on);
    draw_board_text(on, session.board());
    if (seen.view == View::eye) {
        draw_crosshair(on);
        if (const auto sighted = session.sighted(); sighted && on.player.alive) {
            write(to, {middle.x, middle.y + 46.0F}, 14.0F, ink,
                  text_of("%.1f m  ", sighted->distance) + sighted->what, true);
        }
        if (session.shows(Command::show_recoil)) {
            draw_recoil(on);
        }
    }
    draw_state(on, {16.0F, 2.0F * middle.y - 112.0F});
    draw_explanation(to, picture.explanation, {2.0F * middle.x - 16.0F, 2.0F * middle.y - 16.0F});
    if (const FloatingDamage* under = damage_under_mouse(on)) {
        const ImVec2 mouse = ImGui::GetIO().MousePos;
        draw_explanation(to, under->explanation, {mouse.x + 202.0F, mouse.y + 20.0F});
    }
    constexpr double no_room_beside_score = 800.0; // pixels
    float line = camera.width < no_room_beside_score ? 52.0F : 16.0F;
    for (const FeedLine& news : picture.feed) {
        write(to, {16.0F, line}, 15.0F, ink, news.text);
        line += 19.0F;
    }
    if (picture.noticed_by > 0 && on.player.alive) {
        write(to, {middle.x, 54.0F}, 15.0F, alarm, "noticed", true);
    }
    write(to, {middle.x, 8.0F}, 18.0F, ink,
          "Canopy " + std::to_string(session.team_score(TeamId{0})) + "   Rootward " +
              std::to_string(session.team_score(TeamId{1})),
          true);
    to.PopClipRect();
}

} // namespace avrek::playground
