#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>

#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Loading arsenals from TOML. docs/arsenal.md describes the format.
namespace avrek {

/// Text of one arsenal file, and its name in diagnostics.
struct ArsenalText {
    std::string name;
    std::string text;
};

/// Parses an arsenal from texts; later texts overlay earlier ones. Reports every fault of every text at once.
/// Returns a value if none of them is an error. Never throws on bad input.
Loaded<Arsenal> parse_arsenal(std::span<const ArsenalText> texts);
/// Parses one text.
Loaded<Arsenal> parse_arsenal(std::string_view text, std::string_view name);

/// Reads one file. Returns a diagnostic if it cannot be read or is larger than 4 MiB.
Loaded<ArsenalText> read_arsenal_text(const std::string& file);

/// Reads several files. Returns diagnostics for all that cannot be read, and then no texts.
Loaded<std::vector<ArsenalText>> read_arsenal_texts(std::span<const std::string> files);

/// Loads an arsenal from files, as parse_arsenal() from texts.
Loaded<Arsenal> load_arsenal(std::span<const std::string> files);
/// Loads one file.
Loaded<Arsenal> load_arsenal(const std::string& file);

} // namespace avrek
