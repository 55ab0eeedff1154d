#pragma once
#include "world_view.h"

#include <SDL.h>

#include <string>
#include <vector>

struct ImGuiContext;

namespace avrek::playground {

/// The second player's picture in a window of its own. It draws with the context of the first window.
class SecondWindow {
  public:
    SecondWindow() = default;
    ~SecondWindow() { close(); }
    SecondWindow(const SecondWindow&) = delete;
    SecondWindow& operator=(const SecondWindow&) = delete;

    /// Returns whether an event is one of this window. Its keys are those of the first window, too.
    bool owns(const SDL_Event& event) const;
    /// Draws a picture, beside the window `first` at first, and writes it to these files. Returns what went
    /// wrong; empty if nothing did. Precondition: `context` is current for `first`, and is again after it.
    std::string draw(const Session& session, const Seen& seen, Painter& painter, WorldView& world,
                     SDL_Window* first, SDL_GLContext context, const std::vector<std::string>& files);
    /// Closes the window. Precondition: as for draw().
    void close();

  private:
    std::string open(SDL_Window* first, SDL_GLContext context);

    SDL_Window* window_ = nullptr;
    ImGuiContext* texts_ = nullptr;
};

/// Returns the file of the second window's picture beside that of the first: "a-second.png" for "a.png".
std::string second_file(const std::string& file);

} // namespace avrek::playground
