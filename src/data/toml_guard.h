#pragma once
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

/// Finds input that would crash the TOML parser, which should report an error.
namespace avrek::detail {

/// Whether a character may stand in a dotted key, quotes and blanks around its parts included.
bool is_key_character(char character);

/// A place in a text, and what is wrong there.
struct GuardFault {
    std::uint32_t line = 1;   ///< from 1
    std::uint32_t column = 1; ///< from 1, in characters
    std::string message;
    std::string allowed;
};

/// The first thing in `text` that the parser must not see, if there is one:
/// - a key of more than 32 dots, which would be as many tables inside each other;
/// - a character that is not ASCII outside of strings and comments, where TOML has no use for it.
std::optional<GuardFault> find_guard_fault(std::string_view text);

} // namespace avrek::detail
