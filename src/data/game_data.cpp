#include <avrek/data/game_data.h>

#include <utility>

namespace avrek {

Loaded<GameData> load_game_data(std::initializer_list<std::string> arsenal_files,
                                const std::string& level_file) {
    return load_game_data(std::span{arsenal_files.begin(), arsenal_files.size()}, level_file);
}

Loaded<GameData> load_game_data(std::span<const std::string> arsenal_files, const std::string& level_file) {
    auto texts = read_arsenal_texts(arsenal_files);
    if (!texts) {
        return {std::nullopt, std::move(texts.diagnostics)};
    }
    auto arsenal = parse_arsenal(*texts);
    if (!arsenal) {
        return {std::nullopt, std::move(arsenal.diagnostics)};
    }
    GameData data{std::move(*arsenal), digest_of(*texts), {}, std::move(*texts)};
    if (!level_file.empty()) {
        auto arena = load_arena(level_file, data.arsenal);
        arsenal.diagnostics.insert(arsenal.diagnostics.end(), arena.diagnostics.begin(),
                                   arena.diagnostics.end());
        if (!arena) {
            return {std::nullopt, std::move(arsenal.diagnostics)};
        }
        data.arena = std::move(*arena);
    }
    return {std::move(data), std::move(arsenal.diagnostics)};
}

} // namespace avrek
