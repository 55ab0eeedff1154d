#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/state_fields.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <bit>
#include <concepts>
#include <cstdint>
#include <optional>
#include <type_traits>
#include <vector>

/// The fields of a state as 64-bit words and back.
namespace avrek::detail {

/// A sink of FieldWalk for the words of a state. Runs of flags share a word. `IsWhole`: unused elements count
/// too, so that there are always as many words.
template <class Words, bool IsWhole = true>
class FieldWords {
  public:
    static constexpr bool is_whole = IsWhole;

    explicit FieldWords(Words& words) : words_(words) {}

    static bool takes(FieldUse use) { return use == FieldUse::everywhere; }
    void enter(const char*, int) {}
    void leave() {}
    bool flag(const char*, bool value) {
        value = words_.flag(value, flags_);
        flags_ = (flags_ + 1) % 64;
        return value;
    }
    void leaf(const char* name, bool& value) { value = flag(name, value); }
    template <class Value>
    requires std::integral<Value> || std::is_enum_v<Value>
    void leaf(const char*, Value& value) { whole(value, static_cast<std::int64_t>(value)); }
    template <std::floating_point Value>
    void leaf(const char*, Value& value) {
        flags_ = 0;
        words_.real(value);
    }
    void leaf(const char*, Vector3& vector) {
        for (double& coordinate : vector.reshaped()) {
            leaf("", coordinate);
        }
    }
    void leaf(const char*, Rotation& rotation) {
        for (double& coordinate : rotation.coeffs().reshaped()) {
            leaf("", coordinate);
        }
    }
    void leaf(const char*, Look& look) {
        leaf("", look.yaw);
        leaf("", look.pitch);
    }
    void leaf(const char*, Time& at) {
        auto count = at.time_since_epoch().count();
        leaf("", count);
        at = Time{Duration{count}};
    }
    void leaf(const char*, Duration& length) {
        auto count = length.count();
        leaf("", count);
        length = Duration{count};
    }
    template <class Id>
    void leaf(const char*, std::optional<Id>& id) {
        std::int32_t number = to_number(id);
        leaf("", number);
        id = optional_id<Id>(number);
    }
    template <class Set>
    requires requires(Set set) { Set::from_bits(set.bits()); }
    void leaf(const char*, Set& buttons) {
        std::uint32_t bits = buttons.bits();
        leaf("", bits);
        buttons = Set::from_bits(bits);
    }

  private:
    template <class Value>
    void whole(Value& value, std::int64_t number) {
        flags_ = 0;
        value = static_cast<Value>(words_.whole(number));
    }

    Words& words_;
    unsigned flags_ = 0; // in the word of the present run
};

/// Takes the words of a state one after another.
struct WordWriting {
    std::vector<std::uint64_t> words{};

    bool flag(bool value, unsigned bit) {
        if (bit == 0) {
            words.push_back(0);
        }
        words.back() |= std::uint64_t{value} << bit;
        return value;
    }
    std::int64_t whole(std::int64_t value) {
        words.push_back(static_cast<std::uint64_t>(value));
        return value;
    }
    void real(double value) { words.push_back(std::bit_cast<std::uint64_t>(value)); }
    void real(float value) { words.push_back(std::bit_cast<std::uint32_t>(value)); }
};

/// Puts them back. They may be out of their ranges afterwards.
struct WordReading {
    const std::vector<std::uint64_t>& words;
    std::size_t at = 0;

    bool flag(bool, unsigned bit) {
        at += bit == 0 ? 1 : 0;
        return (words[at - 1] >> bit & 1U) != 0;
    }
    std::int64_t whole(std::int64_t) { return static_cast<std::int64_t>(words[at++]); }
    void real(double& value) { value = std::bit_cast<double>(words[at++]); }
    void real(float& value) { value = std::bit_cast<float>(static_cast<std::uint32_t>(words[at++])); }
};

} // namespace avrek::detail
