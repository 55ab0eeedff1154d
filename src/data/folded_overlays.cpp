#include "toml_text.h"
#include <avrek/data/arsenal_values.h>
#include <avrek/data/folded_overlays.h>

#include <algorithm>
#include <string>
#include <utility>
#include <vector>

namespace avrek {

namespace {

// Bytes of a text where lines and columns, counted in characters from 1, are.
class Places {
  public:
    explicit Places(std::string_view text) : text_(text) {
        starts_.push_back(0);
        for (std::size_t at = 0; at < text.size(); ++at) {
            if (text[at] == '\n') {
                starts_.push_back(at + 1);
            }
        }
    }
    std::size_t at(const toml::source_position& position) const {
        std::size_t byte = line(position.line);
        for (std::size_t column = 1; column < position.column && byte < text_.size(); ++column) {
            ++byte;
            while (byte < text_.size() && (static_cast<unsigned char>(text_[byte]) & 0xc0U) == 0x80U) {
                ++byte; // a character of several bytes
            }
        }
        return byte;
    }
    // Start of a line; the end of the text beyond the last one.
    std::size_t line(std::size_t number) const {
        return number - 1 < starts_.size() ? starts_[number - 1] : text_.size();
    }
    std::string slice(const toml::node& node) const {
        const std::size_t begin = at(node.source().begin);
        return std::string{text_.substr(begin, at(node.source().end) - begin)};
    }

  private:
    std::string_view text_;
    std::vector<std::size_t> starts_{};
};

bool is_inline(const toml::node& node) {
    const toml::table* table = node.as_table();
    return table != nullptr && table->is_inline();
}

// The last line that the values of a table take, those of dotted keys included, but not of other headers.
std::size_t last_line(const toml::table& table, std::size_t header) {
    std::size_t last = header;
    for (const auto& [key, node] : table) {
        const toml::table* inner = node.as_table();
        if (inner == nullptr || inner->is_inline()) {
            last = std::max<std::size_t>(last, node.source().end.line);
        } else if (!inner->empty() && inner->source().begin == key.source().begin) {
            last = last_line(*inner, last);
        }
    }
    return last;
}

/// Writes one overlay into a text.
class Folding {
  public:
    Folding(std::string_view base, std::string_view overlay)
        : base_(base), places_(base), overlay_(overlay) {}

    // A table of the base that has a header, and the path to it; null: none has.
    struct Section {
        const toml::table* table = nullptr;
        std::size_t header = 0; ///< its line
    };

    void fold(const toml::table& into, const toml::table& from, const Section& section,
              const std::string& dotted, const std::string& path) {
        for (const auto& [key, node] : detail::in_file_order(from)) {
            const std::string name = detail::key_text(key->str());
            const auto joined = [&name](const std::string& before) {
                return before.empty() ? name : before + '.' + name;
            };
            const toml::node* known = into.get(key->str());
            const toml::table* table = node->as_table();
            if (known == nullptr) {
                add(into, *node, section, joined(dotted), joined(path));
            } else if (table != nullptr && known->is_table()) {
                const toml::table& inner = *known->as_table();
                const auto* its_key = &into.find(key->str())->first;
                const toml::source_region header = inner.source();
                const bool has_header = !inner.is_inline() &&
                                        header.begin.line == its_key->source().begin.line &&
                                        header.end.column == its_key->source().end.column + 1 &&
                                        header.begin.column < its_key->source().begin.column;
                fold(inner, *table, has_header ? Section{&inner, header.begin.line} : section,
                     has_header ? std::string{} : joined(dotted), joined(path));
            } else {
                replace(*known, overlay_.slice(*node));
            }
        }
    }

