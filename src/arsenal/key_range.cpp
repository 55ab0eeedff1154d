#include <avrek/arsenal/key_range.h>

#include <array>
#include <charconv>

namespace avrek {

namespace {

std::string text_of(double number) {
    std::array<char, 32> text{};
    return {
        text.data(),
        std::to_chars(text.data(), text.data() + text.size(), number, std::chars_format::general, 12).ptr};
}

} // namespace

std::string to_string(const KeyRange& range) {
    return (range.above_min ? "over " : "") + text_of(range.min) + " to " + text_of(range.max);
}

} // namespace avrek
