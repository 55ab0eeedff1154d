#include "panel_parts.h"

#include <algorithm>
#include <cmath>
#include <string>
#include <utility>
#include <vector>

namespace avrek::playground {

namespace {

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

// Win rates against the others: was and is.
void draw_duels(ImDrawList& to, const KillAnswer& answer, ImVec2 at, ImVec2 size) {
    if (answer.duels.empty()) {
        write(to, at, 13.0F, ink, "computing duels");
        return;
    }
    const std::size_t rows = answer.duels.size() / 2;
    write(to, {at.x + 120.0F, at.y}, 13.0F, ink, "10 m: duels won");
    write(to, {at.x + 120.0F + 0.5F * (size.x - 120.0F), at.y}, 13.0F, ink, "30 m");
    const float step = std::min(16.0F, (size.y - 18.0F) / static_cast<float>(std::max<std::size_t>(rows, 1)));
    for (std::size_t index = 0; index < answer.duels.size(); ++index) {
        const KillDuel& one = answer.duels[index];
        const auto row = static_cast<float>(index % std::max<std::size_t>(rows, 1));
        const float y = at.y + 17.0F + row * step;
        const bool is_near = index < rows;
        if (is_near) {
            write(to, {at.x, y - 2.0F}, 13.0F, ink, one.other);
        }
        const float width = 0.5F * (size.x - 120.0F) - 50.0F;
        const float x = at.x + 120.0F + (is_near ? 0.0F : 0.5F * (size.x - 120.0F));
        to.AddRectFilled({x, y}, {x + width, y + 9.0F}, IM_COL32(255, 255, 255, 120));
        const ImU32 colour = one.now > one.first + 0.005   ? leaf
                             : one.now < one.first - 0.005 ? alarm
                                                           : IM_COL32(120, 130, 124, 255);
        to.AddRectFilled({x, y}, {x + width * static_cast<float>(one.now), y + 9.0F}, colour);
        const float was = x + width * static_cast<float>(one.first);
        to.AddLine({was, y - 1.0F}, {was, y + 10.0F}, ink, 2.0F);
        write(to, {x + width + 4.0F, y - 3.0F}, 13.0F, ink, text_of("%.0f %%", 100.0 * one.now));
    }
}

// Effects of the change; without one, the distances and damages at which the number of shots changes.
void draw_words(const KillAnswer& answer) {
    const std::vector<std::string> words = words_of(answer);
    for (const std::string& line : words) {
        ImGui::TextUnformatted(line.c_str());
    }
    if (!words.empty()) {
        return;
    }
    for (const ShotsStretch& stretch : answer.now.stretches) {
        ImGui::Text("%.1f to %.1f m: %d %s", stretch.from, stretch.to, stretch.shots,
                    stretch.shots == 1 ? "shot" : "shots");
    }
    if (answer.now.fewer_from) {
        ImGui::Text("at 20 m one fewer from %.4g damage on", *answer.now.fewer_from);
    }
    if (answer.now.more_below) {
        ImGui::Text("at 20 m one more below %.4g damage", *answer.now.more_below);
    }
}

void draw_curves(const KillAnswer& answer, float width) {
    ImDrawList& to = *ImGui::GetWindowDrawList();
    const ImVec2 corner = ImGui::GetCursorScreenPos();
    const ImVec2 at{corner.x + 48.0F, corner.y + 6.0F};
    const ImVec2 size{width - 60.0F, 78.0F};
    const double longest = longest_of(answer);
    to.AddRect(at, {at.x + size.x, at.y + size.y}, IM_COL32(28, 40, 36, 90));
    write(to, {corner.x, at.y - 6.0F}, 13.0F, ink, text_of("%.1f s", longest));
    write(to, {corner.x, at.y + size.y - 12.0F}, 13.0F, ink, "0 s");
    draw_curve(to, answer.first, &KillPoint::ideal, at, size, longest, IM_COL32(86, 138, 84, 90));
    draw_curve(to, answer.first, &KillPoint::usual, at, size, longest, IM_COL32(206, 138, 52, 90));
    draw_curve(to, answer.now, &KillPoint::ideal, at, size, longest, leaf);
    draw_curve(to, answer.now, &KillPoint::usual, at, size, longest, amber);
    write(to, {corner.x, at.y + size.y + 3.0F}, 13.0F, ink, "shots");
    draw_shots_row(to, answer, {at.x, at.y + size.y + 3.0F}, size.x);
    write(to, {corner.x, at.y + size.y + 18.0F}, 13.0F, ink, "m");
    for (int metres = 10; metres <= 60; metres += 10) {
        write(to, {at.x + size.x * static_cast<float>(metres) / 60.0F, at.y + size.y + 18.0F}, 13.0F, ink,
              std::to_string(metres), true);
    }
}

} // namespace

void draw_strip(const Session& session, ImVec2 screen) {
    ImGui::SetNextWindowPos({8.0F, screen.y - strip_height - 8.0F});
    ImGui::SetNextWindowSize({screen.x - 16.0F, strip_height});
    ImGui::Begin("times", nullptr, panel_flags);
    const auto answer = session.killing_times();
    if (answer == nullptr) {
        ImGui::TextUnformatted("computing");
        ImGui::End();
        return;
    }
    const float curves = 0.44F * screen.x;
    const float words = (screen.x < 1100.0F ? 0.5F : 0.24F) * screen.x;
    ImGui::BeginChild("curves", {curves, 0.0F});
    ImGui::Text("%s against %s:", answer->question.weapon.c_str(), answer->question.body.c_str());
    ImGui::SameLine();
    ImGui::TextColored({0.34F, 0.54F, 0.33F, 1.0F}, "all hit");
    ImGui::SameLine();
    ImGui::TextColored({0.80F, 0.54F, 0.20F, 1.0F}, "half of a %s's fights",
                       answer->question.shooter.c_str());
    draw_curves(*answer, curves);
    ImGui::EndChild();
    ImGui::SameLine();
    ImGui::BeginChild("words", {words, 0.0F});
    draw_words(*answer);
    ImGui::EndChild();
    if (screen.x < 1100.0F) { // there is no room for bars
        ImGui::End();
        return;
    }
    ImGui::SameLine();
    draw_duels(*ImGui::GetWindowDrawList(), *answer, ImGui::GetCursorScreenPos(),
               {screen.x - curves - words - 60.0F, strip_height - 16.0F});
    ImGui::End();
}

} // namespace avrek::playground
