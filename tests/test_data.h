#pragma once
#include <avrek/data/arsenal_toml.h>

#include <filesystem>
#include <fstream>
#include <sstream>
#include <string>
#include <vector>

/// Data that many tests read.
namespace avrek {

/// The shipped arsenal.
inline const Arsenal& shipped() {
    static const Arsenal arsenal = *load_arsenal(AVREK_SOURCE_DIR "/data/halm-ring.toml");
    return arsenal;
}

/// Its text.
inline std::vector<ArsenalText> shipped_texts() {
    return {*read_arsenal_text(AVREK_SOURCE_DIR "/data/halm-ring.toml").value};
}

inline std::vector<ArsenalText> with_overlay(std::vector<ArsenalText> texts, ArsenalText overlay) {
    texts.push_back(std::move(overlay));
    return texts;
}

inline std::string contents(const std::filesystem::path& file) {
    std::ifstream stream{file, std::ios::binary};
    std::stringstream text;
    text << stream.rdbuf();
    return text.str();
}

} // namespace avrek
