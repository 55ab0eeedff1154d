#include "panel_parts.h"

#include <imgui_stdlib.h>

#include <algorithm>
#include <cmath>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace avrek::playground {

namespace {

// A label of its own above the slider.
void draw_label(const Session& session, const ArsenalNumber& number, const std::string& label) {
    const bool is_selected = number.path == session.selected();
    ImGui::TextColored(is_selected    ? ImVec4{0.74F, 0.42F, 0.08F, 1.0F}
                       : number.given ? ImVec4{0.11F, 0.16F, 0.14F, 1.0F}
                                      : ImVec4{0.42F, 0.47F, 0.44F, 1.0F},
                       is_selected ? "> %s" : "%s", label.c_str());
}

// Scrolls once to the number that the keys have chosen.
void show_chosen(const Session& session, PanelState& state, const std::string& path) {
    if (path == session.selected() && state.selected != path) {
        ImGui::SetScrollHereY();
        state.selected = path;
    }
}

void show_meaning(const ArsenalNumber& number) {
    if (ImGui::IsItemHovered()) {
        const std::string fallback = number.fallback.empty() ? std::string{} : ", default " + number.fallback;
        ImGui::SetTooltip("%s\n%g to %g %s%s", number.meaning.c_str(), number.min, number.max,
                          number.unit.c_str(), fallback.c_str());
    }
}

} // namespace

bool draw_number(Session& session, PanelState& state, const ArsenalNumber& number, std::size_t head,
                 bool is_compact) {
    const std::string label = number.path.size() > head ? number.path.substr(head) : number.path;
    if (!is_compact && label.find(state.filter) == std::string::npos) {
        return false;
    }
    ImGui::PushID(number.path.c_str());
    if (!is_compact) {
        draw_label(session, number, label);
        show_meaning(number);
    }
    show_chosen(session, state, number.path);
    // A slider goes as far as is of use: to three times the value, within what is allowed.
    const bool is_held = state.dragged == number.path;
    const double useful = is_compact ? number.max : std::max({1.0, 3.0 * std::abs(number.value)});
    const double most = is_held ? state.most : std::min(number.max, useful);
    const double least = is_held ? state.least : std::max(number.min, number.value < 0.0 ? -most : 0.0);
    auto value = static_cast<float>(number.value);
    ImGui::SetNextItemWidth(-1.0F);
    const bool is_selected = is_compact && number.path == session.selected();
    const std::string shown = (is_compact ? (is_selected ? "> " : "") + label + "  " : std::string{}) +
                              (number.whole || std::abs(number.value) >= 1000.0 ? "%.0f " : "%.3g ") +
                              (number.unit == "%" ? "%%" : number.unit);
    const bool is_moved = ImGui::SliderFloat("##value", &value, static_cast<float>(least),
                                             static_cast<float>(most), shown.c_str());
    if (is_compact) {
        show_meaning(number);
    }
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
    return true;
}

namespace {

// Presets, all keys or those given, and a part of a name.
void draw_filter(Session& session, PanelState& state) {
    ImGui::SetNextItemWidth(150.0F);
    ImGui::InputTextWithHint("##filter", "part of a name", &state.filter);
    ImGui::SameLine();
    bool all = session.shows_all_keys();
    if (ImGui::Checkbox("all", &all)) {
        session.command(Command::all_keys);
    }
    if (ImGui::IsItemHovered()) {
        ImGui::SetTooltip("keys too that the files do not give, with their defaults");
    }
    if (session.presets().empty()) {
        return;
    }
    ImGui::SameLine();
    ImGui::SetNextItemWidth(-1.0F);
    if (ImGui::BeginCombo("##preset", "preset")) {
        const std::vector<std::string> presets = session.presets();
        for (const std::string& file : presets) {
            const std::size_t name = file.rfind('/') == std::string::npos ? 0 : file.rfind('/') + 1;
            if (ImGui::Selectable(file.c_str() + name)) {
                session.apply(file);
            }
        }
        ImGui::EndCombo();
    }
}

// The window of a curve in its own units: what is drawn, with some room around it.
struct CurveFrame {
    CurvePoint low{};
    CurvePoint high{};
};

CurveFrame frame_of(const EditedCurve& curve) {
    CurveFrame frame{{0.0, 0.0}, {0.0, 0.0}};
    for (std::size_t index = 0; index < curve.points.size(); ++index) {
        const CurvePoint at = drawn_point(curve, index);
        frame.low = {std::min(frame.low.x, at.x), std::min(frame.low.y, at.y)};
        frame.high = {std::max(frame.high.x, at.x), std::max(frame.high.y, at.y)};
    }
    const double wide = std::max(frame.high.x - frame.low.x, 1e-3);
    const double tall = std::max(frame.high.y - frame.low.y, 1e-3);
    if (curve.kind == EditedCurve::Kind::curve) {
        return {{0.0, std::min(0.0, frame.low.y)}, {frame.high.x + 0.2 * wide, frame.high.y + 0.25 * tall}};
    }
    // Both axes of a plane have the same scale.
    const double half = 0.7 * std::max({wide, tall, 0.5});
    const CurvePoint middle{0.5 * (frame.low.x + frame.high.x), 0.5 * (frame.low.y + frame.high.y)};
    return {{middle.x - half, middle.y - half}, {middle.x + half, middle.y + half}};
}

// A curve on the screen, from its own units to pixels and back. Planes have left on the left, as the shooter
// sees them.
struct CurveView {
    CurveFrame frame{};
    ImVec2 at{};
    ImVec2 size{};
    bool is_plane = false;

