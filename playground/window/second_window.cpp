#include "second_window.h"

#include "panels.h"

#include <backends/imgui_impl_opengl3.h>
#include <imgui.h>

#include <algorithm>
#include <filesystem>

namespace avrek::playground {

namespace {

constexpr int first_width = 640;
constexpr int first_height = 480;

// Beside a window, on the side with more room, as far out as the screen goes.
int place_beside(SDL_Window* first) {
    int left = 0;
    int top = 0;
    int width = 0;
    int height = 0;
    SDL_Rect screen{};
    SDL_GetWindowPosition(first, &left, &top);
    SDL_GetWindowSize(first, &width, &height);
    if (SDL_GetDisplayBounds(std::max(0, SDL_GetWindowDisplayIndex(first)), &screen) != 0) {
        return static_cast<int>(SDL_WINDOWPOS_UNDEFINED);
    }
    const int end = screen.x + screen.w;
    const int right_room = end - (left + width);
    const int left_room = left - screen.x;
    return right_room > left_room ? std::min(left + width, end - first_width)
                                  : std::max(left - first_width, screen.x);
}

// Makes the second window and its texts current, and the first again at the end.
class Current {
  public:
    Current(SDL_Window* first, SDL_GLContext context, SDL_Window* second, ImGuiContext* texts)
        : first_(first), context_(context), texts_(ImGui::GetCurrentContext()) {
        SDL_GL_MakeCurrent(second, context);
        ImGui::SetCurrentContext(texts);
    }
    ~Current() {
        ImGui::SetCurrentContext(texts_);
        SDL_GL_MakeCurrent(first_, context_);
    }
    Current(const Current&) = delete;
    Current& operator=(const Current&) = delete;

  private:
    SDL_Window* first_;
    SDL_GLContext context_;
    ImGuiContext* texts_;
};

} // namespace

bool SecondWindow::owns(const SDL_Event& event) const {
    if (window_ == nullptr) {
        return false;
    }
    const std::uint32_t id = SDL_GetWindowID(window_);
    switch (event.type) {
    case SDL_WINDOWEVENT:
        return event.window.windowID == id;
    case SDL_MOUSEMOTION:
        return event.motion.windowID == id;
    case SDL_MOUSEBUTTONDOWN:
    case SDL_MOUSEBUTTONUP:
        return event.button.windowID == id;
    case SDL_MOUSEWHEEL:
        return event.wheel.windowID == id;
    default:
        return false;
    }
}

std::string SecondWindow::open(SDL_Window* first, SDL_GLContext context) {
    window_ = SDL_CreateWindow("Avrek playground: the second player", place_beside(first), 0, first_width,
                               first_height, SDL_WINDOW_OPENGL | SDL_WINDOW_RESIZABLE);
    if (window_ == nullptr) {
        return std::string{"no second window: "} + SDL_GetError();
    }
    texts_ = ImGui::CreateContext(); // becomes current if no other is
    const Current current{first, context, window_, texts_};
    SDL_GL_SetSwapInterval(0); // one of the two waits for the screen
    return start_texts() ? "" : "no texts in the second window";
}

std::string SecondWindow::draw(const Session& session, const Seen& seen, Painter& painter, WorldView& world,
                               SDL_Window* first, SDL_GLContext context,
                               const std::vector<std::string>& files) {
    std::string fault = window_ == nullptr ? open(first, context) : "";
    if (!fault.empty()) {
        close();
        return fault;
    }
    const Current current{first, context, window_, texts_};
    int width = 0;
    int height = 0;
    SDL_GL_GetDrawableSize(window_, &width, &height);
    ImGuiIO& io = ImGui::GetIO();
    io.DisplaySize = {static_cast<float>(width), static_cast<float>(height)};
    ImGui_ImplOpenGL3_NewFrame();
    ImGui::NewFrame();
    const Camera camera = camera_of(seen, width, height);
    painter.clear();
    world.draw(session, seen, camera, {0, 0, height});
    draw_second_display(session, seen, camera, 0.0F);
    ImGui::Render();
    ImGui_ImplOpenGL3_RenderDrawData(ImGui::GetDrawData());
    for (const std::string& file : files) {
        const std::string unwritten = write_picture(second_file(file), width, height);
        fault = fault.empty() ? unwritten : fault;
    }
    SDL_GL_SwapWindow(window_);
    return fault;
}

void SecondWindow::close() {
    if (texts_ != nullptr) {
        ImGuiContext* before = ImGui::GetCurrentContext();
        ImGui::SetCurrentContext(texts_);
        if (ImGui::GetIO().BackendRendererUserData != nullptr) {
            ImGui_ImplOpenGL3_Shutdown();
        }
        ImGui::SetCurrentContext(before != texts_ ? before : nullptr);
        ImGui::DestroyContext(texts_);
        texts_ = nullptr;
    }
    if (window_ != nullptr) {
        SDL_DestroyWindow(window_);
        window_ = nullptr;
    }
}

std::string second_file(const std::string& file) {
    const std::filesystem::path path{file};
    return (path.parent_path() / (path.stem().string() + "-second" + path.extension().string())).string();
}

} // namespace avrek::playground
