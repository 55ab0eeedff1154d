#pragma once
#include <avrek/core/state_fields.h>

#include <algorithm>
#include <array>
#include <concepts>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <type_traits>

namespace avrek {

/// Up to `Size` bytes of the game's own inside a state of Avrek's: saved, restored, hashed, sent and recorded
/// with it. All zero at first.
///
///     struct Dash { std::int64_t ready_at; std::int32_t left; std::int32_t unused; };
///     Dash dash = motion.game.as<Dash>();
///     motion.game.set(dash);
template <std::size_t Size>
struct GameBytes {
    static_assert(Size % 8 == 0);
    static constexpr std::size_t size = Size; ///< bytes

    std::array<std::uint64_t, Size / 8> words{};

    /// Returns the first bytes as a plain value.
    template <class Value>
    Value as() const {
        static_assert(std::is_trivially_copyable_v<Value> && sizeof(Value) <= Size);
        Value value{};
        std::memcpy(static_cast<void*>(&value), words.data(), sizeof value);
        return value;
    }
    /// Sets the bytes to a plain value, and the rest to zero. Precondition: the value has no padding, whose
    /// bytes would be of no certain content.
    template <class Value>
    void set(const Value& value) {
        static_assert(std::is_trivially_copyable_v<Value> && sizeof(Value) <= Size);
        words.fill(0);
        std::memcpy(words.data(), &value, sizeof value);
    }
    /// Returns how many words are in use: those after them are zero.
    std::size_t used() const {
        const auto last = std::find_if(words.rbegin(), words.rend(), [](std::uint64_t word) { return word; });
        return static_cast<std::size_t>(words.rend() - last);
    }
    /// Turns the bits that are set in `other`.
    GameBytes& operator^=(const GameBytes& other) {
        for (std::size_t word = 0; word < words.size(); ++word) {
            words[word] ^= other.words[word];
        }
        return *this;
    }
    friend bool operator==(const GameBytes&, const GameBytes&) = default;
};

/// Bytes of the game's own, for visit_fields().
template <class Bytes>
concept AnyGameBytes = std::same_as<std::remove_const_t<Bytes>, GameBytes<std::remove_const_t<Bytes>::size>>;

/// Visits the words in use, as <avrek/core/state_fields.h> explains.
template <class Visitor>
void visit_fields(Visitor&& field, AnyGameBytes auto& bytes) {
    field.list("word", bytes.words, bytes.used());
}

} // namespace avrek
