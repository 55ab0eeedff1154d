#include "../test_data.h"
#include "glb.h"
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/level_files.h>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <bit>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <functional>
#include <limits>

namespace avrek {
namespace {

using nlohmann::json;

TEST(Level, TakesMeshesFromNodesWithTheirTransformsSurfacesAndLayers) {
    Glb glb;
    ASSERT_TRUE(glb.parse()) << to_string(glb.parse().diagnostics.at(0));
    EXPECT_EQ(glb.parse()->at(0).triangles[0].surface, *shipped().surface("stone"));
    glb.document["nodes"] = {
        {{"children", {1, 2}}, {"translation", {0, 10, 0}}, {"extras", {{"layer", "glass"}}}},
        {{"mesh", 0}, {"rotation", {0, 0.7071067811865476, 0, 0.7071067811865476}}},
        {{"mesh", 0}, {"name", "foliage"}, {"scale", {-2, 1, 1}}}};
    const auto meshes = glb.parse();
    ASSERT_EQ(meshes->size(), 2U);
    EXPECT_EQ(meshes->at(0).triangles[0].layer, CollisionLayer::glass);
    EXPECT_LT((meshes->at(0).vertices[1] - MeshVertex(0, 10, -1)).norm(), 1e-6F);
    EXPECT_EQ(meshes->at(1).triangles[0].layer, CollisionLayer::foliage);
    EXPECT_LT((meshes->at(1).vertices[1] - MeshVertex(-2, 10, 0)).norm(), 1e-6F);
    // Mirrored, its front still looks the same way.
    const Level level{{}, *meshes};
    EXPECT_GT(front_of(level.triangle(1)).z(), 0.9);
}

TEST(Level, RefusesSpoiltMeshesAndSaysWhatIsWrong) {
    const struct {
        const char* what;
        std::function<void(Glb&)> spoil;
        const char* message;
        bool loads = false;
    } cases[] = {
        {"index", [](Glb& glb) { glb.put(36, 0xfffffff0U); }, "1 of 3 name no vertex"},
        {"vertex", [](Glb& glb) { glb.put(4, std::numeric_limits<float>::quiet_NaN()); },
         "1 of 3 vertices are not finite"},
        {"far", [](Glb& glb) { glb.put(0, 1e30F); }, "1 of 3 vertices are not finite or far away"},
        {"cycle", [](Glb& glb) { glb.document["nodes"][0]["children"] = {0}; },
         "node 0: has two parents, or is below itself"},
        {"node", [](Glb& glb) { glb.document["scenes"][0]["nodes"] = {7}; }, "node 7: is not one"},
        {"mesh", [](Glb& glb) { glb.document["nodes"][0]["mesh"] = 9; }, "node 0.mesh: is not one"},
        {"accessor", [](Glb& glb) { glb.document["meshes"][0]["primitives"][0]["indices"] = 44; },
         "accessor"},
        {"count", [](Glb& glb) { glb.document["accessors"][0]["count"] = 4000000000U; },
         "reaches beyond its buffer"},
        {"offset", [](Glb& glb) { glb.document["bufferViews"][1]["byteOffset"] = 40; },
         "reaches beyond its buffer"},
        {"view", [](Glb& glb) { glb.document["accessors"][0]["bufferView"] = 5; }, "has no buffer view"},
        {"type", [](Glb& glb) { glb.document["accessors"][0]["componentType"] = 5123; },
         "elements of another kind"},
        {"transform",
         [](Glb& glb) {
             glb.document["nodes"][0]["scale"] = {1e308, 1e308, 1e308};
         },
         "not finite"},
        {"layer",
         [](Glb& glb) {
             glb.document["nodes"][0]["extras"] = {{"layer", "glas"}};
         },
         "is \"glas\", did you mean 'glass'?"},
        {"extension", [](Glb& glb) { glb.document["extensionsRequired"] = {"KHR_draco_mesh_compression"}; },
         "needs the extension"},
        {"nothing", [](Glb& glb) { glb.document["nodes"][0].erase("mesh"); }, "there is no mesh"},
        {"lines", [](Glb& glb) { glb.document["meshes"][0]["primitives"][0]["mode"] = 1; },
         "points or lines"},
        {"material", [](Glb& glb) { glb.document["materials"][0]["name"] = "stnoe"; },
         "no surface is called 'stnoe'", true},
        {"size", [](Glb& glb) { glb.binary.resize(20); }, ""},
    };
    for (const auto& one : cases) {
        Glb glb;
        one.spoil(glb);
        const auto loaded = glb.parse();
        EXPECT_EQ(static_cast<bool>(loaded), one.loads) << one.what;
        ASSERT_FALSE(loaded.diagnostics.empty()) << one.what;
        std::string all;
        for (const Diagnostic& fault : loaded.diagnostics) {
            all += to_string(fault) + '\n';
        }
        EXPECT_NE(all.find(one.message), std::string::npos) << one.what << ": " << all;
    }
    // Cut short anywhere, and with any one byte changed: never a crash.
    const std::vector<std::byte> whole = Glb{}.bytes();
    for (std::size_t size = 0; size < whole.size(); ++size) {
        EXPECT_FALSE(parse_glb(std::span{whole}.first(size), "cut", {})) << size;
        std::vector<std::byte> changed = whole;
        changed[size] ^= std::byte{0x55};
        static_cast<void>(parse_glb(changed, "changed", {}));
    }
}

TEST(Level, LoadsTheAtriumAsItIsMade) {
    const auto atrium = load_level(AVREK_SOURCE_DIR "/data/atrium.toml", shipped());
    ASSERT_TRUE(atrium) << to_string(atrium.diagnostics.at(0));
    EXPECT_TRUE(atrium.diagnostics.empty()) << to_string(atrium.diagnostics[0]);
    EXPECT_EQ(atrium->pieces().size(), 4U);
    EXPECT_GT(atrium->triangle_count(), 90'000U);
    EXPECT_LT(atrium->triangle_count(), 120'000U);
    EXPECT_EQ(atrium->flat_triangles(), 0U);
    const auto file = std::filesystem::path{testing::TempDir()} / "made-atrium.glb";
    ASSERT_EQ(std::system((std::string{AVREK_MAKE_ATRIUM " "} + file.string()).c_str()), 0);
    const auto text = [](const std::filesystem::path& path) {
        std::ifstream stream{path, std::ios::binary};
        return std::string{std::istreambuf_iterator<char>{stream}, {}};
    };
    EXPECT_TRUE(text(file) == text(AVREK_SOURCE_DIR "/data/atrium.glb"))
        << "renew it: make_atrium data/atrium.glb";
}

TEST(Level, ReportsAllFaultsOfAFileWithTheirPlaces) {
    const auto directory = std::filesystem::path{testing::TempDir()};
    const auto load = [&](const std::string& text) {
        std::ofstream{directory / "level.toml"} << text;
        return load_level(directory / "level.toml", shipped());
    };
    const auto level =
        load("mesh = \"none.glb\"\nfloor = 1\n[[piece]]\nsphere = [0, 0, 0]\nradius = -1\nlayer = \"glas\"\n"
             "surface = \"stnoe\"\n[[piece]]\nplane = [0, 0, 0]\nnormal = [0, 0, 0]\n[[piece]]\nbox = [0, 0, "
             "0]\n");
    EXPECT_FALSE(level);
    const char* const expected[] = {
        "level.toml:2:1: error: there is no key 'floor'",
        "level.toml:5:10: error: piece[0].radius: is -1",
        "level.toml:6:9: error: piece[0].layer: is \"glas\", did you mean 'glass'?",
        "level.toml:7:11: error: piece[0].surface: names no surface: \"stnoe\"",
        "level.toml:10:10: error: piece[1].normal",
        "level.toml:11:1: error: piece[2]: has keys that do not make one shape",
        "none.glb: error: cannot be read"};
    ASSERT_EQ(level.diagnostics.size(), std::size(expected));
    for (std::size_t index = 0; index < std::size(expected); ++index) {
        EXPECT_NE(to_string(level.diagnostics[index]).find(expected[index]), std::string::npos)
            << to_string(level.diagnostics[index]);
    }
    EXPECT_FALSE(load(""));
    const auto planes = load("[[piece]]\nplane = [0, 2, 0]\nnormal = [0, 0.5, 0]\n");
    ASSERT_TRUE(planes);
    EXPECT_EQ(std::get<HalfSpace>(planes->pieces()[0].shape).offset, 2.0);
    EXPECT_FALSE(load_level(directory, shipped()));
    EXPECT_FALSE(load_level(directory / "missing.gltf", shipped()));
}

} // namespace
} // namespace avrek