    ImVec2 place(CurvePoint point) const {
        const double x = (point.x - frame.low.x) / (frame.high.x - frame.low.x);
        const double y = (point.y - frame.low.y) / (frame.high.y - frame.low.y);
        return {at.x + size.x * static_cast<float>(is_plane ? 1.0 - x : x),
                at.y + size.y * static_cast<float>(1.0 - y)};
    }
    CurvePoint point(ImVec2 place) const {
        const double x = static_cast<double>((place.x - at.x) / size.x);
        const double y = 1.0 - static_cast<double>((place.y - at.y) / size.y);
        return {frame.low.x + (is_plane ? 1.0 - x : x) * (frame.high.x - frame.low.x),
                frame.low.y + y * (frame.high.y - frame.low.y)};
    }
};

// Draws the paper, the axes, the first values and the present ones.
void draw_points(const EditedCurve& curve, const CurveView& view, std::optional<std::size_t> held) {
    ImDrawList& to = *ImGui::GetWindowDrawList();
    const ImVec2& at = view.at;
    const ImVec2 end{at.x + view.size.x, at.y + view.size.y};
    to.AddRectFilled(at, end, IM_COL32(255, 255, 255, 130), 4.0F);
    if (view.is_plane) {
        const ImVec2 middle = view.place({0.0, 0.0});
        to.AddLine({at.x, middle.y}, {end.x, middle.y}, IM_COL32(28, 40, 36, 50));
        to.AddLine({middle.x, at.y}, {middle.x, end.y}, IM_COL32(28, 40, 36, 50));
    }
    write(to, {at.x + 3.0F, at.y + 1.0F}, 13.0F, ink, text_of("%.3g ", view.frame.high.y) + curve.unit_y);
    const std::string last =
        text_of("%.3g ", view.is_plane ? view.frame.low.x : view.frame.high.x) + curve.unit_x;
    write(to, {end.x - ImGui::CalcTextSize(last.c_str()).x, end.y - 15.0F}, 13.0F, ink, last);
    const auto draw_lines = [&](std::size_t count, bool first, ImU32 colour) {
        if (curve.kind == EditedCurve::Kind::path && count > 0) {
            to.AddLine(view.place({0.0, 0.0}), view.place(drawn_point(curve, 0, first)), colour, 1.5F);
        }
        for (std::size_t index = 1; index < count && curve.kind != EditedCurve::Kind::points; ++index) {
            to.AddLine(view.place(drawn_point(curve, index - 1, first)),
                       view.place(drawn_point(curve, index, first)), colour, 1.5F);
        }
    };
    draw_lines(curve.first.size(), true, IM_COL32(86, 138, 84, 90));
    draw_lines(curve.points.size(), false, leaf);
    for (std::size_t index = 0; index < curve.points.size(); ++index) {
        to.AddCircleFilled(view.place(drawn_point(curve, index)), held == index ? 6.0F : 4.0F, amber);
    }
}

// Returns the point under the mouse, or none.
std::optional<std::size_t> point_at_mouse(const EditedCurve& curve, const CurveView& view) {
    constexpr float reach = 24.0F; // pixels
    const ImVec2 mouse = ImGui::GetIO().MousePos;
    std::optional<std::size_t> nearest;
    float least = reach;
    for (std::size_t index = 0; index < curve.points.size(); ++index) {
        const ImVec2 here = view.place(drawn_point(curve, index));
        const float away = std::hypot(here.x - mouse.x, here.y - mouse.y);
        if (away < least) {
            least = away;
            nearest = index;
        }
    }
    return nearest;
}

void draw_curve_label(const Session& session, PanelState& state, const EditedCurve& curve, std::size_t head) {
    // A point that the keys have chosen is named, with its values.
    const auto chosen = point_at(curve, session.selected());
    const bool has_chosen = chosen.has_value();
    const std::string name = curve.path.substr(head);
    if (has_chosen) {
        const CurvePoint& point = curve.points[*chosen];
        ImGui::Text("> %s %zu: %g %s, %g %s", name.c_str(), *chosen + 1, point.x, curve.unit_x.c_str(),
                    point.y, curve.unit_y.c_str());
    } else {
        ImGui::Text("%s, %zu points", name.c_str(), curve.points.size());
    }
    if (has_chosen) {
        show_chosen(session, state, session.selected());
    }
    if (ImGui::IsItemHovered()) {
        ImGui::SetTooltip("%s\nDrag a point. %g to %g %s", curve.meaning.c_str(), curve.min, curve.max,
                          curve.unit_y.c_str());
    }
}

// A curve or a pattern whose points are dragged.
void draw_curve(Session& session, PanelState& state, const EditedCurve& curve, std::size_t head) {
    ImGui::PushID(curve.path.c_str());
    draw_curve_label(session, state, curve, head);
    const bool is_held = state.dragged == curve.path && state.point < curve.points.size();
    const bool is_plane = curve.kind != EditedCurve::Kind::curve;
    const CurveView view{is_held ? CurveFrame{state.low, state.high} : frame_of(curve),
                         ImGui::GetCursorScreenPos(),
                         {is_plane ? 220.0F : ImGui::GetContentRegionAvail().x, is_plane ? 220.0F : 96.0F},
                         is_plane};
    draw_points(curve, view, is_held ? std::optional{state.point} : point_at(curve, session.selected()));
    ImGui::InvisibleButton("##plane", view.size);
    const auto under = point_at_mouse(curve, view);
    if (ImGui::IsItemActivated() && under) {
        state.dragged = curve.path;
        state.point = *under;
        state.low = view.frame.low;
        state.high = view.frame.high;
        state.has_changed = false;
    }
    const auto shown = is_held ? std::optional{state.point} : under;
    if (shown && (is_held || ImGui::IsItemHovered())) {
        const CurvePoint& point = curve.points[*shown];
        ImGui::SetTooltip("%zu: %g %s, %g %s", *shown + 1, point.x, curve.unit_x.c_str(), point.y,
                          curve.unit_y.c_str());
    }
    if (is_held && ImGui::IsItemActive() && ImGui::IsMouseDragging(ImGuiMouseButton_Left, 2.0F)) {
        session.move_point(curve, state.point, view.point(ImGui::GetIO().MousePos), state.has_changed);
        state.has_changed = true;
    }
    if (ImGui::IsItemDeactivated()) {
        state.dragged.clear();
    }
    ImGui::PopID();
}

} // namespace

