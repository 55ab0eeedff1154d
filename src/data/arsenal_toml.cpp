#include "parsed_texts.h"
#include "toml_file.h"

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <system_error>

namespace avrek {

namespace {

Diagnostic unreadable(const std::filesystem::path& file, const std::string& why, const std::string& allowed) {
    return {Severity::error, file.string(), 0, 0, {}, why, allowed, {}};
}

} // namespace

Loaded<Arsenal> parse_arsenal(std::span<const ArsenalText> texts) {
    return detail::ParsedTexts{texts}.read();
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
