#include "level_options.h"

#include "arsenal_options.h"
#include "command_line.h"
#include "shipped_level.h"

#include <fmt/format.h>

namespace avrek::cli {

Arena arena_named(Arsenal& arsenal, const std::string& name) {
    Loaded<Arena> arena;
    if (name == demo_level) {
        if (arsenal.surfaces.empty()) {
            arsenal.surfaces = arsenal_of({}).surfaces;
        }
        arena = shipped_level(arsenal);
    } else if (name.ends_with(".toml") || name.ends_with(".glb") || name.ends_with(".gltf")) {
        arena = load_arena(name, arsenal);
    } else {
        throw WrongCall{
            {fmt::format("error: --level: '{}' is not allowed; allowed: {}, or a file ending in .toml, "
                         ".glb or .gltf",
                         name, demo_level)}};
    }
    WrongCall call;
    for (const Diagnostic& fault : arena.diagnostics) {
        call.lines.push_back(to_string(fault));
    }
    if (!arena) {
        throw WrongCall{std::move(call)};
    }
    for (const std::string& warning : call.lines) {
        fmt::print(stderr, "{}\n", warning);
    }
    return std::move(*arena);
}

GameData game_data_of(const std::vector<std::string>& files, const std::string& level) {
    GameData data{arsenal_of(files), digest_of(arsenal_texts(files)), {}, arsenal_texts(files)};
    data.arena = arena_named(data.arsenal, level);
    return data;
}

} // namespace avrek::cli
