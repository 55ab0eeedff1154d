#pragma once
#include <array>
#include <cstddef>
#include <string_view>

namespace avrek::detail {

/// Returns the word of a value of an enumeration, whose words stand in its order; "unknown" for a value that
/// it does not have.
template <class Enum, std::size_t Count>
constexpr std::string_view word_of(const std::array<std::string_view, Count>& words, Enum value) {
    const auto index = static_cast<std::size_t>(value);
    return index < words.size() ? words[index] : "unknown";
}

} // namespace avrek::detail
