#pragma once
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <type_traits>
#include <vector>

namespace avrek {

/// The padding bytes of a plain type. Saved states have zeros there, so that equal states are equal bytes.
///
/// A type lists its members in a function beside it, found by its argument:
///
///     template <class Visitor>
///     void members(Visitor& visitor, const Credit& credit) {
///         visitor(credit.source, credit.damage, credit.last);
///     }
///
/// Numbers, enums, times, vectors and classes without padding need none. Arrays are visited element by
/// element.
class StateGaps {
  public:
    /// Finds the gaps of a type, once.
    template <class T>
    static const StateGaps& of() {
        static const StateGaps gaps{T{}};
        return gaps;
    }

    /// Writes zeros into the gaps of an object.
    void clear(std::byte* object) const {
        for (const Run& run : runs_) {
            std::memset(object + run.begin, 0, run.size);
        }
        for (const Part& part : parts_) {
            object[part.at] &= std::byte{part.mask};
        }
    }
    /// Returns the number of whole bytes that are gaps.
    std::size_t size() const {
        std::size_t size = 0;
        for (const Run& run : runs_) {
            size += run.size;
        }
        return size;
    }

  private:
    struct Run {
        std::size_t begin = 0;
        std::size_t size = 0;
    };
    struct Part { // a byte with some bits of a member
        std::size_t at = 0;
        std::uint8_t mask = 0;
    };

    // Marks the bits that belong to members.
    struct Marking {
        const std::byte* begin;
        std::vector<std::uint8_t> bits;

        template <class... Members>
        void operator()(const Members&... all) {
            (mark(all), ...);
        }
        /// Visits bit-fields that begin at a byte, by their number of bits.
        void flags(const void* first, std::size_t count) {
            const auto at = static_cast<std::size_t>(static_cast<const std::byte*>(first) - begin);
            for (std::size_t bit = 0; bit < count; ++bit) {
                bits[at + bit / 8] = static_cast<std::uint8_t>(bits[at + bit / 8] | (1U << bit % 8));
            }
        }

      private:
        template <class T>
        void mark(const T& member) {
            if constexpr (requires(Marking & visitor) { members(visitor, member); }) {
                members(*this, member);
            } else {
                static_assert(std::is_scalar_v<T> || std::is_same_v<T, Time> || std::is_same_v<T, Duration> ||
                                  std::is_same_v<T, Vector3> || std::is_same_v<T, Rotation> ||
                                  std::is_same_v<T, Look> || std::has_unique_object_representations_v<T>,
                              "say what its members are");
                flags(&member, 8 * sizeof member);
            }
        }
        template <class T, std::size_t Size>
        void mark(const std::array<T, Size>& array) {
            for (const T& element : array) {
                mark(element);
            }
        }
    };

    template <class T>
    explicit StateGaps(const T& object) {
        Marking marking{reinterpret_cast<const std::byte*>(&object),
                        std::vector<std::uint8_t>(sizeof object)};
        marking(object);
        for (std::size_t at = 0; at < sizeof object; ++at) {
            const std::uint8_t mask = marking.bits[at];
            if (mask == 0 && !runs_.empty() && runs_.back().begin + runs_.back().size == at) {
                ++runs_.back().size;
            } else if (mask == 0) {
                runs_.push_back({at, 1});
            } else if (mask != 0xff) {
                parts_.push_back({at, mask});
            }
        }
    }

    std::vector<Run> runs_{};
    std::vector<Part> parts_{};
};

} // namespace avrek
