#include "panels.h"

#include "panel_parts.h"

#include <algorithm>
#include <cmath>
#include <string>
#include <utility>

namespace avrek::playground {

std::pair<double, double> free_part(const PanelState& state, int width, int height) {
    const double panels = state.shows_panels ? 1.0 : 0.0;
    return {std::max(320.0, width - panels * (static_cast<double>(side_width) + 12.0)),
            std::max(200.0, height - panels * (static_cast<double>(strip_height) + 66.0))};
}

namespace {

// Marks below the slider of time: a click goes to just before what happened.
void draw_moments(Session& session, ImVec2 low, ImVec2 high) {
    constexpr ImU32 colours[] = {IM_COL32(86, 138, 84, 255), IM_COL32(206, 138, 52, 255),
                                 IM_COL32(28, 84, 40, 255), IM_COL32(188, 66, 52, 255),
                                 IM_COL32(70, 110, 160, 255)};
    const Stage& stage = session.stage();
    const auto length = static_cast<double>(std::max<Tick>(1, stage.newest() - stage.oldest()));
    std::optional<Tick> wanted;
    for (const Moment& moment : session.picture().moments) {
        const Tick tick = stage.tick_of(moment.at);
        const double share = static_cast<double>(tick - stage.oldest()) / length;
        if (share < 0.0 || share > 1.0) {
            continue;
        }
        const float x = low.x + static_cast<float>(share) * (high.x - low.x);
        ImGui::GetWindowDrawList()->AddRectFilled({x - 2.0F, high.y + 2.0F}, {x + 2.0F, high.y + 10.0F},
                                                  colours[static_cast<std::size_t>(moment.kind)], 1.0F);
        if (ImGui::IsMouseHoveringRect({x - 4.0F, high.y}, {x + 4.0F, high.y + 12.0F})) {
            ImGui::SetTooltip("%.2f s  %s", to_seconds(moment.at - Time{}), moment.text.c_str());
            if (ImGui::IsMouseClicked(ImGuiMouseButton_Left)) {
                wanted = tick;
            }
        }
    }
    if (wanted) {
        session.seek(*wanted);
    }
}

void draw_time(Session& session, ImVec2 screen) {
    ImGui::SetNextWindowPos({8.0F, screen.y - strip_height - 60.0F});
    ImGui::SetNextWindowSize({screen.x - side_width - 24.0F, 48.0F});
    ImGui::Begin("time", nullptr, panel_flags);
    Stage& stage = session.stage();
    if (ImGui::Button(stage.is_paused() ? "go on" : "pause")) {
        session.command(Command::pause);
    }
    ImGui::SameLine();
    if (ImGui::Button("<")) {
        session.command(Command::step_back);
    }
    ImGui::SameLine();
    if (ImGui::Button(">")) {
        session.command(Command::step_forward);
    }
    ImGui::SameLine();
    auto tick = static_cast<int>(stage.fight().tick());
    ImGui::SetNextItemWidth(-90.0F);
    const double hertz = stage.fight().settings().rate.hertz;
    const std::string label = "tick %d, " + text_of("%.2f s", static_cast<double>(tick) / hertz);
    if (ImGui::SliderInt("##tick", &tick, static_cast<int>(stage.oldest()), static_cast<int>(stage.newest()),
                         label.c_str())) {
        session.seek(tick);
    }
    draw_moments(session, ImGui::GetItemRectMin(), ImGui::GetItemRectMax());
    ImGui::SameLine();
    ImGui::Text("speed %g", stage.speed());
    ImGui::End();
}

void draw_help(const Session& session, ImVec2 screen) {
    if (!session.shows(Command::help)) {
        return;
    }
    ImGui::SetNextWindowPos({0.5F * (screen.x - side_width), 0.42F * screen.y}, 0, {0.5F, 0.5F});
    ImGui::SetNextWindowBgAlpha(0.95F);
    ImGui::Begin("help", nullptr, ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_AlwaysAutoResize);
    constexpr std::pair<const char*, const char*> keys[] = {
        {"Tab", "the mouse looks, or is free for the panels"},
        {"W A S D", "walk; Shift sprints, Ctrl crouches, Space jumps"},
        {"mouse, arrows", "look; left button or Enter fires, right button or Right Shift aims"},
        {"R  Q  M  1-6", "reload, last weapon, next mode, weapon in a slot"},
        {"F  H  G  E", "light strike, heavy strike, guard, take"},
        {"P  ,  .  U  I", "pause, one tick back, one forward, the moment before, the next"},
        {"-  =", "half the speed, twice the speed"},
        {"V", "through the eye, from behind, from above"},
        {"Z  Y  B  O", "undo, redo, first values or changed ones, save as an overlay"},
        {"[  ]", "the entry before, the next entry"},
        {";  '  9  0", "the number before, the next; smaller, larger"},
        {"7  8", "the chosen point of a curve to the left, to the right"},
        {"N  K  X", "next preset, keys with their defaults too, a board at 10 to 40 m"},
        {"L", "over a simulated link, or alone again"},
        {"F2  F3  F4  F7", "hit regions, paths of shots, cone and last directions, sight of bots"},
        {"F8  F9", "recoil against what was pulled, lines of explosions"},
        {"F10  F11  F12", "over a link: rewound targets, the second player, a kill three ways"},
        {"T", "the second player in a window of its own"},
        {"F1  F5  F6  Esc", "this help, panels, sound, end"},
    };
    for (const auto& [key, what] : keys) {
        ImGui::TextUnformatted(key);
        ImGui::SameLine(150.0F);
        ImGui::TextUnformatted(what);
    }
    ImGui::End();
}

} // namespace

void draw_panels(Session& session, PanelState& state) {
    const ImVec2 screen = ImGui::GetIO().DisplaySize;
    if (state.shows_panels) {
        const float bottom = screen.y - strip_height - 16.0F;
        if (session.linked() == nullptr) {
            draw_tuning(session, state, screen, bottom);
            draw_time(session, screen);
        } else {
            draw_tuning(session, state, screen, 0.42F * bottom);
            draw_link(session, state, screen, 0.42F * bottom + 8.0F);
        }
        session.shows(Command::show_kills) ? draw_kill(session, screen) : draw_strip(session, screen);
    }
    draw_help(session, screen);
    if (session.notice() != state.notice) {
        state.notice = session.notice();
        state.noticed_at = session.clock();
    }
    if (session.clock() - state.noticed_at < std::chrono::seconds{6}) {
        write(*ImGui::GetForegroundDrawList(), {0.5F * (screen.x - side_width), 34.0F}, 15.0F, ink,
              session.notice().substr(0, 110), true);
    }
}

} // namespace avrek::playground
