#pragma once
#include <string>
#include <string_view>

/// Where results go, and in which form.
namespace avrek::cli {

enum class Format { text, json, csv };

struct OutputOptions {
    Format format = Format::text;
    std::string file; ///< empty: standard output
};

/// Whether text for `output` may be coloured: standard output is a terminal and NO_COLOR is not set.
bool has_colour(const OutputOptions& output);

/// `text`, bold where `colour` allows.
std::string emphasised(std::string_view text, bool colour);

/// Writes a result to standard output or, whole or not at all, to the file. Throws WrongCall when it cannot.
void write_result(const std::string& text, const OutputOptions& output);

/// Puts the finished file `from` in the place of `to`. Throws WrongCall when it cannot.
void replace_file(const std::string& from, const std::string& to);

/// Text fits this many columns.
inline constexpr std::size_t text_columns = 100;

/// `text` in lines of at most `most` characters, broken at blanks, the lines after the first indented by
/// `indent`; without a last end of line.
std::string wrapped(std::string_view text, std::size_t most, std::size_t indent);

} // namespace avrek::cli
