#include "arsenal_sections.h"
#include "toml_file.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/nearest_name.h>

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <system_error>

namespace avrek {

namespace {

using detail::Faults;
using detail::Sections;

void gather_file(const toml::table& root, Sections& sections, Faults& faults) {
    for (const auto& [key, value] : detail::in_file_order(root)) {
        const std::string name{key->str()};
        if (detail::SectionSource* section = sections.find(name)) {
            detail::gather(*value, *section, faults);
        } else {
            faults.add(key->source(), {{},
                                       "there is no section '" + detail::printable(name) + "'",
                                       detail::sections_allowed(),
                                       nearest_name(name, sections.names())});
        }
    }
}

Diagnostic unreadable(const std::filesystem::path& file, const std::string& why, const std::string& allowed) {
    return {Severity::error, file.string(), 0, 0, {}, why, allowed, {}};
}

} // namespace

Loaded<Arsenal> parse_arsenal(std::span<const ArsenalText> texts) {
    Faults faults;
    std::vector<toml::table> roots; // the sections point into them
    roots.reserve(texts.size());
    Sections sections;
    for (const ArsenalText& text : texts) {
        roots.push_back(text.text.size() <= detail::max_file_bytes
                            ? detail::parse_toml(text.text, text.name, faults)
                            : toml::table{});
        if (text.text.size() > detail::max_file_bytes) {
            faults.add(text.name, {0, 0}, {{}, "the text is too large", "at most 4 MiB", {}});
        }
        gather_file(roots.back(), sections, faults);
        if (roots.back().empty() && texts.size() > 1 && !faults.has_errors()) {
            faults.add(
                text.name, {1, 1},
                {{}, "there is nothing in this file", detail::sections_allowed(), {}, Severity::warning});
        }
    }
    Arsenal arsenal = detail::read_sections(sections, faults);
    if (sections.are_empty() && !faults.has_errors()) {
        faults.add(texts.empty() ? "(no file)" : texts.back().name, {1, 1},
                   {{}, "the arsenal is empty", "at least one entry: " + detail::sections_allowed(), {}});
    }
    Loaded<Arsenal> loaded;
    if (!faults.has_errors()) {
        loaded.value = std::move(arsenal);
    }
    loaded.diagnostics = faults.take();
    return loaded;
}

Loaded<Arsenal> parse_arsenal(std::string_view text, std::string_view name) {
    const ArsenalText only{std::string{name}, std::string{text}};
    return parse_arsenal(std::span{&only, 1});
}

Loaded<ArsenalText> read_arsenal_text(const std::string& file) {
    Loaded<ArsenalText> loaded;
    std::error_code error;
    if (std::filesystem::is_directory(file, error)) {
        loaded.diagnostics.push_back(unreadable(file, "this is a directory", "a TOML file"));
        return loaded;
    }
    std::ifstream stream{file, std::ios::binary};
    std::string text(detail::max_file_bytes + 1, '\0');
    stream.read(text.data(), static_cast<std::streamsize>(text.size()));
    if (!stream.is_open() || stream.bad()) {
        loaded.diagnostics.push_back(
            unreadable(file, std::string{"cannot be read: "} + std::strerror(errno), "a TOML file"));
        return loaded;
    }
    text.resize(static_cast<std::size_t>(stream.gcount()));
    if (text.size() > detail::max_file_bytes) {
        loaded.diagnostics.push_back(unreadable(file, "the file is too large", "at most 4 MiB"));
        return loaded;
    }
    loaded.value = ArsenalText{file, std::move(text)};
    return loaded;
}

Loaded<std::vector<ArsenalText>> read_arsenal_texts(std::span<const std::string> files) {
    Loaded<std::vector<ArsenalText>> loaded;
    std::vector<ArsenalText> texts;
    for (const std::string& file : files) {
        Loaded<ArsenalText> text = read_arsenal_text(file);
        if (text) {
            texts.push_back(std::move(*text));
        }
        loaded.diagnostics.insert(loaded.diagnostics.end(), text.diagnostics.begin(), text.diagnostics.end());
    }
    if (loaded.diagnostics.empty()) {
        loaded.value = std::move(texts);
    }
    return loaded;
}

Loaded<Arsenal> load_arsenal(std::span<const std::string> files) {
    Loaded<std::vector<ArsenalText>> texts = read_arsenal_texts(files);
    if (!texts) {
        return {std::nullopt, std::move(texts.diagnostics)};
    }
    return parse_arsenal(*texts);
}

Loaded<Arsenal> load_arsenal(const std::string& file) {
    return load_arsenal(std::span{&file, 1});
}

} // namespace avrek
