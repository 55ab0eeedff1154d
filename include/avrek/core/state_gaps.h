#pragma once
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <optional>
#include <type_traits>
#include <vector>

namespace avrek {

/// The padding bytes of a plain type, whose fields visit_fields() lists. Saved states have zeros there, so
/// that equal states are equal bytes.
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
        for (const Word& word : words_) {
            std::uint64_t bits = 0;
            std::memcpy(&bits, object + word.begin, sizeof bits);
            bits &= word.mask;
            std::memcpy(object + word.begin, &bits, sizeof bits);
        }
        for (const Part& part : parts_) {
            object[part.at] &= std::byte{part.mask};
        }
        for (const Run& value : options_) {
            if (object[value.begin + value.size] == std::byte{}) {
                std::memset(object + value.begin, 0, value.size);
            }
        }
    }
    /// Returns the number of whole bytes that are gaps.
    std::size_t size() const { return size_; }

  private:
    struct Run {
        std::size_t begin = 0;
        std::size_t size = 0;
    };
    struct Word { // eight bytes with a gap
        std::size_t begin = 0;
        std::uint64_t mask = 0; // the bits of members
    };
    struct Part { // a byte with a gap, beyond the last eight
        std::size_t at = 0;
        std::uint8_t mask = 0;
    };

    // Marks the bits that belong to fields. Changes the flags, so that the caller finds them.
    struct Marking {
        static constexpr bool is_whole = true;
        const std::byte* begin;
        std::vector<std::uint8_t> bits;
        std::vector<Run> options{};

        static bool takes(FieldUse) { return true; }
        void enter(const char*, int) {}
        void leave() {}
        static bool flag(const char*, bool value) { return !value; }
        template <class T>
        void leaf(const char*, const T& member) {
            static_assert(std::is_scalar_v<T> || std::is_same_v<T, Time> || std::is_same_v<T, Duration> ||
                              std::is_same_v<T, Vector3> || std::is_same_v<T, Rotation> ||
                              std::is_same_v<T, Look> || std::has_unique_object_representations_v<T>,
                          "list its fields in visit_fields()");
            mark(&member, sizeof member);
        }
        // Compilers put the flag of an optional behind its value, which is nothing without it.
        template <class T>
        void leaf(const char*, const std::optional<T>& member) {
            options.push_back({mark(&member, sizeof(T) + 1), sizeof(T)});
        }

      private:
        std::size_t mark(const void* member, std::size_t size) {
            const auto at = static_cast<std::size_t>(static_cast<const std::byte*>(member) - begin);
            std::fill_n(bits.begin() + static_cast<std::ptrdiff_t>(at), size, std::uint8_t{0xff});
            return at;
        }
    };

    template <class T>
    explicit StateGaps(const T& object) {
        // Copies need not copy padding: the same object is looked at before and after.
        T changed = object;
        std::array<std::byte, sizeof object> before;
        std::memcpy(before.data(), &changed, sizeof changed);
        Marking marking{reinterpret_cast<const std::byte*>(&changed),
                        std::vector<std::uint8_t>(sizeof object)};
        FieldWalk walk{marking};
        visit_fields(walk, changed);
        options_ = marking.options;
        const auto* after = reinterpret_cast<const std::byte*>(&changed);
        for (std::size_t at = 0; at < sizeof object; ++at) {
            // The bit-fields are the bits that have changed.
            marking.bits[at] = static_cast<std::uint8_t>(
                marking.bits[at] | std::to_integer<std::uint8_t>(before[at] ^ after[at]));
            size_ += marking.bits[at] == 0 ? 1 : 0;
        }
        add_masks(marking.bits);
    }

    void add_masks(const std::vector<std::uint8_t>& bits) {
        constexpr std::size_t width = sizeof(std::uint64_t);
        std::size_t at = 0;
        for (; at + width <= bits.size(); at += width) {
            Word word{at, 0};
            std::memcpy(&word.mask, &bits[at], width);
            if (~word.mask != 0) {
                words_.push_back(word);
            }
        }
        for (; at < bits.size(); ++at) {
            if (bits[at] != 0xff) {
                parts_.push_back({at, bits[at]});
            }
        }
    }

    std::size_t size_ = 0;
    std::vector<Word> words_{};
    std::vector<Part> parts_{};
    std::vector<Run> options_{}; // values of optionals
};

} // namespace avrek
