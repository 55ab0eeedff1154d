#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>

#include <span>
#include <string>
#include <string_view>
#include <vector>

/// Arsenals out of TOML. The format is in docs/arsenal.md.
namespace avrek {

/// The text of one arsenal file and the name that diagnostics give it.
struct ArsenalText {
    std::string name;
    std::string text;
};

/// Reads an arsenal from texts; each lays its values over those of the ones before it. Reports every fault of
/// every text at once; there is a value when none of them is an error. Never throws on bad input.
Loaded<Arsenal> parse_arsenal(std::span<const ArsenalText> texts);
Loaded<Arsenal> parse_arsenal(std::string_view text, std::string_view name);

/// The text of one file; a diagnostic when it cannot be read or is larger than 4 MiB.
Loaded<ArsenalText> read_arsenal_text(const std::string& file);

/// The texts of several files; diagnostics for all that cannot be read, and no texts, when one cannot.
Loaded<std::vector<ArsenalText>> read_arsenal_texts(std::span<const std::string> files);

/// Reads an arsenal from files, as parse_arsenal() does from texts.
Loaded<Arsenal> load_arsenal(std::span<const std::string> files);
Loaded<Arsenal> load_arsenal(const std::string& file);

} // namespace avrek
