#pragma once
#include <string>

/// Drawing with gnuplot, as a process of its own.
namespace avrek::cli {

/// Runs `script` with the terminal for `file` (.png or .svg, 1280x800) and puts the finished picture in its
/// place. Throws WrongCall when gnuplot is missing or fails, or the file cannot be written; the old file then
/// stays.
void draw(const std::string& script, const std::string& file);

/// `text` as a quoted string of a gnuplot script, taken as it is.
std::string quoted(const std::string& text);

} // namespace avrek::cli