void draw_tuning(Session& session, PanelState& state, ImVec2 screen, float bottom) {
    ImGui::SetNextWindowPos({screen.x - side_width - 8.0F, 8.0F});
    ImGui::SetNextWindowSize({side_width, bottom - 8.0F});
    ImGui::Begin("values", nullptr, panel_flags);
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
    const std::size_t changes = session.tuner().change_count();
    ImGui::Text(changes == 1 ? "%zu change" : "%zu changes", changes);
    draw_filter(session, state);
    ImGui::BeginChild("numbers", {0.0F, session.linked() == nullptr ? -92.0F : -46.0F});
    const std::vector<ArsenalNumber> numbers = session.numbers(); // a slider changes them
    const std::vector<EditedCurve> curves = session.curves();
    const std::size_t head = session.entry().size() + 1;
    bool is_empty = true;
    for (const ArsenalNumber& number : numbers) {
        const auto curve = std::find_if(curves.begin(), curves.end(), [&](const EditedCurve& one) {
            return number.path.starts_with(one.path + '[');
        });
        if (curve == curves.end()) {
            is_empty = !draw_number(session, state, number, head) && is_empty;
        } else if (number.path == curve->path + "[1].y" &&
                   curve->path.find(state.filter, head) != std::string::npos) {
            draw_curve(session, state, *curve, head);
            is_empty = false;
        }
    }
    if (is_empty) {
        ImGui::TextWrapped(numbers.empty() ? "%s has no number" : "no number here has '%s' in its name",
                           numbers.empty() ? session.entry().c_str() : state.filter.c_str());
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

} // namespace avrek::playground
