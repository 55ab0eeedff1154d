#include "panels.h"

#include "drawing.h"

#include <imgui.h>
#include <imgui_stdlib.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <string>
#include <vector>

namespace avrek::playground {

namespace {

constexpr float side_width = 330.0F;
constexpr float strip_height = 168.0F;
constexpr const char* font_file = "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf";

} // namespace

std::pair<double, double> free_part(const PanelState& state, int width, int height) {
    const double panels = state.shows_panels ? 1.0 : 0.0;
    return {std::max(320.0, width - panels * (static_cast<double>(side_width) + 12.0)),
            std::max(200.0, height - panels * (static_cast<double>(strip_height) + 66.0))};
}

void set_style() {
    ImGuiIO& io = ImGui::GetIO();
    io.IniFilename = nullptr;
    if (std::filesystem::exists(font_file)) {
        io.Fonts->AddFontFromFileTTF(font_file, 16.0F);
    }
    ImGui::StyleColorsLight();
    ImGuiStyle& style = ImGui::GetStyle();
    style.WindowRounding = style.FrameRounding = style.GrabRounding = 5.0F;
    style.WindowBorderSize = 0.0F;
    style.Colors[ImGuiCol_WindowBg] = {0.95F, 0.96F, 0.93F, 0.94F};
    style.Colors[ImGuiCol_FrameBg] = {0.86F, 0.90F, 0.85F, 1.0F};
    style.Colors[ImGuiCol_FrameBgHovered] = {0.80F, 0.87F, 0.80F, 1.0F};
    style.Colors[ImGuiCol_FrameBgActive] = {0.75F, 0.84F, 0.75F, 1.0F};
    style.Colors[ImGuiCol_SliderGrab] = style.Colors[ImGuiCol_CheckMark] = {0.34F, 0.54F, 0.33F, 1.0F};
    style.Colors[ImGuiCol_SliderGrabActive] = {0.24F, 0.44F, 0.24F, 1.0F};
    style.Colors[ImGuiCol_Button] = {0.74F, 0.83F, 0.73F, 1.0F};
    style.Colors[ImGuiCol_ButtonHovered] = {0.66F, 0.78F, 0.65F, 1.0F};
    style.Colors[ImGuiCol_ButtonActive] = {0.55F, 0.70F, 0.54F, 1.0F};
    style.Colors[ImGuiCol_Text] = {0.11F, 0.16F, 0.14F, 1.0F};
}

namespace {

void draw_number(Session& session, PanelState& state, const ArsenalNumber& number) {
    const std::size_t head = session.entry().size() + 1;
    const std::string label = number.path.size() > head ? number.path.substr(head) : number.path;
    if (label.find(state.filter) == std::string::npos) {
        return;
    }
    ImGui::PushID(number.path.c_str());
    ImGui::TextUnformatted(label.c_str());
    if (ImGui::IsItemHovered()) {
        ImGui::SetTooltip("%s\n%g to %g %s", number.meaning.c_str(), number.min, number.max,
                          number.unit.c_str());
    }
    // A slider goes as far as is of use: to three times the value, within what is allowed.
    const bool is_held = state.dragged == number.path;
    const double most =
        is_held ? state.most : std::min(number.max, std::max({1.0, 3.0 * std::abs(number.value)}));
    const double least = is_held ? state.least : std::max(number.min, number.value < 0.0 ? -most : 0.0);
    auto value = static_cast<float>(number.value);
    ImGui::SetNextItemWidth(-1.0F);
    const std::string shown = (number.whole ? std::string{"%.0f "} : std::string{"%.3g "}) +
                              (number.unit == "%" ? "%%" : number.unit);
    const bool is_moved = ImGui::SliderFloat("##value", &value, static_cast<float>(least),
                                             static_cast<float>(most), shown.c_str());
    if (ImGui::IsItemActivated()) {
        state.dragged = number.path;
        state.least = least;
        state.most = most;
        state.has_changed = false;
    }
    const double wanted = number.whole ? std::round(static_cast<double>(value)) : static_cast<double>(value);
    const double rounded = std::strtod(text_of("%.4g", wanted).c_str(), nullptr); // as one would write it
    if (is_moved && rounded != number.value) {
        session.set(number.path, rounded, state.has_changed);
        state.has_changed = true;
    }
    if (ImGui::IsItemDeactivated()) {
        state.dragged.clear();
    }
    ImGui::PopID();
}

void draw_tuning(Session& session, PanelState& state, ImVec2 screen) {
    ImGui::SetNextWindowPos({screen.x - side_width - 8.0F, 8.0F});
    ImGui::SetNextWindowSize({side_width, screen.y - strip_height - 24.0F});
    ImGui::Begin("values", nullptr,
                 ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_NoResize | ImGuiWindowFlags_NoMove);
    ImGui::SetNextItemWidth(-1.0F);
    if (ImGui::BeginCombo("##entry", session.entry().c_str())) {
        for (const std::string& entry : session.tuner().entries()) {
            if (ImGui::Selectable(entry.c_str(), entry == session.entry())) {
                session.tune(entry);
            }
        }
        ImGui::EndCombo();
    }
    for (const auto& [label, command] : {std::pair{"undo", Command::undo}, {"redo", Command::redo}}) {
        if (ImGui::Button(label)) {
            session.command(command);
        }
        ImGui::SameLine();
    }
    if (ImGui::Button("save")) {
        session.command(Command::save);
    }
    ImGui::SameLine();
    if (ImGui::Button(session.tuner().shows_first() ? "show changed" : "show first")) {
        session.command(Command::compare);
    }
    ImGui::SameLine();
    ImGui::Text("%zu changes", session.tuner().change_count());
    ImGui::SetNextItemWidth(-1.0F);
    ImGui::InputTextWithHint("##filter", "part of a name", &state.filter);
    ImGui::BeginChild("numbers", {0.0F, -92.0F});
    const std::vector<ArsenalNumber> numbers = session.numbers(); // a slider changes them
    for (const ArsenalNumber& number : numbers) {
        draw_number(session, state, number);
    }
    ImGui::EndChild();
    ImGui::Separator();
    ImGui::BeginChild("changes");
    for (const ArsenalDifference& one : session.differences()) {
        ImGui::TextWrapped("%s: %s -> %s", one.path.c_str(), one.before.c_str(), one.after.c_str());
    }
    ImGui::EndChild();
    ImGui::End();
}

// Curves of one kind: the first values pale, the present ones strong.
void draw_curve(ImDrawList& to, const KillCurve& curve, std::optional<Duration> KillPoint::*which, ImVec2 at,
                ImVec2 size, double longest, ImU32 colour) {
    std::optional<ImVec2> before;
    for (const KillPoint& point : curve.points) {
        const auto& time = point.*which;
        if (!time || to_seconds(*time) > longest) {
            before.reset();
            continue;
        }
        const ImVec2 here{at.x + size.x * static_cast<float>(point.distance / 60.0),
                          at.y + size.y * static_cast<float>(1.0 - to_seconds(*time) / longest)};
        if (before) {
            to.AddLine(*before, here, colour, 2.0F);
        }
        to.AddCircleFilled(here, 2.5F, colour);
        before = here;
    }
}

// Usual times count up to four times the longest ideal one, which would be flat at the bottom otherwise.
double longest_of(const KillAnswer& answer) {
    double ideal = 0.2;
    double usual = 0.2;
    for (const KillCurve* curve : {&answer.first, &answer.now}) {
        for (const KillPoint& point : curve->points) {
            ideal = std::max(ideal, point.ideal ? to_seconds(*point.ideal) : 0.0);
            usual = std::max(usual, point.usual ? to_seconds(*point.usual) : 0.0);
        }
    }
    return std::ceil(std::max(1.1 * ideal, std::min(4.0 * ideal, usual)) * 10.0) / 10.0;
}

void draw_shots_row(ImDrawList& to, const KillAnswer& answer, ImVec2 at, float width) {
    for (std::size_t index = 0; index < answer.now.points.size(); ++index) {
        const KillPoint& is = answer.now.points[index];
        const std::int32_t was = index < answer.first.points.size() ? answer.first.points[index].shots : 0;
        const ImU32 colour = is.shots == was                                 ? ink
                             : is.shots != 0 && (is.shots < was || was == 0) ? leaf
                                                                             : alarm;
        write(to, {at.x + width * static_cast<float>(is.distance / 60.0), at.y}, 13.0F, colour,
              is.shots > 0 ? std::to_string(is.shots) : "-", true);
    }
}

void draw_strip(const Session& session, ImVec2 screen) {
    ImGui::SetNextWindowPos({8.0F, screen.y - strip_height - 8.0F});
    ImGui::SetNextWindowSize({screen.x - 16.0F, strip_height});
    ImGui::Begin("times", nullptr,
                 ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_NoResize | ImGuiWindowFlags_NoMove);
    const auto answer = session.killing_times();
    if (answer == nullptr) {
        ImGui::TextUnformatted("computing");
        ImGui::End();
        return;
    }
    ImGui::Text("%s against %s, time to kill:", answer->question.weapon.c_str(),
                answer->question.body.c_str());
    ImGui::SameLine();
    ImGui::TextColored({0.34F, 0.54F, 0.33F, 1.0F}, "all hit");
    ImGui::SameLine();
    ImGui::TextColored({0.80F, 0.54F, 0.20F, 1.0F}, "half of a %s's fights",
                       answer->question.shooter.c_str());
    ImGui::SameLine();
    ImGui::TextUnformatted("(pale: the first values)");
    ImDrawList& to = *ImGui::GetWindowDrawList();
    const ImVec2 corner = ImGui::GetCursorScreenPos();
    const ImVec2 at{corner.x + 52.0F, corner.y + 6.0F};
    const ImVec2 size{screen.x - 120.0F, 78.0F};
    const double longest = longest_of(*answer);
    to.AddRect(at, {at.x + size.x, at.y + size.y}, IM_COL32(28, 40, 36, 90));
    write(to, {corner.x, at.y - 6.0F}, 13.0F, ink, text_of("%.1f s", longest));
    write(to, {corner.x, at.y + size.y - 12.0F}, 13.0F, ink, "0 s");
    draw_curve(to, answer->first, &KillPoint::ideal, at, size, longest, IM_COL32(86, 138, 84, 90));
    draw_curve(to, answer->first, &KillPoint::usual, at, size, longest, IM_COL32(206, 138, 52, 90));
    draw_curve(to, answer->now, &KillPoint::ideal, at, size, longest, leaf);
    draw_curve(to, answer->now, &KillPoint::usual, at, size, longest, amber);
    write(to, {corner.x, at.y + size.y + 3.0F}, 13.0F, ink, "shots");
    draw_shots_row(to, *answer, {at.x, at.y + size.y + 3.0F}, size.x);
    write(to, {corner.x, at.y + size.y + 18.0F}, 13.0F, ink, "m");
    for (int metres = 10; metres <= 60; metres += 10) {
        write(to, {at.x + size.x * static_cast<float>(metres) / 60.0F, at.y + size.y + 18.0F}, 13.0F, ink,
              std::to_string(metres), true);
    }
    ImGui::End();
}

// Marks below the slider of time: a click goes to just before what happened.
void draw_moments(Session& session, ImVec2 low, ImVec2 high) {
    constexpr ImU32 colours[] = {IM_COL32(86, 138, 84, 255), IM_COL32(206, 138, 52, 255),
                                 IM_COL32(28, 84, 40, 255), IM_COL32(188, 66, 52, 255),
                                 IM_COL32(70, 110, 160, 255)};
    const Stage& stage = session.stage();
    const double hertz = stage.fight().settings().rate.hertz;
    const auto length = static_cast<double>(std::max<Tick>(1, stage.newest() - stage.oldest()));
    std::optional<Tick> wanted;
    for (const Moment& moment : session.picture().moments) {
        const double tick = to_seconds(moment.at - Time{}) * hertz;
        const double share = (tick - static_cast<double>(stage.oldest())) / length;
        if (share < 0.0 || share > 1.0) {
            continue;
        }
        const float x = low.x + static_cast<float>(share) * (high.x - low.x);
        ImGui::GetWindowDrawList()->AddRectFilled({x - 2.0F, high.y + 2.0F}, {x + 2.0F, high.y + 10.0F},
                                                  colours[static_cast<std::size_t>(moment.kind)], 1.0F);
        if (ImGui::IsMouseHoveringRect({x - 4.0F, high.y}, {x + 4.0F, high.y + 12.0F})) {
            ImGui::SetTooltip("%.2f s  %s", to_seconds(moment.at - Time{}), moment.text.c_str());
            if (ImGui::IsMouseClicked(ImGuiMouseButton_Left)) {
                wanted = static_cast<Tick>(tick);
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
    ImGui::Begin("time", nullptr,
                 ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_NoResize | ImGuiWindowFlags_NoMove);
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

void draw_link(Session& session) {
    const LinkedFight& linked = *session.linked();
    ImGui::SetNextWindowPos({8.0F, 130.0F});
    ImGui::SetNextWindowSize({280.0F, 262.0F});
    ImGui::Begin("link", nullptr,
                 ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_NoResize | ImGuiWindowFlags_NoMove);
    LinkSpec link = linked.link();
    auto latency = static_cast<float>(to_milliseconds(link.latency));
    auto jitter = static_cast<float>(to_milliseconds(link.jitter));
    auto loss = static_cast<float>(100.0 * link.loss);
    ImGui::PushItemWidth(170.0F);
    bool is_changed = ImGui::SliderFloat("latency", &latency, 0.0F, 400.0F, "%.0f ms");
    is_changed = ImGui::SliderFloat("jitter", &jitter, 0.0F, 100.0F, "%.0f ms") || is_changed;
    is_changed = ImGui::SliderFloat("loss", &loss, 0.0F, 30.0F, "%.1f %%") || is_changed;
    ImGui::PopItemWidth();
    if (is_changed) {
        link.latency = from_seconds(static_cast<double>(latency) / 1000.0);
        link.jitter = from_seconds(static_cast<double>(jitter) / 1000.0);
        link.loss = static_cast<double>(loss) / 100.0;
        session.connect(link);
    }
    std::vector<float> trips;
    std::vector<float> corrections;
    for (const LinkFigures& second : linked.figures()) {
        trips.push_back(static_cast<float>(to_milliseconds(second.round_trip)));
        corrections.push_back(static_cast<float>(second.corrections));
    }
    if (!session.is_linked() || linked.figures().empty()) {
        ImGui::TextUnformatted("connecting");
    } else {
        const LinkFigures& last = linked.figures().back();
        ImGui::Text("round trip %.0f ms, intents %d ticks early", to_milliseconds(last.round_trip),
                    last.early);
        ImGui::Text("%.1f kB/s down, %.1f up", last.down, last.up);
        ImGui::Text("a second: corrections %llu, withdrawn %llu",
                    static_cast<unsigned long long>(last.corrections),
                    static_cast<unsigned long long>(last.withdrawn));
        const auto count = static_cast<int>(trips.size());
        ImGui::PlotLines("##trips", trips.data(), count, 0, "round trip", 0.0F, 500.0F, {262.0F, 40.0F});
        ImGui::PlotHistogram("##corrections", corrections.data(), count, 0, "corrections", 0.0F, 10.0F,
                             {262.0F, 40.0F});
    }
    ImGui::End();
}

void draw_help(const Session& session, ImVec2 screen) {
    if (!session.shown().help) {
        return;
    }
    ImGui::SetNextWindowPos({0.5F * (screen.x - side_width), 0.42F * screen.y}, 0, {0.5F, 0.5F});
    ImGui::Begin("help", nullptr, ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_AlwaysAutoResize);
    constexpr std::pair<const char*, const char*> keys[] = {
        {"Tab", "the mouse looks, or is free for the panels"},
        {"W A S D", "walk; Shift sprints, Ctrl crouches, Space jumps"},
        {"mouse, arrows", "look; left button or Enter fires, right button or Right Shift aims"},
        {"R  Q  M  1-6", "reload, last weapon, next mode, weapon in a slot"},
        {"F  H  G  E", "light strike, heavy strike, guard, take"},
        {"P  ,  .", "pause, one tick back, one tick forward"},
        {"-  =", "half the speed, twice the speed"},
        {"V", "through the eye, from behind, from above"},
        {"Z  Y  B  O", "undo, redo, first values or changed ones, save as an overlay"},
        {"[  ]", "the entry before, the next entry"},
        {"L", "over a simulated link, or alone again"},
        {"F2  F3  F4  F7", "hit regions, paths of shots, cone and last directions, sight of bots"},
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
        draw_tuning(session, state, screen);
        draw_strip(session, screen);
        session.linked() == nullptr ? draw_time(session, screen) : draw_link(session);
    }
    draw_help(session, screen);
    if (!session.notice().empty()) {
        write(*ImGui::GetForegroundDrawList(), {0.5F * (screen.x - side_width), 34.0F}, 15.0F, ink,
              session.notice().substr(0, 110), true);
    }
}

} // namespace avrek::playground
