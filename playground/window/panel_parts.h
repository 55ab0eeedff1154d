#pragma once
#include "drawing.h"
#include "panels.h"

#include <imgui.h>
#include <session/session.h>

/// The panels, one by one.
namespace avrek::playground {

inline constexpr float side_width = 330.0F;
inline constexpr float strip_height = 168.0F;
inline constexpr ImGuiWindowFlags panel_flags = ImGuiWindowFlags_NoTitleBar | ImGuiWindowFlags_NoResize |
                                                ImGuiWindowFlags_NoMove | ImGuiWindowFlags_NoNavInputs;

/// Draws a number as a slider, labelled by its path without the first letters; with the label in the slider
/// if it is compact. Returns false if the filter leaves it out.
bool draw_number(Session& session, PanelState& state, const ArsenalNumber& number, std::size_t head,
                 bool is_compact = false);
/// Draws the values of the tuned entry, down to `bottom`.
void draw_tuning(Session& session, PanelState& state, ImVec2 screen, float bottom);
/// Draws the numbers and the figures of the link below `top`.
void draw_link(Session& session, PanelState& state, ImVec2 screen, float top);
/// Draws times to kill and what a change does.
void draw_strip(const Session& session, ImVec2 screen);
/// Draws the last kill over a link, told three ways, in place of the strip.
void draw_kill(const Session& session, ImVec2 screen);

} // namespace avrek::playground
