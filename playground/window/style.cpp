#include "drawing.h"
#include "panels.h"

#include <backends/imgui_impl_opengl3.h>
#include <epoxy/gl.h>

#include <cmath>
#include <cstdio>
#include <filesystem>
#include <utility>

namespace avrek::playground {

namespace {

constexpr const char* font_file = "/usr/share/fonts/truetype/dejavu/DejaVuSans.ttf";
constexpr float font_sizes[] = {16.0F, 13.0F, 14.0F, 15.0F, 17.0F, 18.0F, 20.0F, 22.0F, 24.0F};

// Each size of its own: letters that are not scaled are sharp, and one texel makes one pixel of them.
bool add_fonts(ImFontAtlas& fonts) {
    if (!std::filesystem::exists(font_file)) {
        return false;
    }
    ImFontConfig exact;
    exact.OversampleH = exact.OversampleV = 1;
    exact.PixelSnapH = true;
    for (const float size : font_sizes) {
        fonts.AddFontFromFileTTF(font_file, size, &exact);
    }
    return true;
}

// Without a graphics card, blending four texels for each pixel of a panel takes longer than all else in it.
void sample_one_texel(const ImFontAtlas& fonts) {
    glBindTexture(GL_TEXTURE_2D, static_cast<GLuint>(reinterpret_cast<std::uintptr_t>(fonts.TexID)));
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_NEAREST);
    glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MAG_FILTER, GL_NEAREST);
    ImGui::GetStyle().AntiAliasedLinesUseTex = false; // which needs texels blended
}

void set_style() {
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

} // namespace

std::string text_of(const char* format, double value) {
    char text[64];
    std::snprintf(text, sizeof text, format, value);
    return text;
}

void write(ImDrawList& to, ImVec2 at, float size, ImU32 colour, const std::string& text, bool centred) {
    const ImFont* const font = font_of(size);
    const ImVec2 extent = font->CalcTextSizeA(size, 1e6F, 0.0F, text.c_str());
    const ImVec2 place{at.x - (centred ? 0.5F * extent.x : 0.0F), at.y};
    for (const auto& [x, y] : {std::pair{1.0F, 0.0F}, {-1.0F, 0.0F}, {0.0F, 1.0F}, {0.0F, -1.0F}}) {
        to.AddText(font, size, {place.x + x, place.y + y}, IM_COL32(255, 255, 255, 120), text.c_str());
    }
    to.AddText(font, size, place, colour, text.c_str());
}

bool start_texts() {
    ImGuiIO& io = ImGui::GetIO();
    io.IniFilename = nullptr;
    const bool is_exact = add_fonts(*io.Fonts);
    set_style();
    if (!ImGui_ImplOpenGL3_Init("#version 330 core") || !ImGui_ImplOpenGL3_CreateDeviceObjects()) {
        return false;
    }
    if (is_exact) {
        sample_one_texel(*io.Fonts);
    }
    return true;
}

ImFont* font_of(float size) {
    ImFont* nearest = ImGui::GetFont();
    for (ImFont* font : ImGui::GetIO().Fonts->Fonts) {
        if (std::abs(font->FontSize - size) < std::abs(nearest->FontSize - size)) {
            nearest = font;
        }
    }
    return nearest;
}

} // namespace avrek::playground
