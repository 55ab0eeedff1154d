// Meshes out of glTF at random: where their nodes put them, and whatever is wrong with them.
#include "../rounds.h"
#include "../scene/draw.h"
#include "../test_data.h"
#include "glb.h"
#include <avrek/data/level_files.h>
#include <avrek/scene/level_digest.h>

#include <gtest/gtest.h>

#include <random>

namespace avrek {
namespace {

using nlohmann::json;

json numbers(const Vector3& vector) {
    return {vector.x(), vector.y(), vector.z()};
}

// Every corner is where the nodes above its mesh turn, stretch and move it.
TEST(Gltf, CornersAreWhereTheirNodesPutThem) {
    Draw draw{51};
    for (int round = 0; round < rounds(300); ++round) {
        Glb glb;
        json& nodes = glb.document["nodes"];
        nodes[0]["mesh"] = 0;
        std::vector<Eigen::Affine3d> ways;
        const std::size_t depth = 1 + draw.below(4);
        for (std::size_t level = 0; level < depth; ++level) {
            const Pose pose = draw.pose(4.0);
            const Vector3 scale{draw(0.3, 2.0), draw(0.3, 2.0), draw(0.3, 2.0)};
            const auto& turn = pose.rotation.coeffs();
            json node{{"translation", numbers(pose.position)},
                      {"rotation", {turn[0], turn[1], turn[2], turn[3]}},
                      {"scale", numbers(scale)}};
            if (level + 1 < depth) {
                node["children"] = {level + 1};
            } else {
                node["mesh"] = 0;
            }
            nodes[level] = node;
            ways.push_back(Eigen::Translation3d{pose.position} * Eigen::Quaterniond{turn} *
                           Eigen::Scaling(scale));
        }
        const auto meshes = glb.parse();
        ASSERT_TRUE(meshes) << to_string(meshes.diagnostics.front());
        ASSERT_EQ(meshes->size(), 1U);
        const Vector3 corners[] = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}};
        const LevelMesh& mesh = meshes->front();
        ASSERT_EQ(mesh.triangles.size(), 1U);
        for (std::size_t corner = 0; corner < 3; ++corner) {
            Vector3 expected = corners[corner];
            for (auto way = ways.rbegin(); way != ways.rend(); ++way) {
                expected = *way * expected;
            }
            double nearest = 1e9;
            for (const auto& vertex : mesh.vertices) {
                nearest = std::min(nearest, (vertex.cast<double>() - expected).norm());
            }
            EXPECT_LT(nearest, 1e-4) << round << ' ' << corner;
        }
    }
}

// Whatever has become of a file: meshes or a reason, and the same each time.
TEST(Gltf, DamagedFilesGiveMeshesOrAReason) {
    std::mt19937 random{52};
    const std::vector<std::byte> sound = Glb{}.bytes();
    int refused = 0;
    const int tries = rounds(4'000);
    for (int round = 0; round < tries; ++round) {
        std::vector<std::byte> bytes = sound;
        if (random() % 4 == 0) {
            bytes.resize(random() % bytes.size());
        }
        for (std::size_t change = 1 + random() % 3; change > 0 && !bytes.empty(); --change) {
            bytes[random() % bytes.size()] = static_cast<std::byte>(random());
        }
        const auto meshes = parse_glb(bytes, "damaged.glb", shipped().surfaces);
        const bool has_error =
            std::any_of(meshes.diagnostics.begin(), meshes.diagnostics.end(),
                        [](const Diagnostic& fault) { return fault.severity == Severity::error; });
        ASSERT_NE(static_cast<bool>(meshes), has_error) << round;
        refused += has_error ? 1 : 0;
        if (meshes) {
            for (const LevelMesh& mesh : *meshes) {
                for (const auto& vertex : mesh.vertices) {
                    ASSERT_TRUE(vertex.allFinite() && vertex.cwiseAbs().maxCoeff() <= 1e6F) << round;
                }
                const Level level{{}, {&mesh, 1}};
                EXPECT_EQ(digest_of(level), digest_of(Level{{}, {&mesh, 1}}));
            }
        }
    }
    EXPECT_GT(refused, tries / 4);
    EXPECT_LT(refused, tries) << "some changes do no harm";
}

// Numbers that no document should have where a number stands.
TEST(Gltf, OddNumbersInADocumentAreRefusedOrHarmless) {
    const json odd[] = {-1, 1e30, 4294967296.0, "three", nullptr, json::array(), true, -0.5};
    const char* const places[] = {"/accessors/0/count",
                                  "/accessors/0/bufferView",
                                  "/accessors/0/componentType",
                                  "/accessors/1/count",
                                  "/bufferViews/0/byteLength",
                                  "/bufferViews/0/byteOffset",
                                  "/bufferViews/1/buffer",
                                  "/buffers/0/byteLength",
                                  "/meshes/0/primitives/0/indices",
                                  "/meshes/0/primitives/0/material",
                                  "/nodes/0/mesh",
                                  "/scenes/0/nodes/0",
                                  "/scene",
                                  "/meshes/0/primitives/0/attributes/POSITION"};
    for (const char* place : places) {
        for (const json& value : odd) {
            Glb glb;
            glb.document[json::json_pointer{place}] = value;
            const auto meshes = glb.parse();
            EXPECT_TRUE(meshes || !meshes.diagnostics.front().message.empty()) << place << ' ' << value;
            if (meshes) {
                for (const LevelMesh& mesh : *meshes) {
                    EXPECT_LE(mesh.triangles.size(), 1U) << place << ' ' << value;
                }
            }
        }
    }
}

} // namespace
} // namespace avrek
