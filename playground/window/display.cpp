#include "drawing.h"
#include "panels.h"

#include <algorithm>
#include <cstdio>
#include <string>
#include <utility>

namespace avrek::playground {

std::string text_of(const char* format, double value) {
    char text[64];
    std::snprintf(text, sizeof text, format, value);
    return text;
}

void write(ImDrawList& to, ImVec2 at, float size, ImU32 colour, const std::string& text, bool centred) {
    const ImVec2 extent = ImGui::GetFont()->CalcTextSizeA(size, 1e6F, 0.0F, text.c_str());
    const ImVec2 place{at.x - (centred ? 0.5F * extent.x : 0.0F), at.y};
    for (const auto& [x, y] : {std::pair{1.0F, 0.0F}, {-1.0F, 0.0F}, {0.0F, 1.0F}, {0.0F, -1.0F}}) {
        to.AddText(ImGui::GetFont(), size, {place.x + x, place.y + y}, IM_COL32(255, 255, 255, 120),
                   text.c_str());
    }
    to.AddText(ImGui::GetFont(), size, place, colour, text.c_str());
}

namespace {

void draw_crosshair(ImDrawList& to, const Session& session, const CombatantReadout& player, ImVec2 middle) {
    if (!player.alive || !player.weapon) {
        return;
    }
    const auto gap = static_cast<float>(player.weapon->crosshair_gap);
    const auto strength = static_cast<int>(230.0 * player.weapon->crosshair_opacity);
    const ImU32 colour = IM_COL32(20, 36, 30, strength);
    const ImU32 edge = IM_COL32(255, 255, 255, strength);
    for (const auto& [x, y] : {std::pair{1.0F, 0.0F}, {-1.0F, 0.0F}, {0.0F, 1.0F}, {0.0F, -1.0F}}) {
        const ImVec2 from{middle.x + x * gap, middle.y + y * gap};
        const ImVec2 end{middle.x + x * (gap + 9.0F), middle.y + y * (gap + 9.0F)};
        to.AddLine(from, end, edge, 4.0F);
        to.AddLine(from, end, colour, 2.0F);
    }
    to.AddCircleFilled(middle, 1.5F, colour);
    if (session.shown().cone) {
        const double per_radian =
            player.weapon->cone > 0.0 ? player.weapon->crosshair_gap / player.weapon->cone : 0.0;
        for (const Direction& direction : session.picture().directions) {
            to.AddCircleFilled({middle.x - static_cast<float>(direction.left * per_radian),
                                middle.y - static_cast<float>(direction.up * per_radian)},
                               2.0F, IM_COL32(188, 66, 52, 190));
        }
        to.AddCircle(middle, gap, IM_COL32(206, 138, 52, 220), 48, 1.5F);
        write(to, {middle.x + gap + 14.0F, middle.y + 10.0F}, 15.0F, amber,
              text_of("%.2f deg", to_degrees(player.weapon->cone)));
    }
    const Time now = session.picture_time();
    const auto is_fresh = [now](const std::optional<Time>& at) {
        return at && now >= *at && now - *at < std::chrono::milliseconds{220};
    };
    if (is_fresh(session.picture().hit_at)) {
        const ImU32 mark = is_fresh(session.picture().kill_at) ? alarm : paper;
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

// The last damage that the player did, above a corner.
void draw_explanation(ImDrawList& to, const Picture& picture, ImVec2 corner) {
    const auto height = 18.0F * static_cast<float>(picture.explanation.size());
    if (picture.explanation.empty()) {
        return;
    }
    const ImVec2 at{corner.x - 190.0F, corner.y - height - 10.0F};
    to.AddRectFilled(at, corner, IM_COL32(246, 248, 240, 170), 6.0F);
    float line = at.y + 5.0F;
    for (const std::string& text : picture.explanation) {
        write(to, {at.x + 10.0F, line}, 14.0F, ink, text);
        line += 18.0F;
    }
}

void draw_state(ImDrawList& to, const Session& session, const CombatantReadout& player, ImVec2 corner) {
    const Skirmish& fight = session.fight();
    const Combatant& who = *fight.match().find(session.player());
    to.AddRectFilled(corner, {corner.x + 250.0F, corner.y + 96.0F}, IM_COL32(246, 248, 240, 170), 6.0F);
    const ImVec2 at{corner.x + 12.0F, corner.y + 8.0F};
    if (!player.alive) {
        const double wait = player.respawn_at ? to_seconds(*player.respawn_at - fight.now()) : 0.0;
        write(to, at, 20.0F, alarm, "dead");
        write(to, {at.x, at.y + 28.0F}, 16.0F, ink, text_of("back in %.1f s", std::max(0.0, wait)));
        return;
    }
    write(to, at, 15.0F, ink, text_of("health %.0f", who.vitals.health));
    draw_bar(to, {at.x + 96.0F, at.y + 2.0F}, {130.0F, 13.0F}, player.health,
             player.health < 0.35 ? alarm : leaf);
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

} // namespace

void draw_display(const Session& session, const Camera& camera) {
    ImDrawList& to = *ImGui::GetBackgroundDrawList();
    const Skirmish& fight = session.fight();
    const Time now = session.picture_time();
    const CombatantReadout player =
        fight.readout(session.player(), Screen{camera.field_of_view, camera.height});
    const ImVec2 middle{0.5F * static_cast<float>(camera.width), 0.5F * static_cast<float>(camera.height)};
    const Picture& picture = session.picture();
    if (picture.hurt_at && now >= *picture.hurt_at &&
        now - *picture.hurt_at < std::chrono::milliseconds{300}) {
        to.AddRect({0, 0}, {2.0F * middle.x, 2.0F * middle.y}, IM_COL32(188, 66, 52, 150), 0.0F, 0, 18.0F);
    }
    for (const FloatingDamage& damage : picture.damage) {
        const double age = to_seconds(now - damage.since);
        const auto seen = on_screen(camera, damage.at + world_up() * (0.25 + 0.5 * age));
        if (damage.by_player && seen && age >= 0.0) {
            write(to, {static_cast<float>(seen->at.right), static_cast<float>(seen->at.down)},
                  damage.killed ? 22.0F : 17.0F, damage.killed ? alarm : ink, text_of("%.0f", damage.amount),
                  true);
        }
    }
    if (session.shown().segments) {
        for (const Tracer& tracer : picture.tracers) {
            const auto seen = on_screen(camera, tracer.to);
            if (seen && seen->inside && tracer.who == session.player()) {
                write(to, {static_cast<float>(seen->at.right), static_cast<float>(seen->at.down)}, 13.0F,
                      amber, text_of("%.1f m", tracer.flown));
            }
        }
    }
    if (session.view() == View::eye) {
        draw_crosshair(to, session, player, middle);
        if (const auto seen = session.sighted(); seen && player.alive) {
            write(to, {middle.x, middle.y + 46.0F}, 14.0F, ink,
                  text_of("%.1f m  ", seen->distance) + seen->what, true);
        }
    }
    draw_state(to, session, player, {16.0F, 2.0F * middle.y - 112.0F});
    draw_explanation(to, picture, {2.0F * middle.x - 16.0F, 2.0F * middle.y - 16.0F});
    float line = 16.0F;
    for (const FeedLine& news : picture.feed) {
        write(to, {16.0F, line}, 15.0F, ink, news.text);
        line += 19.0F;
    }
    if (picture.noticed_by > 0 && player.alive) {
        write(to, {middle.x, 54.0F}, 15.0F, alarm, "noticed", true);
    }
    write(to, {middle.x, 8.0F}, 18.0F, ink,
          "Canopy " + std::to_string(fight.match().team_score(TeamId{0})) + "   Rootward " +
              std::to_string(fight.match().team_score(TeamId{1})),
          true);
}

} // namespace avrek::playground
