#pragma once
#include <avrek/core/ids.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <initializer_list>

/// What a query may hit. A filter is positive: it names what counts, and who is left out.
namespace avrek {

/// What kind of thing something is.
enum class Layer : std::uint8_t { level, bodies };

/// A set of layers: `{Layer::level, Layer::bodies}`.
class LayerSet {
  public:
    constexpr LayerSet() = default;
    constexpr LayerSet(std::initializer_list<Layer> layers) {
        for (const Layer layer : layers) {
            bits_ |= 1U << static_cast<std::uint32_t>(layer);
        }
    }
    constexpr bool contains(Layer layer) const {
        return (bits_ & (1U << static_cast<std::uint32_t>(layer))) != 0;
    }

  private:
    std::uint32_t bits_ = 0;
};

/// A few bodies that a query passes through, such as its shooter: `{shooter}`.
class IgnoredBodies {
  public:
    static constexpr std::size_t most = 4;

    constexpr IgnoredBodies() = default;
    /// Precondition (asserted): at most `most` bodies.
    IgnoredBodies(std::initializer_list<BodyId> bodies);
    bool contains(BodyId body) const;

  private:
    std::array<BodyId, most> bodies_{};
    std::size_t size_ = 0;
};

/// What a query hits: everything in the layers `hits` but the bodies `ignores`.
struct Filter {
    LayerSet hits = {Layer::level, Layer::bodies};
    IgnoredBodies ignores = {};
};

} // namespace avrek
