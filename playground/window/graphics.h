#pragma once
#include <session/geometry.h>

#include <cstdint>
#include <span>
#include <string>
#include <vector>

/// Drawing with OpenGL 3.3.
namespace avrek::playground {

/// Where in the window a camera's picture is, in pixels.
struct Frame {
    int left = 0;
    int top = 0;
    int window_height = 0;
};

/// A program of a vertex and a fragment shader, and what it is given.
class Painter {
  public:
    /// Compiles the shaders. Precondition: a context is current. `fault()` says what went wrong.
    Painter();
    ~Painter();
    Painter(const Painter&) = delete;
    Painter& operator=(const Painter&) = delete;

    /// Uploads corners that stay, and the numbers of those of each triangle. Returns their number for
    /// paint().
    std::size_t keep(std::span<const Corner> corners, std::span<const std::uint32_t> numbers);
    /// Clears the whole window to the colour of the panels, which have none of their own: blending over large
    /// parts of a window takes longer than the world does, where there is no graphics card.
    void clear();
    /// Clears a part of the window, as large as the camera's picture, and sets the camera for what is painted
    /// next.
    void begin(const Camera& camera, const Frame& frame);
    /// Ends what begin() began: the whole window can be painted again.
    void end();
    /// Paints a part of kept triangles.
    void paint(std::size_t kept, std::size_t first, std::size_t count);
    /// Paints corners that are there for this picture alone.
    void paint(std::span<const Corner> corners);
    /// Lets what follows be in front of all else, such as things held in the hands, until begin() or the next
    /// call. Paint it first: then nothing is painted behind it.
    void set_near(bool near);
    /// Lets what follows fade out towards a distance, until begin() or the next call.
    void fade_out(Metres gone_at);
    /// Lets what follows shine through: no depth is written.
    void set_clear(bool clear);
    /// Returns what went wrong; empty if nothing did.
    const std::string& fault() const { return fault_; }

  private:
    struct Kept {
        std::uint32_t array = 0;
        std::uint32_t buffer = 0;
        std::uint32_t numbers = 0;
    };
    static Kept make_kept();

    std::uint32_t program_ = 0;
    std::vector<Kept> kept_{};
    Kept passing_{};
    std::string fault_{};
};

/// Writes the picture of the current context as PNG. Returns what went wrong; empty if nothing did.
std::string write_picture(const std::string& file, int width, int height);

} // namespace avrek::playground
