#include "drawing.h"
#include "panels.h"

#include <cstdio>
#include <filesystem>
#include <utility>

namespace avrek::playground {

namespace {

constexpr const char* font_file = "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf";

} // namespace

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
    style.Colors[ImGuiCol_WindowBg] = {0.95F, 0.96F, 0.93F, 0.0F};
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

} // namespace avrek::playground
