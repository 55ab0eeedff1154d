#include "keys.h"
#include "level_plan_keys.h"
#include "toml_file.h"
#include "values.h"
#include <avrek/core/units.h>
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/level_files.h>
#include <avrek/data/nearest_name.h>

#include <algorithm>
#include <filesystem>
#include <utility>

namespace avrek {

namespace {

using detail::Faults;
using detail::rule;

constexpr Metres level_reach = 1e5;
constexpr std::size_t max_pieces = 100'000;
constexpr const char* level_allowed =
    "mesh = \"FILE.glb\" (or a list), points = [[x, y, z], ...], and tables [[piece]], [[spawn]], "
    "[[hazard]] and [[pickup]]";

const std::vector<KeyRule>& shape_rules_of_pieces() {
    static const std::vector<KeyRule> rules = detail::make_shape_rules("piece", level_reach, true);
    return rules;
}

const std::vector<KeyRule>& piece_rules() {
    static const std::vector<KeyRule> rules = [] {
        std::vector<KeyRule> all = shape_rules_of_pieces();
        all.push_back(rule("piece", "surface", KeyType::text, {}, "", "plain", "A surface of the arsenal."));
        KeyRule layer = rule("piece", "layer", KeyType::word, {}, "", "level", "What it stops.");
        for (std::size_t index = 0; index < collision_layer_count; ++index) {
            if (static_cast<CollisionLayer>(index) != CollisionLayer::bodies) {
                layer.words.emplace_back(to_string(static_cast<CollisionLayer>(index)));
            }
        }
        all.push_back(layer);
        return all;
    }();
    return rules;
}

std::optional<SurfaceId> read_surface(const toml::node& node, const std::string& where,
                                      const Arsenal& arsenal, Faults& faults) {
    const auto* text = node.as_string();
    const std::optional<SurfaceId> surface = text != nullptr ? arsenal.surface(text->get()) : std::nullopt;
    if (!surface) {
        std::vector<std::string> names;
        std::string allowed;
        for (const SurfaceSpec& known : arsenal.surfaces) {
            names.push_back(known.id);
            allowed += (allowed.empty() ? "" : ", ") + known.id;
        }
        faults.add(node.source(), {where, "names no surface: " + detail::describe(node),
                                   allowed.empty() ? "a surface of the arsenal, which has none" : allowed,
                                   text != nullptr ? nearest_name(text->get(), names) : std::string{}});
    }
    return surface;
}

void read_piece(const toml::table& table, const std::string& where, const Arsenal& arsenal,
                std::vector<LevelPiece>& pieces, Faults& faults) {
    detail::check_key_names(table, where, piece_rules(), faults);
    const std::optional<Shape> shape = detail::read_shape(table, where, shape_rules_of_pieces(), faults);
    LevelPiece piece{shape.value_or(Shape{}), {}, CollisionLayer::level};
    if (const toml::node* surface = table.get("surface")) {
        piece.surface = read_surface(*surface, where + ".surface", arsenal, faults).value_or(SurfaceId{});
    }
    if (const toml::node* layer = table.get("layer")) {
        const KeyRule& layer_rule = piece_rules().back();
        if (const auto word = detail::read_word(*layer, where + ".layer", layer_rule, faults)) {
            piece.layer = *find_collision_layer(layer_rule.words[*word]);
        }
    }
    pieces.push_back(piece);
}

std::vector<LevelPiece> read_pieces(const toml::node& node, const Arsenal& arsenal, Faults& faults) {
    std::vector<LevelPiece> pieces;
    const toml::array* list = node.as_array();
    if (list == nullptr || list->size() > max_pieces) {
        faults.add(node.source(),
                   {"piece", "is " + detail::describe(node), "up to 100000 tables [[piece]]", {}});
        return pieces;
    }
    for (std::size_t index = 0; index < list->size(); ++index) {
        const std::string where = "piece[" + std::to_string(index) + ']';
        if (const toml::table* table = list->get(index)->as_table()) {
            read_piece(*table, where, arsenal, pieces, faults);
        } else {
            faults.add(list->get(index)->source(),
                       {where, "is " + detail::describe(*list->get(index)), "a table [[piece]]", {}});
        }
    }
    return pieces;
}

// The meshes that a level file names; their faults are added to `others`.
std::vector<LevelMesh> read_meshes(const toml::node& node, const MeshSource& source, Faults& faults,
                                   std::vector<Diagnostic>& others) {
    std::vector<LevelMesh> meshes;
    const auto read = [&](const toml::node& name) {
        const auto* text = name.as_string();
        if (text == nullptr || text->get().empty()) {
            faults.add(name.source(),
                       {"mesh", "is " + detail::describe(name), "the name of a .glb or .gltf file", {}});
            return;
        }
        Loaded<std::vector<LevelMesh>> loaded = source(text->get());
        others.insert(others.end(), loaded.diagnostics.begin(), loaded.diagnostics.end());
        if (loaded) {
            meshes.insert(meshes.end(), std::make_move_iterator(loaded->begin()),
                          std::make_move_iterator(loaded->end()));
        }
    };
    if (const toml::array* list = node.as_array()) {
        for (const toml::node& name : *list) {
            read(name);
        }
    } else {
        read(node);
    }
    return meshes;
}

bool has_errors(const std::vector<Diagnostic>& diagnostics) {
    return std::any_of(diagnostics.begin(), diagnostics.end(),
                       [](const Diagnostic& fault) { return fault.severity == Severity::error; });
}

// The level, unless there were errors.
Loaded<Arena> finish(std::string_view file, LevelPlan plan, std::vector<LevelPiece> pieces,
                     const std::vector<LevelMesh>& meshes, std::vector<Diagnostic> diagnostics,
                     const LevelSettings& settings) {
    if (has_errors(diagnostics)) {
        return {std::nullopt, std::move(diagnostics)};
    }
    Level level{std::move(pieces), meshes, settings};
    if (level.flat_triangles() > 0) {
        diagnostics.push_back({Severity::warning,
                               std::string{file},
                               0,
                               0,
                               {},
                               std::to_string(level.flat_triangles()) + " of " +
                                   std::to_string(level.triangle_count()) +
                                   " triangles have no area: nothing hits them",
                               {},
                               {}});
    }
    return {Arena{std::move(level), std::move(plan)}, std::move(diagnostics)};
}

Loaded<Level> level_alone(Loaded<Arena> arena) {
    return {arena ? std::optional{std::move(arena->level)} : std::nullopt, std::move(arena.diagnostics)};
}

} // namespace

Loaded<Arena> parse_arena(std::string_view text, std::string_view name, const MeshSource& source,
                          const Arsenal& arsenal, const LevelSettings& settings) {
    Faults faults;
    std::vector<Diagnostic> of_meshes;
    const toml::table root = detail::parse_toml(text, name, faults);
    std::vector<LevelPiece> pieces;
    std::vector<LevelMesh> meshes;
    LevelPlan plan;
    for (const auto& [key, value] : detail::in_file_order(root)) {
        if (key->str() == "piece") {
            pieces = read_pieces(*value, arsenal, faults);
        } else if (key->str() == "mesh") {
            meshes = read_meshes(*value, source, faults, of_meshes);
        } else if (!detail::read_plan(std::string{key->str()}, *value, arsenal, plan, faults)) {
            const std::string unknown{key->str()};
            faults.add(key->source(),
                       {{},
                        "there is no key '" + detail::printable(unknown) + "' in a level",
                        level_allowed,
                        nearest_name(unknown, std::vector<std::string>{"mesh", "piece", "points", "spawn",
                                                                       "hazard", "pickup"})});
        }
    }
    if (pieces.empty() && meshes.empty() && !faults.has_errors() && !has_errors(of_meshes)) {
        faults.add(name, {1, 1}, {{}, "the level is empty", level_allowed, {}});
    }
    std::vector<Diagnostic> diagnostics = faults.take();
    diagnostics.insert(diagnostics.end(), of_meshes.begin(), of_meshes.end());
    return finish(name, std::move(plan), std::move(pieces), meshes, std::move(diagnostics), settings);
}

Loaded<Level> parse_level(std::string_view text, std::string_view name, const MeshSource& source,
                          const Arsenal& arsenal, const LevelSettings& settings) {
    return level_alone(parse_arena(text, name, source, arsenal, settings));
}

Loaded<Level> load_level(const std::string& file, const Arsenal& arsenal, const LevelSettings& settings) {
    return level_alone(load_arena(file, arsenal, settings));
}

Loaded<Arena> load_arena(const std::string& file, const Arsenal& arsenal, const LevelSettings& settings) {
    if (std::filesystem::path{file}.extension() != ".toml") {
        Loaded<std::vector<LevelMesh>> meshes = load_gltf(file, arsenal.surfaces);
        return finish(file, {}, {}, meshes ? *meshes : std::vector<LevelMesh>{},
                      std::move(meshes.diagnostics), settings);
    }
    Loaded<ArsenalText> text = read_arsenal_text(file);
    if (!text) {
        return {std::nullopt, std::move(text.diagnostics)};
    }
    // Meshes lie where the level file does.
    const auto source = [&](const std::string& name) {
        return load_gltf(std::filesystem::path{file}.parent_path() / name, arsenal.surfaces);
    };
    return parse_arena(text->text, text->name, source, arsenal, settings);
}

} // namespace avrek
