#pragma once
#include "../test_data.h"
#include <avrek/data/level_files.h>

#include <nlohmann/json.hpp>

#include <cstddef>
#include <cstdint>
#include <cstring>
#include <string>
#include <vector>

namespace avrek {

/// A .glb of one triangle, and a chance to spoil it.
struct Glb {
    nlohmann::json document;
    std::vector<std::byte> binary;

    Glb() {
        const float corners[9] = {0, 0, 0, 1, 0, 0, 0, 1, 0};
        const std::uint32_t indices[3] = {0, 1, 2};
        binary.resize(sizeof corners + sizeof indices);
        std::memcpy(binary.data(), corners, sizeof corners);
        std::memcpy(binary.data() + sizeof corners, indices, sizeof indices);
        document = {
            {"asset", {{"version", "2.0"}}},
            {"scene", 0},
            {"scenes", {{{"nodes", {0}}}}},
            {"nodes", {{{"mesh", 0}, {"name", "wall"}}}},
            {"materials", {{{"name", "stone"}}}},
            {"meshes",
             {{{"primitives", {{{"attributes", {{"POSITION", 0}}}, {"indices", 1}, {"material", 0}}}}}}},
            {"accessors",
             {{{"bufferView", 0}, {"componentType", 5126}, {"count", 3}, {"type", "VEC3"}},
              {{"bufferView", 1}, {"componentType", 5125}, {"count", 3}, {"type", "SCALAR"}}}},
            {"bufferViews",
             {{{"buffer", 0}, {"byteOffset", 0}, {"byteLength", 36}},
              {{"buffer", 0}, {"byteOffset", 36}, {"byteLength", 12}}}},
            {"buffers", {{{"byteLength", 48}}}}};
    }

    std::vector<std::byte> bytes() const {
        std::string text = document.dump();
        text.resize((text.size() + 3) / 4 * 4, ' ');
        std::vector<std::byte> file;
        const auto add = [&file](const void* from, std::size_t size) {
            const auto* const first = static_cast<const std::byte*>(from);
            file.insert(file.end(), first, first + size);
        };
        const auto number = [&add](std::uint32_t value) { add(&value, sizeof value); };
        add("glTF", 4);
        number(2);
        number(static_cast<std::uint32_t>(12 + 8 + text.size() + 8 + binary.size()));
        number(static_cast<std::uint32_t>(text.size()));
        add("JSON", 4);
        add(text.data(), text.size());
        number(static_cast<std::uint32_t>(binary.size()));
        add("BIN\0", 4);
        add(binary.data(), binary.size());
        return file;
    }

    void put(std::size_t at, auto value) { std::memcpy(binary.data() + at, &value, sizeof value); }

    Loaded<std::vector<LevelMesh>> parse() const { return parse_glb(bytes(), "x.glb", shipped().surfaces); }
};

} // namespace avrek
