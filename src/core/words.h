#pragma once
#include <array>
#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace avrek::detail {

/// Returns the word of a value of an enumeration, whose words stand in its order; "unknown" for a value that
/// it does not have.
template <class Enum, std::size_t Count>
constexpr std::string_view word_of(const std::array<std::string_view, Count>& words, Enum value) {
    const auto index = static_cast<std::size_t>(value);
    return index < words.size() ? words[index] : "unknown";
}

/// Returns a list of names in quotation marks; without any, "nothing".
inline std::string quoted(const std::vector<std::string>& names) {
    std::string all;
    for (const std::string& name : names) {
        all += (all.empty() ? "'" : ", '") + name + '\'';
    }
    return all.empty() ? "nothing" : all;
}

} // namespace avrek::detail
