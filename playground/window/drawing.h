#pragma once
#include <imgui.h>

#include <string>

/// Colours and text, over the picture and in the panels.
namespace avrek::playground {

inline constexpr ImU32 ink = IM_COL32(28, 40, 36, 255);
inline constexpr ImU32 paper = IM_COL32(246, 248, 240, 235);
inline constexpr ImU32 leaf = IM_COL32(86, 138, 84, 255);
inline constexpr ImU32 amber = IM_COL32(206, 138, 52, 255);
inline constexpr ImU32 alarm = IM_COL32(188, 66, 52, 255);

/// Returns a number in a format of printf with one %f or %g.
std::string text_of(const char* format, double value);

/// Sets the style and the fonts, and makes what draws them. Returns false if that cannot be made.
/// Precondition: contexts of both libraries are current.
bool start_texts();

/// Returns the font whose size is nearest to this one, in pixels.
ImFont* font_of(float size);

/// Writes a text with a light rim, so that it can be read on anything.
void write(ImDrawList& to, ImVec2 at, float size, ImU32 colour, const std::string& text,
           bool centred = false);

} // namespace avrek::playground
