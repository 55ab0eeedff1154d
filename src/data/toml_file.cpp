#include "toml_file.h"

#include "toml_guard.h"

#include <algorithm>
#include <optional>
#include <vector>

namespace avrek::detail {

namespace {

constexpr std::size_t max_syntax_faults = 20;

std::string_view trimmed(std::string_view line) {
    const std::size_t begin = line.find_first_not_of(" \t\r");
    return begin == std::string_view::npos ? std::string_view{} : line.substr(begin);
}

std::string bare(std::string_view text) {
    const std::string_view left = trimmed(text);
    return std::string{left.substr(0, left.find_last_not_of(" \t\r") + 1)};
}

bool is_header(std::string_view line) {
    const std::string_view text = trimmed(line);
    return text.starts_with('[') && text.find(',') == std::string_view::npos &&
           text.find('=') == std::string_view::npos;
}

bool is_statement(std::string_view line) {
    const std::string_view text = trimmed(line);
    const std::size_t equals = text.find('=');
    return text.empty() || text.front() == '#' || is_header(line) ||
           (equals != std::string_view::npos && equals > 0 &&
            std::all_of(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(equals), is_key_character));
}

// The text as lines that can be blanked one by one without moving the others.
class Lines {
  public:
    explicit Lines(std::string_view text) : text_(text) {
        for (std::size_t begin = 0; begin <= text_.size();) {
            const std::size_t end = std::min(text_.find('\n', begin), text_.size());
            lines_.push_back({begin, end});
            begin = end + 1;
        }
    }

    const std::string& text() const { return text_; }

    // Blanks the statement at a line, counted from 1: a header with its keys, a key with its further lines.
    // False when there was nothing left to blank.
    bool blank_statement(std::size_t number) {
        if (number == 0 || number > lines_.size() || trimmed(line(number - 1)).empty()) {
            return false;
        }
        const bool header = is_header(line(number - 1));
        std::size_t index = number - 1;
        do {
            std::fill(text_.begin() + static_cast<std::ptrdiff_t>(lines_[index].begin),
                      text_.begin() + static_cast<std::ptrdiff_t>(lines_[index].end), ' ');
            ++index;
        } while (index < lines_.size() && !(header ? is_header(line(index)) : is_statement(line(index))));
        return true;
    }

    // Full path that a line defines, such as "weapon.thorn-rifle.damage", and where in the line it begins.
    // Empty for a line that defines nothing.
    std::string defined_at(toml::source_position& at) const {
        const std::string_view here = at.line > 0 && at.line <= lines_.size() ? line(at.line - 1) : "";
        const std::string header = header_in(here);
        const std::size_t begin = here.find_first_not_of(" \t");
        const std::size_t sign = here.find('=');
        if (begin == std::string_view::npos || (header.empty() && sign == std::string_view::npos)) {
            return {};
        }
        at.column = static_cast<toml::source_index>(begin + 1);
        if (!header.empty()) {
            return header;
        }
        std::string table;
        for (std::size_t above = at.line - 1; above > 0 && table.empty(); --above) {
            table = header_in(line(above - 1));
        }
        const std::string_view key = here.substr(begin, sign - begin);
        return (table.empty() ? "" : table + '.') +
               std::string{key.substr(0, key.find_last_not_of(" \t") + 1)};
    }

  private:
    struct Range {
        std::size_t begin;
        std::size_t end;
    };

    // Text in the brackets of a line that begins a table.
    static std::string header_in(std::string_view line) {
        const std::string_view text = trimmed(line);
        const std::size_t last = text.rfind(']');
        if (!is_header(line) || last == std::string_view::npos) {
            return {};
        }
        const std::string_view inside = text.substr(1, last - 1);
        return bare(inside.starts_with('[') ? inside.substr(1, inside.rfind(']') - 1) : inside);
    }

    std::string_view line(std::size_t index) const {
        return std::string_view{text_}.substr(lines_[index].begin, lines_[index].end - lines_[index].begin);
    }

    std::string text_;
    std::vector<Range> lines_;
};

// Fault from the parser's words, with its place made exact.
Fault syntax_fault(std::string_view description, const Lines& lines, toml::source_position& at) {
    if (description.find("cannot redefine") != std::string_view::npos) {
        return {printable(lines.defined_at(at)),
                "is defined a second time",
                "one definition of each name in a file",
                {}};
    }
    const std::size_t colon = description.find(": ");
    const bool has_prefix = description.starts_with("Error while") && colon != std::string_view::npos;
    const std::string_view reason = has_prefix ? description.substr(colon + 2) : description;
    std::string shown;
    for (const char character : reason) {
        shown += character == '\n' ? std::string{"\\n"} : std::string(1, character);
    }
    return {{}, "not valid TOML: " + printable(shown, 160), {}, {}};
}

} // namespace

toml::table parse_toml(std::string_view text, std::string_view name, Faults& faults) {
    Lines lines{text};
    for (std::size_t fault = 0; fault < max_syntax_faults; ++fault) {
        toml::source_position at{};
        if (const std::optional<GuardFault> guard = find_guard_fault(lines.text())) {
            at = {guard->line, guard->column};
            faults.add(name, at, {{}, guard->message, guard->allowed, {}});
        } else {
            toml::parse_result result = toml::parse(std::string_view{lines.text()}, name);
            if (result) {
                return std::move(result).table();
            }
            at = result.error().source().begin;
            const Fault found = syntax_fault(result.error().description(), lines, at);
            faults.add(name, at, found);
        }
        if (!lines.blank_statement(at.line)) {
            break;
        }
    }
    return {};
}

std::vector<std::pair<const toml::key*, const toml::node*>> in_file_order(const toml::table& table) {
    std::vector<std::pair<const toml::key*, const toml::node*>> entries;
    for (const auto& [key, value] : table) {
        entries.emplace_back(&key, &value);
    }
    std::stable_sort(entries.begin(), entries.end(), [](const auto& a, const auto& b) {
        return a.first->source().begin < b.first->source().begin;
    });
    return entries;
}

} // namespace avrek::detail