    std::string result() {
        std::stable_sort(edits_.begin(), edits_.end(),
                         [](const Edit& one, const Edit& other) { return one.begin < other.begin; });
        std::string text;
        std::size_t at = 0;
        for (const Edit& edit : edits_) {
            text += base_.substr(at, edit.begin - at);
            text += edit.text;
            at = edit.end;
        }
        text += base_.substr(at);
        text += text.empty() || text.back() == '\n' ? "" : "\n";
        for (const auto& [header, lines] : appended_) {
            text += "\n[" + header + "]\n" + lines;
        }
        return text;
    }

  private:
    struct Edit {
        std::size_t begin = 0;
        std::size_t end = 0;
        std::string text{};
    };

    void replace(const toml::node& node, std::string text) {
        edits_.push_back({places_.at(node.source().begin), places_.at(node.source().end), std::move(text)});
    }

    // Adds what the base lacks: into an inline table, to the lines of a section, or as an entry at the end.
    void add(const toml::table& into, const toml::node& node, const Section& section,
             const std::string& dotted, const std::string& path) {
        const toml::table* table = node.as_table();
        if (table != nullptr && !table->is_inline()) {
            for (const auto& [key, inner] : detail::in_file_order(*table)) {
                const std::string name = detail::key_text(key->str());
                add(into, *inner, section, dotted + '.' + name, path + '.' + name);
            }
            return;
        }
        const std::string value = overlay_.slice(node);
        if (is_inline(into)) {
            const std::size_t brace = places_.at(into.source().end) - 1;
            const std::string name = path.substr(path.rfind('.') + 1);
            edits_.push_back({brace, brace, (into.empty() ? " " : ", ") + name + " = " + value + ' '});
        } else if (section.table != nullptr) {
            const std::size_t after = places_.line(last_line(*section.table, section.header) + 1);
            const bool needs_break = after == base_.size() && !base_.empty() && base_.back() != '\n';
            edits_.push_back({after, after, (needs_break ? "\n" : "") + dotted + " = " + value + '\n'});
        } else {
            append(path, value);
        }
    }

    // An entry is the first two parts of a path.
    void append(const std::string& path, const std::string& value) {
        const std::size_t entry = path.find('.', path.find('.') + 1);
        const std::string header = path.substr(0, entry);
        auto found = std::find_if(appended_.begin(), appended_.end(),
                                  [&header](const auto& one) { return one.first == header; });
        if (found == appended_.end()) {
            found = appended_.insert(appended_.end(), {header, {}});
        }
        if (entry != std::string::npos) {
            found->second += path.substr(entry + 1) + " = " + value + '\n';
        }
    }

    std::string_view base_;
    Places places_;
    Places overlay_;
    std::vector<Edit> edits_{};
    std::vector<std::pair<std::string, std::string>> appended_{}; // header and lines
};

} // namespace

Loaded<ArsenalText> fold_overlays(std::span<const ArsenalText> texts) {
    if (texts.empty()) {
        return {std::nullopt, {{.message = "there is no text to fold into", .allowed = "at least one"}}};
    }
    Loaded<Arsenal> checked = parse_arsenal(texts);
    if (!checked) {
        return {std::nullopt, std::move(checked.diagnostics)};
    }
    ArsenalText folded = texts.front();
    detail::Faults faults;
    for (const ArsenalText& overlay : texts.subspan(1)) {
        const toml::table into = detail::parse_toml(folded.text, folded.name, faults);
        const toml::table from = detail::parse_toml(overlay.text, overlay.name, faults);
        Folding folding{folded.text, overlay.text};
        folding.fold(into, from, {}, {}, {});
        folded.text = folding.result();
    }
    // Whatever way the texts are written: the result has their values, or it is none.
    std::vector<Diagnostic> lost;
    for (const ArsenalDifference& one : differences(texts, std::span{&folded, 1})) {
        lost.push_back({.file = texts.front().name,
                        .where = one.path,
                        .message = "cannot be written into this text: " + one.before,
                        .allowed = "a value that stands where the overlay's can stand"});
    }
    if (!lost.empty()) {
        return {std::nullopt, std::move(lost)};
    }
    return {std::move(folded), {}};
}

} // namespace avrek
