#pragma once
#include <session/geometry.h>

#include <cstdint>
#include <span>
#include <string>
#include <vector>

/// Drawing with OpenGL 3.3.
namespace avrek::playground {

/// A program of a vertex and a fragment shader, and what it is given.
class Painter {
  public:
    /// Compiles the shaders. Precondition: a context is current. `fault()` says what went wrong.
    Painter();
    ~Painter();
    Painter(const Painter&) = delete;
    Painter& operator=(const Painter&) = delete;

    /// Uploads corners that stay. Returns their number for paint().
    std::size_t keep(std::span<const Corner> corners);
    /// Clears the picture and sets the camera for what is painted next. The camera's picture is in the upper
    /// left of a window of this height, in pixels.
    void begin(const Camera& camera, int height);
    /// Paints a part of kept corners.
    void paint(std::size_t kept, std::size_t first, std::size_t count);
    /// Paints corners that are there for this picture alone.
    void paint(std::span<const Corner> corners);
    /// Paints what follows over everything so far, as what is held in the hands.
    void begin_near();
    /// Lets what follows shine through: no depth is written.
    void set_clear(bool clear);
    /// Returns what went wrong; empty if nothing did.
    const std::string& fault() const { return fault_; }

  private:
    struct Kept {
        std::uint32_t array = 0;
        std::uint32_t buffer = 0;
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
