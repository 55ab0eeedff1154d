#include "panel_parts.h"

#include <algorithm>
#include <string>
#include <vector>

namespace avrek::playground {

namespace {

// Bytes of a second by kind, in kB.
std::string kilobytes(const Traffic& traffic) {
    std::string text;
    for (std::size_t kind = 0; kind < traffic_kind_count; ++kind) {
        if (traffic.bytes[kind] > 0) {
            text += (text.empty() ? "" : ", ") + std::string{to_string(static_cast<TrafficKind>(kind))} +
                    text_of(" %.1f", static_cast<double>(traffic.bytes[kind]) / 1000.0);
        }
    }
    return text.empty() ? "nothing" : text;
}

// A graph over the last minute: a value of each second.
void draw_graph(const char* name, const std::deque<LinkFigures>& figures, double (*value)(const LinkFigures&),
                double least, ImU32 colour) {
    const ImVec2 at = ImGui::GetCursorScreenPos();
    const ImVec2 size{ImGui::GetContentRegionAvail().x, 26.0F};
    ImDrawList& to = *ImGui::GetWindowDrawList();
    to.AddRectFilled(at, {at.x + size.x, at.y + size.y}, IM_COL32(255, 255, 255, 130), 3.0F);
    double most = least;
    for (const LinkFigures& second : figures) {
        most = std::max(most, value(second));
    }
    const float step = size.x / 60.0F;
    for (std::size_t index = 0; index < figures.size(); ++index) {
        const auto tall = static_cast<float>(std::max(0.0, value(figures[index])) / most) * (size.y - 2.0F);
        const float x = at.x + step * static_cast<float>(index);
        to.AddRectFilled({x, at.y + size.y - tall}, {x + step - 1.0F, at.y + size.y}, colour);
    }
    const double last = figures.empty() ? 0.0 : value(figures.back());
    write(to, {at.x + 4.0F, at.y + 1.0F}, 13.0F, ink, std::string{name} + text_of(" %.0f", last));
    ImGui::Dummy({size.x, size.y + 2.0F});
}

void draw_figures(const LinkedFight& linked) {
    const auto& figures = linked.figures();
    if (figures.empty()) {
        return;
    }
    const LinkFigures& last = figures.back();
    draw_graph(
        "round trip, ms:", figures, [](const LinkFigures& one) { return to_milliseconds(one.round_trip); },
        100.0, IM_COL32(86, 138, 84, 160));
    if (linked.server() != nullptr) {
        draw_graph(
            "intents early, ticks:", figures,
            [](const LinkFigures& one) { return static_cast<double>(one.early); }, 8.0,
            IM_COL32(70, 110, 160, 140));
    }
    draw_graph(
        "corrections a second:", figures,
        [](const LinkFigures& one) { return static_cast<double>(one.corrections); }, 4.0,
        IM_COL32(188, 66, 52, 150));
    ImGui::PushFont(font_of(14.0F));
    ImGui::Text("kB/s down: %s", kilobytes(last.down).c_str());
    ImGui::Text("kB/s up: %s; withdrawn events: %llu", kilobytes(last.up).c_str(),
                static_cast<unsigned long long>(last.withdrawn));
    ImGui::PopFont();
}

// A side's lane of the timeline, with a mark at each of its times.
struct Lane {
    float y = 0.0F;
    ImU32 colour = 0;
};

void draw_timeline(ImDrawList& to, const KillAccount& kill, ImVec2 at, float width) {
    const Time begin = begin_of(kill);
    const double length = std::max(0.02, to_seconds(end_of(kill) - begin));
    const auto x = [&](Time time) {
        return at.x + width * static_cast<float>(to_seconds(time - begin) / length);
    };
    const Lane lanes[] = {{at.y, leaf}, {at.y + 12.0F, IM_COL32(70, 110, 160, 255)}, {at.y + 24.0F, alarm}};
    for (const Lane& lane : lanes) {
        to.AddLine({at.x, lane.y}, {at.x + width, lane.y}, IM_COL32(28, 40, 36, 60));
    }
    for (const HitAccount& hit : kill.hits) {
        std::optional<ImVec2> before;
        const std::optional<Time> times[] = {hit.fired, hit.judged, hit.felt};
        for (std::size_t side = 0; side < 3; ++side) {
            if (!times[side]) {
                continue;
            }
            const ImVec2 here{x(*times[side]), lanes[side].y};
            if (before) {
                to.AddLine(*before, here, IM_COL32(28, 40, 36, 110), 1.5F);
            }
            to.AddCircleFilled(here, 3.5F, lanes[side].colour);
            before = here;
        }
    }
    write(to, {at.x + width + 6.0F, at.y + 4.0F}, 13.0F, ink, text_of("%.0f ms", 1000.0 * length));
}

void draw_side(const char* title, const std::vector<std::string>& lines, ImU32 colour) {
    ImGui::PushStyleColor(ImGuiCol_Text, colour);
    ImGui::TextUnformatted(title);
    ImGui::PopStyleColor();
    for (const std::string& line : lines) {
        ImGui::TextUnformatted(line.c_str());
    }
    ImGui::NextColumn();
}

} // namespace

void draw_link(Session& session, PanelState& state, ImVec2 screen, float top) {
    const LinkedFight& linked = *session.linked();
    ImGui::SetNextWindowPos({screen.x - side_width - 8.0F, top});
    ImGui::SetNextWindowSize({side_width, screen.y - strip_height - 16.0F - top});
    ImGui::Begin("link", nullptr, panel_flags);
    if (!session.is_linked()) {
        ImGui::TextUnformatted("connecting");
    } else {
        draw_figures(linked);
    }
    if (linked.server() != nullptr) {
        ImGui::BeginChild("numbers");
        const std::vector<ArsenalNumber> numbers = session.link_numbers(); // a slider changes them
        for (const ArsenalNumber& number : numbers) {
            const bool is_of_link = number.path.starts_with("link.");
            draw_number(session, state, number, is_of_link ? 5 : number.path.rfind('.') + 1, true);
        }
        ImGui::EndChild();
    }
    ImGui::End();
}

void draw_kill(const Session& session, ImVec2 screen) {
    ImGui::SetNextWindowPos({8.0F, screen.y - strip_height - 8.0F});
    ImGui::SetNextWindowSize({screen.x - 16.0F, strip_height});
    ImGui::Begin("kill", nullptr, panel_flags);
    const LinkedFight* linked = session.linked();
    if (linked == nullptr || linked->server() == nullptr || linked->accounts().kills().empty()) {
        ImGui::TextUnformatted(
            "A kill by you, by the second player, or of either, is told here over a link.");
        ImGui::End();
        return;
    }
    const KillAccount& kill = linked->accounts().kills().back();
    const ToldKill words = told(kill, *linked->server(), [&](BodyId who) { return session.name_of(who); });
    ImGui::TextUnformatted(words.title.c_str());
    const ImVec2 corner = ImGui::GetCursorScreenPos();
    draw_timeline(*ImGui::GetWindowDrawList(), kill, {corner.x + 6.0F, corner.y + 6.0F}, screen.x - 120.0F);
    ImGui::Dummy({0.0F, 36.0F});
    ImGui::BeginChild("sides");
    ImGui::Columns(3, nullptr, false);
    draw_side("as the shooter saw it", words.shooter, IM_COL32(56, 108, 54, 255));
    draw_side("as the server judged", words.server, IM_COL32(50, 84, 130, 255));
    draw_side("as the victim felt it", words.victim, alarm);
    ImGui::Columns(1);
    ImGui::EndChild();
    ImGui::End();
}

} // namespace avrek::playground
